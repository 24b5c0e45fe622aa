"""A room whose tail is transposed and sent into it again."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.cancellation import cancel_flag
from nest_crate.core.dsp.delays.pitch_heads import Heads, move_heads, read_heads
from nest_crate.core.dsp.space.reflections import diffused
from nest_crate.core.dsp.space.room import widened
from nest_crate.core.dsp.space.room_network import Network, hadamard_in_place
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["shimmer_signal", "shimmer_tail_s"]

_GRAIN_S = 0.09


def shimmer_signal(
    signal: Signal,
    *,
    shift_st: NDArray[np.float64],
    amount: NDArray[np.float64],
    size_m: float,
    decay_s: float,
    damping_hz: float,
    low_cut_hz: float,
    width: float,
    sample_rate: int,
) -> Signal:
    """The room's answer alone, shape (2, frames).

    What is fed back is held by tanh, so that no loop can grow without end; below one semitone of
    shift less is fed back, for the room's own resonances would add up.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    shift_st, amount : np.ndarray [shape=(frames,)]
        how far each round is transposed, and how much of the tail goes round.
    """
    network = Network.of(
        size_m=size_m, decay_s=decay_s, damping_hz=damping_hz, sample_rate=sample_rate
    )
    ratio = np.exp2(shift_st / 12.0)
    back = amount * np.minimum(1.0, np.abs(shift_st))
    # Read faster than written, what lies above would fold back; held back before, twice.
    highest = 0.4 * sample_rate / max(1.0, float(ratio.max()) if ratio.size else 1.0)
    pole = math.exp(-2.0 * math.pi * min(highest, damping_hz) / sample_rate)
    low_pole = math.exp(-2.0 * math.pi * low_cut_hz / sample_rate)
    out = np.zeros((2, signal.shape[1]))
    heads = Heads(4.0, _GRAIN_S * sample_rate, sample_rate)
    late = np.zeros((2, heads.room))
    _shimmer(
        out,
        diffused(signal.astype(np.float32), decay_s, sample_rate).astype(np.float64),
        network.silence(),
        network,
        (late, heads.state(), heads.numbers, heads.search),
        (ratio, back),
        (low_pole, pole),
        cancel_flag(),
    )
    return widened(out, width, low_cut_hz, 20000.0, sample_rate)


def shimmer_tail_s(decay_s: float, amount: float) -> float:
    """Seconds to -100 dB: rounds that keep a part a of the amplitude make it 1 / (1 - a^2) longer.

    For rooms whose power falls as exp(-t / T), fed back by a^2 of it, the sum of all rounds falls
    as exp(-(1 - a^2) t / T).
    """
    return decay_s * (100.0 / 60.0) / (1.0 - amount**2) + 10.0 * _GRAIN_S


@njit(cache=True, nogil=True)
def _shimmer(out, signal, memory, network, heads, course, loop_poles, cancel):  # type: ignore[no-untyped-def]
    """out (2, frames) of signal (2, frames); late (2, ring) is what is transposed."""
    starts, gains, poles, into, onto, tap_frames, tap_gains = network
    late, head_state, numbers, search = heads
    ratio, back = course
    low_pole, pole = loop_poles
    lines = gains.shape[0]
    places = np.zeros(lines, dtype=np.int64)
    damped = np.zeros(lines)
    values = np.zeros(lines)
    size = late.shape[1]
    place = 0
    fed = np.zeros(2)
    smooth = np.zeros((2, 3))
    for n in range(signal.shape[1]):
        if n % 4096 == 0 and cancel[0]:
            return
        left_sum = 0.0
        right_sum = 0.0
        for k in range(lines):
            length = starts[k + 1] - starts[k]
            first, other = places[k] - tap_frames[0, k], places[k] - tap_frames[1, k]
            first = first + length if first < 0 else first
            other = other + length if other < 0 else other
            left_sum += tap_gains[0, k] * memory[starts[k] + first]
            right_sum += tap_gains[1, k] * memory[starts[k] + other]
            read = memory[starts[k] + places[k]] * gains[k]
            damped[k] = (1.0 - poles[k]) * read + poles[k] * damped[k]
            if abs(damped[k]) < 1e-30:
                damped[k] = 0.0
            values[k] = damped[k]
            left_sum += onto[0, k] * values[k]
            right_sum += onto[1, k] * values[k]
        out[0, n] = left_sum
        out[1, n] = right_sum
        for side in range(2):
            shifted = read_heads(late[side], place, head_state)
            fed[side] = np.tanh(back[n] * shifted)
            smooth[side, 0] += (1.0 - pole) * (out[side, n] - smooth[side, 0])
            smooth[side, 1] += (1.0 - pole) * (smooth[side, 0] - smooth[side, 1])
            smooth[side, 2] += (1.0 - low_pole) * (smooth[side, 1] - smooth[side, 2])
            for m in range(3):
                if abs(smooth[side, m]) < 1e-30:
                    smooth[side, m] = 0.0
            late[side, place] = smooth[side, 1] - smooth[side, 2]
        move_heads(late, place, head_state, ratio[n], numbers, search)
        place = place + 1 if place + 1 < size else 0
        hadamard_in_place(values)
        for k in range(lines):
            new = into[0, k] * (signal[0, n] + fed[0]) + into[1, k] * (signal[1, n] + fed[1])
            memory[starts[k] + places[k]] = values[k] + new
            places[k] += 1
            if places[k] == starts[k + 1] - starts[k]:
                places[k] = 0
