"""Delays whose time may move: echoes and choruses, read between frames by cubics."""

from __future__ import annotations

import math
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.cancellation import cancel_flag
from nest_crate.core.dsp.util.interpolation import cubic, cubic_weights
from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, Control
from nest_crate.core.dsp.util.signals import Signal

__all__ = [
    "SHORTEST_FRAMES",
    "between_frames",
    "chorus_signal",
    "echo_signal",
    "echo_tail_s",
    "stereo",
]

SHORTEST_FRAMES = 3.0


class Loop(NamedTuple):
    """The poles of an echo's loop, and whether each echo goes to the other side."""

    low_pole: float
    high_pole: float
    crossing: bool


def _pole(corner_hz: float | Control, sample_rate: int) -> NDArray[np.float64]:
    """The poles of first-order filters with these corners, one each control point."""
    corners_hz = np.atleast_1d(np.asarray(corner_hz, dtype=np.float64))
    return np.array([math.exp(-2.0 * math.pi * hz / sample_rate) for hz in corners_hz])


def stereo(signal: Signal) -> Signal:
    """Two channels, the same on both sides where there was one."""
    return signal if signal.shape[0] == 2 else np.repeat(signal, 2, axis=0)


def echo_signal(
    signal: Signal,
    *,
    time_s: float | Control,
    feedback: float | Control,
    crossing: bool,
    low_cut_hz: float | Control,
    high_cut_hz: float | Control,
    sample_rate: int,
    wobble: NDArray[np.float64] | None = None,
) -> Signal:
    """The echoes alone: x(n - D), then ``feedback`` times that again, through one pole each way.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    time_s, feedback
        numbers, or control signals that are followed along straight lines.
    crossing
        each echo goes to the other side; the result has two channels then, and what was mono
        begins on the left.
    low_cut_hz, high_cut_hz
        corners of the first-order filters in the loop, as the former two may move; the first echo
        has passed them once.
    wobble : np.ndarray [shape=(frames,)]
        seconds added to the time at each frame.
    """
    delays = np.atleast_1d(np.asarray(time_s, dtype=np.float64)) * sample_rate
    delays = np.maximum(SHORTEST_FRAMES, delays)
    gains = np.atleast_1d(np.asarray(feedback, dtype=np.float64))
    poles = [_pole(corner_hz, sample_rate) for corner_hz in (low_cut_hz, high_cut_hz)]
    points = max(one.size for one in (delays, gains, *poles))
    controls = np.stack([np.broadcast_to(one, (points,)) for one in (delays, gains, *poles)])
    source = signal
    if crossing:
        source = stereo(signal)
        if signal.shape[0] == 1:
            source = np.stack([signal[0], np.zeros(signal.shape[1])])
    out = np.empty_like(source)
    if points == 1 and wobble is None:
        loop = Loop(float(poles[0][0]), float(poles[1][0]), crossing)
        line = np.zeros((source.shape[0], math.ceil(delays[0]) + 4 + source.shape[1]))
        _still_echo(out, source, line, float(delays[0]), float(gains[0]), loop, cancel_flag())
        return out
    wobbling = np.zeros(0) if wobble is None else wobble * sample_rate
    furthest = float(wobbling.max()) if wobbling.size else 0.0
    memory = np.zeros((source.shape[0], int(np.ceil(delays.max() + furthest)) + 4))
    _echo(out, source, memory, controls, crossing, wobbling, cancel_flag())
    return out


_STILL_BLOCK = 256


