"""Average spectra: in bands for pictures, and finely for what sticks out of them."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.fft import next_fast_len, rfft
from scipy.ndimage import median_filter
from scipy.signal import find_peaks

from nest_crate.core.dsp.util.signals import Signal

__all__ = ["Resonance", "band_middles_hz", "band_spectrum_db", "resonances", "standing_out"]

_LOWEST_HZ, _HIGHEST_HZ = 25.0, 18000.0
_FLOOR_DB = -144.0
_BANDS = 120
# Fine spectra are read at so many places an octave.
_PER_OCTAVE = 48
_OVER_DB = 12.0
_MOST = 6


@dataclass(frozen=True)
class Resonance:
    """A narrow peak: where, how loud re the loudest one, and how far above its neighbours."""

    hz: float
    level_db: float
    over_db: float


def _power(signal: Signal, sample_rate: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Frequencies and mean power of the channels, of the whole signal at once."""
    count = next_fast_len(max(signal.shape[1], sample_rate // 4), real=True)
    spectrum = rfft(signal, count, axis=1)
    power = (spectrum.real**2 + spectrum.imag**2).mean(axis=0)
    return np.arange(power.size) * (sample_rate / count), power


def _band_edges_hz(sample_rate: int, bands: int) -> NDArray[np.float64]:
    return np.geomspace(_LOWEST_HZ, min(_HIGHEST_HZ, 0.45 * sample_rate), bands + 1)


def band_middles_hz(sample_rate: int, *, bands: int = _BANDS) -> NDArray[np.float64]:
    """Middles of bands of equal width in octaves."""
    edges = _band_edges_hz(sample_rate, bands)
    return np.asarray(np.sqrt(edges[1:] * edges[:-1]))


def band_spectrum_db(
    signal: Signal, sample_rate: int, *, bands: int = _BANDS
) -> NDArray[np.float64]:
    """The level in each band of ``band_middles_hz`` in dB.

    Energies of one band are summed, so that pink noise is level; a full-scale sine of 1 s reads 0.
    """
    edges = _band_edges_hz(sample_rate, bands)
    hz, power = _power(signal, sample_rate)
    summed = np.concatenate([[0.0], np.cumsum(power)])
    # Read between bins, for the lowest bands are narrower than one.
    at = np.interp(edges, hz, np.arange(hz.size) + 0.5)
    energy = np.diff(np.interp(at, np.arange(summed.size), summed))
    energy = energy * 4.0 / (2.0 * hz[-1] / hz[1] * sample_rate)
    return np.asarray(10.0 * np.log10(np.maximum(energy, 10.0 ** (_FLOOR_DB / 10.0))))


def _fine_db(signal: Signal, sample_rate: int) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """The largest power near each of many places, evenly spread in octaves, in dB."""
    hz, power = _power(signal, sample_rate)
    octaves = np.log2(min(_HIGHEST_HZ, 0.45 * sample_rate) / 40.0)
    places = 40.0 * np.exp2(np.linspace(0.0, octaves, round(octaves * _PER_OCTAVE)))
    width = 2.0 ** (0.5 / _PER_OCTAVE)
    first = np.searchsorted(hz, places / width)
    last = np.maximum(np.searchsorted(hz, places * width), first + 1)
    most = np.maximum.reduceat(power, np.minimum(np.stack([first, last], 1).ravel(), hz.size - 1))
    return places, 10.0 * np.log10(np.maximum(most[::2], 1e-20))


def resonances(signal: Signal, sample_rate: int) -> list[Resonance]:
    """The strongest narrow peaks, the loudest first: 12 dB and more over what lies around them."""
    if not signal.size or not signal.any():
        return []
    return _narrow_peaks(*_fine_db(signal, sample_rate))


def _narrow_peaks(places: NDArray[np.float64], level: NDArray[np.float64]) -> list[Resonance]:
    around = median_filter(level, 2 * (_PER_OCTAVE // 3) + 1, mode="nearest")
    top = float(level.max())
    peaks, _ = find_peaks(np.concatenate([[-400.0], level, [-400.0]]))
    found = [
        Resonance(float(places[n]), float(level[n] - top), float(level[n] - around[n]))
        for n in peaks - 1
        if level[n] - around[n] >= _OVER_DB and level[n] > top - 40.0
    ]
    return sorted(found, key=lambda one: -one.level_db)[:_MOST]


# A partial of a tone stands over its neighbours too; what sticks out stands over other peaks.
_OTHERS_OCTAVES = 1.2
_OWN_OCTAVES = 1.0 / 10.0
_LOUD_DB = -20.0
_CROWD, _CROWD_DB = 4, 26.0
_LOWEST_STICKING_HZ = 250.0


def standing_out(signal: Signal, sample_rate: int, *, tonal: bool) -> Resonance | None:
    """The one narrow peak above 250 Hz that stands 12 dB over every other within 1.2 octaves.

    The lowest strong peak of a tonal sound is its own pitch, and none.
    """
    if not signal.size or not signal.any():
        return None
    places, level = _fine_db(signal, sample_rate)
    listed = _narrow_peaks(places, level)
    if not listed:
        return None
    reach, own = round(_OTHERS_OCTAVES * _PER_OCTAVE), round(_OWN_OCTAVES * _PER_OCTAVE)
    lowest_hz = min(one.hz for one in listed) if tonal else 0.0
    for one in listed:
        n = int(np.argmin(np.abs(places - one.hz)))
        others = np.concatenate(
            [level[max(0, n - reach) : max(0, n - own)], level[n + own + 1 : n + reach]]
        )
        over_db = float(level[n] - others.max(initial=-400.0))
        # Where little else is there, it is a partial of its own, as bells have.
        crowd, _ = find_peaks(others, height=level[n] - _CROWD_DB)
        if tonal and crowd.size < _CROWD:
            continue
        if (
            over_db >= _OVER_DB
            and one.level_db > _LOUD_DB
            and one.hz > max(_LOWEST_STICKING_HZ, 1.5 * lowest_hz)
        ):
            return Resonance(one.hz, one.level_db, over_db)
    return None
