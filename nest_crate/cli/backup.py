"""Writes everything to one file."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.catalogue.upkeep.backup import back_up
from nest_crate.cli.data_folder import DATA, opened_data
from nest_crate.cli.passphrases import PASSPHRASE_FILE, passphrase_from
from nest_crate.core.errors import NestCrateError

__all__ = ["backup"]


@click.command()
@click.argument("file", type=click.Path(dir_okay=False, path_type=Path))
@click.option("--encrypt", is_flag=True, help="Encrypt it by a passphrase, in the format of age.")
@PASSPHRASE_FILE
@click.option("--overwrite", is_flag=True, help="Replace FILE if it exists.")
@DATA
def backup(
    file: Path, encrypt: bool, passphrase_file: Path | None, overwrite: bool, data: Path
) -> None:
    """Write everything (database and audio files) to one FILE, while the program runs or not."""
    if file.exists() and not overwrite:
        raise click.ClickException(f"{file} exists; give --overwrite to replace it")
    passphrase = ""
    if encrypt or passphrase_file is not None:
        passphrase = passphrase_from(passphrase_file, new=True)
    with opened_data(data) as (database, store):
        try:
            report = back_up(database, store, file, passphrase=passphrase)
        except (NestCrateError, OSError) as error:
            raise click.ClickException(f"Nothing was written: {error}") from error
    rows = sum(count for name, count in report.items() if name != "audio")
    sealed = ", encrypted" if passphrase else ""
    click.echo(f"{file}: {rows} rows, {report['audio']} audio files{sealed}")