@njit(cache=True, nogil=True, fastmath={"contract"})
def _still_echo(out, signal, line, delay, feedback, loop, cancel):  # type: ignore[no-untyped-def]
    """As ``_echo`` for a delay that stays, in blocks within which nothing written is read again.

    out and signal (1 or 2 channels, frames); line (channels, frames and more) holds silence first.
    """
    low_pole, high_pole, crossing = loop
    last, frames = signal.shape[0] - 1, signal.shape[1]
    whole = int(delay)
    t = delay - whole
    start = line.shape[1] - frames
    # Weights of the four frames around, newest first.
    w0, w1, w2, w3 = cubic_weights(t)
    block = max(1, min(_STILL_BLOCK, whole - 2))
    smooth = slow = smooth_right = slow_right = 0.0
    taken, kept = 1.0 - high_pole, 1.0 - low_pole
    for begin in range(0, frames, block):
        if cancel[0]:
            return
        count = min(block, frames - begin)
        at = start + begin - whole
        for channel in range(last + 1):
            x, here = line[channel], out[channel, begin : begin + count]
            newest, newer = x[at + 1 : at + 1 + count], x[at : at + count]
            older, oldest = x[at - 1 : at - 1 + count], x[at - 2 : at - 2 + count]
            for n in range(count):
                late = w0 * newest[n] + w1 * newer[n] + w2 * older[n] + w3 * oldest[n]
                here[n] = taken * late
        left, right = out[0, begin : begin + count], out[last, begin : begin + count]
        for n in range(count):
            smooth = left[n] + high_pole * smooth
            slow = kept * smooth + low_pole * slow
            if last == 1:
                smooth_right = right[n] + high_pole * smooth_right
                slow_right = kept * smooth_right + low_pole * slow_right
                right[n] = smooth_right - slow_right
            left[n] = smooth - slow
        if abs(smooth) < 1e-30 and abs(slow) < 1e-30:
            smooth = slow = 0.0
        if abs(smooth_right) < 1e-30 and abs(slow_right) < 1e-30:
            smooth_right = slow_right = 0.0
        for channel in range(last + 1):
            back = out[last - channel if crossing else channel, begin : begin + count]
            new = signal[channel, begin : begin + count]
            to = line[channel, start + begin : start + begin + count]
            for n in range(count):
                to[n] = new[n] + feedback * back[n]


def echo_tail_s(time_s: float, feedback: float) -> float:
    """Seconds in which the echoes fall by 100 dB, one more for the last."""
    loops = 1.0 if feedback == 0.0 else math.log(1e-5) / math.log(min(0.999, abs(feedback)))
    return time_s * (1.0 + max(1.0, loops))


@njit(cache=True, nogil=True)
def between_frames(memory, place, delay):  # type: ignore[no-untyped-def]
    """A ring's value ``delay`` frames before the one at ``place``, cubic (Lagrange)."""
    size = memory.shape[0]
    whole = int(delay)
    x = delay - whole
    # Wrapped by comparing, for a division at every reading would cost more than all else.
    at = place - whole
    if at < 0:
        at += size
    before = at - 1 if at > 0 else size - 1
    earlier = before - 1 if before > 0 else size - 1
    after = at + 1 if at + 1 < size else 0
    return cubic(memory[after], memory[at], memory[before], memory[earlier], x)


