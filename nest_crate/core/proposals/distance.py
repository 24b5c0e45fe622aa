"""How near one hit is to another: level over time, pitch, spectrum, over all and by band."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.measures.pitch import landing_pitch_hz, pitch_track
from nest_crate.core.analysis.measures.spectra import band_middles_hz, band_spectrum_db
from nest_crate.core.dsp.util.signals import Signal

__all__ = [
    "BANDS",
    "Distance",
    "band_levels_db",
    "distance_between",
    "level_steps_db",
    "onset_frame",
]

BANDS = 30
_STEP_S = 0.005
_LEVEL_RANGE_DB = 40.0
_BAND_RANGE_DB = 60.0
_ONSET_DB = -50.0


@dataclass(frozen=True)
class Distance:
    """Mean differences: of the level every 5 ms while the reference is within 40 dB of its peak, of
    the pitch each settles at (None where one has none), and of 30 bands within 60 dB of the
    loudest; and the bands themselves, ours less the reference, at ``bands_hz``."""

    level_db: float
    pitch_cent: float | None
    bands_mean_db: float
    bands_hz: NDArray[np.float64]
    bands_db: NDArray[np.float64]


def onset_frame(signal: Signal) -> int:
    """The first frame within 50 dB of the peak."""
    size = np.abs(signal).max(axis=0) if signal.size else np.zeros(0)
    loud = np.flatnonzero(size > 10.0 ** (_ONSET_DB / 20.0) * size.max(initial=0.0))
    return int(loud[0]) if loud.size else 0


def level_steps_db(
    signal: Signal, sample_rate: int, *, step_s: float = _STEP_S
) -> NDArray[np.float64]:
    """The mean square level of each step in dB."""
    step = max(1, round(step_s * sample_rate))
    count = -(-signal.shape[1] // step)
    padded = np.zeros(count * step)
    padded[: signal.shape[1]] = (signal**2).mean(axis=0)
    return np.asarray(10.0 * np.log10(np.maximum(padded.reshape(count, step).mean(axis=1), 1e-12)))


def band_levels_db(signal: Signal, sample_rate: int) -> NDArray[np.float64]:
    """Levels of 30 bands of equal width in octaves."""
    return band_spectrum_db(signal, sample_rate, bands=BANDS)


def distance_between(ours: Signal, reference: Signal, sample_rate: int) -> Distance:
    """How far ours is from a reference; both at one rate, compared from their onsets on."""
    ours = ours[:, onset_frame(ours) :]
    reference = reference[:, onset_frame(reference) :]
    length = max(ours.shape[1], reference.shape[1])
    ours = np.pad(ours, ((0, 0), (0, length - ours.shape[1])))
    reference = np.pad(reference, ((0, 0), (0, length - reference.shape[1])))
    return Distance(
        level_db=_level_distance_db(ours, reference, sample_rate),
        pitch_cent=_pitch_distance_cent(ours, reference, sample_rate),
        **_band_distance(ours, reference, sample_rate),
    )


def _level_distance_db(ours: Signal, reference: Signal, sample_rate: int) -> float:
    wanted = level_steps_db(reference, sample_rate)
    made = level_steps_db(ours, sample_rate)
    heard = wanted > wanted.max(initial=-120.0) - _LEVEL_RANGE_DB
    floor = wanted.max(initial=-120.0) - _LEVEL_RANGE_DB - 20.0
    apart = np.abs(np.maximum(made, floor) - wanted)[heard]
    return float(apart.mean()) if apart.size else 0.0


def _pitch_distance_cent(ours: Signal, reference: Signal, sample_rate: int) -> float | None:
    found = [landing_pitch_hz(pitch_track(one, sample_rate)) for one in (ours, reference)]
    if found[0] is None or found[1] is None:
        return None
    return float(1200.0 * abs(np.log2(found[0] / found[1])))


def _band_distance(ours: Signal, reference: Signal, sample_rate: int) -> dict[str, Any]:
    made, wanted = (band_levels_db(one, sample_rate) for one in (ours, reference))
    heard = wanted > wanted.max() - _BAND_RANGE_DB
    floor = wanted.max() - _BAND_RANGE_DB - 10.0
    apart = np.maximum(made, floor) - np.maximum(wanted, floor)
    mean = float(np.abs(apart[heard]).mean()) if heard.any() else 0.0
    middles = band_middles_hz(sample_rate, bands=BANDS)
    return {"bands_mean_db": mean, "bands_hz": middles, "bands_db": apart}
