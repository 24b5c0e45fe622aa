"""Formants: two band-passes side by side."""

from __future__ import annotations

import numpy as np

from nest_crate.core.dsp.filters.state_variable import filter_signal
from nest_crate.core.dsp.util.movement import Control, at_frames
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["formant_signal"]


def formant_signal(
    signal: Signal,
    *,
    first_hz: float | Control,
    second_hz: float | Control,
    sharpness: float | Control,
    second_db: float | Control,
    sample_rate: int,
) -> Signal:
    """Two band-passes side by side, each with gain 1 at its middle, the second at a level."""
    parts = [
        filter_signal(
            signal,
            response="band_pass",
            slope_db=12,
            cutoff_hz=cutoff_hz,
            resonance=sharpness,
            sample_rate=sample_rate,
        )
        for cutoff_hz in (first_hz, second_hz)
    ]
    gain = 10.0 ** (np.asarray(second_db) / 20.0)
    if gain.ndim:
        gain = at_frames(gain, signal.shape[1])
    return np.asarray(parts[0] + gain * parts[1])
