"""A family looked at as a whole: who is next to whom, who stands apart, who fits on a ladder."""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = [
    "APART",
    "Neighbours",
    "by_likeness",
    "neighbours",
    "outliers",
    "thin_along",
    "thin_apart",
]

# About where an ear tells two members apart, as a distance of features.
APART = 0.5
# A member nearer than this share of it to another is as good as the same.
_ALIKE = 0.5 * APART
_OFF_PITCH_CENTS = 50.0
_FAR_DEVIATIONS = 3.5
_LEAST_FAR = 3.0
_LONG_TIMES = 2.0

# Members whose distances to all others are held at a time.
_BLOCK = 128

Vectors = NDArray[np.float32]


@dataclass(frozen=True)
class Neighbours:
    """By member: the nearest other one (its index, -1 without any) and how far it is; how far the
    original is (NaN without one)."""

    nearest: NDArray[np.int64]
    nearest_distance: NDArray[np.float64]
    original_distance: NDArray[np.float64]

    @property
    def median(self) -> float:
        """The median distance to the nearest; NaN where there is none."""
        known = self.nearest_distance[np.isfinite(self.nearest_distance)]
        return float(np.median(known)) if known.size else math.nan


def neighbours(vectors: Vectors, original: Vectors | None = None) -> Neighbours:
    """Distances within a family.

    Parameters
    ----------
    vectors : np.ndarray [shape=(members, features)]
    original : np.ndarray [shape=(features,)]
    """
    count = len(vectors)
    nearest = np.full(count, -1, dtype=np.int64)
    distance = np.full(count, math.nan)
    if count > 1:
        points = vectors.astype(np.float64)
        lengths = (points**2).sum(axis=1)
        for first in range(0, count, _BLOCK):
            here = np.arange(first, min(first + _BLOCK, count))
            # Squared distances, but for each one's own length, which is the same for all others. By
            # a product of matrices, in so many dimensions faster than any tree.
            squares = points[here] @ points.T
            squares *= -2.0
            squares += lengths
            squares[here - first, here] = math.inf
            nearest[here] = squares.argmin(axis=1)
        # Once more from the features themselves: sums of large squares are not exact.
        distance = np.sqrt(((points - points[nearest]) ** 2).sum(axis=1))
    if original is None:
        to_original = np.full(count, math.nan)
    else:
        to_original = np.sqrt(((vectors.astype(np.float64) - original) ** 2).sum(axis=1))
    return Neighbours(nearest, distance, to_original)


def outliers(
    found: Neighbours, figures: Sequence[Mapping[str, Any]], *, expected_hz: Sequence[float | None]
) -> list[list[str]]:
    """What is wrong with each member beside the others, as codes.

    ``alike``: as good as the member before it that it is nearest to; ``far``: much farther from the
    original than the others; ``off_pitch``: more than half a semitone from what is expected;
    ``long``: more than twice the median length.
    """
    count = len(figures)
    marks: list[list[str]] = [[] for _ in range(count)]
    lengths = np.array([one["length_s"] for one in figures])
    usual = float(np.median(lengths)) if count else 0.0
    far = _far_limit(found.original_distance)
    for n, one in enumerate(figures):
        # Of two that are alike, the later one is marked.
        if found.nearest_distance[n] < _ALIKE and 0 <= found.nearest[n] < n:
            marks[n].append("alike")
        if found.original_distance[n] > far:
            marks[n].append("far")
        pitch, wanted = one.get("pitch_hz"), expected_hz[n]
        if pitch and wanted and abs(1200.0 * math.log2(pitch / wanted)) > _OFF_PITCH_CENTS:
            marks[n].append("off_pitch")
        if count > 2 and lengths[n] > _LONG_TIMES * usual:
            marks[n].append("long")
    return marks


def _far_limit(distances: NDArray[np.float64]) -> float:
    """By the median absolute deviation, which a few far ones do not move."""
    known = distances[np.isfinite(distances)]
    if known.size < 4:
        return math.inf
    middle = float(np.median(known))
    deviation = 1.4826 * float(np.median(np.abs(known - middle)))
    return max(middle + _FAR_DEVIATIONS * deviation, _LEAST_FAR)


def thin_apart(vectors: Vectors, count: int, keep: Sequence[int] = ()) -> list[int]:
    """The members that differ most, by index in their order: each next one is farthest from all
    that were chosen (Gonzalez 1985). What shall be kept is chosen first; else the one nearest to
    the middle of the family."""
    total = len(vectors)
    if count >= total:
        return list(range(total))
    points = vectors.astype(np.float64)
    chosen = list(dict.fromkeys(keep))[:count]
    if not chosen and count > 0:
        middle = np.median(points, axis=0)
        chosen = [int(((points - middle) ** 2).sum(axis=1).argmin())]
    apart = np.full(total, math.inf)
    for one in chosen:
        apart = np.minimum(apart, ((points - points[one]) ** 2).sum(axis=1))
    while len(chosen) < count:
        farthest = int(np.argmax(apart))
        chosen.append(farthest)
        apart = np.minimum(apart, ((points - points[farthest]) ** 2).sum(axis=1))
    return sorted(chosen)


def thin_along(values: Sequence[float | None], count: int) -> list[int]:
    """So many members, by index, whose figures stand most evenly between the least and the most:
    a ladder. Members without the figure are left out. In the order of the figure."""
    known = [(value, n) for n, value in enumerate(values) if value is not None]
    known.sort()
    if count >= len(known):
        return [n for _, n in known]
    if count == 1:
        return [known[len(known) // 2][1]]
    figures = np.array([value for value, _ in known])
    wanted = np.linspace(figures[0], figures[-1], count)
    chosen: list[int] = []
    low = 0
    for step, value in enumerate(wanted):
        # So many must be left for the steps above.
        high = len(known) - (count - 1 - step)
        best = low + int(np.abs(figures[low:high] - value).argmin())
        chosen.append(best)
        low = best + 1
    return [known[n][1] for n in chosen]


def by_likeness(vectors: Vectors, start: int = 0) -> list[int]:
    """An order in which neighbours are alike: from each to the nearest that is left."""
    points = vectors.astype(np.float64)
    left = np.ones(len(points), dtype=bool)
    order: list[int] = []
    at = start
    for _ in range(len(points)):
        order.append(at)
        left[at] = False
        if not left.any():
            break
        apart = np.where(left, ((points - points[at]) ** 2).sum(axis=1), math.inf)
        at = int(apart.argmin())
    return order
