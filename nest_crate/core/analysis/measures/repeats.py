"""How much one hit differs from the next."""

from __future__ import annotations

from dataclasses import asdict, dataclass
from typing import Any

import numpy as np

from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from nest_crate.core.dsp.filters.crossovers import crossover_parts
from nest_crate.core.dsp.util.signals import Signal, peak
from nest_crate.core.engine import RenderSettings, StageMemory, render
from nest_crate.core.sound import Sound
from nest_crate.core.units import SILENCE_DB, gain_to_db

__all__ = ["Repeats", "compare_repeats"]


_LOW_HZ = 120.0
_QUIET_DB = -60.0


@dataclass(frozen=True)
class Repeats:
    """``difference_db`` is the largest difference signal against the first hit, re its level;
    the spreads are the largest less the smallest of all hits."""

    hits: int
    identical: bool
    difference_db: float
    peak_spread_db: float
    loudness_spread_db: float
    low_spread_db: float
    """Of the level below 120 Hz: whether the sub stays from hit to hit."""

    def as_dict(self) -> dict[str, Any]:
        return asdict(self)


def compare_repeats(
    sound: Sound, settings: RenderSettings, *, hits: int = 8, memory: StageMemory | None = None
) -> Repeats:
    """Render a sound's hit under ``hits`` hit numbers in a row and compare them."""
    numbers = range(sound.hit.number, sound.hit.number + hits)
    signals = [
        render(sound, sound.hit.model_copy(update={"number": n}), settings, memory=memory).samples
        for n in numbers
    ]
    differences_db = [_difference_db(signals[0], other) for other in signals[1:]]
    peaks_db = [gain_to_db(peak(signal)) for signal in signals]
    loudness = [integrated_loudness_lufs(signal, settings.sample_rate) for signal in signals]
    return Repeats(
        hits=hits,
        identical=all(np.array_equal(signals[0], other) for other in signals[1:]),
        difference_db=max(differences_db, default=SILENCE_DB),
        peak_spread_db=max(peaks_db) - min(peaks_db),
        loudness_spread_db=max(loudness) - min(loudness),
        low_spread_db=_spread([_low_db(signal, settings.sample_rate) for signal in signals]),
    )


def _spread(levels_db: list[float]) -> float:
    """Largest less smallest; 0 where nothing is loud enough to be missed."""
    if max(levels_db) < _QUIET_DB:
        return 0.0
    return max(levels_db) - max(_QUIET_DB, min(levels_db))


def _low_db(signal: Signal, sample_rate: int) -> float:
    """Peak level of a signal's part below 120 Hz."""
    low, _ = crossover_parts(signal, _LOW_HZ, sample_rate=sample_rate)
    return gain_to_db(peak(low))


def _difference_db(first: Signal, second: Signal) -> float:
    """Level of the difference re the first, in dB; the shorter one goes on in silence."""
    frames = max(first.shape[1], second.shape[1])
    padded = np.zeros((2, max(first.shape[0], second.shape[0]), frames))
    padded[0, :, : first.shape[1]] = first
    padded[1, :, : second.shape[1]] = second
    level = float(np.sqrt(np.mean(padded[0] ** 2)))
    if level <= 0.0:
        return SILENCE_DB if not padded[1].any() else 0.0
    return gain_to_db(float(np.sqrt(np.mean((padded[1] - padded[0]) ** 2))) / level)
