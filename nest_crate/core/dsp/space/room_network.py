"""The late part of a room: a feedback delay network of sixteen lines.

Every line is heard on its way too: so echoes are dense long before the lines end, and the lines can
be long, with resonances closer than wide. Jot and Chaigne, "Digital delay networks for designing
artificial reverberators" (AES 90, 1991): line gains 10 ** (-3 D / RT60), a low-pass in each line
for the damping, and a lossless matrix between them, here a Hadamard matrix.
"""

from __future__ import annotations

import math
from functools import lru_cache
from typing import NamedTuple

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.linalg import hadamard

from nest_crate.core.cancellation import cancel_flag

__all__ = [
    "REFERENCE_RATE",
    "SPEED_OF_SOUND",
    "UNDAMPED_HZ",
    "Network",
    "frames_at",
    "hadamard_in_place",
    "line_lengths",
    "network_answer",
    "rate_inside",
]

_LINES = 16
REFERENCE_RATE = 48000
SPEED_OF_SOUND = 343.0
# Octaves over which line lengths are spread, so that no two have a common measure.
_SPREAD = 1.2
UNDAMPED_HZ = 20000.0
# Of the way across, and as if no room were smaller.
_LONGER, _SMALLEST_M = 1.6, 12.0
_LONGEST_S, _OF_DECAY, _MOST_OF_DECAY = 0.2, 0.18, 0.35
_BLOCK = 256
# How far along the lines they are heard too.
_TAPS = (0.27, 0.55)
# Rows of the matrix by which two sides go into the lines and come out of them.
_INTO, _ONTO = (5, 10), (3, 12)


def line_lengths(size_m: float, decay_s: float, sample_rate: int) -> NDArray[np.int64]:
    """Sixteen lengths in frames, primes at 48 kHz, the middle ones longer than the way across.

    So long that resonances lie closer than they are wide, in small rooms too: what tells of the
    size are the early reflections.
    """
    across_s = _LONGER * max(size_m, _SMALLEST_M) / SPEED_OF_SOUND
    # The longer it rings the narrower resonances are, and the closer they must lie; what rings for
    # a moment must have gone through its lines by then.
    across_s = max(across_s, min(_LONGEST_S, _OF_DECAY * decay_s))
    across = min(across_s, _MOST_OF_DECAY * decay_s) * REFERENCE_RATE
    octaves = _SPREAD * (np.arange(_LINES) / (_LINES - 1) - 0.5)
    lengths: list[int] = []
    for wanted in across * np.exp2(octaves):
        length = max(11, round(float(wanted)))
        while length in lengths or not _is_prime(length):
            length += 1
        lengths.append(length)
    return frames_at(np.array(lengths) / REFERENCE_RATE, sample_rate)


def frames_at(delays_s: NDArray[np.float64], sample_rate: int) -> NDArray[np.int64]:
    """Whole frames at 48 kHz as frames of a rate, so that all delays are the same times at its
    multiples, and the same resonances and combs are heard."""
    at_reference = np.round(np.asarray(delays_s) * REFERENCE_RATE)
    return np.asarray(np.round(at_reference * (sample_rate / REFERENCE_RATE)), dtype=np.int64)


def rate_inside(sample_rate: int) -> int:
    """The multiple of 48 kHz that is next to a rate."""
    return REFERENCE_RATE * max(1, round(sample_rate / REFERENCE_RATE))


def _is_prime(number: int) -> bool:
    return all(number % k for k in range(2, math.isqrt(number) + 1))


