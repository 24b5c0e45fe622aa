"""How far long work is: reported to a watcher, who may also stop it."""

from __future__ import annotations

from collections.abc import Callable, Iterator, Sequence
from typing import TypeVar

from nest_crate.core.errors import NestCrateError

__all__ = ["Progress", "Stopped", "counted", "unwatched"]

# Called with how many are done, and of how many; raises ``Stopped`` where that is wished.
Progress = Callable[[int, int], None]
_One = TypeVar("_One")


class Stopped(NestCrateError):
    """The watcher stopped the work; what was begun is not kept."""

    code = "stopped"
    title = "Stopped"


def unwatched(_done: int, _of: int) -> None:
    """Nobody watches."""


def counted(items: Sequence[_One], progress: Progress) -> Iterator[_One]:
    """The items one by one, each reported before it is worked on, and the end after the last."""
    for done, item in enumerate(items):
        progress(done, len(items))
        yield item
    progress(len(items), len(items))
