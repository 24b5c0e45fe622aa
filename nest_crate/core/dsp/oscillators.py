"""Tones: a cycle read at a moving pitch without aliasing."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.cycles import TABLE_LENGTH, shape_tables

__all__ = ["tone_signal"]


def tone_signal(
    frequency_hz: NDArray[np.float64],
    *,
    shape: float,
    width: float,
    phase_deg: float,
    sample_rate: int,
    fine: bool = True,
) -> NDArray[np.float64]:
    """A tone whose partials all stay below Nyquist at every instant.

    Parameters
    ----------
    frequency_hz : np.ndarray [shape=(frames,)]
        pitch at each frame.
    shape, width
        see ``cycles.shape_partials``.
    phase_deg
        phase of the first frame.
    fine
        cubic (Lagrange) reading of the tables; else linear, for drafts.

    Returns
    -------
    np.ndarray [shape=(1, frames)]
    """
    out = np.zeros((1, frequency_hz.shape[0]))
    if frequency_hz.size == 0:
        return out
    low_hz, high_hz = float(frequency_hz.min()), float(frequency_hz.max())
    tables, limits_hz = shape_tables(shape, width).rows(low_hz, high_hz, sample_rate)
    start = (phase_deg / 360.0) % 1.0
    flat, columns = tables.reshape(-1), tables.shape[1]
    _read_cycles(out[0], frequency_hz, start, flat, columns, limits_hz, float(sample_rate), fine)
    return out


@njit(cache=True, nogil=True, inline="always")
def _read_cubic(table, index, x):  # type: ignore[no-untyped-def]
    """4-point Lagrange reading between columns index + 1 and index + 2, x of the way."""
    a, b = table[index], table[index + np.uint32(1)]
    c, d = table[index + np.uint32(2)], table[index + np.uint32(3)]
    # Lagrange basis through -1, 0, 1, 2.
    c1 = c - a / 3.0 - b / 2.0 - d / 6.0
    c2 = (a + c) / 2.0 - b
    c3 = (d - a) / 6.0 + (b - c) / 2.0
    return ((c3 * x + c2) * x + c1) * x + b


@njit(cache=True, nogil=True)
def _read_cycles(  # type: ignore[no-untyped-def]
    out, frequency_hz, start, table, columns, limits_hz, sample_rate, fine
):
    """Add a cycle into out (frames,): rows by pitch, each faded below its limit.

    table holds the rows one after the other, ``columns`` numbers each; unsigned indices, because
    a signed one costs a test for counting from the end at every read.
    """
    rows = limits_hz.shape[0]
    # Over the last part below its limit a row fades into the sparser row before it.
    fade = 0.06
    step = 1.0 / sample_rate
    phase = start
    row = rows - 1
    for n in range(out.shape[0]):
        f = frequency_hz[n]
        while row > 0 and f > limits_hz[row]:
            row -= 1
        while row < rows - 1 and f <= limits_hz[row + 1]:
            row += 1
        position = phase * TABLE_LENGTH
        whole = np.uint32(position)
        x = position - whole
        index = np.uint32(row * columns) + whole
        if fine:
            value = _read_cubic(table, index, x)
        else:
            value = table[index + np.uint32(1)] * (1.0 - x) + table[index + np.uint32(2)] * x
        if row > 0 and f > limits_hz[row] * (1.0 - fade):
            weight = (limits_hz[row] - f) / (limits_hz[row] * fade)
            sparser = _read_cubic(table, index - np.uint32(columns), x)
            value = weight * value + (1.0 - weight) * sparser
        out[n] += value
        phase += f * step
        phase -= math.floor(phase)
