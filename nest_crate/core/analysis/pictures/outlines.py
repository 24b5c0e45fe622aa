"""What the screen draws: outlines of signals and the spectrogram, as compact bytes."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.fft import rfft

from nest_crate.core.dsp.resampling.oversampling import halve_rate
from nest_crate.core.dsp.util.signals import Signal, peak

__all__ = ["FLOOR_DB", "Outline", "Spectrogram", "outline", "spectrogram"]

FLOOR_DB = -96.0
LOWEST_HZ = 30.0
HIGHEST_HZ = 18000.0
# Each row is the loudest of this many readings across its band.
_READINGS = 3


@dataclass(frozen=True)
class Outline:
    """Smallest and largest sample of each column: int8 (columns, 2), 127 standing for scale."""

    scale: float
    data: NDArray[np.int8]


@dataclass(frozen=True)
class Spectrogram:
    """uint8 (rows, columns), row 0 lowest; 0 is FLOOR_DB, 255 a full-scale sine (0 dB)."""

    data: NDArray[np.uint8]
    low_hz: float
    high_hz: float


def outline(signal: Signal, columns: int) -> Outline:
    """Extremes of all channels, column by column; fewer columns where there are fewer frames."""
    frames = signal.shape[1]
    count = min(columns, frames)
    if count == 0:
        return Outline(0.0, np.zeros((0, 2), dtype=np.int8))
    starts = (np.arange(count) * frames) // count
    low = np.minimum.reduceat(signal.min(axis=0), starts)
    high = np.maximum.reduceat(signal.max(axis=0), starts)
    scale = peak(signal)
    steps = 127.0 / scale if scale > 0.0 else 0.0
    data = np.stack([np.floor(low * steps), np.ceil(high * steps)], axis=1)
    return Outline(scale, np.clip(data, -127, 127).astype(np.int8))


def spectrogram(signal: Signal, sample_rate: int, *, rows: int, columns: int) -> Spectrogram:
    """Log-frequency spectrogram with long windows for lows and short ones for highs.

    Below 300 Hz a window spans about 85 ms (bins 12 Hz apart), up to 2.4 kHz 21 ms, above 5 ms.
    """
    high_hz = min(HIGHEST_HZ, 0.45 * sample_rate)
    edges_hz = np.geomspace(LOWEST_HZ, high_hz, rows + 1)
    centres_hz = np.sqrt(edges_hz[1:] * edges_hz[:-1])
    # Lower bands need no high rate, and shorter transforms at a lower one.
    middle_signal, middle_rate = _lowered(signal, sample_rate, 30000)
    low_signal, low_rate = _lowered(middle_signal, middle_rate, 8000)
    bands = (
        (0.0, 300.0, low_signal, low_rate, 0.085),
        (300.0, 2400.0, middle_signal, middle_rate, 0.0213),
        (2400.0, np.inf, signal, sample_rate, 0.00533),
    )
    level_db = np.empty((rows, columns), dtype=np.float32)
    for from_hz, to_hz, source, rate, window_s in bands:
        chosen = (centres_hz >= from_hz) & (centres_hz < to_hz)
        if chosen.any():
            size = 1 << round(np.log2(window_s * rate))
            fractions = (np.arange(_READINGS) + 0.5) / _READINGS
            picked = np.flatnonzero(chosen)
            at_hz = (
                edges_hz[picked, None]
                * (edges_hz[picked + 1] / edges_hz[picked])[:, None] ** fractions
            )
            power = _power_columns(source, size, columns)
            level_db[chosen] = _read_rows(power, at_hz * size / rate)
    steps = 255.0 * (level_db - FLOOR_DB) / -FLOOR_DB
    return Spectrogram(np.clip(steps, 0, 255).astype(np.uint8), LOWEST_HZ, high_hz)


def _lowered(signal: Signal, sample_rate: int, highest_rate: int) -> tuple[Signal, int]:
    """A signal at half its rate, and again, until the rate is at most ``highest_rate``."""
    while sample_rate > highest_rate:
        signal, sample_rate = halve_rate(signal, 1), sample_rate // 2
    return signal, sample_rate


def _power_columns(signal: Signal, size: int, columns: int) -> NDArray[np.float32]:
    """Mean power of the channels, shape (columns, bins); a full-scale sine reads 1 at its bin."""
    # Single precision: what is drawn spans 96 dB.
    window = np.hanning(size).astype(np.float32)
    padded = np.pad(signal.astype(np.float32), ((0, 0), (size // 2, size)))
    frames = signal.shape[1]
    starts = ((np.arange(columns) + 0.5) * frames / columns).astype(int)
    total = np.zeros((columns, size // 2 + 1), dtype=np.float32)
    for channel in padded:
        cut = np.lib.stride_tricks.sliding_window_view(channel, size)[starts]
        spectrum = rfft(cut * window) * np.float32(2.0 / window.sum())
        total += spectrum.real**2 + spectrum.imag**2
    total /= signal.shape[0]
    return total


def _read_rows(power: NDArray[np.float32], positions: NDArray[np.float64]) -> NDArray[np.float32]:
    """Levels in dB (rows, columns) at bin positions (rows, readings), the loudest of each row."""
    positions = np.minimum(positions, power.shape[1] - 1.001)
    below = positions.astype(int)
    part = (positions - below).astype(np.float32)
    between = power[:, below] * (1.0 - part) + power[:, below + 1] * part
    level_db: NDArray[np.float32] = 10.0 * np.log10(np.maximum(between.max(axis=2), 1e-12))
    return level_db.T
