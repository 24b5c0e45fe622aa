"""Filters that saturate inside."""

from __future__ import annotations

import numpy as np

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.distortion.drive import soft_drive
from nest_crate.core.dsp.filters.state_variable import (
    HIGHEST_CUTOFF,
    filter_coefficients,
    moving_section,
)
from nest_crate.core.dsp.resampling.oversampling import raise_rate, return_rate
from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, Control, at_frames
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["driven_filter_signal"]

# How often the rate is doubled inside a driven filter.
_OCTAVES = 2


def driven_filter_signal(
    signal: Signal,
    *,
    response: str,
    slope_db: int,
    cutoff_hz: float | Control,
    resonance: float | Control,
    gain_db: float,
    drive_db: Control | float,
    sample_rate: int,
) -> Signal:
    """A filter that saturates: what goes in, and the resonance in its integrators.

    With d = 10 ** (drive_db / 20) - 1, the input becomes tanh(d x) and the output is divided by
    tanh(d): nothing at 0 dB, and full scale stays full scale. The state of each section, which
    holds the resonance, is held as well: its damping rises with its square, by 0.75 on average for
    a band of full scale. Done at four times the rate.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    drive_db
        one number or a control signal; where it moves its gain is followed from frame to frame.
    """
    d = np.maximum(1e-3, 10.0 ** (np.asarray(drive_db) / 20.0) - 1.0)
    if d.ndim:
        d = at_frames(d, signal.shape[1])
        driven = soft_drive(signal * d, gain=1.0, octaves=3)
    else:
        driven = soft_drive(signal, gain=float(d), octaves=3)
    raised = raise_rate(driven, _OCTAVES)
    rate, block = sample_rate << _OCTAVES, CONTROL_FRAMES << _OCTAVES
    cutoff = np.minimum(cutoff_hz, HIGHEST_CUTOFF * sample_rate)
    shape = (cutoff if cutoff.ndim else float(cutoff), resonance, gain_db)
    sections = filter_coefficients(response, max(12, slope_db), *shape, sample_rate=rate)
    for section in sections:
        checkpoint()
        out = np.empty_like(raised)
        moving_section(out, raised, np.stack(section.points), block, section.more, True)
        raised = out
    return np.asarray(return_rate(raised, _OCTAVES) / np.tanh(d))
