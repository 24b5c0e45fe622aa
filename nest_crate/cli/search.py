"""Finds samples of a library."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from nest_crate.cli.connection import LIBRARY, connected, with_connection
from nest_crate.cli.found import library_number, query_of, with_search
from nest_crate.cli.results import AS_JSON, Results

__all__ = ["search_command"]

_PAGE = 200


@click.command("search")
@with_search
@LIBRARY
@click.option(
    "--most", type=click.IntRange(1, 100_000), default=50, show_default=True, help="So many."
)
@with_connection
@AS_JSON
def search_command(
    library: str,
    most: int,
    server: str | None,
    data: Path,
    handle: str | None,
    as_json: bool,
    **given: Any,
) -> None:
    """Find samples of a library by WORDS, best first; with --json all that is known of them."""
    results = Results(as_json=as_json)
    with connected(server, data, handle) as connection:
        query = query_of(library_number(connection, library), given)
        left: int = most
        offset = 0
        while left > 0:
            body = {"query": query, "offset": offset, "limit": min(_PAGE, left)}
            samples = connection.json("POST", "/api/samples/search", json=body)["samples"]
            for one in samples:
                results.add({name: one[name] for name in one if name != "outline"}, _line(one))
            left, offset = left - len(samples), offset + len(samples)
            if len(samples) < _PAGE:
                break
    results.end()


def _line(sample: dict[str, Any]) -> str:
    kind = " / ".join(one for one in (sample["category"], sample["subcategory"]) if one)
    figures = f"{sample['length_s']:8.3f} s  {sample['loudness_lufs']:6.1f} LUFS"
    return f"{sample['id']:>7}  {sample['name']:<32}  {kind:<20}  {figures}"
