"""Comb filters: a delay of one period, fed back and forward, damped in its loop."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from nest_crate.core.dsp.movement import CONTROL_FRAMES, Control
from nest_crate.core.dsp.signals import Signal

__all__ = ["comb_ring_time_s", "comb_signal"]

_SHORTEST_FRAMES = 3.0
_LOWEST_HZ = 10.0
UNDAMPED_HZ = 20000.0


def comb_signal(
    signal: Signal,
    *,
    frequency_hz: float | Control,
    feedback: float,
    forward: float,
    damping_hz: float,
    sample_rate: int,
) -> Signal:
    """A comb whose peaks lie at the multiples of a frequency, or for negative feedback between.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    frequency_hz
        one number, or a control signal that is followed along straight lines. The delay is made
        shorter by what the loop's damping delays there, so that the first peak is in tune.
    feedback
        loop gain from -1 to 1, both excluded: y(n) = x(n) + feedback * y(n - period).
    forward
        adds the delayed signal to the output by so much: 1 deepens the notches to silence.
    damping_hz
        corner of the one-pole low-pass in the loop; none from 20 kHz on.
    """
    hz = np.atleast_1d(np.asarray(frequency_hz, dtype=np.float64))
    hz = np.clip(hz, _LOWEST_HZ, sample_rate / (_SHORTEST_FRAMES + 1.0))
    undamped = damping_hz >= UNDAMPED_HZ
    pole = 0.0 if undamped else math.exp(-2.0 * math.pi * damping_hz / sample_rate)
    turn = 2.0 * np.pi * hz / sample_rate
    # Phase delay of (1 - p) / (1 - p z^-1) at the comb's own frequency, in frames.
    late = np.arctan2(pole * np.sin(turn), 1.0 - pole * np.cos(turn)) / turn
    delays = np.maximum(_SHORTEST_FRAMES, sample_rate / hz - late)
    out = np.empty_like(signal)
    memory = np.zeros(int(np.ceil(delays.max())) + 4)
    for channel in range(signal.shape[0]):
        memory[:] = 0.0
        _comb(
            out[channel], signal[channel], memory, delays, CONTROL_FRAMES, feedback, forward, pole
        )
    return out


def comb_ring_time_s(frequency_hz: float, feedback: float, fall_db: float = 60.0) -> float:
    """Seconds in which an undamped comb's ring falls by so much: one period for each round.

    For 60 dB this is 6.91 times the period over -ln(feedback).
    """
    if feedback == 0.0:
        return 1.0 / frequency_hz
    return fall_db / 20.0 * math.log(10.0) / (frequency_hz * -math.log(abs(feedback)))


@njit(cache=True, nogil=True)
def _comb(out, signal, memory, delays, block, feedback, forward, pole):  # type: ignore[no-untyped-def]
    """One channel (frames,); memory is a ring; delays in frames are given each block frames.

    Read by cubic (Lagrange) between frames.
    """
    size = memory.shape[0]
    damped = 0.0
    place = 0
    delay = delays[0]
    step = 0.0
    for n in range(out.shape[0]):
        if n % block == 0:
            point = n // block
            delay = delays[min(point, delays.shape[0] - 1)]
            step = (delays[min(point + 1, delays.shape[0] - 1)] - delay) / block
        whole = int(delay)
        x = delay - whole
        # The four frames around the delay, newest first.
        a = memory[(place - whole + 1) % size]
        b = memory[(place - whole) % size]
        c = memory[(place - whole - 1) % size]
        d = memory[(place - whole - 2) % size]
        c1 = c - a / 3.0 - b * 0.5 - d / 6.0
        c2 = (a + c) * 0.5 - b
        c3 = (d - a) / 6.0 + (b - c) * 0.5
        delayed = ((c3 * x + c2) * x + c1) * x + b
        damped = (1.0 - pole) * delayed + pole * damped
        if abs(damped) < 1e-30:
            damped = 0.0
        fed = signal[n] + feedback * damped
        memory[place] = fed
        out[n] = fed + forward * damped
        place = (place + 1) % size
        delay += step
