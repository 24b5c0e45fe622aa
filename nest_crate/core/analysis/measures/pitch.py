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
from scipy.ndimage import maximum_filter1d

from nest_crate.core.analysis.measures.period_marks import period_marks
from nest_crate.core.dsp.resampling.oversampling import halve_rate
from nest_crate.core.dsp.util.signals import Signal, require_signal

__all__ = [
    "LEAST_CONFIDENCE",
    "PitchClaim",
    "PitchTrack",
    "claimed_pitch",
    "landing_pitch_hz",
    "pitch_track",
]

LOWEST_HZ = 20.0
HIGHEST_HZ = 8000.0
# Above this a frame has no clear period (the paper's threshold is 0.1; hits decay within a frame).
_APERIODIC = 0.15
_MOST_FRAMES = 48
_LANDING_RANGE_DB = 24.0
_SAME_CENTS = 60.0
# A pitch that moves by more octaves a second is followed by periods, with so many points at most.
_FAST_OCTAVES_PER_S = 4.0
_MOST_MARKS = 64
# By which power of e a frame may have decayed in half of it.
_MOST_DECAY = 5.0


@dataclass(frozen=True)
class PitchTrack:
    """Arrays of equal length: centre time, pitch (NaN where none), level of each frame."""

    time_s: NDArray[np.float64]
    pitch_hz: NDArray[np.float64]
    level_db: NDArray[np.float64]


