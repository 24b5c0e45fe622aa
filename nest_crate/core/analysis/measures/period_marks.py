"""Pitch from period to period, for what moves too fast to be like itself a period later."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["period_marks"]

# A crossing counts where the wave went as far below zero since the last, re how far above.
_SWING = 0.3
# How far the pitch may lie off a straight line over its periods, re itself.
_BEND = 0.05
_MIDDLE = 0.1
# So many periods in a row have to be on such a line.
_LEAST_PERIODS = 6

Floats = NDArray[np.float64]


def period_marks(
    x: Floats, sample_rate: int, lowest_hz: float, highest_hz: float
) -> tuple[Floats, ...]:
    """Times in s, pitches in Hz, movement in octaves per s and levels in dB at upward crossings.

    ``x`` is (frames,). A falling tone whose pitch in octaves is straight over time has a pitch that
    is straight over its periods; with x = c ln 2 / f, c octaves per second, the period before a
    crossing lasts ln(1 + x) / (x f) and the one after it -ln(1 - x) / (x f). Their ratio gives x,
    and x the pitch at the crossing. Marks are given only where several periods in a row agree.
    """
    crossings = _upward_crossings(x)
    if crossings.size < _LEAST_PERIODS + 1:
        return np.zeros(0), np.zeros(0), np.zeros(0), np.zeros(0)
    periods = np.diff(crossings) / sample_rate
    pitch_hz, fall_hz, bend_hz = _at_crossings(periods)
    inside = (pitch_hz > lowest_hz) & (pitch_hz < highest_hz)
    good = _long_runs(inside & (bend_hz < _BEND * pitch_hz), _LEAST_PERIODS)
    at = np.flatnonzero(good) + 1
    power = np.concatenate([[0.0], np.cumsum(x**2)])
    begin, end = crossings[at - 1].astype(np.int64), crossings[at + 1].astype(np.int64)
    mean = (power[end] - power[begin]) / np.maximum(end - begin, 1)
    level_db = 10.0 * np.log10(np.maximum(mean, 1e-15))
    speed = fall_hz[at - 1] / math.log(2.0)
    return crossings[at] / sample_rate, pitch_hz[at - 1], speed, level_db


def _at_crossings(periods: Floats) -> tuple[Floats, Floats, Floats]:
    """At all crossings but the first and last, in Hz: the pitch, by how much it falls in a period,
    and by how much it falls otherwise in the next.

    Where the pitch has a corner, a period that holds it says nothing of either side: there the line
    through the periods before or after is followed to the crossing, whichever bends less.
    """
    step = np.interp(periods[1:] / periods[:-1], _RATIOS, _STEPS)
    flat = np.abs(step) < 1e-6
    pitch_hz = np.where(flat, 1.0, np.log1p(step) / np.where(flat, 1.0, step)) / periods[:-1]
    fall_hz = step * pitch_hz
    change = np.concatenate([[np.inf], np.abs(np.diff(fall_hz)), [np.inf]])
    bends = np.full((3, step.size), np.inf)
    # The middle one is least moved by what else sounds.
    bends[0] = _MIDDLE * np.minimum(change[:-1], change[1:])
    bends[1, 1:] = change[: step.size - 1]
    bends[2, :-1] = change[2:]
    from_before = np.roll(pitch_hz, 1) - np.roll(fall_hz, 1)
    from_after = np.roll(pitch_hz, -1) + np.roll(fall_hz, -1)
    best = np.argmin(bends, axis=0)
    bend_hz = np.min(bends, axis=0)
    bend_hz[best == 0] /= _MIDDLE
    fall_hz = np.choose(best, [fall_hz, np.roll(fall_hz, 1), np.roll(fall_hz, -1)])
    return np.choose(best, [pitch_hz, from_before, from_after]), fall_hz, bend_hz


def _long_runs(good: NDArray[np.bool_], least: int) -> NDArray[np.bool_]:
    """``good`` without runs shorter than ``least``."""
    edges = np.flatnonzero(np.diff(np.concatenate([[False], good, [False]])))
    result = np.zeros(good.size, dtype=bool)
    for begin, end in zip(edges[::2], edges[1::2], strict=True):
        result[begin:end] = end - begin >= least
    return result


# x, and the ratio of the period after a crossing to the one before it.
_STEPS = np.linspace(-0.95, 0.95, 2000)
_RATIOS = -np.log1p(-_STEPS) / np.log1p(_STEPS)


@njit(cache=True, nogil=True)
def _upward_crossings(x):  # type: ignore[no-untyped-def]
    """Frames, with fractions, at which a wave (frames,) rises through zero, once a period."""
    found = np.empty(x.size // 2 + 1)
    count = 0
    top = 0.0
    bottom = 0.0
    for frame in range(1, x.size):
        if x[frame] > top:
            top = x[frame]
        if x[frame] < bottom:
            bottom = x[frame]
        if x[frame - 1] < 0.0 <= x[frame] and (count == 0 or -bottom > _SWING * top):
            found[count] = frame - 1 + _zero_between(x, frame - 1)
            count += 1
            top = 0.0
            bottom = 0.0
    return found[:count].copy()


@njit(cache=True, nogil=True)
def _zero_between(x, frame):  # type: ignore[no-untyped-def]
    """Where between a frame and the next (0 to 1) the cubic through four frames is zero."""
    a, b = x[frame], x[frame + 1]
    part = a / (a - b)
    if frame < 1 or frame + 2 >= x.size:
        return part
    before, after = x[frame - 1], x[frame + 2]
    low, high = 0.0, 1.0
    for _ in range(6):
        # Lagrange's cubic as a straight line and a correction that is zero at both frames.
        bent = (1.0 - part) * a + part * b
        bent += (
            part
            * (part - 1.0)
            / 6.0
            * ((2.0 - part) * (before - 2.0 * a + b) + (1.0 + part) * (a - 2.0 * b + after))
        )
        if bent < 0.0:
            low = part
        else:
            high = part
        part = min(max(part - bent / (b - a), low), high)
    return part
