"""How far two signals differ, in frames and bands."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.fft import rfft

from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import Audio

__all__ = ["Difference", "band_levels", "difference", "largest_change"]

_FRAME = 512
_BANDS = np.array([0, 2, 4, 8, 16, 32, 64, 128, 257])
# Where the whole is quieter than this, nothing is judged.
_QUIET_DB = -70.0
_MASKED_DB = 40.0


@dataclass(frozen=True)
class Difference:
    """``change_db`` is the largest change in any frame and band, ``loudness_db`` of the whole."""

    change_db: float
    loudness_db: float


def difference(first: Audio, second: Audio) -> Difference:
    """How far two renders differ; the loudness is the first's above the second's."""
    frames = max(first.samples.shape[1], second.samples.shape[1])
    levels = [_smooth_band_levels(_padded(one.samples, frames)) for one in (first, second)]
    loudness = [integrated_loudness_lufs(one.samples, one.sample_rate) for one in (first, second)]
    # What is far below the loudest is masked by it, and not what a part is there for.
    floor_db = max(_QUIET_DB, max(float(one.max()) for one in levels) - _MASKED_DB)
    change_db = largest_change(levels[0], levels[1], floor_db)
    return Difference(change_db, loudness[0] - loudness[1])


def _padded(signal: Signal, frames: int) -> Signal:
    padded = np.zeros((signal.shape[0], frames))
    padded[:, : signal.shape[1]] = signal
    return padded


def largest_change(
    first: NDArray[np.float64], second: NDArray[np.float64], floor_db: float = _QUIET_DB
) -> float:
    heard = np.maximum(first, second) > floor_db
    return float(np.abs(first - second)[heard].max()) if heard.any() else 0.0


def _smooth_band_levels(signal: Signal) -> NDArray[np.float64]:
    """As ``band_levels``, under windows that overlap: a shift in phase alone changes nothing."""
    window = np.hanning(_FRAME + 1)[:_FRAME]
    count = signal.shape[1] // _FRAME + 1
    padded = np.zeros((signal.shape[0], (count + 1) * _FRAME))
    padded[:, _FRAME // 2 : _FRAME // 2 + signal.shape[1]] = signal
    tiled = np.tile(window, count)
    halves = [padded[:, at : at + count * _FRAME] * tiled for at in (0, _FRAME // 2)]
    return np.concatenate([band_levels(half[:, :-1]) for half in halves])


def band_levels(signal: Signal) -> NDArray[np.float64]:
    """Levels in dB by frame and band, of the channels' mean power."""
    count = signal.shape[1] // _FRAME + 1
    padded = np.zeros((signal.shape[0], count * _FRAME), dtype=np.float32)
    padded[:, : signal.shape[1]] = signal
    spectrum = rfft(padded.reshape(signal.shape[0], count, _FRAME)) / (_FRAME / 2)
    power = (spectrum.real**2 + spectrum.imag**2).mean(axis=0)
    bands = np.add.reduceat(power, _BANDS[:-1], axis=1)
    return np.asarray(10.0 * np.log10(np.maximum(bands, 1e-15)), dtype=np.float64)
