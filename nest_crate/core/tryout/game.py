"""A game's way of triggering variations: a run of hits, and how alike neighbours in it are.

Distance is that of a point source: the level falls by 6 dB for each doubling from one metre. The
high cut stands for what air and foliage take away; it is a plain rule, not a model of weather.
"""

from __future__ import annotations

import itertools
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.features.features import feature_distances
from nest_crate.core.tryout.document import GameTest, PlaysGroup
from nest_crate.core.tryout.picking import by_velocity, picked

__all__ = [
    "AlikePair",
    "GameFigures",
    "Trigger",
    "distance_gain_db",
    "distance_high_cut_hz",
    "figures_of_run",
    "run_of",
    "variations_needed",
]

RUN_HITS = 200
_OPEN_HZ = 20000.0
# At this distance the high cut has come down to half.
_HALF_CUT_M = 20.0
_MOST_NEEDED = 400
_TRIES = 24


@dataclass(frozen=True)
class Trigger:
    """One hit of a run: which variation, and what the engine of the game does to it."""

    at_s: float
    variation: int
    """Index within the group, from 0."""
    pitch_semitones: float
    gain_db: float


@dataclass(frozen=True)
class AlikePair:
    """Two variations that were heard one after the other, how often, and how far apart they are."""

    first: int
    second: int
    times: int
    distance: float


@dataclass(frozen=True)
class GameFigures:
    """What a run tells: distances of all neighbours in order, the most alike, and repeats."""

    distances: tuple[float, ...]
    alike: tuple[AlikePair, ...]
    below: int
    """Neighbours nearer than the wanted distance."""
    soonest_repeat: int | None
    """Hits from one to the next of the same file, at the soonest; None where none came twice."""
    median_repeat: float | None
    soonest_repeat_s: float | None
    apart_count: int
    """As many of the variations are all as far apart as wanted."""
    needed: int | None
    """Variations to make so that as many as there are now are that far apart; None: over 400."""


def distance_gain_db(distance_m: float) -> float:
    """0 dB at one metre, 6.02 dB less for each doubling."""
    return float(-20.0 * np.log10(max(distance_m, 1.0)))


def distance_high_cut_hz(distance_m: float) -> float:
    """20 kHz at one metre and nearer, 10 kHz at 21 m, falling on."""
    return _OPEN_HZ / (1.0 + max(0.0, distance_m - 1.0) / _HALF_CUT_M)


def run_of(game: GameTest, plays: PlaysGroup, seed: int, count: int = RUN_HITS) -> list[Trigger]:
    """The hits of a run; the same seed gives the same run."""
    chance = np.random.Generator(np.random.PCG64([seed, 1]))
    gaps = chance.uniform(game.every_from_s, game.every_to_s, count)
    pitches = chance.uniform(-game.pitch_semitones, game.pitch_semitones, count)
    levels = -chance.uniform(0.0, game.level_db, count)
    velocities = [int(one) for one in chance.integers(1, 128, count)]
    times = np.concatenate([[0.0], np.cumsum(gaps)])[:count]
    if plays.choice == "velocity":
        chosen = by_velocity(plays, velocities)
    else:
        chosen = picked(plays.model_copy(update={"seed": plays.seed + seed}), 0, count)
    return [
        Trigger(float(at), variation, float(pitch), float(level))
        for at, variation, pitch, level in zip(times, chosen, pitches, levels, strict=True)
    ]


def figures_of_run(
    run: Sequence[Trigger], vectors: NDArray[np.float32], apart: float, most: int = 5
) -> GameFigures:
    """Figures of a run.

    Parameters
    ----------
    vectors : np.ndarray [shape=(variations, features)]
        of the files as they are, before pitch and level are spread.
    apart
        the wanted distance of neighbours.
    """
    table = np.stack([feature_distances(vectors, one) for one in vectors])
    pairs = [(one.variation, two.variation) for one, two in itertools.pairwise(run)]
    distances = tuple(float(table[pair]) for pair in pairs)
    counts: dict[tuple[int, int], int] = {}
    for first, second in pairs:
        key = (min(first, second), max(first, second))
        counts[key] = counts.get(key, 0) + 1
    alike = sorted(
        (AlikePair(*key, times, float(table[key])) for key, times in counts.items()),
        key=lambda one: (one.distance, -one.times, one.first, one.second),
    )
    gaps = _repeat_gaps(run)
    return GameFigures(
        distances=distances,
        alike=tuple(alike[:most]),
        below=sum(one < apart for one in distances),
        soonest_repeat=min((hits for hits, _ in gaps), default=None),
        median_repeat=float(np.median([hits for hits, _ in gaps])) if gaps else None,
        soonest_repeat_s=min((seconds for _, seconds in gaps), default=None),
        apart_count=_all_apart(table, apart),
        needed=variations_needed(table, apart),
    )


def _repeat_gaps(run: Sequence[Trigger]) -> list[tuple[int, float]]:
    """(hits, seconds) from each hit of a file to the next of the same one."""
    last: dict[int, int] = {}
    found = []
    for n, one in enumerate(run):
        if one.variation in last:
            before = last[one.variation]
            found.append((n - before, one.at_s - run[before].at_s))
        last[one.variation] = n
    return found


def _all_apart(table: NDArray[np.float32], apart: float) -> int:
    """How many can be chosen that are all at least so far apart: of several orders, the most."""
    count = table.shape[0]
    near = table < apart
    np.fill_diagonal(near, False)
    chance = np.random.Generator(np.random.PCG64(0))
    orders = [np.argsort(near.sum(axis=1), kind="stable")]
    orders += [chance.permutation(count) for _ in range(_TRIES)]
    best = 0
    for order in orders:
        chosen: list[int] = []
        for one in order:
            if not near[one, chosen].any():
                chosen.append(int(one))
        best = max(best, len(chosen))
    return best


def variations_needed(table: NDArray[np.float32], apart: float) -> int | None:
    """How many variations made the same way would hold as many that are all apart as there are now.

    What is apart in random parts of the group is counted, and grows with a power of their size
    (a straight line in logarithms); that line is followed. ``table`` is (variations, variations).
    """
    count = int(table.shape[0])
    now = _all_apart(table, apart)
    if now >= count:
        return count
    if count < 3 or now < 2:
        return None
    chance = np.random.Generator(np.random.PCG64(1))
    sizes = np.unique(np.linspace(2, count, min(6, count - 1)).round().astype(int))
    means = []
    for size in sizes:
        parts = [chance.permutation(count)[:size] for _ in range(_TRIES)]
        means.append(np.mean([_all_apart(table[np.ix_(one, one)], apart) for one in parts]))
    slope, start = (float(one) for one in np.polyfit(np.log(sizes), np.log(means), 1))
    if slope <= 0.05:
        return None
    reached = float(np.exp((np.log(count) - start) / slope))
    needed = max(count + 1, int(np.ceil(reached)))
    return needed if needed <= _MOST_NEEDED else None
