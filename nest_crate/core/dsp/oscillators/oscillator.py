"""Tones: a cycle read at a moving pitch without aliasing."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.oscillators.cycles import TABLE_LENGTH, CycleTables
from nest_crate.core.dsp.util.interpolation import cubic

__all__ = ["FADE", "Voice", "tone_signal"]

# Phase is counted in whole numbers, one cycle being 2**48: it wraps without rounding, and its
# upper 13 bits are the table's column.
_PHASE_BITS = 48
_COLUMN_SHIFT = _PHASE_BITS - int(math.log2(TABLE_LENGTH))
_CYCLE = 2.0**_PHASE_BITS
# Over so much below its limit a row fades to the sparser one.
FADE = 0.02


@dataclass(frozen=True)
class Voice:
    """One reading of the cycle: start phase (of 1), pitch ratio, gain to each channel."""

    phase: float = 0.0
    ratio: float = 1.0
    gains: tuple[float, ...] = (1.0,)


def tone_signal(
    frequency_hz: NDArray[np.float64],
    tables: CycleTables,
    *,
    sample_rate: int,
    voices: Sequence[Voice] = (Voice(),),
    fine: bool = True,
) -> NDArray[np.float64]:
    """A tone whose partials all stay below Nyquist at every instant.

    Parameters
    ----------
    frequency_hz : np.ndarray [shape=(frames,)]
        pitch at each frame.
    voices
        read side by side and summed; all with gains for as many channels as the result has.
    fine
        cubic (Lagrange) reading of the tables; else linear, for drafts.

    Returns
    -------
    np.ndarray [shape=(channels, frames)]
    """
    channels = len(voices[0].gains)
    out = np.zeros((channels, frequency_hz.shape[0]))
    if frequency_hz.size == 0:
        return out
    ratios = [voice.ratio for voice in voices]
    low_hz, high_hz = float(frequency_hz.min()), float(frequency_hz.max())
    rows, limits_hz = tables.rows(low_hz * min(ratios), high_hz * max(ratios), sample_rate)
    table, mixed = rows.reshape(-1), np.empty(rows.shape[1])
    # Two voices at a time, next to each other in pitch: what they share is computed once.
    for first in range(0, len(voices), 2):
        checkpoint()
        pair = voices[first : first + 2]
        phases = np.array([(voice.phase % 1.0) * _CYCLE for voice in pair]).astype(np.uint64)
        steps = np.array([voice.ratio * _CYCLE / sample_rate for voice in pair])
        # In mono both rows are the same one, to which the second adds nothing.
        gains = np.array([(v.gains[0], v.gains[1] if channels > 1 else 0.0) for v in pair])
        limits = limits_hz / max(voice.ratio for voice in pair)
        read = (table, mixed, limits)
        _add_voices(out[0], out[-1], frequency_hz, (gains, phases, steps), read, fine)
    return out


@njit(cache=True, nogil=True, inline="always")
def _cubic(table, index, x):  # type: ignore[no-untyped-def]
    """4-point Lagrange reading between columns index + 1 and index + 2, x of the way."""
    a, b = table[index], table[index + np.uint64(1)]
    c, d = table[index + np.uint64(2)], table[index + np.uint64(3)]
    return cubic(a, b, c, d, x)


@njit(cache=True, nogil=True, inline="always")
def _linear(table, index, x):  # type: ignore[no-untyped-def]
    """Straight line between columns index + 1 and index + 2, x of the way."""
    b = table[index + np.uint64(1)]
    return b + (table[index + np.uint64(2)] - b) * x


# Unsigned indices, because a signed one costs a test at every reading.
_MASK = np.uint64(2**_PHASE_BITS - 1)
_PART_MASK = np.uint64(2**_COLUMN_SHIFT - 1)
_PART = 2.0**-_COLUMN_SHIFT
_SHIFT = np.uint64(_COLUMN_SHIFT)


@njit(cache=True, nogil=True)
def _add_voices(left, right, frequency_hz, voices, read, fine):  # type: ignore[no-untyped-def]
    """Add one or two voices, reading rows of the table by pitch.

    Frames are taken in runs that read the same row, or fade from it to the sparser one before
    it below its limit: within a run the inner loops have nothing to decide. ``mixed`` is room
    for one row.
    """
    gains, phases, steps = voices
    table, mixed, limits_hz = read
    rows, columns = limits_hz.shape[0], mixed.shape[0]
    frames = left.shape[0]
    fade = FADE
    row = rows - 1
    n = 0
    while n < frames:
        f = frequency_hz[n]
        while row > 0 and f > limits_hz[row]:
            row -= 1
        while row < rows - 1 and f <= limits_hz[row + 1]:
            row += 1
        lowest = limits_hz[row + 1] if row < rows - 1 else -1.0
        highest = limits_hz[row] * (1.0 - fade) if row > 0 else np.inf
        whole = f <= highest
        if not whole:
            lowest, highest = highest, limits_hz[row]
        end = n + 1
        # Where the pitch rests in a fade, that is a run of its own.
        rests = not whole and end < frames and frequency_hz[end] == f
        while end < frames and lowest < frequency_hz[end] <= highest:
            if not whole and (frequency_hz[end] == frequency_hz[end - 1]) != rests:
                break
            end += 1
        base = np.uint64(row * columns)
        to_left, to_right, run = left[n:end], right[n:end], frequency_hz[n:end]
        if whole and fine and steps.shape[0] == 2:
            _add_pair(to_left, to_right, gains, run, phases, steps, table, base)
        elif rests and fine and steps.shape[0] == 2 and end - n > columns:
            # Longer than the table: the two rows are mixed once and read as one.
            weight = (limits_hz[row] - f) / (limits_hz[row] * fade)
            first = row * columns
            for column in range(columns):
                sparser = table[first - columns + column]
                mixed[column] = sparser + weight * (table[first + column] - sparser)
            _add_pair(to_left, to_right, gains, run, phases, steps, mixed, np.uint64(0))
        else:
            limit_hz = np.inf if whole else limits_hz[row]
            sparser = base if whole else base - np.uint64(columns)
            for voice in range(steps.shape[0]):
                phases[voice] = _add_one(
                    to_left,
                    to_right,
                    run,
                    (gains[voice, 0], gains[voice, 1], phases[voice], steps[voice]),
                    table,
                    (base, sparser),
                    (limit_hz, fade),
                    fine,
                )
        n = end


@njit(cache=True, nogil=True)
def _add_pair(left, right, gains, frequency_hz, phases, steps, table, base):  # type: ignore[no-untyped-def]
    """Two voices read from one row by cubics; ``phases`` move on."""
    gain_a, gain_b, gain_c, gain_d = gains[0, 0], gains[0, 1], gains[1, 0], gains[1, 1]
    first, second = phases[0], phases[1]
    first_step, second_step = steps[0], steps[1]
    for n in range(left.shape[0]):
        f = frequency_hz[n]
        a = _cubic(table, base + (first >> _SHIFT), np.int64(first & _PART_MASK) * _PART)
        b = _cubic(table, base + (second >> _SHIFT), np.int64(second & _PART_MASK) * _PART)
        left[n] += gain_a * a + gain_c * b
        right[n] += gain_b * a + gain_d * b
        first = (first + np.uint64(np.int64(f * first_step))) & _MASK
        second = (second + np.uint64(np.int64(f * second_step))) & _MASK
    phases[0], phases[1] = first, second


@njit(cache=True, nogil=True)
def _add_one(left, right, frequency_hz, voice, table, bases, places, fine):  # type: ignore[no-untyped-def]
    """One voice read from a row, or between two where it fades; answers the phase after it."""
    to_left, to_right, phase, step = voice
    base, sparser_base = bases
    limit_hz, fade = places
    fading = base != sparser_base
    for n in range(left.shape[0]):
        x = np.int64(phase & _PART_MASK) * _PART
        column = phase >> _SHIFT
        value = _cubic(table, base + column, x) if fine else _linear(table, base + column, x)
        if fading:
            index = sparser_base + column
            sparser = _cubic(table, index, x) if fine else _linear(table, index, x)
            weight = (limit_hz - frequency_hz[n]) / (limit_hz * fade)
            value = sparser + weight * (value - sparser)
        left[n] += to_left * value
        right[n] += to_right * value
        phase = (phase + np.uint64(np.int64(frequency_hz[n] * step))) & _MASK
    return phase
