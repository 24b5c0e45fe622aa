"""The pitch that a layer actually reaches, measured on its render.

A layer's pitch is known before; what is measured is how one period is like the next. A window of
one and a half expected periods is compared with the signal one period later, by the correlation
divided by both windows' energies, within a third above and below what is expected. So a knock
of a few periods is still seen, where a window for the lowest pitch would blur it.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.signals import Signal

__all__ = ["landing_hz", "reached_pitch_hz"]

# Periods less alike than this have no clear pitch.
_ALIKE = 0.8


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
    centres = np.round(times_s * sample_rate).astype(np.int64)
    pitch_hz = np.full(times_s.shape[0], np.nan)
    _measure(pitch_hz, mono, expected_hz, centres, float(sample_rate))
    return pitch_hz


def landing_hz(pitch_hz: NDArray[np.float64]) -> float | None:
    """Where a track settles: the median of the last third of its clear readings."""
    clear = pitch_hz[np.isfinite(pitch_hz)]
    if clear.size == 0:
        return None
    return float(np.median(clear[-max(1, clear.size // 3) :]))


@njit(cache=True, nogil=True)
def _alike(x, start, size, lag):  # type: ignore[no-untyped-def]
    """Normalised correlation of size frames from start with those lag later."""
    product, first, second = 0.0, 0.0, 0.0
    for n in range(start, start + size):
        a, b = x[n], x[n + lag]
        product += a * b
        first += a * a
        second += b * b
    if first < 1e-12 or second < 1e-12:
        return -1.0
    return product / math.sqrt(first * second)


@njit(cache=True, nogil=True)
def _measure(pitch_hz, x, expected_hz, centres, sample_rate):  # type: ignore[no-untyped-def]
    """Fill pitch_hz (n,) at the centres (n,); x and expected_hz are (frames,)."""
    for row in range(centres.shape[0]):
        centre = min(max(0, centres[row]), expected_hz.shape[0] - 1)
        period = sample_rate / expected_hz[centre]
        low, high = int(period * 0.79), math.ceil(period * 1.26) + 1
        if low < 3:
            continue
        size = max(16, int(1.5 * period))
        start = centre - (size + int(period)) // 2
        start = max(0, min(start, x.shape[0] - size - high - 2))
        if x.shape[0] < size + high + 2:
            continue
        best, best_lag = -1.0, 0
        for lag in range(low, high + 1):
            here = _alike(x, start, size, lag)
            if here > best:
                best, best_lag = here, lag
        if best < _ALIKE or best_lag <= low or best_lag >= high:
            continue
        before = _alike(x, start, size, best_lag - 1)
        after = _alike(x, start, size, best_lag + 1)
        bow = 2.0 * best - before - after
        shift = 0.5 * (after - before) / bow if bow > 0.0 else 0.0
        pitch_hz[row] = sample_rate / (best_lag + shift)
