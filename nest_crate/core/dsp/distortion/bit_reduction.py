"""Fewer bits and fewer samples."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.filters.state_variable import filter_signal
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["reduced_signal"]


def reduced_signal(
    signal: Signal,
    *,
    bits: NDArray[np.float64],
    rate_hz: NDArray[np.float64],
    smooth: bool,
    sample_rate: int,
) -> Signal:
    """A signal sampled again at a lower rate, each sample held, in steps of 2 ** (1 - bits).

    Steps lie around 0, so silence stays silence; bits need not be whole.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    bits, rate_hz : np.ndarray [shape=(frames,)]
    smooth
        a low-pass at 0.45 of the new rate before it, 36 dB per octave.
    """
    source = signal
    if smooth and rate_hz.size:
        source = filter_signal(
            signal,
            response="low_pass",
            slope_db=36,
            cutoff_hz=0.45 * float(rate_hz.min()),
            resonance=math.sqrt(0.5),
            sample_rate=sample_rate,
        )
    out = np.empty_like(source)
    _reduce(out, source, np.minimum(1.0, rate_hz / sample_rate), np.exp2(1.0 - bits))
    return out


@njit(cache=True, nogil=True)
def _reduce(out, signal, advance, steps):  # type: ignore[no-untyped-def]
    """out, signal (channels, frames); advance in new samples a frame, steps of the level."""
    for channel in range(signal.shape[0]):
        place = 1.0
        held = 0.0
        for n in range(signal.shape[1]):
            if place >= 1.0:
                place -= 1.0
                held = steps[n] * np.floor(signal[channel, n] / steps[n] + 0.5)
            out[channel, n] = held
            # A hair more, so that equal rates take every sample.
            place += advance[n] * (1.0 + 1e-12)
