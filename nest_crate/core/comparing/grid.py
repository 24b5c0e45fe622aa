"""Levels in bands over time: what both eye and ranking look at."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.fft import rfft

from nest_crate.core.dsp.resampling.oversampling import halve_rate
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["FLOOR_DB", "STEP_S", "edges_hz", "grid_levels_db", "steps_of"]

Numbers = NDArray[np.float64]

STEP_S = 0.005
_EDGES_HZ = (25, 60, 100, 150, 220, 330, 500, 700, 1000, 1400, 2000, 2800, 4000, 5600, 8000, 11000)
FLOOR_DB = -120.0
_TOP_HZ = 18000.0
# Up to which frequency a window is used, and how long it is: long ones part low bands, short ones
# say when. Half as long as the step they would miss what lies between.
_WINDOWS = ((330.0, 0.064), (2000.0, 0.021), (np.inf, 0.0107))
_ROWS_AT_ONCE = 2048
_ENOUGH_FOR_LOWS = 16000


def edges_hz(sample_rate: int) -> list[float]:
    """The edges of the bands at a rate, the last one included."""
    return [*(float(one) for one in _EDGES_HZ), min(_TOP_HZ, 0.45 * sample_rate)]


def steps_of(frames: int, sample_rate: int) -> int:
    """How many steps of the grid a signal takes."""
    return max(1, int(np.ceil(frames / (STEP_S * sample_rate))))


def grid_levels_db(signal: Signal, sample_rate: int) -> Numbers:
    """Levels by band and step, shape (bands, steps), of the channels' mean power.

    A steady full-scale sine reads 0 dB in its band. A step stands for the middle of its window.
    """
    edges = edges_hz(sample_rate)
    count = steps_of(signal.shape[1], sample_rate)
    levels = np.full((len(edges) - 1, count), FLOOR_DB)
    # Lows need no high rate, and shorter transforms at a lower one.
    lowered, low_rate = signal, sample_rate
    while low_rate > _ENOUGH_FOR_LOWS:
        lowered, low_rate = halve_rate(lowered, 1), low_rate // 2
    from_hz = 0.0
    for to_hz, window_s in _WINDOWS:
        source, rate = (lowered, low_rate) if to_hz <= low_rate / 5 else (signal, sample_rate)
        size = 1 << round(np.log2(window_s * rate))
        power = _power(source, rate, size, count)
        bins_hz = np.arange(power.shape[1]) * rate / size
        for n, (low, high) in enumerate(pairwise(edges)):
            if not from_hz < high <= to_hz:
                continue
            inside = (bins_hz >= low) & (bins_hz < high)
            levels[n] = 10.0 * np.log10(np.maximum(power[:, inside].sum(axis=1), 1e-12))
        from_hz = to_hz
    return levels


def _power(signal: Signal, sample_rate: int, size: int, count: int) -> Numbers:
    """Power by step and bin; the bins of a full-scale sine add up to 1."""
    # Single precision: levels are said to a tenth of a dB.
    window = np.hanning(size + 1)[:size].astype(np.float32)
    scale = (2.0 / float(window.sum())) ** 2 / 1.5
    middles = ((np.arange(count) + 0.5) * STEP_S * sample_rate).astype(int)
    total = np.zeros((count, size // 2 + 1))
    for channel in signal:
        padded = np.pad(
            channel.astype(np.float32), (size // 2, size // 2 + round(STEP_S * sample_rate) + 1)
        )
        cut = np.lib.stride_tricks.sliding_window_view(padded, size)
        starts = np.minimum(middles, cut.shape[0] - 1)
        for at in range(0, count, _ROWS_AT_ONCE):
            rows = slice(at, at + _ROWS_AT_ONCE)
            spectrum = rfft(cut[starts[rows]] * window, axis=1)
            total[rows] += spectrum.real**2 + spectrum.imag**2
    return np.asarray(total * scale / signal.shape[0])
