"""Comb filters: a delay of one period, fed back and forward, damped in its loop."""

from __future__ import annotations

import math

import numpy as np
from numba import njit

from nest_crate.core.cancellation import cancel_flag
from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, Control
from nest_crate.core.dsp.util.signals import Signal, pan_signal

__all__ = [
    "MOST_FEEDBACK",
    "comb_ring_time_s",
    "comb_signal",
    "damping_pole",
    "resonator_signal",
    "ringing_feedback",
    "ringing_loop",
]

# Moved, the delay is read through eight frames, half of them newer.
_SHORTEST_FRAMES, _SHORTEST_STILL = 4.0, 1.5
MOST_FEEDBACK = 0.99999
# 1 over the products of k - j for all other j from 0 to 7.
_INVERSE = tuple(1.0 / math.prod(k - j for j in range(8) if j != k) for k in range(8))
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
    pole: float | None = None,
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
    pole
        of the low-pass itself, instead of its corner.
    """
    given = (frequency_hz, feedback, forward, damping_hz)
    hz, gain, ahead, damping = (np.atleast_1d(np.asarray(one, dtype=np.float64)) for one in given)
    points = max(one.size for one in (hz, gain, ahead, damping))
    hz = np.clip(hz, _LOWEST_HZ, sample_rate / (_SHORTEST_FRAMES + 1.0))
    poles = damping_pole(damping, sample_rate) if pole is None else np.array([pole])
    # Negative feedback puts the first peak at half the frequency.
    peak_hz = np.where(gain < 0.0, 0.5 * hz, hz)
    delays = _tuned_delay(peak_hz, sample_rate / hz, gain, poles, sample_rate)
    delays = np.maximum(_SHORTEST_FRAMES, delays)
    out = np.empty_like(signal)
    controls = np.stack([np.broadcast_to(one, (points,)) for one in (delays, gain, ahead, poles)])
    memory = np.zeros(int(np.ceil(delays.max())) + 8)
    for channel in range(signal.shape[0]):
        memory[:] = 0.0
        _comb(out[channel], signal[channel], memory, controls, CONTROL_FRAMES, cancel_flag())
    return out


def ringing_loop(
    signal: Signal, hz: float, *, feedback: float, pole: float, sample_rate: int
) -> Signal:
    """A comb that stands still and rings long: y(n) = x(n) + feedback * y(n - period), damped by a
    low-pass of one pole, through an all-pass that takes nothing from the ring."""
    hz = min(max(hz, _LOWEST_HZ), sample_rate / (_SHORTEST_STILL + 1.0))
    turn = 2.0 * math.pi * hz / sample_rate
    peak, period, gain, poles = (np.array([one]) for one in (hz, sample_rate / hz, feedback, pole))
    delay = float(_tuned_delay(peak, period, gain, poles, sample_rate)[0])
    whole, allpass = _split_delay(max(_SHORTEST_STILL, delay), turn)
    out = np.empty_like(signal)
    for channel in range(signal.shape[0]):
        memory = np.zeros(whole + 1)
        given = (allpass, feedback, 0.0, pole)
        _still_comb(out[channel], signal[channel], memory, given, cancel_flag())
    return out


def damping_pole(damping_hz: float | Control, sample_rate: int) -> Control:
    """The pole p of the loop's low-pass (1 - p) / (1 - p z^-1); 0 where it is open."""
    damping = np.asarray(damping_hz, dtype=np.float64)
    pole = np.exp(-2.0 * math.pi * damping / sample_rate)
    return np.asarray(np.where(damping >= UNDAMPED_HZ, 0.0, pole))


def _low_pass(pole: Control, turn: Control) -> tuple[Control, Control, Control]:
    """Magnitude, phase delay and group delay in frames of the loop's low-pass."""
    size = (1.0 - pole) / np.sqrt(1.0 - 2.0 * pole * np.cos(turn) + pole**2)
    phase = np.arctan2(pole * np.sin(turn), 1.0 - pole * np.cos(turn)) / turn
    group = (pole * np.cos(turn) - pole**2) / (1.0 - 2.0 * pole * np.cos(turn) + pole**2)
    return size, phase, group


def _tuned_delay(
    peak_hz: Control, period: Control, feedback: Control, pole: Control, sample_rate: int
) -> Control:
    """Frames of delay by which the loop's first peak comes to lie where it is asked for.

    The loop's phase is closed there, but for what the low-pass' slope leans the peak to the side:
    with G the loop's gain and t its phase, |1 - G exp(j t)| is least where
    G' (G - cos t) + G sin t t' = 0.
    """
    turn = 2.0 * np.pi * peak_hz / sample_rate
    size, late, _ = _low_pass(pole, turn)
    step = 1e-4 * turn
    slope = (_low_pass(pole, turn + step)[0] - size) / step
    gain = np.maximum(np.abs(feedback) * size, 1e-6)
    lean = np.abs(feedback) * slope * (1.0 - gain) / (gain * period)
    return np.asarray(period - late + np.clip(lean, -0.3, 0.3) / turn)