class Network(NamedTuple):
    """Lines one after the other, from ``starts`` on, with what each keeps; how two sides go into
    them and come out of them, how many frames back each is heard before its end and how loud, all
    (2, lines). Shared between rooms alike: not to be written."""

    starts: NDArray[np.int64]
    gains: NDArray[np.float64]
    poles: NDArray[np.float64]
    into: NDArray[np.float64]
    onto: NDArray[np.float64]
    taps: NDArray[np.int64]
    tap_gains: NDArray[np.float64]

    def silence(self) -> NDArray[np.float64]:
        """What all lines hold at rest."""
        return np.zeros(int(self.starts[-1]))

    @classmethod
    @lru_cache(maxsize=32)
    def of(cls, *, size_m: float, decay_s: float, damping_hz: float, sample_rate: int) -> Network:
        """A network at rest, whose answer to noise is about as loud as the noise."""
        lengths = line_lengths(size_m, decay_s, sample_rate)
        gains: NDArray[np.float64] = 10.0 ** (
            -3.0 * lengths.astype(np.float64) / (decay_s * sample_rate)
        )
        poles = np.zeros(_LINES)
        if damping_hz < UNDAMPED_HZ:
            poles = _damping_poles(gains, damping_hz, sample_rate)
        matrix = hadamard(_LINES).astype(np.float64)
        parts = np.stack([np.resize(_TAPS, _LINES), np.resize(_TAPS[::-1], _LINES)])
        # Each line comes to rest at 1 / (1 - g^2) of the power fed to it, an eighth of the input's,
        # and is heard at its end and on the way: so noise comes out about as loud as it went in.
        square = float(np.mean(gains**2))
        heard = square + float(np.mean(gains ** (2.0 * parts)))
        level = math.sqrt(8.0 * (1.0 - square) / heard)
        starts = np.concatenate([[0], np.cumsum(lengths)])
        # Signs by rows of the same matrix, so that both sides and all lines share nothing.
        return cls(
            starts,
            gains,
            poles,
            np.ascontiguousarray(matrix[list(_INTO)]) * level / math.sqrt(_LINES),
            np.ascontiguousarray(matrix[list(_ONTO)]) / math.sqrt(_LINES),
            frames_at(parts * lengths / sample_rate, sample_rate),
            gains**parts / math.sqrt(_LINES),
        )


def _damping_poles(
    gains: NDArray[np.float64], damping_hz: float, sample_rate: int
) -> NDArray[np.float64]:
    """One pole p for each line, so that at ``damping_hz`` the line's gain in dB is doubled.

    |(1 - p) / (1 - p e^{-jw})| = g has the closed form used here, with g the line's own gain.
    """
    c = math.cos(2.0 * math.pi * min(damping_hz, 0.45 * sample_rate) / sample_rate)
    square = gains**2
    b = (1.0 - square * c) / (1.0 - square)
    return np.asarray(b - np.sqrt(np.maximum(b * b - 1.0, 0.0)))


def network_answer(fed: NDArray[np.float32], network: Network) -> NDArray[np.float32]:
    """What comes out of a network at rest that is fed by two sides, shape (2, frames)."""
    answer = np.zeros(fed.shape, dtype=np.float32)
    memory = np.zeros(int(network.starts[-1]), dtype=np.float32)
    scales = (0.25 * network.gains * (1.0 - network.poles)).astype(np.float32)
    single = network._replace(
        poles=network.poles.astype(np.float32), tap_gains=network.tap_gains.astype(np.float32)
    )
    level = np.float32(network.into[0, 0])
    _network(answer, fed, memory, single, scales, level, cancel_flag())
    return answer


@njit(cache=True, nogil=True)
def hadamard_in_place(values):  # type: ignore[no-untyped-def]
    """Sixteen values times a Hadamard matrix over 4, in place, by sums and differences."""
    span = 1
    while span < 16:
        for first in range(0, 16, 2 * span):
            for k in range(first, first + span):
                a, b = values[k], values[k + span]
                values[k], values[k + span] = a + b, a - b
        span *= 2
    for k in range(16):
        values[k] *= 0.25


@njit(cache=True, nogil=True, fastmath={"contract"})
def _network(out, signal, memory, network, scales, level, cancel):  # type: ignore[no-untyped-def]
    """out (2, frames) of signal (channels, frames); memory holds all lines one after the other.

    In blocks no longer than the shortest line, within which nothing that is written is read again:
    so every step runs along whole blocks, which is several times quicker than frame by frame.

    The sides go in and out by rows of the matrix that the lines go through anyway: added to one
    line before it, a side goes into all; and a line behind it is the sum that comes out, but for
    what just went in. Scales hold each line's gain, what its low-pass takes in, and the matrix'
    quarter.
    """
    starts, poles = network.starts, network.poles
    lines = poles.shape[0]
    frames = signal.shape[1]
    longest = _BLOCK
    for k in range(lines):
        longest = min(longest, starts[k + 1] - starts[k])
    places = np.zeros(lines, dtype=np.int64)
    damped = np.zeros(lines, dtype=np.float32)
    values = np.zeros((lines, longest), dtype=np.float32)
    right = signal.shape[0] - 1
    for begin in range(0, frames, longest):
        if cancel[0]:
            return
        count = min(longest, frames - begin)
        left_out, right_out = out[0, begin : begin + count], out[1, begin : begin + count]
        for k in range(lines):
            line = memory[starts[k] : starts[k + 1]]
            _read_line(values[k], line, places[k], scales[k], count)
            for side in range(2):
                at = places[k] - network.taps[side, k]
                gain = network.tap_gains[side, k]
                _tap_line(left_out if side == 0 else right_out, line, at, gain, count)
        for k in range(0, lines, 8):
            _damp_eight(values, damped, poles, k, count)
        left_in, right_in = signal[0, begin : begin + count], signal[right, begin : begin + count]
        left_row, right_row = values[_INTO[0]], values[_INTO[1]]
        for n in range(count):
            left_row[n] += level * left_in[n]
            right_row[n] += level * right_in[n]
        _hadamard_rows(values, count)
        left_row, right_row = values[_ONTO[0]], values[_ONTO[1]]
        for n in range(count):
            # The matrix holds -1 wherever a row that goes in meets one that comes out.
            entered = level * (left_in[n] + right_in[n])
            left_out[n] += left_row[n] + entered
            right_out[n] += right_row[n] + entered
        for k in range(lines):
            size = starts[k + 1] - starts[k]
            row = values[k]
            first = min(count, size - places[k])
            line = memory[starts[k] : starts[k + 1]]
            line[places[k] : places[k] + first] = row[:first]
            line[: count - first] = row[first:count]
            places[k] = (places[k] + count) % size


