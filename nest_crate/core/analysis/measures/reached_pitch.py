"""The pitch that a layer actually reaches, measured on its render.

The pitch asked for is known at every frame; what is measured is how far the signal strays from it.
The signal is turned back by the expected phase: a partial that follows stands still, one that does
not turns on, and its turn from one window to the next is the difference in pitch. So a knock of a
few milliseconds is seen where a window over equal periods would blur it. (Heterodyne analysis:
Beauchamp, "A computer system for time-variant harmonic analysis and synthesis of musical tones",
1969, here along a moving expected frequency.)
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.util.signals import Signal

__all__ = ["landing_hz", "reached_pitch_hz", "rests"]

# The strongest of the first partials is followed; with less of the power it has no clear pitch.
_PARTIALS = 6
_SHARE = 0.06
# From one window to the next in cycles.
_SHIFT = 0.5


def reached_pitch_hz(
    signal: Signal, expected_hz: NDArray[np.float64], sample_rate: int, times_s: NDArray[np.float64]
) -> NDArray[np.float64]:
    """Measured pitch around each time, NaN where there is none.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
        a layer's output; the channels' mean is measured.
    expected_hz : np.ndarray [shape=(frames,)]
        the pitch asked for at each frame.
    times_s : np.ndarray [shape=(n,)]

    Returns
    -------
    np.ndarray [shape=(n,)]
    """
    mono = np.ascontiguousarray(signal.mean(axis=0))
    cycles = np.cumsum(expected_hz) / sample_rate
    centres = np.clip(np.round(times_s * sample_rate), 0, max(0, mono.size - 1)).astype(np.int64)
    pitch_hz = np.full(times_s.shape[0], np.nan)
    if mono.size:
        strays = np.full(times_s.shape[0], np.nan)
        _measure_strays(strays, mono, cycles, centres)
        pitch_hz = expected_hz[centres] * (1.0 + strays)
    return pitch_hz


def landing_hz(pitch_hz: NDArray[np.float64]) -> float | None:
    """Where a track settles: the median of the last third of its clear readings.

    Where that third still moves by more than a semitone, the last few readings instead.
    """
    last = _last_third(pitch_hz)
    if last.size == 0:
        return None
    return float(np.median(last if rests(pitch_hz) else last[-3:]))


def rests(pitch_hz: NDArray[np.float64]) -> bool:
    """Whether a track has come to rest: its last third stays within a semitone."""
    last = _last_third(pitch_hz)
    return last.size > 0 and bool(12.0 * np.log2(last.max() / last.min()) <= 1.0)


def _last_third(pitch_hz: NDArray[np.float64]) -> NDArray[np.float64]:
    clear = pitch_hz[np.isfinite(pitch_hz)]
    return clear[-max(1, clear.size // 3) :]


@njit(cache=True, nogil=True)
def _turned_back(x, cycles, middle, partial):  # type: ignore[no-untyped-def]
    """A partial over a Hann window of two cycles around ``middle`` (in cycles), turned back by
    the expected phase: its real and imaginary part, and its share of the power there."""
    first = np.searchsorted(cycles, middle - 1.0)
    last = np.searchsorted(cycles, middle + 1.0)
    real, imaginary, power, weights = 0.0, 0.0, 0.0, 0.0
    for n in range(first, last):
        weight = 0.5 + 0.5 * math.cos(math.pi * (cycles[n] - middle))
        angle = 2.0 * math.pi * partial * cycles[n]
        real += weight * x[n] * math.cos(angle)
        imaginary -= weight * x[n] * math.sin(angle)
        power += weight * x[n] * x[n]
        weights += weight
    if power < 1e-14:
        return 0.0, 0.0, 0.0
    return real, imaginary, 2.0 * (real * real + imaginary * imaginary) / (weights * power)


@njit(cache=True, nogil=True)
def _measure_strays(strays, x, cycles, centres):  # type: ignore[no-untyped-def]
    """Fill strays (n,): how far the pitch lies from the one expected, as a fraction of it."""
    total = cycles[-1]
    for row in range(centres.shape[0]):
        # Whole windows only: at the very start and end the nearest.
        middle = min(max(cycles[centres[row]], 1.0 + 0.5 * _SHIFT), total - 1.0 - 0.5 * _SHIFT)
        if middle < 1.0:
            continue
        best, share = 0, _SHARE
        for partial in range(1, _PARTIALS + 1):
            _, _, here = _turned_back(x, cycles, middle, partial)
            if here > share:
                best, share = partial, here
        if best == 0:
            continue
        a, b, _ = _turned_back(x, cycles, middle - 0.5 * _SHIFT, best)
        c, d, _ = _turned_back(x, cycles, middle + 0.5 * _SHIFT, best)
        turn = math.atan2(d * a - c * b, c * a + d * b)
        strays[row] = turn / (2.0 * math.pi * _SHIFT * best)
