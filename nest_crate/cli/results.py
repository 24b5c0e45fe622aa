"""What commands about many things say: a line or an entry of JSON for each, and how it ended.

Exit codes: 0 where all was done, 1 where something failed (the others are done all the same), 2
where the command itself was not understood.
"""

from __future__ import annotations

import json
import sys
from collections.abc import Callable, Iterable, Iterator, Sequence
from typing import Any, TypeVar

import click

from nest_crate.core.errors import NestCrateError

__all__ = ["AS_JSON", "Results", "with_progress"]

Thing = TypeVar("Thing")

AS_JSON = click.option("--json", "as_json", is_flag=True, help="Say everything as JSON.")


class Results:
    """Collects what was done and what failed, and says it."""

    def __init__(self, *, as_json: bool) -> None:
        self._as_json = as_json
        self._done: list[dict[str, Any]] = []
        self._errors: list[dict[str, str]] = []

    def add(self, entry: dict[str, Any], line: str) -> None:
        """Something that is done, as JSON and as a line."""
        self._done.append(entry)
        if not self._as_json:
            click.echo(line)

    def attempt(self, about: str, act: Callable[[], None]) -> None:
        """Do something; what is wrong with it is said, and ends nothing else."""
        try:
            act()
        except (NestCrateError, click.ClickException) as error:
            self._fail(about, error.message)
        except (ValueError, OSError) as error:
            self._fail(about, str(error))

    def _fail(self, about: str, words: str) -> None:
        self._errors.append({"about": about, "error": words})
        if not self._as_json:
            click.echo(f"Error: {about}: {words}", err=True)

    def end(self) -> None:
        """Write the JSON, and leave with 1 where something failed."""
        if self._as_json:
            found = {"done": self._done, "errors": self._errors}
            click.echo(json.dumps(found, indent=1, ensure_ascii=False))
        if self._errors:
            raise click.exceptions.Exit(1)


def with_progress(things: Sequence[Thing], label: str) -> Iterator[Thing]:
    """One after the other, with a bar where somebody looks at the errors' stream."""
    if len(things) < 2 or not sys.stderr.isatty():
        yield from things
        return
    with click.progressbar(things, label=label, show_pos=True, file=sys.stderr) as bar:
        shown: Iterable[Thing] = bar
        yield from shown
