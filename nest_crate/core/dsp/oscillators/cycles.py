"""One cycle of a tone as partials, and as tables that hold no partial above Nyquist."""

from __future__ import annotations

from collections.abc import Sequence
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray

__all__ = [
    "MAX_PARTIALS",
    "PARTIAL_COUNTS",
    "TABLE_LENGTH",
    "CycleTables",
    "bent_partials",
    "edited_partials",
    "shape_partials",
    "shape_tables",
    "skewed_partials",
]

MAX_PARTIALS = 2048
TABLE_LENGTH = 8192

# How many partials each table holds: every count up to 16, then four counts an octave.
PARTIAL_COUNTS = np.unique(
    np.concatenate([np.arange(0, 17), np.round(16.0 * 2.0 ** (np.arange(1, 29) / 4.0)).astype(int)])
)

Partials = NDArray[np.complex128]


def _sine() -> Partials:
    partials = np.zeros(MAX_PARTIALS + 1, dtype=np.complex128)
    partials[1] = -1j
    return partials


def _triangle() -> Partials:
    k = np.arange(1, MAX_PARTIALS + 1, 2)
    partials = np.zeros(MAX_PARTIALS + 1, dtype=np.complex128)
    partials[k] = -1j * 8.0 / np.pi**2 * (-1.0) ** ((k - 1) // 2) / k**2
    return partials


def _sawtooth() -> Partials:
    k = np.arange(1, MAX_PARTIALS + 1)
    partials = np.zeros(MAX_PARTIALS + 1, dtype=np.complex128)
    partials[1:] = -1j * 2.0 / np.pi * (-1.0) ** (k + 1) / k
    return partials


def _pulse(width: float) -> Partials:
    k = np.arange(1, MAX_PARTIALS + 1)
    partials = np.zeros(MAX_PARTIALS + 1, dtype=np.complex128)
    # 2 while the phase is below width, else 0, less its mean: so a pulse carries no offset.
    partials[1:] = 2.0 * (1.0 - np.exp(-2j * np.pi * k * width)) / (1j * np.pi * k)
    return partials


def shape_partials(shape: float, width: float) -> Partials:
    """Fourier partials of a shape: x(phase) = sum of Re(c[k] * exp(2j*pi*k*phase)).

    Parameters
    ----------
    shape
        0 sine, 1 triangle, 2 sawtooth, 3 pulse; between two, their partials are mixed.
    width
        of the pulse, 0 to 1.

    Returns
    -------
    np.ndarray [shape=(MAX_PARTIALS + 1,)], complex; index is the partial's number.
    """
    lower = min(2, int(shape))
    weight = shape - lower
    builders = (_sine, _triangle, _sawtooth, lambda: _pulse(width))
    partials = builders[lower]()
    if weight > 0.0:
        partials = (1.0 - weight) * partials + weight * builders[lower + 1]()
    return partials


def edited_partials(
    amplitudes: Sequence[float],
    phases_deg: Sequence[float],
    *,
    tilt_db: float,
    odd_even: float,
    comb: int,
) -> Partials:
    """Partials drawn by hand, tilted, balanced and combed; shape as ``shape_partials``.

    Parameters
    ----------
    tilt_db
        per octave above the first partial.
    odd_even
        -1 leaves no even partial, 1 no odd one but the first.
    comb
        removes each ``comb``-th partial from 2 on.
    """
    count = min(len(amplitudes), MAX_PARTIALS)
    partials = np.zeros(MAX_PARTIALS + 1, dtype=np.complex128)
    if count == 0:
        return partials
    k = np.arange(1, count + 1)
    phases = np.zeros(count)
    phases[: len(phases_deg)] = np.radians(phases_deg[:count])
    levels = np.array(amplitudes[:count]) * k ** (tilt_db / (20.0 * np.log10(2.0)))
    even = k % 2 == 0
    levels[even] *= 1.0 + min(0.0, odd_even)
    levels[~even & (k > 1)] *= 1.0 - max(0.0, odd_even)
    if comb > 1:
        levels[k % comb == 0] = 0.0
    partials[1 : count + 1] = -1j * levels * np.exp(1j * phases)
    return partials


# The warped cycle is sampled this finely, so that what folds back into the partials kept lies
# 90 dB below the first even where the warp makes a corner.
_WARP_LENGTH = 1 << 16


def skewed_partials(partials: Partials, skew: float) -> Partials:
    """Partials of a cycle whose middle is moved (phase distortion).

    The phase runs straight from 0 to the middle of the cycle, which it reaches at
    0.5 + 0.48 * skew, and straight on to its end.
    """
    if skew == 0.0:
        return partials
    spectrum = np.zeros(_WARP_LENGTH // 2 + 1, dtype=np.complex128)
    spectrum[: MAX_PARTIALS + 1] = partials * (_WARP_LENGTH / 2.0)
    cycle = np.fft.irfft(spectrum, _WARP_LENGTH)
    middle = 0.5 + 0.48 * skew
    u = np.arange(_WARP_LENGTH) / _WARP_LENGTH
    phase = np.where(u < middle, 0.5 * u / middle, 0.5 + 0.5 * (u - middle) / (1.0 - middle))
    padded = np.concatenate([cycle, cycle[:1]])
    warped = np.interp(phase * _WARP_LENGTH, np.arange(_WARP_LENGTH + 1), padded)
    result = np.fft.rfft(warped)[: MAX_PARTIALS + 1] * (2.0 / _WARP_LENGTH)
    # A cycle carries no offset.
    result[0] = 0.0
    return np.asarray(result, dtype=np.complex128)


def bent_partials(partials: Partials, bend: float, fold: float) -> Partials:
    """Partials of a cycle whose phase is bent, and which is folded back at full scale.

    Bent by b the phase u is read at u - 0.95 b sin(4 pi u) / (4 pi), which rises all along; folded
    by f
    the cycle x becomes sin((1 + 4 f) pi / 2 * x / peak) * peak.
    """
    if bend == 0.0 and fold == 0.0:
        return partials
    spectrum = np.zeros(_WARP_LENGTH // 2 + 1, dtype=np.complex128)
    spectrum[: MAX_PARTIALS + 1] = partials * (_WARP_LENGTH / 2.0)
    cycle = np.fft.irfft(spectrum, _WARP_LENGTH)
    u = np.arange(_WARP_LENGTH) / _WARP_LENGTH
    phase = u - 0.95 * bend * np.sin(4.0 * np.pi * u) / (4.0 * np.pi)
    padded = np.concatenate([cycle, cycle[:1]])
    shaped = np.interp(phase * _WARP_LENGTH, np.arange(_WARP_LENGTH + 1), padded)
    peak = float(np.abs(shaped).max())
    if fold > 0.0 and peak > 0.0:
        share = min(1.0, 4.0 * fold)
        folded = np.sin((1.0 + 4.0 * fold) * 0.5 * np.pi * shaped / peak) * peak
        # The first quarter fades it in, for even the first fold bends a sine.
        shaped = (1.0 - share) * shaped + share * folded
    result = np.fft.rfft(shaped)[: MAX_PARTIALS + 1] * (2.0 / _WARP_LENGTH)
    result[0] = 0.0
    return np.asarray(result, dtype=np.complex128)


class CycleTables:
    """Tables of one cycle with rising counts of partials, each made when first asked for."""

    def __init__(self, partials: Partials) -> None:
        self._partials = partials
        self._rows: dict[int, NDArray[np.float64]] = {}

    def rows(
        self, low_hz: float, high_hz: float, sample_rate: int
    ) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
        """The tables needed for pitches from low_hz to high_hz.

        Returns
        -------
        tables : np.ndarray [shape=(rows, TABLE_LENGTH + 3)]
            column i holds the cycle at phase (i - 1) / TABLE_LENGTH; rows hold ever more partials.
        limits_hz : np.ndarray [shape=(rows,)]
            the highest pitch at which all of a row's partials stay below Nyquist.
        """
        nyquist_hz = sample_rate / 2.0
        with np.errstate(divide="ignore"):
            limits_hz = np.where(
                PARTIAL_COUNTS > 0, nyquist_hz / np.maximum(PARTIAL_COUNTS, 1), np.inf
            )
        # One row beyond either end: towards the sparser one a pitch is faded.
        richest = int(np.searchsorted(-limits_hz, -low_hz, side="right")) - 1
        sparsest = int(np.searchsorted(-limits_hz, -high_hz, side="right")) - 2
        chosen = range(max(0, sparsest), max(richest, sparsest + 1, 1) + 1)
        chosen = range(chosen.start, min(chosen.stop, len(PARTIAL_COUNTS)))
        tables = np.stack([self._row(index) for index in chosen])
        return tables, limits_hz[chosen.start : chosen.stop].copy()

    def _row(self, index: int) -> NDArray[np.float64]:
        row = self._rows.get(index)
        if row is None:
            spectrum = np.zeros(TABLE_LENGTH // 2 + 1, dtype=np.complex128)
            count = int(PARTIAL_COUNTS[index])
            spectrum[1 : count + 1] = self._partials[1 : count + 1] * (TABLE_LENGTH / 2.0)
            cycle = np.fft.irfft(spectrum, TABLE_LENGTH)
            row = np.concatenate([cycle[-1:], cycle, cycle[:2]])
            self._rows[index] = row
        return row


@lru_cache(maxsize=64)
def shape_tables(shape: float, width: float, skew: float = 0.0) -> CycleTables:
    """Tables of a shape, kept for the next render."""
    return CycleTables(skewed_partials(shape_partials(shape, width), skew))
