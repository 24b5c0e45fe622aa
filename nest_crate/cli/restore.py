"""Reads everything from one file."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.catalogue.upkeep.backup import restore
from nest_crate.cli.data_folder import DATA, opened_data
from nest_crate.core.errors import NestCrateError

__all__ = ["restore_command"]


@click.command("restore")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@DATA
def restore_command(file: Path, data: Path) -> None:
    """Bring everything back from a backup FILE into an empty folder; every sum is checked."""
    with opened_data(data) as (database, store):
        try:
            report = restore(database, store, file)
        except NestCrateError as error:
            raise click.ClickException(error.message) from error
    (data / "demo-loaded").touch()
    rows = sum(count for name, count in report.items() if name != "audio")
    click.echo(f"Restored: {rows} rows, {report['audio']} audio files")
