"""Three bands that meet again in phase, each lowered where it is loud and raised where soft."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.dsp.dynamics.compressor import (
    level_over_time_db,
    smoothed_gain_db,
    static_gain_db,
)
from nest_crate.core.dsp.filters.crossovers import crossover_parts
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["BandSettings", "band_gains_db", "raised_gain_db", "three_bands"]

_KNEE_DB = 6.0
_MOST_UP_DB = 30.0
# From here down less is raised, and nothing from 15 dB lower on: a tail still ends.
_FAINT_DB, _FAINT_SPAN_DB = -75.0, 15.0


@dataclass(frozen=True)
class BandSettings:
    """Thresholds in dB and ratios of one band."""

    above_db: float
    above_ratio: float
    below_db: float
    below_ratio: float


def three_bands(
    signal: Signal, low_split_hz: float, high_split_hz: float, *, sample_rate: int
) -> tuple[Signal, Signal, Signal]:
    """Low, middle and high band, whose sum is the signal through two all-passes: flat.

    The low band passes the upper crossover whole, so that it turns as the other two do: D'Appolito,
    "Active realization of multiway all-pass crossover systems" (JAES 35, 1987).
    """
    low, rest = crossover_parts(signal, low_split_hz, sample_rate=sample_rate)
    middle, high = crossover_parts(rest, high_split_hz, sample_rate=sample_rate)
    turned = crossover_parts(low, high_split_hz, sample_rate=sample_rate)
    return turned[0] + turned[1], middle, high


def raised_gain_db(
    level_db: NDArray[np.float64], below_db: float, below_ratio: float
) -> NDArray[np.float64]:
    """Gain of a level below a threshold: 1 - 1 / ratio of what lacks, 30 dB at most."""
    lacking = np.maximum(0.0, below_db - level_db)
    gain = np.minimum(_MOST_UP_DB, lacking * (1.0 - 1.0 / below_ratio))
    share = np.clip((level_db - _FAINT_DB + _FAINT_SPAN_DB) / _FAINT_SPAN_DB, 0.0, 1.0)
    return np.asarray(gain * share)


def band_gains_db(
    bands: tuple[Signal, Signal, Signal],
    settings: tuple[BandSettings, BandSettings, BandSettings],
    *,
    attack_s: float,
    release_s: float,
    sample_rate: int,
) -> NDArray[np.float64]:
    """Gain of each band at each frame, shape (3, frames), in dB."""
    found = []
    for band, one in zip(bands, settings, strict=True):
        level = level_over_time_db(band, measure="rms", ahead=0, sample_rate=sample_rate)
        wanted = static_gain_db(
            level, threshold_db=one.above_db, ratio=one.above_ratio, knee_db=_KNEE_DB
        ) + raised_gain_db(level, one.below_db, one.below_ratio)
        found.append(smoothed_gain_db(wanted, attack_s, release_s, sample_rate=sample_rate))
    return np.stack(found)
