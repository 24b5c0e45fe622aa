"""Crossovers: a signal in two parts that are in phase, with a flat sum."""

from __future__ import annotations

import math

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.filters.state_variable import bilinear_coefficients, through_sections
from nest_crate.core.dsp.util.movement import Control
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["crossover_parts"]

_FLATTEST = math.sqrt(0.5)
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
