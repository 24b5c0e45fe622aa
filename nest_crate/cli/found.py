"""What a command is about: the samples of a library that a search finds."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, TypeVar

import click

from nest_crate.cli.connection import Connection

__all__ = ["library_number", "query_of", "with_search"]

Command = TypeVar("Command", bound=Callable[..., Any])

_OPTIONS = (
    click.argument("words", nargs=-1),
    click.option("--category", multiple=True),
    click.option("--tag", multiple=True, help="All of several."),
    click.option(
        "--status",
        multiple=True,
        type=click.Choice(("draft", "in_review", "approved", "retired")),
    ),
    click.option("--folder", multiple=True),
    click.option("--group", default="", help="A variation group."),
    click.option("--shortest", type=float, help="Seconds."),
    click.option("--longest", type=float, help="Seconds."),
)


def with_search(command: Command) -> Command:
    """The options of a search; without any it finds all."""
    for option in reversed(_OPTIONS):
        command = option(command)
    return command


def library_number(connection: Connection, library: str) -> int:
    """The number of the library with a key or number.

    Raises
    ------
    click.ClickException
        naming the libraries that there are.
    """
    listed = connection.json("GET", "/api/libraries")["libraries"]
    for one in listed:
        if library in (one["key"], str(one["id"])):
            return int(one["id"])
    known = ", ".join(one["key"] for one in listed) or "none"
    raise click.ClickException(f"There is no library {library!r}; there are: {known}")


def query_of(library_id: int, given: dict[str, Any]) -> dict[str, Any]:
    """A search as the API takes it, of the options of ``with_search``."""
    query: dict[str, Any] = {
        "libraries": [library_id],
        "words": " ".join(given["words"]),
        "categories": list(given["category"]),
        "tags": list(given["tag"]),
        "statuses": list(given["status"]),
        "folders": list(given["folder"]),
        "group": given["group"],
    }
    if given["shortest"] is not None or given["longest"] is not None:
        query["ranges"] = {"length_s": [given["shortest"], given["longest"]]}
    return query
