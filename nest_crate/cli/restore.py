"""Reads everything from one file."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.catalogue.upkeep.backup import is_encrypted, restore
from nest_crate.cli.data_folder import DATA, opened_data
from nest_crate.cli.passphrases import PASSPHRASE_FILE, passphrase_from
from nest_crate.core.errors import NestCrateError

__all__ = ["restore_command"]


@click.command("restore")
@click.argument("file", type=click.Path(exists=True, dir_okay=False, path_type=Path))
@PASSPHRASE_FILE
@DATA
def restore_command(file: Path, passphrase_file: Path | None, data: Path) -> None:
    """Bring everything back from a backup FILE into an empty folder; every sum is checked."""
    passphrase = passphrase_from(passphrase_file, new=False) if is_encrypted(file) else ""
    with opened_data(data, new=True) as (database, store):
        try:
            report = restore(database, store, file, passphrase=passphrase)
        except NestCrateError as error:
            raise click.ClickException(error.message) from error
    (data / "demo-loaded").touch()
    rows = sum(count for name, count in report.items() if name != "audio")
    click.echo(f"Restored: {rows} rows, {report['audio']} audio files")
