"""A sound beside its reference: aligned at the hit, level by band over time, and what stands still
while the pitch moves."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.signal import butter, find_peaks, sosfilt

from nest_crate.core.analysis.measures.pitch import pitch_track
from nest_crate.core.analysis.measures.spectra import band_middles_hz, band_spectrum_db
from nest_crate.core.analysis.pictures.outlines import Outline, outline
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import Audio
from nest_crate.core.proposals.distance import (
    Distance,
    distance_between,
    level_steps_db,
    onset_frame,
)

__all__ = [
    "_EDGES_HZ",
    "BandLevels",
    "Comparison",
    "StandingPeaks",
    "compare",
    "standing_peaks",
]

Numbers = NDArray[np.float64]

_EDGES_HZ = (150.0, 1000.0, 5000.0)
_STEP_S = 0.005
_COLUMNS = 900
_FLOOR_DB = -90.0
_FADE_S = 0.003
# A glide that goes no further shows nothing of what stands still.
_GLIDE_ST = 3.0
_BANDS = 96
_MOST_PEAKS = 4


@dataclass(frozen=True)
class BandLevels:
    """Levels of one band in dB every ``step_s``, ours and the reference's, from the hit on."""

    name: str
    ours_db: Numbers
    reference_db: Numbers


@dataclass(frozen=True)
class StandingPeaks:
    """Of a glide: the mean outline in dB at ``hz``, peaks that stand still in Hz, and how far the
    first partial goes."""

    hz: Numbers
    outline_db: Numbers
    peaks_hz: list[float]
    glide_hz: tuple[float, float]


@dataclass(frozen=True)
class Comparison:
    """``shift_s``: the reference begins so much later than ours (negative: sooner)."""

    shift_s: float
    reference_length_s: float
    outline: Outline
    step_s: float
    bands: list[BandLevels]
    distance: Distance
    standing: StandingPeaks | None


def compare(
    ours: Audio, reference: Audio, left_out: Sequence[tuple[float, float]] = ()
) -> Comparison:
    """A render beside its reference.

    Parameters
    ----------
    left_out
        stretches of the reference in seconds that are excluded: no figure counts them, and
        ours is left out at the same time.
    """
    rate = ours.sample_rate
    other = resample(reference.samples, reference.sample_rate, rate)
    own_start, other_start = onset_frame(ours.samples), onset_frame(other)
    shown = outline(other, _COLUMNS)
    silenced = _without(other, left_out, rate)
    shifted = [
        (a - (other_start - own_start) / rate, b - (other_start - own_start) / rate)
        for a, b in left_out
    ]
    own = _without(ours.samples, shifted, rate)
    parts = (own[:, own_start:], silenced[:, other_start:])
    return Comparison(
        shift_s=(own_start - other_start) / rate,
        reference_length_s=other.shape[1] / rate,
        outline=shown,
        step_s=_STEP_S,
        bands=_bands(*parts, rate),
        distance=distance_between(*parts, rate),
        standing=standing_peaks(other, rate),
    )


def _without(signal: Signal, left_out: Sequence[tuple[float, float]], rate: int) -> Signal:
    """The signal with stretches silenced, without a step."""
    gain = np.ones(signal.shape[1])
    fade = max(1, round(_FADE_S * rate))
    for start_s, end_s in left_out:
        first, last = round(start_s * rate), round(end_s * rate)
        gain[max(0, first) : max(0, last)] = 0.0
    window = np.ones(fade) / fade
    return signal * (np.convolve(gain, window, mode="same") if left_out else gain)


def _bands(ours: Signal, reference: Signal, rate: int) -> list[BandLevels]:
    edges = (0.0, *_EDGES_HZ, 0.5 * rate)
    names = ("below 150 Hz", "150 Hz to 1 kHz", "1 to 5 kHz", "above 5 kHz")
    made = []
    for name, low_hz, high_hz in zip(names, edges, edges[1:], strict=False):
        levels = []
        for signal in (ours, reference):
            part = signal
            if low_hz > 0.0:
                part = sosfilt(butter(3, low_hz, "highpass", fs=rate, output="sos"), part)
            if high_hz < 0.49 * rate:
                part = sosfilt(butter(3, high_hz, "lowpass", fs=rate, output="sos"), part)
            levels.append(np.maximum(level_steps_db(part, rate, step_s=_STEP_S), _FLOOR_DB))
        made.append(BandLevels(name, *levels))
    return made


def standing_peaks(signal: Signal, rate: int) -> StandingPeaks | None:
    """Peaks of the spectrum that stay where they are while the pitch glides; None without a glide.

    Each window's spectrum is smoothed over a partial's distance, so that partials make no peaks of
    their own; what is left in the mean over all windows does not move with them.
    """
    track = pitch_track(signal, rate)
    clear = np.isfinite(track.pitch_hz) & (track.level_db > track.level_db.max(initial=-200) - 24.0)
    if np.count_nonzero(clear) < 4:
        return None
    hz = track.pitch_hz[clear]
    low, high = (float(one) for one in np.percentile(hz, (5, 95)))
    if 12.0 * np.log2(high / low) < _GLIDE_ST:
        return None
    window = max(256, round(0.04 * rate))
    starts = (track.time_s[clear] * rate).astype(np.int64) - window // 2
    rows = []
    for start, first_hz in zip(starts, hz, strict=True):
        part = signal[:, max(0, start) : max(0, start) + window]
        if part.shape[1] < window:
            continue
        rows.append(
            _smoothed(
                band_spectrum_db(part * np.hanning(window), rate, bands=_BANDS), first_hz, rate
            )
        )
    if len(rows) < 4:
        return None
    mean = np.mean([row - row.max() for row in rows], axis=0)
    middles = band_middles_hz(rate, bands=_BANDS)
    peaks, _ = find_peaks(mean, prominence=3.0)
    loudest = sorted(peaks, key=lambda k: -mean[k])[:_MOST_PEAKS]
    still = sorted(float(middles[k]) for k in loudest if middles[k] > 1.5 * low)
    return StandingPeaks(middles, mean, still, (low, high))


def _smoothed(levels_db: Numbers, first_hz: float, rate: int) -> Numbers:
    """The largest level within half a partial's distance around each band, then the mean."""
    middles = band_middles_hz(rate, bands=_BANDS)
    smooth = np.empty_like(levels_db)
    for n, hz in enumerate(middles):
        near = np.abs(middles - hz) <= max(0.6 * first_hz, 0.06 * hz)
        smooth[n] = levels_db[near].max()
    return np.convolve(np.pad(smooth, 2, mode="edge"), np.ones(5) / 5.0, mode="valid")
