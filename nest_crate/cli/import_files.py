"""Imports audio files into a library."""

from __future__ import annotations

from pathlib import Path

import click

from nest_crate.cli.audio_files import AUDIO_FILES, files_in
from nest_crate.cli.connection import LIBRARY, Connection, connected, with_connection
from nest_crate.cli.results import AS_JSON, Results, with_progress

__all__ = ["import_command"]


@click.command("import")
@AUDIO_FILES
@LIBRARY
@click.option("--template", default="", help="How names are read, as {category}_{name}_{note}.")
@click.option("--titles", is_flag=True, help="The title in a file becomes the name.")
@click.option("--folder-tags", is_flag=True, help="Names of folders become tags.")
@click.option(
    "--folder-category/--no-folder-category",
    default=True,
    help="Names of folders may say the category.",
)
@click.option("--merge", is_flag=True, help="What is there already takes over words it lacks.")
@with_connection
@AS_JSON
def import_command(
    files: tuple[Path, ...],
    library: str,
    template: str,
    titles: bool,
    folder_tags: bool,
    folder_category: bool,
    merge: bool,
    server: str | None,
    data: Path,
    handle: str | None,
    as_json: bool,
) -> None:
    """Import audio files, or folders of them, into a library.

    Audio that the library has already is not added again; the sample that has it is named.
    """
    results = Results(as_json=as_json)
    rules = {
        "once": True,
        "template": template,
        "titles": titles,
        "folder_tags": folder_tags,
        "folder_category": folder_category,
        "merge": merge,
    }
    rules = {name: value for name, value in rules.items() if value != ""}
    with connected(server, data, handle) as server_or_folder:

        def one(path: Path) -> None:
            _send(server_or_folder, library, path, _folder(path, files), rules, results)

        for path in with_progress(files_in(files), "Files"):
            results.attempt(str(path), lambda path=path: one(path))  # type: ignore[misc]
    results.end()


def _send(
    connection: Connection,
    library: str,
    path: Path,
    folder: str,
    rules: dict[str, object],
    results: Results,
) -> None:
    with path.open("rb") as file:
        status, sample = connection.status_and_json(
            "POST",
            f"/api/libraries/{library}/samples",
            params={**rules, "folder": folder},
            files={"file": (path.name, file)},
        )
    is_new = status == 201
    entry = {"file": str(path), "sample": sample["id"], "name": sample["name"], "new": is_new}
    words = "" if is_new else " (the library has this audio already)"
    results.add(entry, f"{path} -> {sample['name']}{words}")


def _folder(path: Path, given: tuple[Path, ...]) -> str:
    """Where a file lies, from the name of the folder on that was given."""
    for one in given:
        if one.is_dir() and path.is_relative_to(one):
            return (Path(one.resolve().name) / path.relative_to(one).parent).as_posix()
    return ""