@njit(cache=True, nogil=True)
def _echo(out, signal, memory, controls, crossing, wobble, cancel):  # type: ignore[no-untyped-def]
    """out and signal (channels, frames); memory (channels, ring); controls (4, points), one each
    CONTROL_FRAMES: the delay in frames, the feedback, and the poles of low and high cut."""
    block = CONTROL_FRAMES
    channels = signal.shape[0]
    size = memory.shape[1]
    last = controls.shape[1] - 1
    smooth, slow = np.zeros(channels), np.zeros(channels)
    delay = feedback = delay_step = feedback_step = 0.0
    low_pole = high_pole = low_step = high_step = 0.0
    place = 0
    for n in range(signal.shape[1]):
        if n % 4096 == 0 and cancel[0]:
            return
        if n % block == 0:
            here, after = min(n // block, last), min(n // block + 1, last)
            delay, feedback = controls[0, here], controls[1, here]
            delay_step = (controls[0, after] - delay) / block
            feedback_step = (controls[1, after] - feedback) / block
            low_pole, high_pole = controls[2, here], controls[3, here]
            low_step = (controls[2, after] - low_pole) / block
            high_step = (controls[3, after] - high_pole) / block
        far = delay
        if wobble.shape[0]:
            far = max(SHORTEST_FRAMES, delay + wobble[n])
        for channel in range(channels):
            late = between_frames(memory[channel], place, far)
            smooth[channel] = (1.0 - high_pole) * late + high_pole * smooth[channel]
            slow[channel] = (1.0 - low_pole) * smooth[channel] + low_pole * slow[channel]
            if abs(smooth[channel]) < 1e-30:
                smooth[channel] = 0.0
            if abs(slow[channel]) < 1e-30:
                slow[channel] = 0.0
            out[channel, n] = smooth[channel] - slow[channel]
        for channel in range(channels):
            back = channels - 1 - channel if crossing else channel
            memory[channel, place] = signal[channel, n] + feedback * out[back, n]
        place = place + 1 if place + 1 < size else 0
        delay += delay_step
        feedback += feedback_step
        low_pole += low_step
        high_pole += high_step


class ChorusCourse(NamedTuple):
    """Of each frame (frames,): the middle of the delay and how far it swings, in frames, and the
    feedback."""

    base: NDArray[np.float64]
    depth: NDArray[np.float64]
    feedback: NDArray[np.float64]


def chorus_signal(
    signal: Signal,
    *,
    voices: int,
    delay_s: float | NDArray[np.float64],
    depth_s: float | NDArray[np.float64],
    cycles: NDArray[np.float64],
    feedback: float | NDArray[np.float64],
    width: float,
    sample_rate: int,
) -> Signal:
    """The late copies alone, at 1 / sqrt(voices) each, spread over two sides.

    Parameters
    ----------
    delay_s, depth_s, feedback
        the middle of the delay, how far it goes to either side, and how much of the copies' sum is
        fed back: numbers, or arrays (frames,).
    cycles : np.ndarray [shape=(frames,)]
        how many have gone by.
    width
        0 all in the middle, 1 the outermost voices on one side each.
    """
    if not signal.shape[1]:
        return np.empty((2, 0))
    base = np.maximum(SHORTEST_FRAMES, np.atleast_1d(delay_s) * sample_rate)
    depth = np.minimum(np.atleast_1d(depth_s) * sample_rate, base - SHORTEST_FRAMES)
    places = np.linspace(-width, width, voices) if voices > 1 else np.zeros(1)
    angles = (places + 1.0) * np.pi / 4.0
    gains = np.sqrt(2.0 / voices) * np.stack([np.cos(angles), np.sin(angles)])
    source = stereo(signal)
    reach = int(np.ceil((base + depth).max())) + 4
    apart = 2.0 * np.pi * np.arange(voices) / voices
    swings = np.empty((2, cycles.size))
    _turns(swings, cycles)
    turned = np.stack([np.cos(apart), np.sin(apart)])
    if not np.any(feedback):
        # In single precision, whose rounding lies 140 dB below: twice as much at a time.
        padded = np.zeros((2, reach + source.shape[1] + 2), dtype=np.float32)
        padded[:, reach:-2] = source
        copies = np.zeros(source.shape, dtype=np.float32)
        delays = np.empty(cycles.size)
        for voice in range(voices):
            _delays(delays, base, depth, swings, turned[:, voice])
            _add_copy(copies, padded, reach, delays, gains[:, voice].astype(np.float32))
        return copies.astype(np.float64)
    out, memory = np.empty_like(source), np.zeros((2, reach))
    frames = cycles.shape
    course = ChorusCourse(
        *(np.ascontiguousarray(np.broadcast_to(one, frames)) for one in (base, depth, feedback))
    )
    _chorus(out, source, memory, course, swings, turned, gains, cancel_flag())
    return out


@njit(cache=True, nogil=True)
def _delays(out, base, depth, swings, turned):  # type: ignore[no-untyped-def]
    """One voice's delay at each frame: as ``_chorus`` has it; base and depth (frames,) or (1,)."""
    sines, cosines = swings[0], swings[1]
    a, b = turned[0], turned[1]
    if base.shape[0] == 1 and depth.shape[0] == 1:
        middle, far_a, far_b = base[0], depth[0] * a, depth[0] * b
        for n in range(out.shape[0]):
            out[n] = middle + (sines[n] * far_a + cosines[n] * far_b)
        return
    last_base, last_depth = base.shape[0] - 1, depth.shape[0] - 1
    for n in range(out.shape[0]):
        far = depth[min(n, last_depth)]
        out[n] = base[min(n, last_base)] + far * (sines[n] * a + cosines[n] * b)


@njit(cache=True, nogil=True)
def _add_copy(out, padded, reach, delays, gains):  # type: ignore[no-untyped-def]
    """One voice without feedback, read straight from what comes in: as ``_chorus`` reads it.

    padded (2, frames and more) holds ``reach`` frames of silence before the signal. As long as the
    whole frames of a delay stay the same its readings follow each other, and the loop over them is
    vectorized.
    """
    frames = out.shape[1]
    begin = 0
    while begin < frames:
        whole = int(delays[begin])
        end = begin + 1
        while end < frames and int(delays[end]) == whole:
            end += 1
        at = reach + begin - whole
        read = slice(at - 2, at + 1 + end - begin)
        both = (out[0, begin:end], out[1, begin:end])
        _add_stretch(both, (padded[0, read], padded[1, read]), delays[begin:end], whole, gains)
        begin = end


@njit(cache=True, nogil=True, fastmath={"contract"})
def _add_stretch(out, x, delays, whole, gains):  # type: ignore[no-untyped-def]
    """x, two sides of (frames + 3,), between its frames by a cubic (Lagrange), the oldest neighbour
    first; added to out, two sides of (frames,)."""
    left, right = out
    count = left.shape[0]
    left_0, left_1, left_2, left_3 = (
        x[0][:count],
        x[0][1 : 1 + count],
        x[0][2 : 2 + count],
        x[0][3 : 3 + count],
    )
    right_0, right_1, right_2, right_3 = (
        x[1][:count],
        x[1][1 : 1 + count],
        x[1][2 : 2 + count],
        x[1][3 : 3 + count],
    )
    half, third, sixth = np.float32(0.5), np.float32(1.0 / 3.0), np.float32(1.0 / 6.0)
    one = np.float32(1.0)
    for n in range(count):
        t = np.float32(delays[n] - whole)
        # Weights of the four frames around, the same for both sides.
        w3 = t * (t * (half - sixth * t) - third)
        w2 = one + t * (t * (half * t - one) - half)
        w1 = t * (one + t * (half - half * t))
        w0 = t * (t * t - one) * sixth
        left[n] += gains[0] * (
            (w0 * left_0[n] + w1 * left_1[n]) + (w2 * left_2[n] + w3 * left_3[n])
        )
        right[n] += gains[1] * (
            (w0 * right_0[n] + w1 * right_1[n]) + (w2 * right_2[n] + w3 * right_3[n])
        )


_TURN_FRAMES = 32


@njit(cache=True, nogil=True)
def _turns(out, cycles):  # type: ignore[no-untyped-def]
    """Sine and cosine, (2, frames), of cycles (frames,).

    Exact at every 32nd frame; between two of them turned by equal steps, for a modulation changes
    its rate by far less in half a millisecond.
    """
    frames = cycles.shape[0]
    for first in range(0, frames, _TURN_FRAMES):
        last = min(first + _TURN_FRAMES, frames - 1)
        angle = 2.0 * np.pi * cycles[first]
        steps = max(1, last - first)
        step = 2.0 * np.pi * (cycles[last] - cycles[first]) / steps
        turn_s, turn_c = np.sin(step), np.cos(step)
        s, c = np.sin(angle), np.cos(angle)
        for n in range(first, min(first + _TURN_FRAMES, frames)):
            out[0, n], out[1, n] = s, c
            s, c = s * turn_c + c * turn_s, c * turn_c - s * turn_s


@njit(cache=True, nogil=True)
def _chorus(out, signal, memory, course, swings, turned, gains, cancel):  # type: ignore[no-untyped-def]
    """out, signal (2, frames); memory (2, ring); gains (2, voices).

    Voice v swings as sin(a + b) = sin a cos b + cos a sin b, of swings (2, frames) holding sin a
    and cos a, turned (2, voices) cos b and sin b.
    """
    base, depth, feedback = course
    voices = gains.shape[1]
    size = memory.shape[1]
    place = 0
    for n in range(signal.shape[1]):
        if n % 4096 == 0 and cancel[0]:
            return
        sums = 0.0
        sums_right = 0.0
        for voice in range(voices):
            turn = swings[0, n] * turned[0, voice] + swings[1, n] * turned[1, voice]
            delay = base[n] + depth[n] * turn
            sums += gains[0, voice] * between_frames(memory[0], place, delay)
            sums_right += gains[1, voice] * between_frames(memory[1], place, delay)
        if abs(sums) < 1e-30:
            sums = 0.0
        if abs(sums_right) < 1e-30:
            sums_right = 0.0
        out[0, n], out[1, n] = sums, sums_right
        # Copies add by power; divided by their root the loop's gain is never above the feedback.
        back = feedback[n] / np.sqrt(voices)
        memory[0, place] = signal[0, n] + back * sums
        memory[1, place] = signal[1, n] + back * sums_right
        place = place + 1 if place + 1 < size else 0
