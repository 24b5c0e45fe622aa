"""The fundamental and its track.

The difference function and its cumulative mean normal form: de Cheveigné and Kawahara, "YIN, a
fundamental frequency estimator for speech and music" (2002), steps 2 to 5.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from scipy.fft import irfft, next_fast_len, rfft

from nest_crate.core.dsp.oversampling import halve_rate
from nest_crate.core.dsp.signals import Signal, require_signal

__all__ = ["PitchTrack", "landing_pitch_hz", "pitch_track"]

LOWEST_HZ = 20.0
HIGHEST_HZ = 8000.0
# Above this a frame has no clear period (the paper's threshold is 0.1; hits decay within a frame).
_APERIODIC = 0.15
_MOST_FRAMES = 48
_LANDING_RANGE_DB = 40.0


@dataclass(frozen=True)
class PitchTrack:
    """Arrays of equal length: centre time, pitch (NaN where none), level of each frame."""

    time_s: NDArray[np.float64]
    pitch_hz: NDArray[np.float64]
    level_db: NDArray[np.float64]


def pitch_track(signal: Signal, sample_rate: int) -> PitchTrack:
    """Pitch over time of the channels' mean.

    A frame spans two periods of the lowest pitch, less in a short sound.
    """
    mono = require_signal(signal).mean(axis=0, keepdims=True)
    # Half the usual rates is enough for the highest pitch, and a quarter of the work.
    while sample_rate >= 40000:
        mono, sample_rate = halve_rate(mono, 0), sample_rate // 2
    x = mono[0]
    longest = int(sample_rate / LOWEST_HZ)
    window = min(longest, x.size // 2)
    if window < 32:
        empty = np.zeros(0)
        return PitchTrack(empty, empty, empty)
    hop = max(round(0.015 * sample_rate), (x.size - 2 * window) // _MOST_FRAMES + 1)
    starts = np.arange(0, x.size - 2 * window + 1, hop)
    frames = np.lib.stride_tricks.sliding_window_view(x, 2 * window)[starts]
    difference, energy = _difference(frames, window)
    pitch_hz = sample_rate / _periods(difference, energy, max(2, int(sample_rate / HIGHEST_HZ)))
    level_db = 10.0 * np.log10(np.maximum(energy / (2 * window), 1e-15))
    return PitchTrack((starts + window) / sample_rate, pitch_hz, level_db)


def landing_pitch_hz(track: PitchTrack) -> float | None:
    """The pitch a sound settles at: the median of the last third of its clear, audible frames."""
    if track.time_s.size == 0:
        return None
    audible = track.level_db > track.level_db.max() - _LANDING_RANGE_DB
    clear = np.flatnonzero(np.isfinite(track.pitch_hz) & audible)
    if clear.size == 0 or track.level_db.max() < -100.0:
        return None
    last = clear[-max(1, clear.size // 3) :]
    return float(np.median(track.pitch_hz[last]))


def _difference(
    frames: NDArray[np.float64], window: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Equation (6) for all lags below ``window`` by FFT, and each frame's energy."""
    size = next_fast_len(2 * window, real=True)
    spectrum = rfft(frames, size)
    head = rfft(frames[:, :window], size)
    product = irfft(np.conj(head) * spectrum, size)[:, :window]
    squares = np.concatenate([np.zeros((frames.shape[0], 1)), np.cumsum(frames**2, axis=1)], axis=1)
    moving = squares[:, window : 2 * window] - squares[:, :window]
    return moving[:, :1] + moving - 2.0 * product, squares[:, -1]


@njit(cache=True, nogil=True)
def _periods(difference, energy, first):  # type: ignore[no-untyped-def]
    """Period of each frame in samples, NaN where it has none; difference is (frames, lags)."""
    periods = np.full(difference.shape[0], np.nan)
    lags = difference.shape[1]
    normal = np.ones(lags)
    for frame in range(difference.shape[0]):
        if energy[frame] < 1e-12:
            continue
        row = difference[frame]
        total = 0.0
        for lag in range(1, lags):
            total += row[lag]
            normal[lag] = row[lag] * lag / max(total, 1e-18)
        found = first
        while found < lags - 1 and normal[found] >= _APERIODIC:
            found += 1
        while found + 1 < lags - 1 and normal[found + 1] < normal[found]:
            found += 1
        if found < lags - 2:
            periods[frame] = _refined(row, float(found))
    return periods


@njit(cache=True, nogil=True)
def _refined(difference, period):  # type: ignore[no-untyped-def]
    """Step 5 (parabola), then again at ever more periods: an error there counts less."""
    multiple = 1
    while multiple <= 32:
        lag = int(round(period * multiple))
        if lag >= difference.shape[0] - 2:
            break
        a, b, c = difference[lag - 1], difference[lag], difference[lag + 1]
        bow = a - 2.0 * b + c
        if bow <= 0.0 or abs(a - c) > 2.0 * bow:
            break
        period = (lag + 0.5 * (a - c) / bow) / multiple
        multiple *= 2
    return period
