"""Pulls a release of a library into a folder."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import click

from nest_crate.cli import pull_release
from nest_crate.cli.connection import LIBRARY, connected, with_connection
from nest_crate.cli.results import AS_JSON, Results
from nest_crate.core.formats.file_formats import FILE_FORMATS

__all__ = ["pull_command"]


@click.command("pull")
@click.argument("folder", type=click.Path(file_okay=False, path_type=Path))
@LIBRARY
@click.option("--number", default="latest", show_default=True, help="As 1.0.0.")
@click.option("--format", "file_format", type=click.Choice(FILE_FORMATS))
@click.option("--rate", "sample_rate", type=int, help="Samples a second.")
@click.option("--channels", type=click.Choice(("as_is", "mono", "stereo")))
@click.option("--loudness", "loudness_lufs", type=float, help="LUFS of every file.")
@click.option("--template", help="Folders and names, as {category}/{name}.")
@click.option("--sfz", is_flag=True, default=None, help="With instruments.")
@with_connection
@AS_JSON
def pull_command(
    folder: Path,
    library: str,
    number: str,
    server: str | None,
    data: Path,
    handle: str | None,
    as_json: bool,
    **wanted: Any,
) -> None:
    """Bring FOLDER to a release: fetch what is new, verify it, remove what is gone.

    In another format the server makes the release once and keeps it: every build gets the same
    bytes.
    """
    results = Results(as_json=as_json)
    plan = {name: value for name, value in wanted.items() if value is not None}
    if plan:
        plan = {"file_format": "wav24", "sample_rate": 0} | plan
    with connected(server, data, handle) as connection:

        def fetch(
            path: str, _: str, tag: str | None = None, body: dict[str, Any] | None = None
        ) -> bytes | None:
            return connection.bytes_of(path, tag=tag, body=body)

        try:
            said = pull_release.pull("", library, folder, number, "", plan, fetch)
        except pull_release.PullError as error:
            raise click.ClickException(str(error)) from error
    results.add({"folder": str(folder), "said": said}, said)
    results.end()