@njit(cache=True, nogil=True)
def _read_line(out, line, place, gain, count):  # type: ignore[no-untyped-def]
    """The oldest frames of a line, each times its gain."""
    first = min(count, line.shape[0] - place)
    older = line[place : place + first]
    for n in range(first):
        out[n] = gain * older[n]
    for n in range(count - first):
        out[first + n] = gain * line[n]


@njit(cache=True, nogil=True)
def _tap_line(out, line, at, gain, count):  # type: ignore[no-untyped-def]
    """Adds what a line holds from a frame on; at least a block of it was written before."""
    size = line.shape[0]
    if at < 0:
        at += size
    first = min(count, size - at)
    older = line[at : at + first]
    for n in range(first):
        out[n] += gain * older[n]
    for n in range(count - first):
        out[first + n] += gain * line[n]


@njit(cache=True, nogil=True, fastmath={"contract"})
def _damp_eight(values, damped, poles, k, count):  # type: ignore[no-untyped-def]
    """Eight lines' low-passes side by side, for each waits for its own last value."""
    d0, d1, d2, d3 = damped[k], damped[k + 1], damped[k + 2], damped[k + 3]
    d4, d5, d6, d7 = damped[k + 4], damped[k + 5], damped[k + 6], damped[k + 7]
    p0, p1, p2, p3 = poles[k], poles[k + 1], poles[k + 2], poles[k + 3]
    p4, p5, p6, p7 = poles[k + 4], poles[k + 5], poles[k + 6], poles[k + 7]
    r0, r1, r2, r3 = values[k], values[k + 1], values[k + 2], values[k + 3]
    r4, r5, r6, r7 = values[k + 4], values[k + 5], values[k + 6], values[k + 7]
    for n in range(count):
        d0, d1, d2, d3 = r0[n] + p0 * d0, r1[n] + p1 * d1, r2[n] + p2 * d2, r3[n] + p3 * d3
        d4, d5, d6, d7 = r4[n] + p4 * d4, r5[n] + p5 * d5, r6[n] + p6 * d6, r7[n] + p7 * d7
        r0[n], r1[n], r2[n], r3[n] = d0, d1, d2, d3
        r4[n], r5[n], r6[n], r7[n] = d4, d5, d6, d7
    damped[k], damped[k + 1], damped[k + 2], damped[k + 3] = d0, d1, d2, d3
    damped[k + 4], damped[k + 5], damped[k + 6], damped[k + 7] = d4, d5, d6, d7
    # Numbers too small to be normal would slow every step of a silent tail.
    for line in range(k, k + 8):
        if abs(damped[line]) < 1e-30:
            damped[line] = 0.0


@njit(cache=True, nogil=True)
def _hadamard_rows(values, count):  # type: ignore[no-untyped-def]
    """Sixteen rows times a Hadamard matrix, in place, by sums and differences.

    Two steps of the four at once: so each row is read and written half as often.
    """
    for span in (1, 4):
        for group in range(0, 16, 4 * span):
            for k in range(group, group + span):
                first, second = values[k], values[k + span]
                third, fourth = values[k + 2 * span], values[k + 3 * span]
                for n in range(count):
                    a, b = first[n] + second[n], first[n] - second[n]
                    c, d = third[n] + fourth[n], third[n] - fourth[n]
                    first[n], second[n] = a + c, b + d
                    third[n], fourth[n] = a - c, b - d
