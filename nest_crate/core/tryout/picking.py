"""Which variation of a group each hit plays: in turn, at random, without the last ones, or by
velocity."""

from __future__ import annotations

import threading
from collections import deque
from collections.abc import Sequence

import numpy as np
from cachetools import LRUCache

from nest_crate.core.tryout.document import PlaysGroup

__all__ = ["by_velocity", "picked"]


class _Row:
    """Choices from the first hit on; it grows, and what it holds already stays."""

    def __init__(self, seed: int, count: int, avoid: int) -> None:
        self._chance = np.random.Generator(np.random.PCG64(seed))
        self._count, self._avoid = count, avoid
        self._last: deque[int] = deque(maxlen=max(1, avoid))
        self._chosen: list[int] = []

    def part(self, first: int, count: int) -> list[int]:
        while len(self._chosen) < first + count:
            free = [n for n in range(self._count) if self._avoid == 0 or n not in self._last]
            index = free[int(self._chance.integers(len(free)))]
            self._last.append(index)
            self._chosen.append(index)
        return self._chosen[first : first + count]


# Rows of chosen variations, each as far as it was asked for, by what they hang on.
_rows: LRUCache[tuple[int, int, int], _Row] = LRUCache(64)
_lock = threading.Lock()


def by_velocity(plays: PlaysGroup, velocities: Sequence[int]) -> list[int]:
    """The variation (index) of each velocity, the first for the softest."""
    count = len(plays.samples)
    return [min(count - 1, one * count // 128) for one in velocities]


def picked(plays: PlaysGroup, first: int, count: int) -> list[int]:
    """The variations (index) of ``count`` hits, ``first`` of which came before; the same seed picks
    the same ones, so that a hit does not hang on where the asking began.

    Not for the choice by velocity.
    """
    size = len(plays.samples)
    if plays.choice == "in_turn":
        return [(first + n) % size for n in range(count)]
    avoid = min(plays.avoid, size - 1) if plays.choice == "no_repeat" else 0
    key = (plays.seed, size, avoid)
    with _lock:
        row = _rows.get(key)
        if row is None:
            row = _rows[key] = _Row(*key)
        return row.part(first, count)
