"""Edits of a document by path, as the fixes of checks describe them."""

from __future__ import annotations

import copy
from collections.abc import Iterable
from typing import Any

__all__ = ["with_edits"]


def with_edits(document: dict[str, Any], edits: Iterable[tuple[str, Any]]) -> dict[str, Any]:
    """A copy of a document with each value put at its path.

    Parameters
    ----------
    edits
        paths such as ``layers.0.source.tune_cent`` with their values; one place past a list's end
        adds to it.

    Raises
    ------
    KeyError, IndexError
        where a path leads nowhere.
    """
    made = copy.deepcopy(document)
    for path, value in edits:
        *way, last = path.split(".")
        place: Any = made
        for step in way:
            place = place[int(step)] if isinstance(place, list) else place[step]
        if not isinstance(place, list):
            place[last] = value
        elif int(last) == len(place):
            place.append(value)
        else:
            place[int(last)] = value
    return made
