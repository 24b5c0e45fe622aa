"""Whether two sounds are copies of one: at another level, trimmed, with silence in front, at
another rate, or once through a lossy format.

Copies have the same waveform once they are laid over each other, up to a factor, at every moment
and in every band. Neighbours a semitone apart begin alike and drift apart within a few periods.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from numpy.typing import NDArray
from scipy.fft import irfft, next_fast_len, rfft
from scipy.signal import resample_poly

from nest_crate.core.dsp.util.signals import Signal, require_signal

__all__ = ["COPY_RATE", "Overlay", "are_copies", "overlay", "reduced"]

# What lossy formats leave alone lies below 8 kHz.
COPY_RATE = 16000
_LONGEST = 10 * COPY_RATE
_SILENT = 1e-3
# Of the energy of each, at least so much lies where both sound.
_LEAST_SHARED = 0.25
_EDGE = COPY_RATE // 500
_SEGMENTS = 12
# Segments and bands so far below the strongest say nothing.
_QUIET_SEGMENT, _QUIET_BAND = 1e-3, 1e-3
# The less of two sounds lies in both, the more alike that has to be.
_LEAST_CORRELATION, _LEAST_WHERE_LITTLE, _MUCH_SHARED = 0.93, 0.97, 0.5
_MOST_BAND_DB = 1.0
_BANDS = 24

Samples = NDArray[np.float32]


def reduced(signal: Signal, sample_rate: int) -> Samples:
    """What two sounds are compared by: mono at 16 kHz, from where it begins to sound, ten seconds
    at most; empty for silence."""
    signal = require_signal(signal)
    # A short filter: a long one rings where a copy was cut.
    parts = math.gcd(sample_rate, COPY_RATE)
    mono = resample_poly(signal.mean(axis=0), COPY_RATE // parts, sample_rate // parts)
    loud = np.flatnonzero(np.abs(mono) > _SILENT * np.abs(mono).max(initial=0.0))
    if loud.size == 0:
        return np.zeros(0, dtype=np.float32)
    return np.asarray(mono[loud[0] : loud[0] + _LONGEST], dtype=np.float32)


@dataclass(frozen=True)
class Overlay:
    """Two sounds laid over each other: the least correlation of any part that is heard, by how many
    dB their bands differ at most once their levels are alike, and what share of each sounds in
    both."""

    correlation: float
    band_db: float
    shared: float


_APART = Overlay(0.0, 99.0, 0.0)


def overlay(one: Samples, other: Samples) -> Overlay:
    """How alike two reduced sounds are where they fit best."""
    if min(one.size, other.size) < 2 * _SEGMENTS:
        return _APART
    shift = _best_shift(one, other)
    # The second sound begins ``shift`` after the first.
    begin, end = max(0, shift), min(one.size, other.size + shift)
    if end - begin > 10 * _EDGE:
        # Where one was cut, its filters ring.
        begin, end = begin + _EDGE, end - _EDGE
    a = one[begin:end].astype(np.float64)
    b = other[begin - shift : end - shift].astype(np.float64)
    if a.size < 2 * _SEGMENTS:
        return _APART
    energies = float(a @ a), float(b @ b)
    shared = min(
        energies[0] / float(one.astype(np.float64) @ one),
        energies[1] / float(other.astype(np.float64) @ other),
    )
    return Overlay(_least_correlation(a, b), _band_difference_db(a, b), shared)


def _best_shift(one: Samples, other: Samples) -> int:
    """By how many samples the second sound begins later, where both are most alike for their
    energy there: the product alone is larger where two loud beginnings meet."""
    size = next_fast_len(one.size + other.size, real=True)
    across = irfft(rfft(one, size) * np.conj(rfft(other, size)), size)
    shifts = np.arange(-other.size + 1, one.size)
    sums = [
        np.concatenate([[0.0], np.cumsum(each.astype(np.float64) ** 2)]) for each in (one, other)
    ]
    begin, end = np.maximum(0, shifts), np.minimum(one.size, other.size + shifts)
    first = sums[0][end] - sums[0][begin]
    second = sums[1][end - shifts] - sums[1][begin - shifts]
    enough = (first > _LEAST_SHARED * sums[0][-1]) & (second > _LEAST_SHARED * sums[1][-1])
    alike = np.abs(across[shifts]) / np.sqrt(np.maximum(first * second, 1e-30))
    return int(shifts[np.where(enough, alike, 0.0).argmax()])


def _least_correlation(a: NDArray[np.float64], b: NDArray[np.float64]) -> float:
    """The correlation of the segment that is least alike, of parts of like energy."""
    power = a * a / float(a @ a) + b * b / float(b @ b)
    edges = np.searchsorted(np.cumsum(power), np.linspace(0.0, 2.0, _SEGMENTS + 1)[1:-1])
    # What rings on quietly counts too: the last part is looked at by its second half as well.
    edges = np.concatenate([[0], edges, [(edges[-1] + a.size) // 2, a.size]])
    found = []
    for begin, end in pairwise(edges.tolist()):
        x, y = a[begin:end], b[begin:end]
        energy = float(x @ x), float(y @ y)
        if end - begin < 16 or min(energy) < _QUIET_SEGMENT * max(float(a @ a), 1e-30) / _SEGMENTS:
            continue
        found.append(float(x @ y) / (energy[0] * energy[1]) ** 0.5)
    if not found:
        return 0.0
    signs = np.sign(found)
    # Turned over it is a copy too, if it is so everywhere.
    return float(np.abs(found).min()) if abs(signs.sum()) == len(found) else 0.0


def _band_difference_db(a: NDArray[np.float64], b: NDArray[np.float64]) -> float:
    size = next_fast_len(a.size, real=True)
    power = [np.abs(rfft(one * np.hanning(one.size), size)) ** 2 for one in (a, b)]
    edges = np.geomspace(40.0, 7500.0, _BANDS + 1) * size / COPY_RATE
    places = np.unique(np.clip(np.round(edges).astype(np.int64), 1, size // 2))
    bands = [np.add.reduceat(one, places[:-1]) / float(one.sum()) for one in power]
    heard = (bands[0] > _QUIET_BAND * bands[0].max()) & (bands[1] > _QUIET_BAND * bands[1].max())
    either = (bands[0] > 0.03 * bands[0].max()) | (bands[1] > 0.03 * bands[1].max())
    if np.any(either & ~heard):
        return 99.0
    ratio = 10.0 * np.log10(bands[0][either] / bands[1][either])
    return float(np.abs(ratio - np.median(ratio)).max(initial=0.0))


def are_copies(one: Samples, other: Samples) -> bool:
    """Whether two reduced sounds are copies of one."""
    found = overlay(one, other)
    least = _LEAST_CORRELATION if found.shared >= _MUCH_SHARED else _LEAST_WHERE_LITTLE
    return (
        found.shared >= _LEAST_SHARED
        and found.correlation >= least
        and found.band_db <= _MOST_BAND_DB
    )
