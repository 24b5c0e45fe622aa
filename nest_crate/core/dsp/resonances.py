"""What is built from several filters: crossovers, formant pairs, and filters that are driven."""

from __future__ import annotations

import math

import numpy as np

from nest_crate.core.cancelling import checkpoint
from nest_crate.core.dsp.drive import soft_drive
from nest_crate.core.dsp.filters import (
    HIGHEST_CUTOFF,
    bilinear_coefficients,
    filter_coefficients,
    filter_signal,
    moving_section,
    through_sections,
)
from nest_crate.core.dsp.movement import CONTROL_FRAMES, Control, at_frames
from nest_crate.core.dsp.oversampling import raise_rate, return_rate
from nest_crate.core.dsp.signals import Signal

__all__ = ["crossover_parts", "driven_filter_signal", "formant_signal"]

_FLATTEST = math.sqrt(0.5)
# How often the rate is doubled inside a driven filter.
_OCTAVES = 2

# Quality factors of a crossover's sections: each Butterworth filter twice.
_CROSSOVER_Q = {
    12: (0.5,),
    24: (_FLATTEST, _FLATTEST),
    48: (0.541196100146197, 1.306562964876377) * 2,
}


def crossover_parts(
    signal: Signal, cutoff_hz: float | Control, *, sample_rate: int, slope_db: int = 24
) -> tuple[Signal, Signal]:
    """Low and high part of a signal (channels, frames), 12, 24 or 48 dB per octave, whose sum is
    flat.

    Linkwitz, "Active Crossover Networks for Noncoincident Drivers" (1976): two Butterworth
    filters in a row. Both parts are in phase everywhere, and their sum is an all-pass.
    """
    parts = []
    for response in ("low_pass", "high_pass"):
        checkpoint()
        sections = [
            bilinear_coefficients(response, cutoff_hz, q, sample_rate=sample_rate)
            for q in _CROSSOVER_Q[slope_db]
        ]
        parts.append(through_sections(signal, sections))
    # Of 12 dB per octave both parts are in phase only with one of them turned over.
    return parts[0], -parts[1] if slope_db == 12 else parts[1]


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
