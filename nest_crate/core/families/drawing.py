"""Where in its spreads each member lies: points of a low-discrepancy sequence, seeded."""

from __future__ import annotations

import math
import warnings
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.special import ndtri
from scipy.stats import qmc

from nest_crate.core.families.document import BatchPlan, PlannedSound, Spread, SpreadShape
from nest_crate.core.sound.parameters import Parameter

__all__ = ["SpreadRange", "drawn_values", "shaped", "spread_ranges"]

# A bell reaches this many standard deviations to either end.
_BELL_REACH = 2.5
# Of members drawn away from others, the farthest of so many.
_CANDIDATES = 6
# Times are spread as if a little longer, so that 0 is a place too.
_TIME_OFFSET_S = 1e-3

Unit = NDArray[np.float64]


@dataclass(frozen=True)
class SpreadRange:
    """A spread as it is drawn: the value of the original and both ends, within what is declared."""

    spread: Spread
    parameter: Parameter
    base: float
    low: float
    high: float
    clipped: bool
    """Whether the range that was asked for reached past what is declared."""

    def place(self, value: float) -> float:
        """On the scale on which equal steps are about equally large to the ear."""
        if self.parameter.scale == "log" and self.parameter.minimum > 0.0:
            return math.log(max(value, self.parameter.minimum))
        if self.parameter.scale == "time":
            return math.log(max(value, 0.0) + _TIME_OFFSET_S)
        return value

    def value(self, place: float) -> float:
        """The inverse of ``place``, within what is declared."""
        found = place
        if self.parameter.scale == "log" and self.parameter.minimum > 0.0:
            found = math.exp(place)
        elif self.parameter.scale == "time":
            found = math.exp(place) - _TIME_OFFSET_S
        found = min(self.parameter.maximum, max(self.parameter.minimum, found))
        return float(round(found)) if self.parameter.whole else found


def shaped(unit: Unit, shape: SpreadShape) -> Unit:
    """Even numbers from 0 to 1 as the shape spreads them, from 0 to 1 again. Towards an end, the
    density falls in a straight line to 0 at the other."""
    if shape == "bell":
        deviations = ndtri(np.clip(unit, 1e-9, 1.0 - 1e-9))
        return np.asarray(np.clip(0.5 + deviations / (2.0 * _BELL_REACH), 0.0, 1.0))
    if shape == "low":
        return np.asarray(1.0 - np.sqrt(1.0 - unit))
    return np.sqrt(unit) if shape == "high" else unit


def spread_ranges(
    planned: PlannedSound,
    difference: float,
    bases: dict[str, float],
    targets: dict[str, Parameter],
) -> list[SpreadRange]:
    """The spreads of a sound, scaled by how different members shall be."""
    found = []
    for spread in planned.spreads:
        parameter = targets[spread.target]
        low = min(parameter.maximum, max(parameter.minimum, spread.low))
        high = min(parameter.maximum, max(parameter.minimum, spread.high))
        clipped = (low, high) != (spread.low, spread.high)
        base = bases[spread.target]
        whole = SpreadRange(spread, parameter, base, low, high, clipped)
        middle = whole.place(min(high, max(low, base)))
        ends = [middle + difference * (whole.place(end) - middle) for end in (low, high)]
        found.append(
            SpreadRange(
                spread, parameter, base, whole.value(ends[0]), whole.value(ends[1]), clipped
            )
        )
    return found


def drawn_values(
    plan: BatchPlan, index: int, ranges: Sequence[SpreadRange], count: int
) -> list[dict[str, float]]:
    """Values by target for so many draws of a plan's sound; more draws begin with the same ones.

    The points are Sobol's, scrambled by the seed (Joe and Kuo 2008, as in ``scipy.stats.qmc``).
    Around picked members spreads are narrower and lie around theirs; of two or more, every second
    draw takes each number from one of them by chance (uniform crossover). Away from picked members
    the farthest of several candidates is taken.
    """
    if not ranges or count == 0:
        return [{} for _ in range(count)]
    names = [one.spread.together or f"\0{n}" for n, one in enumerate(ranges)]
    own = {name: n for n, name in enumerate(dict.fromkeys(names))}
    columns = [own[name] for name in names]
    times = _CANDIDATES if plan.away else 1
    points = _points(plan.seed, index, 2 * len(own), count * times)
    scattered = np.stack(
        [shaped(points[:, columns[n]], one.spread.shape) for n, one in enumerate(ranges)], axis=1
    )
    chances = points[:, [len(own) + column for column in columns]]
    lows = np.array([one.place(one.low) for one in ranges])
    highs = np.array([one.place(one.high) for one in ranges])
    if plan.around:
        places = _around(plan, ranges, scattered, chances, lows, highs)
    else:
        places = lows + scattered * (highs - lows)
    if plan.away:
        places = _farthest(plan, ranges, places.reshape(count, times, -1), lows, highs)
    return [
        {one.spread.target: one.value(float(row[n])) for n, one in enumerate(ranges)}
        for row in places
    ]


def _points(seed: int, index: int, dimensions: int, count: int) -> Unit:
    sequence = qmc.Sobol(dimensions, scramble=True, rng=np.random.default_rng([seed, index, 22]))
    with warnings.catch_warnings():
        # Any number of draws is wanted, not only powers of two.
        warnings.simplefilter("ignore", UserWarning)
        return np.asarray(sequence.random(count))


def _centres(plan_centres: Sequence[dict[str, float]], ranges: Sequence[SpreadRange]) -> Unit:
    return np.array(
        [
            [one.place(values.get(one.spread.target, one.base)) for one in ranges]
            for values in plan_centres
        ]
    )


def _around(
    plan: BatchPlan,
    ranges: Sequence[SpreadRange],
    scattered: Unit,
    chances: Unit,
    lows: Unit,
    highs: Unit,
) -> Unit:
    centres = _centres([one.values for one in plan.around], ranges)
    count, parents = len(scattered), len(centres)
    own = np.arange(count) % parents
    bred = np.minimum((chances * parents).astype(np.int64), parents - 1)
    mixed = (np.arange(count) // parents) % 2 == 1
    parent = np.where(mixed[:, None], bred, own[:, None])
    middle = np.take_along_axis(centres, parent, axis=0)
    return np.asarray(middle + plan.narrow * (scattered - 0.5) * (highs - lows))


def _farthest(
    plan: BatchPlan, ranges: Sequence[SpreadRange], places: Unit, lows: Unit, highs: Unit
) -> Unit:
    """Of each draw's candidates the one that lies farthest from all that shall be kept away from,
    in widths of the spreads."""
    centres = _centres([one.values for one in plan.away], ranges)
    width = np.where(highs > lows, highs - lows, 1.0)
    apart = (places[:, :, None, :] - centres[None, None]) / width
    nearest = np.sqrt((apart**2).sum(axis=3)).min(axis=2)
    best = nearest.argmax(axis=1)
    return np.asarray(places[np.arange(len(places)), best])
