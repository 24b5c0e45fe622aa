"""Makes a release of a library."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.cli.connection import LIBRARY, connected, with_connection
from nest_crate.cli.results import AS_JSON, Results

__all__ = ["release_command"]


@click.command("release")
@click.argument("number")
@LIBRARY
@click.option("--note", default="", help="What is new.")
@click.option("--template", default="{category}/{name}", show_default=True)
@with_connection
@AS_JSON
def release_command(
    number: str,
    library: str,
    note: str,
    template: str,
    server: str | None,
    data: Path,
    handle: str | None,
    as_json: bool,
) -> None:
    """Freeze all approved samples of a library under NUMBER, as 1.0.0."""
    results = Results(as_json=as_json)
    with connected(server, data, handle) as connection:
        body = {"number": number, "note": note, "template": template}
        made = connection.json("POST", f"/api/libraries/{library}/releases", json=body)
    results.add(made, f"{made['number']}: {made['files']} files, {made['size_bytes']} bytes")
    results.end()
