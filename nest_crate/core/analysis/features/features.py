"""What a catalogue needs of a sample beyond its levels: how long it rings, how bright, how noisy,
how low; and a vector in which near means alike.

Centroid, spread and flatness after Peeters, "A large set of audio features for sound description"
(CUIDADO report, Ircam 2004), sections 6.1.1, 6.1.2 and 9.1.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.measures.pitch import PitchTrack, landing_pitch_hz, pitch_track
from nest_crate.core.analysis.measures.ring_time import ringing
from nest_crate.core.analysis.measures.spectra import band_middles_hz, band_spectrum_db
from nest_crate.core.analysis.measures.stereo import stereo_figures
from nest_crate.core.dsp.util.signals import Signal, peak, require_signal

__all__ = ["FEATURE_COUNT", "Features", "feature_distances", "features"]

_BANDS = 12
_FINE_BANDS = 96
_STEPS = 8
_RANGE_DB = 60.0
_SHORTEST_S = 0.001
# How much of each feature makes two sounds "one apart": an octave of length, brightness or pitch,
# 12 dB of a band or of the level at one time.
_BAND_UNIT_DB, _STEP_UNIT_DB, _FLATNESS_UNIT = 24.0, 24.0, 0.2
FEATURE_COUNT = 7 + _BANDS + _STEPS


@dataclass(frozen=True)
class Features:
    """``decay_s`` from the loudest moment until 60 dB below it for good; ``brightness_hz`` the
    spectral centroid; ``noisiness`` the spectral flatness, 0 a sine, 1 white noise;
    ``low_share_db`` what lies below 120 Hz re all; ``vector`` of shape (FEATURE_COUNT,), float32.
    """

    decay_s: float
    attack_s: float
    brightness_hz: float
    spread_octaves: float
    noisiness: float
    low_share_db: float
    vector: NDArray[np.float32]


def features(signal: Signal, sample_rate: int, *, track: PitchTrack | None = None) -> Features:
    """The features of a signal of shape (1 or 2, frames); silence has those of nothing. ``track``
    is its pitch over time where that is known already."""
    signal = require_signal(signal)
    if not signal.size or peak(signal) <= 0.0:
        return Features(0.0, 0.0, 0.0, 0.0, 0.0, 0.0, np.zeros(FEATURE_COUNT, dtype=np.float32))
    rung = ringing(signal, sample_rate)
    decay_s = max(0.0, rung.ring_s) if rung else 0.0
    attack_s = rung.loudest_s if rung else 0.0
    middles = band_middles_hz(sample_rate, bands=_FINE_BANDS)
    fine_db = band_spectrum_db(signal, sample_rate, bands=_FINE_BANDS)
    energy = 10.0 ** (fine_db / 10.0)
    centroid_hz = float((middles * energy).sum() / energy.sum())
    octaves = np.log2(middles)
    middle = float((octaves * energy).sum() / energy.sum())
    spread = math.sqrt(float(((octaves - middle) ** 2 * energy).sum() / energy.sum()))
    noisiness = _flatness(signal, sample_rate)
    pitch_hz = landing_pitch_hz(pitch_track(signal, sample_rate) if track is None else track)
    vector = np.concatenate(
        [
            [
                math.log2(max(signal.shape[1] / sample_rate, _SHORTEST_S)),
                math.log2(max(decay_s, _SHORTEST_S)),
                0.5 * math.log2(max(attack_s, _SHORTEST_S)),
                math.log2(max(centroid_hz, 20.0)),
                spread,
                noisiness / _FLATNESS_UNIT,
                # Sounds without a pitch lie together, apart from all that have one.
                math.log2(pitch_hz / 440.0) if pitch_hz else -8.0,
            ],
            _relative(fine_db.reshape(_BANDS, -1).max(axis=1)) / _BAND_UNIT_DB,
            _relative(_level_steps_db(signal, sample_rate)) / _STEP_UNIT_DB,
        ]
    )
    return Features(
        decay_s=decay_s,
        attack_s=attack_s,
        brightness_hz=centroid_hz,
        spread_octaves=spread,
        noisiness=noisiness,
        low_share_db=stereo_figures(signal, sample_rate).low_share_db,
        vector=vector.astype(np.float32),
    )


def feature_distances(
    vectors: NDArray[np.float32], wanted: NDArray[np.float32]
) -> NDArray[np.float32]:
    """Distance of each of (rows, FEATURE_COUNT) vectors from the wanted one (FEATURE_COUNT,)."""
    difference = vectors - wanted
    return np.asarray(np.sqrt(np.einsum("ij,ij->i", difference, difference)))


def _relative(level_db: NDArray[np.float64]) -> NDArray[np.float64]:
    """Levels re the loudest, not below the range."""
    return np.asarray(np.maximum(level_db - level_db.max(), -_RANGE_DB))


def _flatness(signal: Signal, sample_rate: int) -> float:
    """Geometric re arithmetic mean of the power from 100 Hz to 10 kHz, frame by frame; each frame
    counts by its energy."""
    mono = signal.mean(axis=0)
    size = 1024
    count = max(1, -(-mono.size // size))
    padded = np.zeros(count * size)
    padded[: mono.size] = mono
    power = np.abs(np.fft.rfft(padded.reshape(count, size) * np.hanning(size), axis=1)) ** 2
    hz = np.fft.rfftfreq(size, 1.0 / sample_rate)
    power = power[:, (hz >= 100.0) & (hz <= 10000.0)]
    mean = power.mean(axis=1)
    heard = mean > mean.max() * 1e-6
    if not heard.any() or mean.max() <= 0.0:
        return 0.0
    power, mean = power[heard], mean[heard]
    floor = 1e-12 * mean[:, None]
    geometric = np.exp(np.log(np.maximum(power, floor)).mean(axis=1))
    return float(np.average(geometric / mean, weights=mean))


def _level_steps_db(signal: Signal, sample_rate: int) -> NDArray[np.float64]:
    """Mean square level in dB between times that double: to 10 ms, 20, 40 ... and to the end."""
    power = np.concatenate([[0.0], np.cumsum((signal**2).mean(axis=0))])
    edges = np.round(0.01 * 2.0 ** np.arange(_STEPS - 1) * sample_rate).astype(np.int64)
    edges = np.concatenate([[0], edges, [max(power.size - 1, int(edges[-1]) + 1)]])
    within = np.minimum(edges, power.size - 1)
    mean = np.diff(power[within]) / np.maximum(1, np.diff(edges))
    return np.asarray(10.0 * np.log10(np.maximum(mean, 1e-14)))
