"""Reading a delay line faster or slower than it is written: echoes that climb or fall.

Two heads half a grain apart, each faded out while it jumps, whose squared sines add up to 1.
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.cancelling import cancel_flag
from nest_crate.core.dsp.delays import SHORTEST_FRAMES, between_frames
from nest_crate.core.dsp.signals import Signal

__all__ = ["read_transposed", "transposed_echoes"]


@njit(cache=True, nogil=True)
def read_transposed(memory, place, delay, grain, phase):  # type: ignore[no-untyped-def]
    """Both heads' sum; delay and grain in frames, phase from 0 to 1 is the first head's."""
    total = 0.0
    for head in range(2):
        p = phase + 0.5 * head
        if p >= 1.0:
            p -= 1.0
        fade = np.sin(np.pi * p)
        total += fade * fade * between_frames(memory, place, delay + grain * p)
    return total


def transposed_echoes(
    signal: Signal,
    *,
    time_s: float,
    ratio: NDArray[np.float64],
    feedback: NDArray[np.float64],
    grain_s: float,
    low_cut_hz: float,
    high_cut_hz: float,
    sample_rate: int,
) -> Signal:
    """The echoes alone: each is transposed once more than the one before.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    ratio, feedback : np.ndarray [shape=(frames,)]
        of frequencies, and of the loop.
    time_s
        to the middle of the grain.
    """
    delay = max(2.0 * SHORTEST_FRAMES + 2.0, time_s * sample_rate)
    grain = min(grain_s * sample_rate, 2.0 * (delay - SHORTEST_FRAMES))
    nearest = delay - 0.5 * grain
    poles = [math.exp(-2.0 * math.pi * hz / sample_rate) for hz in (low_cut_hz, high_cut_hz)]
    out = np.empty_like(signal)
    memory = np.zeros((signal.shape[0], math.ceil(delay + grain) + 8))
    _echoes(out, signal, memory, nearest, grain, ratio, feedback, poles[0], poles[1], cancel_flag())
    return out


@njit(cache=True, nogil=True)
def _echoes(out, signal, memory, nearest, grain, ratio, feedback, low_pole, high_pole, cancel):  # type: ignore[no-untyped-def]
    """out, signal (channels, frames); memory (channels, ring); ratio, feedback (frames,)."""
    size = memory.shape[1]
    for channel in range(signal.shape[0]):
        place = 0
        phase = 0.5
        smooth = slow = 0.0
        for n in range(signal.shape[1]):
            if n % 4096 == 0 and cancel[0]:
                return
            late = read_transposed(memory[channel], place, nearest, grain, phase)
            smooth = (1.0 - high_pole) * late + high_pole * smooth
            slow = (1.0 - low_pole) * smooth + low_pole * slow
            if abs(smooth) < 1e-30:
                smooth = 0.0
            if abs(slow) < 1e-30:
                slow = 0.0
            out[channel, n] = smooth - slow
            memory[channel, place] = signal[channel, n] + feedback[n] * out[channel, n]
            place = place + 1 if place + 1 < size else 0
            phase += (1.0 - ratio[n]) / grain
            phase -= np.floor(phase)
