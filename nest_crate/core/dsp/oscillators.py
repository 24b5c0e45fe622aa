"""Tones: a cycle read at a moving pitch without aliasing."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.cycles import TABLE_LENGTH, CycleTables

__all__ = ["Voice", "tone_signal"]

# Phase is counted in whole numbers, one cycle being 2**48: it wraps without rounding, and its
# upper 13 bits are the table's column.
_PHASE_BITS = 48
_COLUMN_SHIFT = _PHASE_BITS - int(math.log2(TABLE_LENGTH))
_CYCLE = 2.0**_PHASE_BITS


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
    table, columns = rows.reshape(-1), rows.shape[1]
    one = np.empty(frequency_hz.shape[0])
    for voice in voices:
        step = voice.ratio * _CYCLE / sample_rate
        start = (voice.phase % 1.0) * _CYCLE
        limits = limits_hz / voice.ratio
        _read(one, frequency_hz, start, step, table, columns, limits, fine)
        for channel, gain in enumerate(voice.gains):
            _add_scaled(out[channel], one, gain)
    return out


@njit(cache=True, nogil=True)
def _add_scaled(out, signal, gain):  # type: ignore[no-untyped-def]
    for n in range(out.shape[0]):
        out[n] += gain * signal[n]


@njit(cache=True, nogil=True, inline="always")
def _cubic(table, index, x):  # type: ignore[no-untyped-def]
    """4-point Lagrange reading between columns index + 1 and index + 2, x of the way."""
    a, b = table[index], table[index + np.uint64(1)]
    c, d = table[index + np.uint64(2)], table[index + np.uint64(3)]
    third, sixth = 1.0 / 3.0, 1.0 / 6.0
    # Lagrange basis through -1, 0, 1, 2.
    c1 = c - a * third - b * 0.5 - d * sixth
    c2 = (a + c) * 0.5 - b
    c3 = (d - a) * sixth + (b - c) * 0.5
    return ((c3 * x + c2) * x + c1) * x + b


@njit(cache=True, nogil=True, inline="always")
def _linear(table, index, x):  # type: ignore[no-untyped-def]
    """Straight line between columns index + 1 and index + 2, x of the way."""
    b = table[index + np.uint64(1)]
    return b + (table[index + np.uint64(2)] - b) * x


@njit(cache=True, nogil=True)
def _read(out, frequency_hz, start, step, table, columns, limits_hz, fine):  # type: ignore[no-untyped-def]
    """Rows of the table by pitch, each faded into the sparser one below its limit.

    Unsigned indices, because a signed one costs a test at every reading.
    """
    rows = limits_hz.shape[0]
    # Over the last part below its limit a row fades into the sparser row before it.
    fade = 0.06
    mask = np.uint64(2**_PHASE_BITS - 1)
    part_mask = np.uint64(2**_COLUMN_SHIFT - 1)
    part = 2.0**-_COLUMN_SHIFT
    shift = np.uint64(_COLUMN_SHIFT)
    phase = np.uint64(np.int64(start))
    row = rows - 1
    # Where the row in hand is all there is to read: from its neighbour's limit to its fade.
    whole_from, whole_to = 1.0, 0.0
    base = np.uint64(0)
    for n in range(out.shape[0]):
        f = frequency_hz[n]
        if f <= whole_from or f > whole_to:
            while row > 0 and f > limits_hz[row]:
                row -= 1
            while row < rows - 1 and f <= limits_hz[row + 1]:
                row += 1
            whole_from = limits_hz[row + 1] if row < rows - 1 else -1.0
            whole_to = limits_hz[row] * (1.0 - fade) if row > 0 else np.inf
            base = np.uint64(row * columns)
        index = base + (phase >> shift)
        x = np.int64(phase & part_mask) * part
        value = _cubic(table, index, x) if fine else _linear(table, index, x)
        if f > whole_to:
            weight = (limits_hz[row] - f) / (limits_hz[row] * fade)
            sparser = _cubic(table, index - np.uint64(columns), x)
            value = weight * value + (1.0 - weight) * sparser
        out[n] = value
        phase = (phase + np.uint64(np.int64(f * step))) & mask
