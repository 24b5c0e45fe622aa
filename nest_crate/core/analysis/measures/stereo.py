"""Both sides of a signal: how alike they are, and what a sum of them would lose."""

from __future__ import annotations

from dataclasses import dataclass
from itertools import pairwise

import numpy as np
from scipy.fft import next_fast_len, rfft

from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.units import SILENCE_DB

__all__ = ["LOW_HZ", "SIDE_EDGES_HZ", "StereoFigures", "stereo_figures"]

# Below this, stereo endangers playback on one speaker; a loss is reported up to a bit above.
LOW_HZ = 120.0
_MONO_HZ = 150.0
SIDE_EDGES_HZ = (0.0, 120.0, 500.0, 2000.0, 24000.0)


@dataclass(frozen=True)
class StereoFigures:
    """``correlation`` of all and of what lies below 120 Hz, from -1 to 1; ``side_db`` the sides
    re the middle below 120 Hz, to 500 Hz, to 2 kHz and above; ``mono_loss_db`` what lies below
    150 Hz in a sum of both sides re the sides themselves, 0 where nothing is lost; ``low_share_db``
    what lies below 120 Hz re all."""

    correlation: float = 1.0
    low_correlation: float = 1.0
    side_db: tuple[float, ...] = (SILENCE_DB,) * (len(SIDE_EDGES_HZ) - 1)
    mono_loss_db: float = 0.0
    low_share_db: float = 0.0


def _ratio_db(part: float, whole: float) -> float:
    if part <= 1e-14 * max(whole, 1e-14):
        return SILENCE_DB
    return float(10.0 * np.log10(part / max(whole, 1e-30)))


def stereo_figures(signal: Signal, sample_rate: int) -> StereoFigures:
    """Figures of a whole signal of one or two channels, by its spectra and their product."""
    count = next_fast_len(max(signal.shape[1], sample_rate // 8), real=True)
    spectra = rfft(signal, count, axis=1)
    powers = spectra.real**2 + spectra.imag**2
    hz = np.arange(powers.shape[1]) * (sample_rate / count)
    low = hz < LOW_HZ
    low_share_db = _ratio_db(float(powers[:, low].sum()), float(powers.sum()))
    if signal.shape[0] == 1:
        return StereoFigures(low_share_db=low_share_db)
    product = spectra[0].real * spectra[1].real + spectra[0].imag * spectra[1].imag
    both = powers.sum(axis=0)
    middle, side = 0.25 * (both + 2.0 * product), 0.25 * (both - 2.0 * product)

    def correlation(chosen: slice | np.ndarray) -> float:
        left, right = (float(one[chosen].sum()) for one in powers)
        size = (left * right) ** 0.5
        return float(product[chosen].sum()) / size if size > 0.0 else 1.0

    bands = [(hz >= first) & (hz < last) for first, last in pairwise(SIDE_EDGES_HZ)]
    deep = hz < _MONO_HZ
    return StereoFigures(
        correlation=correlation(slice(None)),
        low_correlation=correlation(low),
        side_db=tuple(_ratio_db(float(side[b].sum()), float(middle[b].sum())) for b in bands),
        mono_loss_db=min(0.0, _ratio_db(float(middle[deep].sum()), 0.5 * float(both[deep].sum()))),
        low_share_db=low_share_db,
    )