def _split_delay(delay: float, turn: float) -> tuple[int, float]:
    """A delay as whole frames and an all-pass whose delay is exact at a turn in radians a frame.

    Of one coefficient, whose magnitude is 1 everywhere: a ring loses nothing by it (Jaffe and
    Smith, "Extensions of the Karplus-Strong Plucked-String Algorithm", 1983, equation 16).
    """
    # At high turns no rest may come near the one whose sine vanishes below.
    whole = int(delay - (0.5 if turn < 1.5 else 0.1))
    rest = delay - whole
    return whole, math.sin(0.5 * (1.0 - rest) * turn) / math.sin(0.5 * (1.0 + rest) * turn)


def ringing_feedback(hz: float, ring_s: float, pole: float, sample_rate: int) -> float:
    """The loop gain by which a comb that stands still rings for ``ring_s`` to -60 dB at its pitch.

    Each round takes as long as the loop's group delay there, and loses what the low-pass takes. At
    0 Hz the loop stays below 1, so what is damped below its own pitch cannot ring as long.
    """
    hz = min(hz, sample_rate / (_SHORTEST_STILL + 1.0))
    turn = 2.0 * math.pi * hz / sample_rate
    size, late, group = (float(one) for one in _low_pass(np.asarray(pole), np.asarray(turn)))
    delay = max(_SHORTEST_STILL, sample_rate / hz - late)
    whole, allpass = _split_delay(delay, turn)
    passed = (1.0 - allpass**2) / (1.0 + 2.0 * allpass * math.cos(turn) + allpass**2)
    rounds = whole + passed + group
    wanted = 10.0 ** (-3.0 * rounds / (ring_s * sample_rate)) / size
    return float(min(MOST_FEEDBACK, wanted))


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
        pole = float(damping_pole(damping_hz, sample_rate))
        feedback = ringing_feedback(hz, ring_s, pole, sample_rate)
        rung = ringing_loop(signal, hz, feedback=feedback, pole=pole, sample_rate=sample_rate)
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
def _still_comb(out, signal, memory, numbers, cancel):  # type: ignore[no-untyped-def]
    """One channel (frames,); memory is a ring as long as the whole frames of the delay, numbers the
    all-pass' coefficient, feedback, forward and the damping's pole."""
    allpass, feedback, forward, pole = numbers
    size = memory.shape[0] - 1
    damped = passed = before = 0.0
    place = 0
    for n in range(out.shape[0]):
        if n % 4096 == 0 and cancel[0]:
            return
        late = memory[place]
        passed = allpass * (late - passed) + before
        before = late
        damped = (1.0 - pole) * passed + pole * damped
        if abs(damped) < 1e-30 and abs(passed) < 1e-30:
            damped = passed = 0.0
        fed = signal[n] + feedback * damped
        memory[place] = fed
        out[n] = fed + forward * damped
        place = place + 1 if place + 1 < size else 0


@njit(cache=True, nogil=True)
def _weights(weights, x):  # type: ignore[no-untyped-def]
    """Lagrange's weights (8,) for a place x of the way from the fourth of eight frames to the
    fifth: each is the product of its distances to the others, left of it times right of it."""
    left = 1.0
    for k in range(8):
        weights[k] = left
        left *= x + 3.0 - k
    right = 1.0
    for k in range(7, -1, -1):
        weights[k] *= right * _INVERSE[k]
        right *= x + 3.0 - k


@njit(cache=True, nogil=True)
def _comb(out, signal, memory, controls, block, cancel):  # type: ignore[no-untyped-def]
    """One channel (frames,); memory is a ring; controls (4, points) are delay in frames, feedback,
    forward and the damping's pole, given each block frames and followed along straight lines.

    Read between frames by Lagrange's polynomials through eight of them, which take less than
    0.0001 dB from a ring of 4 kHz at each round.
    """
    size = memory.shape[0]
    damped = 0.0
    place = 0
    last = controls.shape[1] - 1
    delay, feedback, forward, pole = controls[0, 0], controls[1, 0], controls[2, 0], controls[3, 0]
    step = feedback_step = forward_step = pole_step = 0.0
    weights = np.empty(8)
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
        _weights(weights, delay - whole)
        # The newest of the eight frames around the delay.
        at = place - whole + 3
        if at < 0:
            at += size
        delayed = 0.0
        for k in range(8):
            delayed += weights[k] * memory[at]
            at = at - 1 if at > 0 else size - 1
        damped = (1.0 - pole) * delayed + pole * damped
        if abs(damped) < 1e-30:
            damped = 0.0
        fed = signal[n] + feedback * damped
        memory[place] = fed
        out[n] = fed + forward * damped
        place = place + 1 if place + 1 < size else 0
        delay += step
        feedback += feedback_step
        forward += forward_step
        pole += pole_step
