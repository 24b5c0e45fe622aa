"""Curves as signals: every point is met to the sample."""

from __future__ import annotations

import itertools
import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.sound.curve import Curve

__all__ = ["curve_breakpoints", "curve_signal", "value_at"]

# Below this bend the exponential equals the straight line it tends to.
_STRAIGHT = 1e-6


def _way(x: float, bend: float) -> float:
    """How far from one point to the next, 0 to 1, at the fraction x of the time between."""
    return x if abs(bend) < _STRAIGHT else math.expm1(-bend * x) / math.expm1(-bend)


Breakpoint = tuple[float, float, float]


def value_at(breakpoints: list[Breakpoint], time_s: float) -> float:
    """Value of a row of (time_s, value, bend) at a time; at a step, the later value."""
    if time_s < breakpoints[0][0]:
        return breakpoints[0][1]
    for before, after in itertools.pairwise(breakpoints):
        if time_s < after[0]:
            x = (time_s - before[0]) / (after[0] - before[0])
            return before[1] + (after[1] - before[1]) * _way(x, after[2])
    return breakpoints[-1][1]


def curve_breakpoints(curve: Curve, hold_s: float) -> list[Breakpoint]:
    """The way a curve really takes for a hold, as rows of (time_s, value, bend).

    Loops are unrolled; where the hold ends, the release part starts from the value reached.
    """
    held: list[Breakpoint] = [(p.time_s, p.value, p.bend) for p in curve.points]
    if curve.loop is not None:
        held = _unrolled(held, curve.loop.start, curve.loop.end, hold_s)
        after = [
            (hold_s + p.time_s - curve.points[curve.loop.end].time_s, p.value, p.bend)
            for p in curve.points[curve.loop.end + 1 :]
        ]
    else:
        after = []
    if curve.release:
        after = [(hold_s + p.time_s, p.value, p.bend) for p in curve.release]
    elif curve.loop is None:
        return held
    here = value_at(held, hold_s)
    # The way that the hold cuts short keeps its own shape up to the cut.
    cut = [row for row in held if row[0] < hold_s]
    following = next((row for row in held if row[0] >= hold_s), None)
    if cut and following is not None:
        span_s = following[0] - cut[-1][0]
        part = (hold_s - cut[-1][0]) / span_s if span_s > 0.0 else 1.0
        cut.append((hold_s, here, following[2] * part))
    else:
        cut.append((hold_s, here, 0.0))
    return cut + after


def _unrolled(held: list[Breakpoint], start: int, end: int, hold_s: float) -> list[Breakpoint]:
    rows = held[: end + 1]
    length_s = held[end][0] - held[start][0]
    rounds = max(0, math.ceil((hold_s - held[end][0]) / length_s))
    for number in range(1, rounds + 1):
        shift_s = number * length_s
        jump = held[start]
        if jump[1] != held[end][1]:
            rows.append((held[start][0] + shift_s, jump[1], 0.0))
        rows += [(t + shift_s, v, b) for t, v, b in held[start + 1 : end + 1]]
    return rows


def curve_signal(
    curve: Curve, *, frames: int, sample_rate: int, hold_s: float
) -> NDArray[np.float64]:
    """A curve's value at every frame.

    Parameters
    ----------
    hold_s
        end of the hold, seconds from the layer's start.

    Returns
    -------
    np.ndarray [shape=(frames,)]
        the value at ``n / sample_rate``; a point at time t is reached on the first frame
        at or after t.
    """
    rows = np.array(curve_breakpoints(curve, max(0.0, hold_s)), dtype=np.float64)
    out = np.empty(frames)
    _fill_curve(out, rows[:, 0].copy(), rows[:, 1].copy(), rows[:, 2].copy(), float(sample_rate))
    return out


@njit(cache=True, nogil=True)
def _fill_curve(out, times_s, values, bends, sample_rate):  # type: ignore[no-untyped-def]
    """Fill out (frames,) from rows of time, value and bend; exact at each row's first frame."""
    frames = out.shape[0]
    # A time that is a whole number of frames but for rounding counts as that frame.
    slack = 1e-6
    position = min(frames, max(0, math.ceil(times_s[0] * sample_rate - slack)))
    out[:position] = values[0]
    for row in range(1, times_s.shape[0]):
        stop = min(frames, max(0, math.ceil(times_s[row] * sample_rate - slack)))
        if stop <= position:
            continue
        span = (times_s[row] - times_s[row - 1]) * sample_rate
        x = max(0.0, (position - times_s[row - 1] * sample_rate) / span)
        rise = values[row] - values[row - 1]
        bend = bends[row]
        if abs(bend) < 1e-6:
            for n in range(position, stop):
                out[n] = values[row - 1] + rise * (x + (n - position) / span)
        else:
            scale = rise / math.expm1(-bend)
            decay = math.exp(-bend * x)
            factor = math.exp(-bend / span)
            for n in range(position, stop):
                out[n] = values[row - 1] + scale * (decay - 1.0)
                decay *= factor
        position = stop
    out[position:] = values[-1]
