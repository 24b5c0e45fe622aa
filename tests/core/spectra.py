"""Measuring spectra, independent of the code under test."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.signal.windows import kaiser


def spectrum(
    signal: NDArray[np.float64], sample_rate: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Frequencies and magnitudes under a window whose side lobes lie below -280 dB."""
    magnitudes = np.abs(np.fft.rfft(signal * kaiser(signal.size, 38)))
    return np.fft.rfftfreq(signal.size, 1.0 / sample_rate), magnitudes


def alias_dbc(signal: NDArray[np.float64], fundamental_hz: float, sample_rate: int) -> float:
    """The loudest product that is no multiple of the fundamental, re the loudest partial."""
    frequencies, magnitudes = spectrum(signal, sample_rate)
    nearest = np.round(frequencies / fundamental_hz) * fundamental_hz
    # The window's main lobe is about 26 bins wide to either side.
    guard = 26.0 * sample_rate / signal.size
    others = np.abs(frequencies - nearest) > guard
    return float(20.0 * np.log10(magnitudes[others].max() / magnitudes.max()))


def peak_frequency(signal: NDArray[np.float64], sample_rate: int) -> float:
    """Frequency of the loudest partial: parabola through the log spectrum's peak.

    Under a wide Gaussian-like window the log peak is a parabola, so this is exact to about 1e-5.
    """
    frequencies, magnitudes = spectrum(signal, sample_rate)
    k = int(np.argmax(magnitudes))
    a, b, c = np.log(magnitudes[k - 1 : k + 2])
    return float(frequencies[k] + 0.5 * (a - c) / (a - 2 * b + c) * frequencies[1])


def third_octaves_db(
    signal: NDArray[np.float64], sample_rate: int, *, low_hz: float = 31.5, high_hz: float = 16000.0
) -> NDArray[np.float64]:
    """Power in third octaves with middles from ``low_hz`` to ``high_hz``, dB re a full-scale sine.

    Middles by powers of 10 as in IEC 61260-1; a Hann window over the whole signal (frames,).
    """
    window = np.hanning(signal.size)
    power = np.abs(np.fft.rfft(signal * window)) ** 2 * 4.0 / (signal.size * np.sum(window**2))
    hz = np.fft.rfftfreq(signal.size, 1.0 / sample_rate)
    first, last = round(10.0 * np.log10(low_hz)), round(10.0 * np.log10(high_hz))
    middles = 10.0 ** (np.arange(first, last + 1) / 10.0)
    sums = np.concatenate([[0.0], np.cumsum(power)])
    edges = np.searchsorted(hz, np.concatenate([middles / 10**0.05, middles[-1:] * 10**0.05]))
    return np.asarray(10.0 * np.log10(np.maximum(np.diff(sums[edges]), 1e-20)))
