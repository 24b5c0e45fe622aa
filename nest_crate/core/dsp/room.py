"""A room: early reflections of a box, and a feedback delay network of sixteen lines.

What goes into the lines passes all-passes first, and every line is heard on its way too: so echoes
are dense long before the lines end, and the lines can be long, with resonances closer than wide.
Jot and Chaigne, "Digital delay networks for designing artificial reverberators" (AES 90, 1991):
line gains 10 ** (-3 D / RT60), a low-pass in each line for the damping, and a lossless matrix
between them, here a Hadamard matrix.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.linalg import hadamard

from nest_crate.core.cancelling import cancel_flag
from nest_crate.core.dsp.filters import filter_signal, high_cut
from nest_crate.core.dsp.resampling import resample
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.dsp.sweeping import swept_copy

__all__ = [
    "Network",
    "diffused",
    "hadamard_in_place",
    "line_lengths",
    "room_signal",
    "room_tail_s",
    "widened",
]

_LINES = 16
_REFERENCE_RATE = 48000
_SPEED_OF_SOUND = 343.0
# Octaves over which line lengths are spread, so that no two have a common measure.
_SPREAD = 1.2
_UNDAMPED_HZ = 20000.0
# Of the way across, and as if no room were smaller.
_LONGER, _SMALLEST_M = 1.6, 12.0
_LONGEST_S, _OF_DECAY, _MOST_OF_DECAY = 0.2, 0.18, 0.35
# A box that many rooms are like, where it is heard and where the sound is, as parts of its sides.
_BOX = (1.0, 0.83, 0.61)
_SOURCE, _EARS = (0.31, 0.42, 0.37), ((0.68, 0.57, 0.52), (0.74, 0.48, 0.55))
_REFLECTIONS = 40
# How loud the early reflections are beside what the lines make.
_EARLY_LEVEL = 0.5
_BLOCK = 256
# All-passes before the lines: their delays for each side, how much, and the decay from which they
# are as long.
_DIFFUSERS_S = (
    (0.0006, 0.0010, 0.0016, 0.0027, 0.0042, 0.0066, 0.0106, 0.0166),
    (0.0007, 0.0009, 0.0017, 0.0025, 0.0045, 0.0064, 0.0112, 0.0159),
)
_DIFFUSION, _WHOLE_FROM_S = 0.6, 1.0
# How far along the lines they are heard too.
_TAPS = (0.27, 0.55)
# Rows of the matrix by which two sides go into the lines and come out of them.
_INTO, _ONTO = (5, 10), (3, 12)


def line_lengths(size_m: float, decay_s: float, sample_rate: int) -> NDArray[np.int64]:
    """Sixteen lengths in frames, primes at 48 kHz, the middle ones longer than the way across.

    So long that resonances lie closer than they are wide, in small rooms too: what tells of the
    size are the early reflections.
    """
    across_s = _LONGER * max(size_m, _SMALLEST_M) / _SPEED_OF_SOUND
    # The longer it rings the narrower resonances are, and the closer they must lie; what rings for
    # a moment must have gone through its lines by then.
    across_s = max(across_s, min(_LONGEST_S, _OF_DECAY * decay_s))
    across = min(across_s, _MOST_OF_DECAY * decay_s) * _REFERENCE_RATE
    octaves = _SPREAD * (np.arange(_LINES) / (_LINES - 1) - 0.5)
    lengths: list[int] = []
    for wanted in across * np.exp2(octaves):
        length = max(11, round(float(wanted)))
        while length in lengths or not _is_prime(length):
            length += 1
        lengths.append(length)
    return _frames(np.array(lengths) / _REFERENCE_RATE, sample_rate)


def _frames(delays_s: NDArray[np.float64], sample_rate: int) -> NDArray[np.int64]:
    """Whole frames at 48 kHz as frames of a rate, so that all delays are the same times at its
    multiples, and the same resonances and combs are heard."""
    at_reference = np.round(np.asarray(delays_s) * _REFERENCE_RATE)
    return np.asarray(np.round(at_reference * (sample_rate / _REFERENCE_RATE)), dtype=np.int64)


def _rate_inside(sample_rate: int) -> int:
    """The multiple of 48 kHz that is next to a rate."""
    return _REFERENCE_RATE * max(1, round(sample_rate / _REFERENCE_RATE))


def _is_prime(number: int) -> bool:
    return all(number % k for k in range(2, math.isqrt(number) + 1))


@dataclass(frozen=True)
class Network:
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
        if damping_hz < _UNDAMPED_HZ:
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
            _frames(parts * lengths / sample_rate, sample_rate),
            gains**parts / math.sqrt(_LINES),
        )


def room_signal(
    signal: Signal,
    *,
    size_m: float,
    decay_s: float,
    damping_hz: float,
    pre_delay_s: float,
    low_cut_hz: float,
    width: float,
    sample_rate: int,
    high_cut_hz: float = _UNDAMPED_HZ,
    movement: float = 0.0,
) -> Signal:
    """The room's answer alone, shape (2, frames).

    Parameters
    ----------
    decay_s
        time to -60 dB at low frequencies.
    damping_hz
        where the decay is half as long; at 20 kHz it is the same everywhere.
    high_cut_hz
        of the whole answer; none at 20 kHz.
    movement
        how far the lines' reading goes to and fro: 1 is 0.5 ms.
    width
        0 the same on both sides, 1 two answers that share nothing.
    """
    inside = _rate_inside(sample_rate)
    if inside != sample_rate:
        # A tone's level hangs on every delay to a part of its period: no rounding to other frames.
        raised = resample(signal, sample_rate, inside)
        answer = room_signal(
            raised,
            size_m=size_m,
            decay_s=decay_s,
            damping_hz=damping_hz,
            pre_delay_s=pre_delay_s,
            low_cut_hz=low_cut_hz,
            width=width,
            sample_rate=inside,
            high_cut_hz=high_cut_hz,
            movement=movement,
        )
        return resample(answer, inside, sample_rate)[:, : signal.shape[1]]
    network = Network.of(
        size_m=size_m, decay_s=decay_s, damping_hz=damping_hz, sample_rate=sample_rate
    )
    # In single precision, whose rounding lies 140 dB below: twice as much at a time.
    source = np.zeros(signal.shape, dtype=np.float32)
    late = min(signal.shape[1], round(pre_delay_s * sample_rate))
    source[:, late:] = signal[:, : signal.shape[1] - late]
    early = _reflected(source, size_m, decay_s, sample_rate)
    fed = diffused(source, decay_s, sample_rate)
    answer = np.zeros((2, signal.shape[1]), dtype=np.float32)
    memory = np.zeros(int(network.starts[-1]), dtype=np.float32)
    scales = (0.25 * network.gains * (1.0 - network.poles)).astype(np.float32)
    poles = network.poles.astype(np.float32)
    level = np.float32(network.into[0, 0])
    taps = (network.taps, network.tap_gains.astype(np.float32))
    _network(answer, fed, memory, network.starts, scales, poles, level, *taps, cancel_flag())
    if movement > 0.0:
        answer = _moved(answer.astype(np.float64), movement, sample_rate).astype(np.float32)
    early *= np.float32(_EARLY_LEVEL)
    answer += early
    return widened(answer.astype(np.float64), width, low_cut_hz, high_cut_hz, sample_rate)


@lru_cache(maxsize=64)
def _reflections(
    size_m: float, decay_s: float, sample_rate: int
) -> tuple[NDArray[np.int64], NDArray[np.float32]]:
    """Frames after the first and gains of a box's reflections at two places, (2, reflections) each;
    the power of each side is 1.

    Image sources: Allen and Berkley, "Image Method for Efficiently Simulating Small-Room
    Acoustics" (JASA 65, 1979).
    """
    sides = size_m * np.array(_BOX)
    near = np.arange(-4, 5)
    images = np.stack(np.meshgrid(near, near, near, indexing="ij"), axis=-1).reshape(-1, 3)
    images = images[np.abs(images).sum(axis=1) > 0]
    source = sides * np.array(_SOURCE)
    places = np.where(images % 2 == 0, images * sides + source, (images + 1) * sides - source)
    delays, gains = [], []
    for ear in _EARS:
        way = np.linalg.norm(places - sides * np.array(ear), axis=1)
        order = np.argsort(way, kind="stable")[:_REFLECTIONS]
        late_s = (way[order] - way[order[0]]) / _SPEED_OF_SOUND
        gain = way[order[0]] / way[order] * 10.0 ** (-3.0 * late_s / decay_s)
        # Every other wall turns the pressure over, so that no comb of equal signs is heard.
        gain *= np.where(np.abs(images[order]).sum(axis=1) % 2 == 0, -1.0, 1.0)
        delays.append(_frames(late_s, sample_rate))
        gains.append(gain / np.linalg.norm(gain))
    return np.stack(delays), np.stack(gains).astype(np.float32)


def _reflected(
    source: NDArray[np.float32], size_m: float, decay_s: float, sample_rate: int
) -> NDArray[np.float32]:
    """The early reflections of a source (channels, frames), shape (2, frames)."""
    delays, gains = _reflections(size_m, decay_s, sample_rate)
    out = np.zeros((2, source.shape[1]), dtype=np.float32)
    _reflect(out, source, delays, gains)
    return out


def diffused(source: NDArray[np.float32], decay_s: float, sample_rate: int) -> NDArray[np.float32]:
    """A source (channels, frames) through all-passes, shape (2, frames): dense, and as flat.

    Schroeder, "Natural Sounding Artificial Reverberation" (JAES 10, 1962). What is fed by echoes
    that colour it has their peaks on top of the lines' own.
    """
    fed = np.empty((2, source.shape[1]), dtype=np.float32)
    shrunk = min(1.0, decay_s / _WHOLE_FROM_S)
    for side in range(2):
        fed[side] = source[min(side, source.shape[0] - 1)]
        for late in _frames(np.array(_DIFFUSERS_S[side]) * shrunk, sample_rate):
            _diffuse(fed[side], max(8, late), np.float32(_DIFFUSION))
    return fed


@njit(cache=True, nogil=True, fastmath={"contract"})
def _diffuse(x, late, amount):  # type: ignore[no-untyped-def]
    """An all-pass of a delay in frames, in place over x (frames,), in blocks of that delay."""
    held = np.zeros(late, dtype=np.float32)
    for begin in range(0, x.size, late):
        part = x[begin : min(x.size, begin + late)]
        for n in range(part.size):
            given = part[n]
            part[n] = held[n] - amount * given
            held[n] = given + amount * part[n]


@njit(cache=True, nogil=True, fastmath={"contract"})
def _reflect(out, source, delays, gains):  # type: ignore[no-untyped-def]
    """out (2, frames) of source (channels, frames); delays and gains (2, reflections)."""
    frames = out.shape[1]
    for side in range(2):
        given = source[min(side, source.shape[0] - 1)]
        for begin in range(0, frames, 2048):
            end = min(frames, begin + 2048)
            for k in range(delays.shape[1]):
                late, gain = delays[side, k], gains[side, k]
                first = max(begin, late)
                if first < end:
                    to, of = out[side, first:end], given[first - late : end - late]
                    for n in range(end - first):
                        to[n] += gain * of[n]


# Rates in Hz at which the reading of either side goes to and fro; no two meet again soon.
_MOVED_HZ = ((0.31, 0.71), (0.43, 0.57))
_MOVED_S = 0.0005


def _moved(out: Signal, movement: float, sample_rate: int) -> Signal:
    """The answer read by one tap a side that goes to and fro: its resonances never stand still.

    By one alone, for several would make a comb, whose peaks are resonances of their own.
    """
    time_s = np.arange(out.shape[1]) / sample_rate
    still = np.zeros(out.shape[1])
    swing = np.stack(
        [np.sin(2.0 * np.pi * np.multiply.outer(hz, time_s)).mean(axis=0) for hz in _MOVED_HZ]
    )
    delay_s = 4.0 / sample_rate + movement * _MOVED_S * (1.0 + swing)
    return swept_copy(out, delay_s=delay_s, feedback=still, sample_rate=sample_rate)


def widened(
    out: Signal, width: float, low_cut_hz: float, high_cut_hz: float, sample_rate: int
) -> Signal:
    """An answer of two sides narrowed by a turn that keeps the power, and cut at both ends."""
    wide = out
    if width < 1.0:
        middle, side = 0.5 * (out[0] + out[1]), 0.5 * (out[0] - out[1])
        angle = width * math.pi / 4.0
        wide = math.sqrt(2.0) * np.stack(
            [
                math.cos(angle) * middle + math.sin(angle) * side,
                math.cos(angle) * middle - math.sin(angle) * side,
            ]
        )
    wide = filter_signal(
        wide,
        response="high_pass",
        slope_db=12,
        cutoff_hz=low_cut_hz,
        resonance=math.sqrt(0.5),
        sample_rate=sample_rate,
    )
    return high_cut(wide, high_cut_hz, sample_rate=sample_rate)


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


def room_tail_s(decay_s: float, pre_delay_s: float) -> float:
    """Seconds to -100 dB."""
    return pre_delay_s + decay_s * 100.0 / 60.0


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
def _network(out, signal, memory, starts, scales, poles, level, taps, tapped, cancel):  # type: ignore[no-untyped-def]
    """out (2, frames) of signal (channels, frames); memory holds all lines one after the other.

    In blocks no longer than the shortest line, within which nothing that is written is read again:
    so every step runs along whole blocks, which is several times quicker than frame by frame.

    The sides go in and out by rows of the matrix that the lines go through anyway: added to one
    line before it, a side goes into all; and a line behind it is the sum that comes out, but for
    what just went in. Scales hold each line's gain, what its low-pass takes in, and the matrix'
    quarter.
    """
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
            _read_line(values[k], memory, starts[k], starts[k + 1], places[k], scales[k], count)
            _tap_line(
                left_out,
                memory,
                starts[k],
                starts[k + 1],
                places[k],
                taps[0, k],
                tapped[0, k],
                count,
            )
            _tap_line(
                right_out,
                memory,
                starts[k],
                starts[k + 1],
                places[k],
                taps[1, k],
                tapped[1, k],
                count,
            )
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
def _read_line(out, memory, start, end, place, gain, count):  # type: ignore[no-untyped-def]
    """The oldest frames of a line, each times its gain."""
    line = memory[start:end]
    first = min(count, end - start - place)
    older = line[place : place + first]
    for n in range(first):
        out[n] = gain * older[n]
    for n in range(count - first):
        out[first + n] = gain * line[n]


@njit(cache=True, nogil=True)
def _tap_line(out, memory, start, end, place, late, gain, count):  # type: ignore[no-untyped-def]
    """Adds what went into a line ``late`` frames ago, which is no less than a block."""
    size = end - start
    at = place - late
    if at < 0:
        at += size
    first = min(count, size - at)
    older = memory[start + at : start + at + first]
    for n in range(first):
        out[n] += gain * older[n]
    for n in range(count - first):
        out[first + n] += gain * memory[start + n]


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
