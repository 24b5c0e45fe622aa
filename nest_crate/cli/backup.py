"""Writes everything to one file."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.catalogue.upkeep.backup import back_up
from nest_crate.cli.data_folder import DATA, opened_data
from nest_crate.core.errors import NestCrateError

__all__ = ["backup"]


@click.command()
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@DATA
def backup(file: Path, data: Path) -> None:
    """Write everything (database and audio files) to one FILE, while the program runs or not."""
    with opened_data(data) as (database, store):
        try:
            report = back_up(database, store, file)
        except (NestCrateError, OSError) as error:
            raise click.ClickException(f"Nothing was written: {error}") from error
    rows = sum(count for name, count in report.items() if name != "audio")
    click.echo(f"{file}: {rows} rows, {report['audio']} audio files")
