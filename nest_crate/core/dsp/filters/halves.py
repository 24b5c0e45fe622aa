"""A signal in two halves that are in phase everywhere and together are the signal itself."""

from __future__ import annotations

import math

import numpy as np

from nest_crate.core.dsp.filters.state_variable import filter_signal
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["split_halves"]

# Periods of the split's frequency after which its filter has fallen by more than 100 dB.
_REACH = 4.0


def split_halves(signal: Signal, split_hz: float, *, sample_rate: int) -> tuple[Signal, Signal]:
    """Low and high half, 24 dB per octave each, whose sum is the signal to the last bit but one.

    A Butterworth low-pass there and back again has no phase and the gain 1 / (1 + x^4); what it
    leaves has x^4 / (1 + x^4). So a half that is not worked on nulls against the dry signal.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    """
    reach = math.ceil(_REACH / split_hz * sample_rate)
    padded = np.pad(signal, ((0, 0), (reach, reach)))
    for _ in range(2):
        passed = filter_signal(
            padded,
            response="low_pass",
            slope_db=12,
            cutoff_hz=split_hz,
            resonance=math.sqrt(0.5),
            sample_rate=sample_rate,
        )
        padded = np.ascontiguousarray(passed[:, ::-1])
    low = np.ascontiguousarray(padded[:, reach : reach + signal.shape[1]])
    return low, signal - low
