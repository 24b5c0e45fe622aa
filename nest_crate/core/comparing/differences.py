"""Where two sides differ, ranked by how much of it is heard, in words and figures."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import label, uniform_filter1d

from nest_crate.core.comparing.grid import FLOOR_DB, STEP_S

__all__ = [
    "Difference",
    "audible",
    "fall_differences",
    "floored",
    "pitch_difference",
    "stretch_differences",
]

Numbers = NDArray[np.float64]
Flags = NDArray[np.bool_]

# What lies so far below the loudest band of either side is not heard beside it.
_RANGE_DB = 60.0
# Less is no difference; less than that alone makes no entry.
_LEAST_DB, _LEAST_ENTRY_DB = 2.5, 3.0
_SMOOTHED_STEPS = 3
_MOST_STRETCHES = 10
# So much of a stretch's weight lies between its ends, which are fuzzy.
_WITHIN = 0.06
_MOSTLY = 0.3
# The first moments count most, as much as all that follows twice as late.
_ATTACK_S = 0.02
_FALLS_DB = 20.0
_LEAST_LATER_S, _LEAST_LATER = 0.012, 0.15
_LEAST_CENTS = 8.0
# What is ranked lower is not worth a line.
_LEAST_WEIGHT = 0.05
_WIDE_OCTAVES = 5.0


@dataclass(frozen=True)
class Difference:
    """One thing that differs of the second side, over a stretch in seconds of the common ruler and
    a range in Hz.

    ``kind``: "level" (``amount`` in dB), "fall" (in s), "pitch" (in cents). ``weight`` ranks: 1 is
    plainly heard.
    """

    kind: str
    amount: float
    from_s: float
    to_s: float
    from_hz: float
    to_hz: float
    weight: float
    words: str
    hint: str


def audible(first: Numbers, second: Numbers) -> Flags:
    """Which cells of two grids are heard in one side or the other."""
    either = np.maximum(first, second)
    loudest = float(either.max(initial=FLOOR_DB))
    return np.asarray(either > max(loudest - _RANGE_DB, FLOOR_DB + 20.0))


def floored(first: Numbers, second: Numbers) -> tuple[Numbers, Numbers]:
    """What is not heard is as loud as the quietest that is."""
    floor = max(float(max(first.max(), second.max())) - _RANGE_DB, FLOOR_DB + 20.0)
    return np.maximum(first, floor), np.maximum(second, floor)


def stretch_differences(
    first: Numbers, second: Numbers, edges: list[float], begins_s: float, counted: Flags, name: str
) -> list[Difference]:
    """Stretches of time and bands in which one side is louder, the most audible first.

    Parameters
    ----------
    first, second
        levels in dB, shape (bands, steps), of aligned sides.
    begins_s
        where the sides begin to sound on the ruler.
    counted
        by step, whether it counts.
    """
    heard = audible(first, second) & counted
    if not heard.any():
        return []
    a, b = floored(first, second)
    apart = uniform_filter1d(np.where(counted, b - a, 0.0), _SMOOTHED_STEPS, axis=1)
    floor = min(float(a.min()), float(b.min()))
    # Where one side is not heard, by how much it is softer is not known.
    both = np.minimum(a, b) > floor + 1.0
    over_floor = np.maximum(a, b) - floor
    time_s = (np.arange(a.shape[1]) + 0.5) * STEP_S - begins_s
    soon = STEP_S / (np.maximum(time_s, 0.0) + _ATTACK_S)
    octaves = np.log2(np.array(edges[1:]) / np.array(edges[:-1]))
    weights = over_floor / _RANGE_DB * soon * octaves[:, None]
    found = []
    for sign in (1.0, -1.0):
        marked = heard & (sign * apart > _LEAST_DB)
        parts, count = label(marked)
        # Noise has thousands of small stretches; only those that may be listed are looked at.
        scores = np.bincount(parts.ravel(), (weights * np.abs(apart)).ravel(), minlength=count + 1)[
            1:
        ]
        for part in np.argsort(-scores)[:_MOST_STRETCHES] + 1:
            found.append(_stretch(apart, weights, parts == part, both, edges, name))
    plain = (one for one in found if one is not None and one.weight >= _LEAST_WEIGHT)
    ranked = sorted(plain, key=lambda one: -one.weight)
    return ranked[:_MOST_STRETCHES]


def _stretch(
    apart: Numbers, weights: Numbers, inside: Flags, both: Flags, edges: list[float], name: str
) -> Difference | None:
    counted = np.where(inside, weights, 0.0)
    total = float(counted.sum())
    known = np.where(both, counted, 0.0)
    read = known if float(known.sum()) > _MOSTLY * total else counted
    amount = float((read * apart).sum() / read.sum())
    if abs(amount) < _LEAST_ENTRY_DB:
        return None
    score = counted * np.abs(apart)
    first, last = _ends(score.sum(axis=0))
    low, high = _ends(score.sum(axis=1))
    from_hz, to_hz = edges[low], edges[high + 1]
    words = f"{name} is {abs(amount):.1f} dB {'stronger' if amount > 0 else 'weaker'}"
    stretch = Difference(
        kind="level",
        amount=amount,
        from_s=first * STEP_S,
        to_s=(last + 1) * STEP_S,
        from_hz=from_hz,
        to_hz=to_hz,
        weight=float(score.sum()) / 10.0,
        words=words,
        hint="",
    )
    return replace(stretch, hint=_hint(stretch))


def _ends(weights: Numbers) -> tuple[int, int]:
    """Between which places nearly all of the weight lies."""
    sums = np.cumsum(weights) / weights.sum()
    return int(np.searchsorted(sums, _WITHIN)), int(np.searchsorted(sums, 1.0 - _WITHIN))


def _hint(one: Difference) -> str:
    """What somebody of the trade may call it."""
    more = one.amount > 0
    wide = np.log2(one.to_hz / one.from_hz) > _WIDE_OCTAVES
    short = one.to_s - one.from_s < 0.06
    if short and one.from_hz >= 500.0:
        return "a harder attack" if more else "a softer attack"
    if wide:
        return ""
    if one.to_hz <= 150.0:
        return "more low end" if more else "less low end"
    if one.from_hz >= 4000.0:
        return "brighter" if more else "duller"
    if one.from_hz >= 150.0 and one.to_hz <= 700.0:
        return "boxier" if more else "thinner"
    if one.from_hz >= 1000.0:
        return "more presence" if more else "less presence"
    return ""


_GROUPS = ((25.0, 150.0), (150.0, 1000.0), (1000.0, 4000.0), (4000.0, 18000.0))


def fall_differences(
    first: Numbers, second: Numbers, edges: list[float], counted: Flags, name: str
) -> Iterator[Difference]:
    """By group of bands, where one side falls by 20 dB plainly sooner than the other."""
    heard = audible(first, second)
    loudest = float(max(first.max(), second.max()))
    for low_hz, high_hz in _GROUPS:
        rows = [n for n, edge in enumerate(edges[:-1]) if low_hz <= edge < high_hz]
        if not heard[rows].any():
            continue
        curves = [_group(one[rows], counted) for one in (first, second)]
        if min(float(one.max()) for one in curves) < loudest - 30.0:
            continue
        own, theirs = (_falls(one) for one in curves)
        if own is None or theirs is None:
            continue
        (top_a, end_a), (top_b, end_b) = own, theirs
        taken = (end_a - top_a) * STEP_S, (end_b - top_b) * STEP_S
        later = taken[1] - taken[0]
        if abs(later) < max(_LEAST_LATER_S, _LEAST_LATER * max(taken)):
            continue
        share = (max(float(one.max()) for one in curves) - loudest + 40.0) / 40.0
        yield Difference(
            kind="fall",
            amount=later,
            from_s=min(top_a, top_b) * STEP_S,
            to_s=max(end_a, end_b) * STEP_S,
            from_hz=max(low_hz, edges[0]),
            to_hz=min(high_hz, edges[-1]),
            weight=0.6 * share * abs(np.log2(max(taken[1], STEP_S) / max(taken[0], STEP_S))),
            words=f"{name} falls {_milliseconds(abs(later))} {'later' if later > 0 else 'sooner'}",
            hint="a longer tail" if later > 0 else "a shorter tail",
        )


def _group(levels: Numbers, counted: Flags) -> Numbers:
    """The level of several bands together."""
    power = (10.0 ** (levels / 10.0)).sum(axis=0)
    smooth = uniform_filter1d(np.where(counted, power, 0.0), _SMOOTHED_STEPS)
    return np.asarray(10.0 * np.log10(np.maximum(smooth, 10.0 ** (FLOOR_DB / 10.0))))


def _falls(level_db: Numbers) -> tuple[int, int] | None:
    """The steps of the loudest moment and of the last one within 20 dB of it."""
    top = int(level_db.argmax())
    if level_db[top] < FLOOR_DB + 40.0:
        return None
    over = np.flatnonzero(level_db[top:] > level_db[top] - _FALLS_DB)
    return top, top + int(over[-1]) + 1


def pitch_difference(
    first_hz: float | None, second_hz: float | None, length_s: float, name: str
) -> Difference | None:
    """Where both settle at a pitch, and not at the same one."""
    if first_hz is None or second_hz is None:
        return None
    cents = float(1200.0 * np.log2(second_hz / first_hz))
    if abs(cents) < _LEAST_CENTS:
        return None
    far = f"{abs(cents) / 100.0:.1f} st" if abs(cents) >= 100.0 else f"{abs(cents):.0f} ct"
    return Difference(
        kind="pitch",
        amount=cents,
        from_s=0.0,
        to_s=length_s,
        from_hz=min(first_hz, second_hz) / 2.0,
        to_hz=max(first_hz, second_hz) * 2.0,
        weight=min(3.0, 0.25 + abs(cents) / 100.0),
        words=f"{name} lands {far} {'sharp' if cents > 0 else 'flat'}",
        hint="",
    )


def _milliseconds(seconds: float) -> str:
    return f"{seconds:.2f} s" if seconds >= 1.0 else f"{1000.0 * seconds:.0f} ms"
