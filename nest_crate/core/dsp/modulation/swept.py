"""Copies and all-passes that go up and down: flanger, vibrato, phaser."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.cancellation import cancel_flag
from nest_crate.core.dsp.delays.echoes import SHORTEST_FRAMES, between_frames, stereo
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["phased_signal", "swept_copy", "vibrato_depth_s"]


def vibrato_depth_s(depth_cent: float, rate_hz: float) -> float:
    """How far a delay must swing as a sine for the pitch to swing so far.

    A delay of d sin(2 pi r t) moves the pitch by the factor 1 - 2 pi r d cos(2 pi r t).
    """
    return float((np.exp2(depth_cent / 1200.0) - 1.0) / (2.0 * np.pi * rate_hz))


def swept_copy(
    signal: Signal,
    *,
    delay_s: NDArray[np.float64],
    feedback: NDArray[np.float64],
    sample_rate: int,
) -> Signal:
    """The late copy alone: each channel by its own delay, with feedback.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    delay_s : np.ndarray [shape=(1 or 2, frames)]
        where it has two rows the result has two channels.
    feedback : np.ndarray [shape=(frames,)]
    """
    delays = np.maximum(SHORTEST_FRAMES, delay_s * sample_rate)
    channels = max(signal.shape[0], delays.shape[0])
    source = stereo(signal) if channels == 2 else signal
    delays = stereo(delays) if channels == 2 else delays
    out = np.empty((channels, signal.shape[1]))
    if out.size:
        memory = np.zeros((channels, int(np.ceil(delays.max())) + 4))
        _sweep(out, source, memory, delays, feedback, cancel_flag())
    return out


@njit(cache=True, nogil=True)
def _sweep(out, signal, memory, delays, feedback, cancel):  # type: ignore[no-untyped-def]
    """out, signal, delays (channels, frames); memory (channels, ring); feedback (frames,)."""
    size = memory.shape[1]
    for channel in range(signal.shape[0]):
        place = 0
        for n in range(signal.shape[1]):
            if n % 4096 == 0 and cancel[0]:
                return
            late = between_frames(memory[channel], place, delays[channel, n])
            if abs(late) < 1e-30:
                late = 0.0
            out[channel, n] = late
            memory[channel, place] = signal[channel, n] + feedback[n] * late
            place = place + 1 if place + 1 < size else 0


def phased_signal(
    signal: Signal,
    *,
    corner_hz: NDArray[np.float64],
    notches: int,
    feedback: NDArray[np.float64],
    sample_rate: int,
) -> Signal:
    """A signal through two first-order all-passes for each notch, with feedback around them.

    Mixed half and half with the dry signal it has a notch wherever the all-passes together turn by
    half a cycle.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    corner_hz : np.ndarray [shape=(1 or 2, frames)]
        where each all-pass turns by 90 degrees.
    feedback : np.ndarray [shape=(frames,)]
    """
    channels = max(signal.shape[0], corner_hz.shape[0])
    source = stereo(signal) if channels == 2 else signal
    g = np.tan(np.pi * np.minimum(corner_hz / sample_rate, 0.49))
    turn = (g - 1.0) / (g + 1.0)
    turn = stereo(turn) if channels == 2 else turn
    out = np.empty((channels, signal.shape[1]))
    _phase(out, source, turn, feedback, 2 * notches, cancel_flag())
    return out


@njit(cache=True, nogil=True)
def _phase(out, signal, turn, feedback, stages, cancel):  # type: ignore[no-untyped-def]
    """out, signal, turn (channels, frames), turn being each all-pass's coefficient."""
    for channel in range(signal.shape[0]):
        states = np.zeros(stages)
        back = 0.0
        for n in range(signal.shape[1]):
            if n % 4096 == 0 and cancel[0]:
                return
            a = turn[channel, n]
            value = signal[channel, n] + feedback[n] * back
            for k in range(stages):
                # y = a x + s, s' = x - a y: (a + z^-1) / (1 + a z^-1).
                passed = a * value + states[k]
                states[k] = value - a * passed
                if abs(states[k]) < 1e-30:
                    states[k] = 0.0
                value = passed
            back = value
            out[channel, n] = value
