"""Downloads samples of a library as files."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path
from typing import Any

import click

from nest_crate.cli.connection import LIBRARY, connected, with_connection
from nest_crate.cli.found import library_number, query_of, with_search
from nest_crate.cli.results import AS_JSON, Results
from nest_crate.core.formats.file_formats import FILE_FORMATS

__all__ = ["export_command"]

_MOST_AT_ONCE = 5000


@click.command("export")
@with_search
@LIBRARY
@click.option(
    "--format", "file_format", type=click.Choice(FILE_FORMATS), default="wav24", show_default=True
)
@click.option("--rate", type=int, default=0, help="Samples a second; default: each sample's own.")
@click.option(
    "--channels", type=click.Choice(("as_is", "mono", "stereo")), default="as_is", show_default=True
)
@click.option("--template", default="{category}/{name}", show_default=True)
@click.option("--sfz", is_flag=True, help="An instrument for each variation group.")
@click.option(
    "-o",
    "--output",
    type=click.Path(path_type=Path),
    required=True,
    help="A folder, or a file that ends in .zip.",
)
@with_connection
@AS_JSON
def export_command(
    library: str,
    file_format: str,
    rate: int,
    channels: str,
    template: str,
    sfz: bool,
    output: Path,
    server: str | None,
    data: Path,
    handle: str | None,
    as_json: bool,
    **given: Any,
) -> None:
    """Download the samples of a library that WORDS and options find, with lists of them."""
    results = Results(as_json=as_json)
    with connected(server, data, handle) as connection:
        query = query_of(library_number(connection, library), given)
        ids = connection.json("POST", "/api/samples/ids", json={"query": query})["ids"]
        if not ids:
            raise click.ClickException("Nothing is found")
        if len(ids) > _MOST_AT_ONCE:
            raise click.ClickException(
                f"{len(ids)} are found, and {_MOST_AT_ONCE} go into one export; ask for less"
            )
        plan = {
            "sample_ids": ids,
            "file_format": file_format,
            "sample_rate": rate,
            "channels": channels,
            "template": template,
            "sfz": sfz,
        }
        planned = connection.json("POST", "/api/exports", json=plan)
        content = connection.bytes_of(planned["path"]) or b""
    if output.suffix == ".zip":
        output.write_bytes(content)
        results.add({"made": str(output), "samples": len(ids)}, f"{output}: {len(ids)} samples")
    else:
        with zipfile.ZipFile(io.BytesIO(content)) as archive:
            # Names in the archive are the server's; extractall keeps them below the folder.
            archive.extractall(output)
            for name in archive.namelist():
                results.add({"made": str(output / name)}, str(output / name))
    results.end()
