"""What commands are given: single files, and folders of them."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from pathlib import Path

import click

__all__ = ["files_below"]


def files_below(given: Sequence[Path], endings: tuple[str, ...], what: str) -> list[Path]:
    """Files as they are given, and those in folders by their endings; each once.

    Raises
    ------
    click.ClickException
        where a folder holds none.
    """
    return list(dict.fromkeys(_files_below(given, endings, what)))


def _files_below(given: Sequence[Path], endings: tuple[str, ...], what: str) -> Iterator[Path]:
    for one in given:
        if not one.is_dir():
            yield one
            continue
        inside = sorted(path for path in one.rglob("*") if path.suffix.lower() in endings)
        if not inside:
            raise click.ClickException(f"{one} holds no {what}")
        yield from inside
