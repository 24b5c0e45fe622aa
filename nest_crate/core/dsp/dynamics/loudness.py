"""Loudness and true peak after ITU-R BS.1770-5."""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.signal import lfilter

from nest_crate.core.dsp.resampling.oversampling import raise_cleanly
from nest_crate.core.dsp.util.signals import Signal, peak, require_signal
from nest_crate.core.units import SILENCE_DB, gain_to_db

__all__ = [
    "Loudness",
    "integrated_loudness_lufs",
    "measured_loudness",
    "true_peak_db",
]

_STEP_S = 0.1
_BLOCK_STEPS, _SHORT_TERM_STEPS = 4, 30
# Frames of silence at either end, into which an interpolation rings.
_AROUND = 64
_ABSOLUTE_GATE_LUFS = -70.0
_RELATIVE_GATE_LU = -10.0


def _shelf(rate: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Stage 1, the head's shelf, at any rate.

    Analogue values fitted to the standard's 48 kHz coefficients: De Man, "Evaluation of
    Implementations of the EBU R128 Loudness Measurement" (AES 2018), table 1.
    """
    f0, gain_db, q = 1681.974450955533, 3.999843853973347, 0.7071752369554196
    k = math.tan(math.pi * f0 / rate)
    vh = 10.0 ** (gain_db / 20.0)
    vb = vh**0.4996667741545416
    a0 = 1.0 + k / q + k * k
    b = np.array([vh + vb * k / q + k * k, 2.0 * (k * k - vh), vh - vb * k / q + k * k]) / a0
    return b, np.array([1.0, 2.0 * (k * k - 1.0) / a0, (1.0 - k / q + k * k) / a0])


def _high_pass(rate: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Stage 2, the revised low-frequency curve; source as in ``_shelf``."""
    f0, q = 38.13547087602444, 0.5003270373238773
    k = math.tan(math.pi * f0 / rate)
    a0 = 1.0 + k / q + k * k
    a = np.array([1.0, 2.0 * (k * k - 1.0) / a0, (1.0 - k / q + k * k) / a0])
    return np.array([1.0, -2.0, 1.0]), a


@dataclass(frozen=True)
class Loudness:
    """In LUFS: gated over the whole, and the loudest 400 ms and 3 s without a gate (EBU Tech 3341,
    section 2.2), silence standing around the signal; ``SILENCE_DB`` where there is none."""

    integrated_lufs: float
    momentary_max_lufs: float
    short_term_max_lufs: float


def measured_loudness(signal: Signal, sample_rate: int) -> Loudness:
    """All three of a signal of shape (1 or 2, frames).

    It is measured as if silence followed it up to the next whole step of 100 ms, and up to one gate
    block (400 ms) at least: so its last part belongs to a block too, and a short hit reads lower
    than a long one of the same level, as it is heard.
    """
    steps = _step_energies(signal, sample_rate)
    blocks = _block_powers(steps, _BLOCK_STEPS, sample_rate)
    shorts = _block_powers(steps, _SHORT_TERM_STEPS, sample_rate)
    return Loudness(
        _gated(blocks), _lufs(float(blocks.max(initial=0.0))), _lufs(float(shorts.max(initial=0.0)))
    )


def integrated_loudness_lufs(signal: Signal, sample_rate: int) -> float:
    """Gated loudness alone; see ``measured_loudness``."""
    steps = _step_energies(signal, sample_rate)
    return _gated(_block_powers(steps, _BLOCK_STEPS, sample_rate))


def _gated(blocks: NDArray[np.float64]) -> float:
    loud = blocks[blocks > 10.0 ** ((_ABSOLUTE_GATE_LUFS + 0.691) / 10.0)]
    if loud.size == 0:
        return SILENCE_DB
    gate = loud.mean() * 10.0 ** (_RELATIVE_GATE_LU / 10.0)
    return _lufs(loud[loud > gate].mean())


def _lufs(power: float) -> float:
    floor = 10.0 ** ((SILENCE_DB + 0.691) / 10.0)
    return float(-0.691 + 10.0 * np.log10(power)) if power > floor else SILENCE_DB


def _step_energies(signal: Signal, sample_rate: int) -> NDArray[np.float64]:
    """Weighted energy of each 100 ms, summed over the channels."""
    weighted = require_signal(signal)
    step = round(_STEP_S * sample_rate)
    count = max(_BLOCK_STEPS, -(-weighted.shape[1] // step))
    weighted = np.pad(weighted, ((0, 0), (0, count * step - weighted.shape[1])))
    # Far below what is heard, and enough that filters running out in silence do not come to numbers
    # so small that processors reckon with them a hundred times slower.
    weighted[:, ::2] += 1e-12
    weighted[:, 1::2] -= 1e-12
    for b, a in (_shelf(sample_rate), _high_pass(sample_rate)):
        weighted = lfilter(b, a, weighted, axis=1)
    return np.asarray(np.einsum("cst,cst->s", *2 * (weighted.reshape(-1, count, step),)))


def _block_powers(
    energies: NDArray[np.float64], steps: int, sample_rate: int
) -> NDArray[np.float64]:
    """Mean power of blocks of so many steps that begin at every step."""
    whole = np.concatenate([energies, np.zeros(max(0, steps - energies.size))])
    blocks = np.lib.stride_tricks.sliding_window_view(whole, steps).sum(axis=1)
    return np.asarray(blocks / (steps * round(_STEP_S * sample_rate)))


def true_peak_db(signal: Signal) -> float:
    """Peak between the samples in dBTP, at 4 times the rate (Annex 2), by an interpolation that is
    flat to 5/6 of Nyquist and closed at Nyquist; silence before and after."""
    if not signal.shape[1]:
        return gain_to_db(0.0)
    around = np.pad(signal, ((0, 0), (_AROUND, _AROUND)))
    return gain_to_db(max(peak(signal), peak(raise_cleanly(around, 2))))
