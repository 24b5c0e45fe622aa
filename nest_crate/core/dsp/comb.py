"""Comb filters: a delay of one period, fed back and forward, damped in its loop."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from nest_crate.core.cancelling import cancel_flag
from nest_crate.core.dsp.movement import CONTROL_FRAMES, Control
from nest_crate.core.dsp.signals import Signal, pan_signal

__all__ = ["comb_ring_time_s", "comb_signal", "resonator_signal"]

_SHORTEST_FRAMES = 3.0
_LOWEST_HZ = 10.0
UNDAMPED_HZ = 20000.0


def comb_signal(
    signal: Signal,
    *,
    frequency_hz: float | Control,
    feedback: float | Control,
    forward: float | Control,
    damping_hz: float | Control,
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
        corner of the one-pole low-pass in the loop; none from 20 kHz on. This, ``feedback`` and
        ``forward`` may be control signals too.
    """
    hz = np.atleast_1d(np.asarray(frequency_hz, dtype=np.float64))
    hz = np.clip(hz, _LOWEST_HZ, sample_rate / (_SHORTEST_FRAMES + 1.0))
    damping = np.atleast_1d(np.asarray(damping_hz, dtype=np.float64))
    pole = np.where(damping >= UNDAMPED_HZ, 0.0, np.exp(-2.0 * math.pi * damping / sample_rate))
    turn = 2.0 * np.pi * hz / sample_rate
    # Phase delay of (1 - p) / (1 - p z^-1) at the comb's own frequency, in frames.
    late = np.arctan2(pole * np.sin(turn), 1.0 - pole * np.cos(turn)) / turn
    delays = np.maximum(_SHORTEST_FRAMES, sample_rate / hz - late)
    out = np.empty_like(signal)
    gains = [np.atleast_1d(np.asarray(one, dtype=np.float64)) for one in (feedback, forward)]
    points = max(one.size for one in (delays, pole, *gains))
    controls = np.stack([np.broadcast_to(one, (points,)) for one in (delays, *gains, pole)])
    memory = np.zeros(int(np.ceil(delays.max())) + 4)
    for channel in range(signal.shape[0]):
        memory[:] = 0.0
        _comb(out[channel], signal[channel], memory, controls, CONTROL_FRAMES, cancel_flag())
    return out


def resonator_signal(
    signal: Signal,
    *,
    frequencies_hz: list[float],
    ring_s: float,
    damping_hz: float,
    width: float,
    sample_rate: int,
) -> Signal:
    """Combs side by side, each with the feedback that lets it ring for ``ring_s`` to -60 dB.

    Each is lowered by sqrt(1 - feedback^2), so that noise comes out about as loud as it went in,
    and stands at its own place between the sides.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    frequencies_hz
        one to eight, those above hearing left out.
    width
        0 all in the middle.
    """
    heard = [hz for hz in frequencies_hz if hz < 0.25 * sample_rate]
    places = np.linspace(-width, width, len(heard)) if len(heard) > 1 else np.zeros(len(heard))
    # Neighbours stand apart, so that neither side is the bright one.
    places = np.concatenate([places[::2], places[1::2]])
    out = np.zeros((2 if width > 0.0 or signal.shape[0] == 2 else 1, signal.shape[1]))
    for hz, place in zip(heard, places, strict=True):
        feedback = 10.0 ** (-3.0 / (hz * ring_s))
        rung = comb_signal(
            signal,
            frequency_hz=hz,
            feedback=feedback,
            forward=0.0,
            damping_hz=damping_hz,
            sample_rate=sample_rate,
        )
        gain = math.sqrt((1.0 - feedback**2) / len(heard))
        out += pan_signal(rung * gain, float(place))
    return out


def comb_ring_time_s(frequency_hz: float, feedback: float, fall_db: float = 60.0) -> float:
    """Seconds in which an undamped comb's ring falls by so much: one period for each round.

    For 60 dB this is 6.91 times the period over -ln(feedback).
    """
    if feedback == 0.0:
        return 1.0 / frequency_hz
    return fall_db / 20.0 * math.log(10.0) / (frequency_hz * -math.log(abs(feedback)))


@njit(cache=True, nogil=True)
def _comb(out, signal, memory, controls, block, cancel):  # type: ignore[no-untyped-def]
    """One channel (frames,); memory is a ring; controls (4, points) are delay in frames, feedback,
    forward and the damping's pole, given each block frames and followed along straight lines.

    Read by cubic (Lagrange) between frames.
    """
    size = memory.shape[0]
    damped = 0.0
    place = 0
    last = controls.shape[1] - 1
    delay, feedback, forward, pole = controls[0, 0], controls[1, 0], controls[2, 0], controls[3, 0]
    step = feedback_step = forward_step = pole_step = 0.0
    for n in range(out.shape[0]):
        if n % 4096 == 0 and cancel[0]:
            return
        if n % block == 0:
            here, after = min(n // block, last), min(n // block + 1, last)
            delay, feedback = controls[0, here], controls[1, here]
            forward, pole = controls[2, here], controls[3, here]
            step = (controls[0, after] - delay) / block
            feedback_step = (controls[1, after] - feedback) / block
            forward_step = (controls[2, after] - forward) / block
            pole_step = (controls[3, after] - pole) / block
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
        feedback += feedback_step
        forward += forward_step
        pole += pole_step