def pitch_track(signal: Signal, sample_rate: int) -> PitchTrack:
    """Pitch over time of the channels' mean.

    A frame spans two periods of the lowest pitch, less in a short sound. Where the pitch moves
    faster than a frame can follow, a point stands at the beginning of periods instead.
    """
    mono = require_signal(signal).mean(axis=0, keepdims=True)
    marks = period_marks(mono[0], sample_rate, LOWEST_HZ, HIGHEST_HZ)
    # Half the usual rates is enough for the highest pitch, and a quarter of the work.
    while sample_rate >= 40000:
        mono, sample_rate = halve_rate(mono, 0), sample_rate // 2
    x = mono[0]
    longest = int(sample_rate / LOWEST_HZ)
    window = min(longest, x.size // 2)
    if window < 24:
        empty = np.zeros(0)
        return PitchTrack(empty, empty, empty)
    hop = max(round(0.015 * sample_rate), (x.size - 2 * window) // _MOST_FRAMES + 1)
    starts = np.arange(0, x.size - 2 * window + 1, hop)
    frames = np.lib.stride_tricks.sliding_window_view(x, 2 * window)[starts]
    level_db = 10.0 * np.log10(np.maximum(np.mean(frames**2, axis=1), 1e-15))
    frames = _held_up(frames, window)
    product, moving = _correlation(frames, window)
    energy = np.sum(frames**2, axis=1)
    first = max(2, int(sample_rate / HIGHEST_HZ))
    pitch_hz = sample_rate / _periods(product, moving, energy, first)
    even = PitchTrack((starts + window) / sample_rate, pitch_hz, level_db)
    return _with_marks(even, marks, window / sample_rate)


def _with_marks(
    even: PitchTrack, marks: tuple[NDArray[np.float64], ...], window_s: float
) -> PitchTrack:
    """A track with the marks of its periods where the pitch moves too fast for frames."""
    time_s, pitch_hz, speed, level_db = marks
    fast = np.abs(speed) > _FAST_OCTAVES_PER_S
    for begin_s, end_s in _spans(time_s[fast], window_s):
        there = np.flatnonzero((time_s >= begin_s) & (time_s <= end_s))
        if not _agree(even, time_s[there], pitch_hz[there], window_s):
            continue
        there = there[:: there.size // _MOST_MARKS + 1]
        # Frames that reach into the span hold its movement too.
        frames = np.flatnonzero((even.time_s < begin_s) | (even.time_s > time_s[there[-1]]))
        added = (time_s[there], pitch_hz[there], level_db[there])
        kept = (even.time_s[frames], even.pitch_hz[frames], even.level_db[frames])
        order = np.argsort(np.concatenate([kept[0], added[0]]), kind="stable")
        joined = (np.concatenate(pair)[order] for pair in zip(kept, added, strict=True))
        even = PitchTrack(*joined)
    return even


def _agree(
    even: PitchTrack, time_s: NDArray[np.float64], pitch_hz: NDArray[np.float64], window_s: float
) -> bool:
    """Whether marks pass through what most frames around them say, where those have a pitch.

    A wave that rings within each of its periods crosses zero more often than once a period.
    """
    inside = (even.time_s >= time_s[0] - window_s) & (even.time_s <= time_s[-1] + window_s)
    frames = np.flatnonzero(inside & np.isfinite(even.pitch_hz))
    away = np.abs(np.subtract.outer(even.time_s[frames], time_s)) > window_s
    octaves = np.abs(np.log2(np.divide.outer(even.pitch_hz[frames], pitch_hz)))
    nearest = np.where(away, np.inf, octaves).min(axis=1, initial=np.inf)
    known = np.isfinite(nearest)
    return bool(np.count_nonzero(nearest[known] < _SAME_CENTS / 600.0) * 2 >= known.sum())


def _spans(at_s: NDArray[np.float64], window_s: float) -> list[tuple[float, float]]:
    """From a window before to a window after moments, joined where they meet."""
    spans: list[tuple[float, float]] = []
    for moment in at_s:
        if spans and moment - window_s <= spans[-1][1]:
            spans[-1] = (spans[-1][0], float(moment) + window_s)
        else:
            spans.append((float(moment) - window_s, float(moment) + window_s))
    return spans


def landing_pitch_hz(track: PitchTrack) -> float | None:
    """The pitch a sound settles at: the median of its last clear, audible frames, as far back as
    they stay within 60 cents of where it ends."""
    run = _landing_frames(track)
    return None if run is None else float(np.median(track.pitch_hz[run]))


def _landing_frames(track: PitchTrack) -> NDArray[np.int64] | None:
    if track.time_s.size == 0:
        return None
    audible = track.level_db > track.level_db.max() - _LANDING_RANGE_DB
    clear = np.flatnonzero(np.isfinite(track.pitch_hz) & audible)
    if clear.size == 0 or track.level_db.max() < -100.0:
        return None
    last = float(np.median(track.pitch_hz[clear[-3:]]))
    away = np.abs(1200.0 * np.log2(track.pitch_hz[clear] / last)) > _SAME_CENTS
    begin = int(np.flatnonzero(away)[-1]) + 1 if away.any() else 0
    run = clear[begin:] if begin < clear.size else clear[-1:]
    # Of a long steady tone its last third, where partials of the attack have gone.
    return np.asarray(run[-max(1, clear.size // 3) :] if run.size > clear.size // 3 else run)


def _clear_share(track: PitchTrack) -> float:
    """How many of the audible frames have a period; in noise one of many has one by chance."""
    audible = track.level_db > track.level_db.max() - _LANDING_RANGE_DB
    return float(np.isfinite(track.pitch_hz[audible]).mean())


@dataclass(frozen=True)
class PitchClaim:
    """What may be said of a sound's pitch: Hz where it lands (None where nothing is claimed), how
    sure that is (0 to 1), and whether it holds several notes at once."""

    hz: float | None = None
    confidence: float = 0.0
    several: bool = False


# Nothing is claimed with less.
LEAST_CONFIDENCE = 0.5
# Nor where fewer of the audible frames have a period.
_LEAST_CLEAR = 0.15
# Partials that count, re the loudest; one that may be a note of its own is louder.
_HEARD_DB, _NOTE_DB = -35.0, -14.0
_NEAR = 2.0 ** (45.0 / 1200.0)
_MOST_PARTIALS = 40


def claimed_pitch(signal: Signal, sample_rate: int, track: PitchTrack | None = None) -> PitchClaim:
    """The pitch of the channels' mean, if there is a partial at it that explains what is heard;
    ``track`` is its pitch over time where that is known already.

    A common period alone is no pitch: that of two notes is a third one's, and bodies whose modes
    are no multiples have one far below all of them.
    """
    track = pitch_track(signal, sample_rate) if track is None else track
    run = _landing_frames(track)
    if run is None or _clear_share(track) < _LEAST_CLEAR:
        return PitchClaim()
    hz = float(np.median(track.pitch_hz[run]))
    half = min(1.0 / LOWEST_HZ, 0.25 * signal.shape[1] / sample_rate)
    begin = max(0, round((track.time_s[run[0]] - half) * sample_rate))
    end = min(signal.shape[1], round((track.time_s[run[-1]] + half) * sample_rate))
    found, power = _partials(signal[:, begin:end].mean(axis=0), sample_rate)
    if not found.size:
        return PitchClaim()
    own = _share_of(hz, found, power)
    if own > 0.0:
        return PitchClaim(hz, own) if own >= LEAST_CONFIDENCE else PitchClaim(None, own, True)
    if _numbers_of(hz, found) >= 7:
        # A tone whose fundamental was removed: no partial lies at its pitch, so none is claimed.
        return PitchClaim()
    loud = found[power >= power.max() * 10.0 ** (_NOTE_DB / 10.0)]
    lowest = float(loud.min())
    if lowest < LOWEST_HZ:
        return PitchClaim()
    share = _share_of(lowest, found, power)
    others = loud[_away_from(lowest, loud)]
    if others.size or share < LEAST_CONFIDENCE:
        return PitchClaim(None, share, others.size > 0)
    return PitchClaim(lowest, share)


def _partials(x: NDArray[np.float64], sample_rate: int) -> tuple[NDArray[np.float64], ...]:
    """Frequencies and power of the strongest peaks of a spectrum (partials,) each."""
    if x.size < 48:
        return np.zeros(0), np.zeros(0)
    count = next_fast_len(4 * x.size, real=True)
    size = np.abs(rfft(x * np.hanning(x.size), count))
    level = 20.0 * np.log10(np.maximum(size, 1e-12))
    reach = max(1, round(2.0 * count / x.size))
    least = max(1, int(LOWEST_HZ * count / sample_rate))
    around = maximum_filter1d(level, 2 * reach + 1)
    peaks = np.flatnonzero((level == around) & (level > level.max() + _HEARD_DB))
    peaks = peaks[(peaks >= least) & (peaks < level.size - 1)]
    peaks = peaks[np.argsort(-level[peaks])][:_MOST_PARTIALS]
    a, b, c = level[peaks - 1], level[peaks], level[peaks + 1]
    bow = np.where(2.0 * b - a - c > 0.0, 2.0 * b - a - c, 1.0)
    hz = (peaks + 0.5 * (c - a) / bow) * sample_rate / count
    return hz, 10.0 ** (b / 10.0)


def _away_from(hz: float, found: NDArray[np.float64]) -> NDArray[np.bool_]:
    """Which partials lie at no multiple of a pitch."""
    number = np.maximum(1.0, np.round(found / hz))
    # A resonance of many periods is wide; a partial high up may be a little sharp.
    return np.asarray(np.abs(np.log2(found / (number * hz))) > np.log2(_NEAR))


def _share_of(hz: float, found: NDArray[np.float64], power: NDArray[np.float64]) -> float:
    """Share of the power at multiples of a pitch; 0 where no partial lies at the pitch itself."""
    if not np.any(np.abs(np.log2(found / hz)) < np.log2(_NEAR)):
        return 0.0
    return float(power[~_away_from(hz, found)].sum() / power.sum())


def _numbers_of(hz: float, found: NDArray[np.float64]) -> int:
    """How many of the second to ninth multiples of a pitch are there."""
    inside = found[~_away_from(hz, found)]
    return int(np.unique(np.round(inside[inside < 9.5 * hz] / hz)).size)


def _held_up(frames: NDArray[np.float64], window: int) -> NDArray[np.float64]:
    """Frames (frames, 2 windows) without their exponential decay, so that periods are alike."""
    energy = np.maximum(frames**2, 1e-30)
    first, second = energy[:, :window].sum(axis=1), energy[:, window:].sum(axis=1)
    rate = np.clip(0.5 * np.log(first / second), 0.0, _MOST_DECAY) / window
    return np.asarray(frames * np.exp(rate[:, None] * np.arange(2 * window)))


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
