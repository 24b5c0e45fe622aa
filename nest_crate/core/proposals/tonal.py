"""The tonal part of a reference: its course of pitch, its partials, or its inharmonic modes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import median_filter
from scipy.signal import butter, find_peaks, sosfiltfilt

from nest_crate.core.analysis.measures.pitch import landing_pitch_hz, pitch_track

__all__ = ["Modes", "PitchCourse", "course_level", "modes_of", "partials_of", "pitch_course"]

Numbers = NDArray[np.float64]

# A course is looked for where the level of what is below hearing's middle is within so much.
_HEARD_DB = 45.0
_HIGHEST_START_HZ = 900.0
_MOST_PARTIALS = 32
_MOST_MODES = 16


@dataclass(frozen=True)
class PitchCourse:
    """Pitch in Hz at times in seconds, (points,) each, and the one it settles at."""

    time_s: Numbers
    hz: Numbers
    landing_hz: float


@dataclass(frozen=True)
class Modes:
    """Inharmonic modes, the lowest first: frequency, amplitude, seconds to -60 dB."""

    hz: Numbers
    levels: Numbers
    decays_s: Numbers


def pitch_course(mono: Numbers, sample_rate: int) -> PitchCourse | None:
    """The course of the fundamental, from half period to half period; None without a pitch.

    Between the zero crossings of what is left below a corner, which lies above the highest pitch of
    a hit that falls, and closely above the fundamental of one that stays.
    """
    track = pitch_track(mono[np.newaxis], sample_rate)
    landing_hz = landing_pitch_hz(track)
    if landing_hz is None:
        return None
    clear = np.isfinite(track.pitch_hz) & (track.level_db > track.level_db.max() - 30.0)
    readings = track.pitch_hz[clear]
    falls = landing_hz < 200.0
    corner_hz = _HIGHEST_START_HZ if falls else 1.5 * max(landing_hz, float(np.median(readings)))
    corner_hz = min(corner_hz, 0.45 * sample_rate)
    low = sosfiltfilt(butter(4, corner_hz, fs=sample_rate, output="sos"), mono)
    crossings = _crossings(low)
    if crossings.size < 4:
        return None
    level = 20.0 * np.log10(np.maximum(_peaks_between(low, crossings), 1e-9))
    heard = level > level.max() - _HEARD_DB
    half_s = np.diff(crossings) / sample_rate
    middles = 0.5 * (crossings[1:] + crossings[:-1]) / sample_rate
    hz = 0.5 / half_s
    hz, middles = hz[heard], middles[heard]
    if hz.size < 3:
        return None
    hz = np.asarray(median_filter(hz, 3, mode="nearest"))
    fit = (hz > 0.4 * landing_hz) & (hz < max(24.0 * landing_hz, 60.0))
    if falls:
        # A hit falls: what seems to climb by more than noise would is something else.
        lowest = np.minimum.accumulate(hz)
        fit &= hz < 1.6 * lowest
    if np.count_nonzero(fit) < 3:
        return None
    return PitchCourse(middles[fit], hz[fit], landing_hz)


def _crossings(signal: Numbers) -> Numbers:
    before = np.flatnonzero((signal[:-1] < 0.0) != (signal[1:] < 0.0))
    return np.asarray(before - signal[before] / (signal[before + 1] - signal[before]))


def _peaks_between(signal: Numbers, crossings: Numbers) -> Numbers:
    edges = crossings.astype(np.int64)
    return np.maximum.reduceat(np.abs(signal), edges)[:-1]


def _turns(course: PitchCourse, frames: int, sample_rate: int) -> Numbers:
    """The phase of the first partial in cycles at every frame."""
    time_s = np.arange(frames) / sample_rate
    hz = np.interp(time_s, course.time_s, course.hz)
    return np.concatenate([[0.0], np.cumsum(hz[:-1])]) / sample_rate


def course_level(mono: Numbers, course: PitchCourse, sample_rate: int, partial: int = 1) -> Numbers:
    """Amplitude of a partial at every frame, over about a period and a half."""
    turn = np.exp(-2j * np.pi * partial * _turns(course, mono.size, sample_rate))
    width = max(8, round(1.5 * sample_rate / course.landing_hz / min(partial, 3)))
    window = np.hanning(width + 2)[1:-1]
    window /= window.sum()
    return np.asarray(2.0 * np.abs(np.convolve(mono * turn, window, mode="same")))


def partials_of(mono: Numbers, course: PitchCourse, sample_rate: int) -> Numbers:
    """Amplitudes of the partials re the loudest, as they are on average while the hit is loud."""
    most = int(min(_MOST_PARTIALS, 0.4 * sample_rate / course.landing_hz))
    first = course_level(mono, course, sample_rate)
    loud = first > 0.1 * first.max()
    weight = first * loud
    found = np.array(
        [
            np.sum(course_level(mono, course, sample_rate, k) * weight)
            for k in range(1, max(1, most) + 1)
        ]
    )
    return np.asarray(found / max(found.max(), 1e-12))


def modes_of(mono: Numbers, sample_rate: int) -> Modes | None:
    """The narrow peaks of a ringing hit with their decays; None where fewer than two ring."""
    start = round(0.004 * sample_rate)
    ringing = mono[start:]
    if ringing.size < sample_rate // 20:
        return None
    count = 1 << int(np.ceil(np.log2(ringing.size)) + 1)
    size = np.abs(np.fft.rfft(ringing, count))
    db = 20.0 * np.log10(np.maximum(size, 1e-9))
    around = median_filter(db, 2 * (count // 400) + 1)
    reach = max(1, round(25.0 * count / sample_rate))
    peaks, _ = find_peaks(db, height=db.max() - 36.0, distance=reach)
    peaks = [k for k in peaks if db[k] - around[k] > 18.0 and k * sample_rate / count > 60.0]
    peaks = sorted(sorted(peaks, key=lambda k: -db[k])[:_MOST_MODES])
    if len(peaks) < 2:
        return None
    hz = np.array([_between_bins(db, k) * sample_rate / count for k in peaks])
    rings = [_ring(ringing, f, sample_rate) for f in hz]
    return Modes(hz, np.array([one[0] for one in rings]), np.array([one[1] for one in rings]))


def _between_bins(db: Numbers, k: int) -> float:
    a, b, c = db[k - 1 : k + 2]
    bow = a - 2.0 * b + c
    return float(k + 0.5 * (a - c) / bow) if bow < 0.0 else float(k)


def _ring(signal: Numbers, hz: float, sample_rate: int) -> tuple[float, float]:
    """Amplitude at the start and seconds to -60 dB of one mode, by a straight line in dB."""
    step = max(1, round(0.01 * sample_rate))
    turn = np.exp(-2j * np.pi * hz * np.arange(signal.size) / sample_rate)
    blocks = (signal * turn)[: signal.size // step * step].reshape(-1, step).mean(axis=1)
    smooth = np.convolve(blocks, np.ones(3) / 3.0, mode="valid")
    level = 20.0 * np.log10(np.maximum(2.0 * np.abs(smooth), 1e-9))
    loud = level > level.max() - 30.0
    last = int(np.argmin(loud[level.argmax() :])) + int(level.argmax())
    span = slice(int(level.argmax()), last if last > level.argmax() + 2 else level.size)
    time_s = (np.arange(level.size)[span] + 1.5) * step / sample_rate
    if time_s.size < 3:
        return float(10.0 ** (level.max() / 20.0)), 0.05
    slope, begin = np.polyfit(time_s, level[span], 1)
    return float(10.0 ** (begin / 20.0)), float(np.clip(-60.0 / min(slope, -2.0), 0.02, 20.0))
