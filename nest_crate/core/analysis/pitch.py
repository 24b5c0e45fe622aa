"""The fundamental and its track.

The difference function and its cumulative mean normal form: de Cheveigné and Kawahara, "YIN, a
fundamental frequency estimator for speech and music" (2002), steps 2 to 5.
"""

from __future__ import annotations

import math
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
_LANDING_RANGE_DB = 24.0


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
    product, moving = _correlation(frames, window)
    energy = np.sum(frames**2, axis=1)
    first = max(2, int(sample_rate / HIGHEST_HZ))
    pitch_hz = sample_rate / _periods(product, moving, energy, first)
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


def _correlation(
    frames: NDArray[np.float64], window: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """For all lags below ``window``: product of window and lagged window, energy of the latter."""
    size = next_fast_len(2 * window, real=True)
    product = irfft(np.conj(rfft(frames[:, :window], size)) * rfft(frames, size), size)
    squares = np.cumsum(frames**2, axis=1)
    moving = squares[:, window - 1 : 2 * window - 1].copy()
    moving[:, 1:] -= squares[:, : window - 1]
    return np.ascontiguousarray(product[:, :window]), moving


@njit(cache=True, nogil=True)
def _periods(product, moving, energy, first):  # type: ignore[no-untyped-def]
    """Period of each frame in samples, NaN where it has none; arrays are (frames, lags)."""
    periods = np.full(product.shape[0], np.nan)
    lags = product.shape[1]
    normal = np.ones(lags)
    alike = np.ones(lags)
    for frame in range(product.shape[0]):
        if energy[frame] < 1e-12:
            continue
        own = moving[frame, 0]
        total = 0.0
        for lag in range(1, lags):
            # Equation (7), and (8) for the difference's cumulative mean.
            difference = own + moving[frame, lag] - 2.0 * product[frame, lag]
            total += difference
            normal[lag] = difference * lag / max(total, 1e-18)
            alike[lag] = product[frame, lag] / math.sqrt(max(own * moving[frame, lag], 1e-30))
        found = first
        while found < lags - 1 and normal[found] >= _APERIODIC:
            found += 1
        while found + 1 < lags - 1 and normal[found + 1] < normal[found]:
            found += 1
        # A dip at the shortest lag is no dip: slow movement is like itself a moment later.
        if first < found < lags - 2:
            periods[frame] = _refined(alike, float(found))
    return periods


@njit(cache=True, nogil=True)
def _refined(alike, period):  # type: ignore[no-untyped-def]
    """Parabola through the peak, then again at ever more periods: an error there counts less.

    Through the correlation divided by both windows' energies, which a decay does not move.
    """
    multiple = 1
    while multiple <= 32:
        lag = round(period * multiple)
        # The peak is looked for nearby: decay can have moved the first guess.
        while 1 < lag < alike.shape[0] - 2 and alike[lag + 1] > alike[lag]:
            lag += 1
        while 1 < lag < alike.shape[0] - 2 and alike[lag - 1] > alike[lag]:
            lag -= 1
        if lag >= alike.shape[0] - 2 or abs(lag - period * multiple) > 0.2 * period:
            break
        a, b, c = alike[lag - 1], alike[lag], alike[lag + 1]
        bow = 2.0 * b - a - c
        if bow <= 0.0:
            break
        period = (lag + 0.5 * (c - a) / bow) / multiple
        multiple *= 2
    return period
