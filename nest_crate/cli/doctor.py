"""Checks files and rows against each other."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.catalogue.upkeep.backup import check_files
from nest_crate.cli.data_folder import DATA, opened_data

__all__ = ["doctor"]


@click.command()
@DATA
def doctor(data: Path) -> None:
    """Check every audio file against its sum, and every row against the files."""
    with opened_data(data) as (database, store):
        found = check_files(database, store)
        count = len(store.digests())
    for problem in found:
        click.echo(problem)
    if any(not problem.startswith("orphaned") for problem in found):
        raise click.ClickException("Some files are missing or damaged; restore a backup")
    click.echo(f"{count} audio files match their names")
