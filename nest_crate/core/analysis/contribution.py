"""What a layer contributes to the sum of all."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.fft import rfft

from nest_crate.core.dsp.signals import Signal, sum_signals

__all__ = ["contributions_db"]

_FRAME = 512
_BANDS = np.array([0, 2, 4, 8, 16, 32, 64, 128, 257])
# Where the whole is quieter than this, nothing is judged.
_QUIET_DB = -70.0


def contributions_db(layers: dict[str, Signal]) -> dict[str, float]:
    """By how much each layer changes the level of the sum, at the most, in dB.

    Compared in frames of 512 samples and about octave-wide bands, the sum with and without the
    layer: a quiet tick over a loud low tone counts by its own band.
    """
    if not layers:
        return {}
    frames = next(iter(layers.values())).shape[1]
    total = sum_signals(list(layers.values()), frames)
    with_all = _band_levels(total)
    return {
        key: _largest_change(with_all, _band_levels(total - signal))
        for key, signal in layers.items()
    }


def _largest_change(first: NDArray[np.float64], second: NDArray[np.float64]) -> float:
    heard = np.maximum(first, second) > _QUIET_DB
    return float(np.abs(first - second)[heard].max()) if heard.any() else 0.0


def _band_levels(signal: Signal) -> NDArray[np.float64]:
    """Levels in dB by frame and band, of the channels' mean power."""
    count = signal.shape[1] // _FRAME + 1
    padded = np.zeros((signal.shape[0], count * _FRAME), dtype=np.float32)
    padded[:, : signal.shape[1]] = signal
    spectrum = rfft(padded.reshape(signal.shape[0], count, _FRAME)) / (_FRAME / 2)
    power = (spectrum.real**2 + spectrum.imag**2).mean(axis=0)
    bands = np.add.reduceat(power, _BANDS[:-1], axis=1)
    return np.asarray(10.0 * np.log10(np.maximum(bands, 1e-15)), dtype=np.float64)
