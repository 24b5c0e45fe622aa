"""The passphrase of a backup: from a file, from the environment, or typed."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

import click

from nest_crate.settings import Settings

__all__ = ["PASSPHRASE_FILE", "passphrase_from"]

_SHORTEST = 12

PASSPHRASE_FILE: Callable[[Any], Any] = click.option(
    "--passphrase-file",
    type=click.Path(exists=True, dir_okay=False, path_type=Path),
    help="File whose first line is the passphrase (else NEST_CRATE_BACKUP_PASSPHRASE, or typed).",
)


def passphrase_from(file: Path | None, *, new: bool) -> str:
    """The passphrase to use. It is typed where nothing names it, twice where it is a new one.

    Raises
    ------
    click.ClickException
        where a new one is too short, or nobody is there to type it.
    """
    given = Settings().backup_passphrase
    if file is not None:
        given = (file.read_text(encoding="utf-8").splitlines() or [""])[0]
    if not given:
        given = click.prompt("Passphrase", hide_input=True, confirmation_prompt=new)
    if new and len(given) < _SHORTEST:
        raise click.ClickException(f"The passphrase has fewer than {_SHORTEST} characters")
    return str(given)
