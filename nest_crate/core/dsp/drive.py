"""Soft saturation without aliasing: oversampling and antiderivative anti-aliasing together.

Parker, Zavalishin, Le Bivic, "Reducing the Aliasing of Nonlinear Waveshaping Using
Continuous-Time Convolution" (DAFx 2016), equation (10) with its fallback for small steps.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.oversampling import raise_rate, return_rate
from nest_crate.core.dsp.signals import Signal

__all__ = ["soft_drive"]

_STEPS_PER_UNIT = 64
_END = 24.0
_LN2 = float(np.log(2.0))
_BLOCK = 2048


def _log_term_cubics() -> NDArray[np.float64]:
    """Cubics of ln(1 + exp(-2u)), u from 0 to _END, four coefficients an interval (flat).

    ln cosh(x) = |x| - ln 2 + ln(1 + exp(-2|x|)), of which this is the last term. Each cubic meets
    the function and its slope at both ends (Hermite), so the sum's slope, tanh, has no steps.
    """
    u = np.arange(0, int(_END * _STEPS_PER_UNIT) + 2) / _STEPS_PER_UNIT
    value = np.log1p(np.exp(-2.0 * u))
    slope = (np.tanh(u) - 1.0) / _STEPS_PER_UNIT
    rise = value[1:] - value[:-1]
    c2 = 3.0 * rise - 2.0 * slope[:-1] - slope[1:]
    c3 = slope[:-1] + slope[1:] - 2.0 * rise
    return np.ascontiguousarray(np.stack([value[:-1], slope[:-1], c2, c3], axis=1)).reshape(-1)


_LOG_TERM = _log_term_cubics()


def soft_drive(signal: Signal, *, gain: float, octaves: int) -> Signal:
    """tanh(gain * x), band-limited.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    gain
        amplitude factor in front of the saturation.
    octaves
        how often the rate is doubled: 3 (8 times) for final quality, 2 for drafts.
    """
    raised = raise_rate(signal, octaves)
    _saturate(raised, gain, _LOG_TERM)
    return return_rate(raised, octaves)


@njit(cache=True, nogil=True)
def _saturate(signal, gain, log_term):  # type: ignore[no-untyped-def]
    """tanh in place over (channels, frames), as the mean over each step of its antiderivative.

    In blocks that stay in the cache, and in three loops so that the division is vectorized.
    """
    driven = np.empty(_BLOCK + 1)
    integral = np.empty(_BLOCK + 1)
    for channel in range(signal.shape[0]):
        driven[0] = 0.0
        integral[0] = 0.0
        for start in range(0, signal.shape[1], _BLOCK):
            block = signal[channel, start : start + _BLOCK]
            count = block.shape[0]
            for n in range(count):
                x = gain * block[n]
                size = abs(x)
                position = min(size, _END) * _STEPS_PER_UNIT
                index = np.uint32(position)
                t = position - index
                at = index * np.uint32(4)
                cubic = log_term[at + np.uint32(2)] + t * log_term[at + np.uint32(3)]
                cubic = log_term[at] + t * (log_term[at + np.uint32(1)] + t * cubic)
                driven[n + 1] = x
                integral[n + 1] = size - _LN2 + cubic
            for n in range(count):
                block[n] = (integral[n + 1] - integral[n]) / (driven[n + 1] - driven[n] + 1e-300)
            for n in range(count):
                if abs(driven[n + 1] - driven[n]) < 1e-7:
                    middle = 0.5 * (driven[n + 1] + driven[n])
                    # Below 0.01 the series' next term is less than 2e-11.
                    if abs(middle) < 0.01:
                        block[n] = middle - middle * middle * middle / 3.0
                    else:
                        block[n] = np.tanh(middle)
            driven[0] = driven[count]
            integral[0] = integral[count]
