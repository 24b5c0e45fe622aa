"""Width that is safe in mono: what is added cancels where both sides are summed."""

from __future__ import annotations

import math

import numpy as np
from scipy.signal import lfilter

from nest_crate.core.dsp.util.movement import Control
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["WIDENING_TAIL_S", "widened_middle"]

# Delays of the all-passes in seconds, without a common measure; each spreads what comes in.
_DELAYS_S = (0.0031, 0.0053, 0.0089)
_GAIN = 0.6
# Before them: all-passes begin with a part of what comes in, which would lean to one side.
_LATE_S = 0.0017
# Until each has fallen by 100 dB.
WIDENING_TAIL_S = _LATE_S + sum(_DELAYS_S) * (1.0 + math.log(1e-5) / math.log(_GAIN))


def widened_middle(
    signal: Signal, *, amount: float | Control, above_hz: float, sample_rate: int
) -> Signal:
    """Left and right with the middle's all-passed copy added to one and taken from the other.

    Three all-passes in a row (Schroeder, "Natural Sounding Artificial Reverberation", JAES 1962:
    H(z) = (g + z^-D) / (1 + g z^-D)) leave every frequency as loud; a high-pass of first order
    keeps the lows in the middle.

    Parameters
    ----------
    amount
        of the copy, a number or (frames,).
    """
    left, right = signal[0], signal[-1]
    side = _high_passed(0.5 * (left + right), above_hz, sample_rate)
    late = round(_LATE_S * sample_rate)
    side = np.concatenate([np.zeros(late), side])[: side.size]
    for delay_s in _DELAYS_S:
        delay = max(1, round(delay_s * sample_rate))
        top, bottom = np.zeros(delay + 1), np.zeros(delay + 1)
        top[0], top[-1], bottom[0], bottom[-1] = _GAIN, 1.0, 1.0, _GAIN
        side = lfilter(top, bottom, side)
    return np.stack([left + amount * side, right - amount * side])


def _high_passed(signal: Signal, hz: float, sample_rate: int) -> Signal:
    k = math.tan(math.pi * min(hz / sample_rate, 0.49))
    top, bottom = np.array([1.0, -1.0]) / (1.0 + k), np.array([1.0, (k - 1.0) / (k + 1.0)])
    return np.asarray(lfilter(top, bottom, signal))
