"""An offset removed: what a signal's mean over a fifth of a second is, no partial of it."""

from __future__ import annotations

import numpy as np
from numba import njit
from scipy.ndimage import uniform_filter1d

from nest_crate.core.dsp.util.signals import Signal

__all__ = ["without_offset"]

# Means are taken of so much, and three times over a span whose nulls lie at 15 Hz and its
# multiples: 20 Hz keeps its level within 0.08 dB.
_STEP_S = 0.001
_SPAN_STEPS = 67
# The offset fades in over this time from the signal's start: a step would click.
_BEGIN_STEPS = 1
_HEARD = 1e-6
# Of the peak: less is no offset.
_NOTHING = 1e-6


def without_offset(signal: Signal, sample_rate: int) -> Signal:
    """A signal less its slow mean, each side by itself.

    Unlike a high-pass it leaves no tail that swings back, and is there from the first ms on.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
        that has come to its end, or goes on as it does there.
    """
    frames = signal.shape[1]
    step = max(1, round(_STEP_S * sample_rate))
    count = -(-frames // step)
    if count < 2:
        return signal
    padded = np.zeros((signal.shape[0], count * step))
    padded[:, :frames] = signal
    means = padded.reshape(signal.shape[0], count, step).mean(axis=2)
    slow = means
    for _ in range(3):
        slow = uniform_filter1d(slow, _SPAN_STEPS, axis=1, mode="reflect")
    loudest = float(np.abs(signal).max(initial=0.0))
    if loudest <= _HEARD or float(np.abs(slow).max()) < _NOTHING * loudest:
        return signal
    out = signal.copy()
    for channel in range(signal.shape[0]):
        begun = np.flatnonzero(np.abs(means[channel]) > _HEARD * loudest)
        if not begun.size:
            continue
        since = np.clip((np.arange(count) - begun[0]) / _BEGIN_STEPS, 0.0, 1.0)
        taken = slow[channel] * (0.5 - 0.5 * np.cos(np.pi * since))
        _take(out[channel], taken, step)
    return out


@njit(cache=True, nogil=True)
def _take(out, taken, step):  # type: ignore[no-untyped-def]
    """out (frames,) less taken (points,), one in the middle of each ``step`` frames, straight
    between them."""
    last = taken.shape[0] - 1
    for n in range(out.shape[0]):
        place = (n + 0.5) / step - 0.5
        point = min(max(int(place), 0), last)
        after = min(point + 1, last)
        x = min(1.0, max(0.0, place - point))
        out[n] -= taken[point] + x * (taken[after] - taken[point])
