"""A spectrum spread over time, with phases thrown again: what was a hit becomes a cloud."""

from __future__ import annotations

import math

import numpy as np
from scipy.fft import irfft, rfft
from scipy.signal import lfilter

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.util.randomness import uniform_numbers
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["blur_window", "blurred_signal"]

_OVERLAP = 4
# Windows worked on together.
_STRETCH = 32
# Phases drawn for each window, as many as its bins at 192 kHz: the same phase for the same
# frequency at every rate.
_DRAWN = 4104
_WINDOW_S = 0.0427


def blur_window(sample_rate: int) -> int:
    """Frames of one window: 2048 at 48 kHz."""
    return 4 * round(_WINDOW_S * sample_rate / 4.0)


def blurred_signal(
    signal: Signal, *, time_s: float, width: float, seed: int, part: str, sample_rate: int
) -> Signal:
    """Each band's power, falling by 60 dB in ``time_s``, carried by phases that mean nothing.

    Windows of 43 ms, an overlap of three quarters; the power that goes in comes out.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    width
        0 the same phases on both sides, 1 phases that share nothing; from 0 on stereo.
    seed, part
        key of the phases.
    """
    frames = signal.shape[1]
    window = blur_window(sample_rate)
    hop = window // _OVERLAP
    shape = np.hanning(window + 1)[:window]
    count = (frames + window) // hop + 1
    padded = np.zeros((signal.shape[0], (count - 1) * hop + window))
    padded[:, window - hop : window - hop + frames] = signal
    kept = 10.0 ** (-6.0 * hop / (time_s * sample_rate))
    bins = window // 2 + 1
    sides = 2 if signal.shape[0] == 2 or width > 0.0 else 1
    # Windows with phases of their own add by power.
    norm = 1.0 / math.sqrt(np.mean(shape**2) * np.sum(shape**2) / hop)
    out = np.zeros((sides, padded.shape[1]))
    before = [np.zeros((1, bins)) for _ in range(sides)]
    for first in range(0, count, _STRETCH):
        checkpoint()
        some = min(_STRETCH, count - first)
        # Drawn window by window, so that what is heard does not depend on what comes after it.
        turns, apart = (
            np.pi
            * uniform_numbers(
                some * _DRAWN, seed=seed, part=name, hit_number=0, skip=first * _DRAWN
            ).reshape(some, _DRAWN)[:, :bins]
            for name in (part, f"{part}.side")
        )
        cuts = (first + np.arange(some))[:, np.newaxis] * hop + np.arange(window)
        for side in range(sides):
            spectrum = rfft(padded[min(side, signal.shape[0] - 1)][cuts] * shape, axis=1)
            power, before[side] = lfilter(
                [1.0 - kept], [1.0, -kept], np.abs(spectrum) ** 2, axis=0, zi=before[side]
            )
            phases = turns + width * apart if side else turns
            made = irfft(np.sqrt(np.maximum(power, 0.0)) * np.exp(1j * phases), window, axis=1)
            made *= shape * norm
            for n in range(some):
                at = (first + n) * hop
                out[side, at : at + window] += made[n]
    return np.ascontiguousarray(out[:, window - hop : window - hop + frames])
