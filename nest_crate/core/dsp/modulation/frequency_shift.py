"""Frequency shift and ring modulation of whole buffers, and width."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from scipy.fft import ifft, next_fast_len, rfft

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.filters.crossovers import crossover_parts
from nest_crate.core.dsp.resampling.oversampling import raise_cleanly, return_rate
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["shifted_signal", "width_signal"]

# Below the first nothing is shifted, from the second on all is.
_LOWEST_HZ, _WHOLE_HZ = 4.0, 24.0
# Silence around a buffer, so that its end does not reach its start.
_PADDING = 96000
_STRETCH = 1 << 16


def shifted_signal(
    signal: Signal, cycles: NDArray[np.float64], *, way: str, sample_rate: int
) -> Signal:
    """Every partial moved by the same number of Hz.

    Single sideband by the analytic signal of the whole buffer (Marple, "Computing the
    Discrete-Time Analytic Signal via FFT", 1999), at twice the rate so that nothing folds back.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    cycles : np.ndarray [shape=(frames,)]
        how many cycles of the shift have gone by at each frame.
    way
        up, down, or ring: both at once, each at half the level.
    """
    out = np.empty_like(signal)
    # One side after the other, for all this takes several times the room of a side.
    for channel in range(signal.shape[0]):
        checkpoint()
        raised = raise_cleanly(signal[channel : channel + 1], 1)[0]
        turn = np.interp(np.arange(raised.size) / 2.0, np.arange(cycles.size), cycles)
        turn *= 2.0 * np.pi
        moved = (
            raised * np.cos(turn)
            if way == "ring"
            else _one_sideband(raised, turn, 1.0 if way == "up" else -1.0, sample_rate)
        )
        out[channel] = return_rate(moved[np.newaxis], 1)[0]
    return out


def _one_sideband(
    raised: NDArray[np.float64], turn: NDArray[np.float64], side: float, sample_rate: int
) -> NDArray[np.float64]:
    """A signal at twice the rate, shifted by a turn in radians at each frame; both (frames,)."""
    count = next_fast_len(raised.size + _PADDING, real=True)
    count += count % 2
    spectrum = np.zeros(count, dtype=np.complex128)
    half = count // 2
    spectrum[: half + 1] = rfft(raised, count)
    spectrum[half] = 0.0
    # Towards 0 Hz the two sidebands meet; what is left there would ring on for seconds.
    low = math.ceil(_WHOLE_HZ * count / (2.0 * sample_rate)) + 1
    hz = np.arange(low) * (2.0 * sample_rate / count)
    way_up = np.clip((hz - _LOWEST_HZ) / (_WHOLE_HZ - _LOWEST_HZ), 0.0, 1.0)
    spectrum[:low] *= np.sin(0.5 * np.pi * way_up) ** 2
    checkpoint()
    analytic = ifft(spectrum, overwrite_x=True)
    out = np.empty_like(raised)
    for begin in range(0, raised.size, _STRETCH):
        some = slice(begin, begin + _STRETCH)
        part, angle = analytic[: raised.size][some], turn[some]
        # What is shifted below 0 Hz comes back from there as a real signal's partials do.
        out[some] = 2.0 * (part.real * np.cos(angle) - side * part.imag * np.sin(angle))
    return out


def width_signal(
    signal: Signal,
    *,
    width: float | NDArray[np.float64],
    mono_below_hz: float,
    sample_rate: int,
    slope_db: int = 24,
) -> Signal:
    """The side signal scaled, and below a frequency removed; a mono signal stays as it is.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    width
        factor on the side signal; one number, or one for each frame.
    mono_below_hz
        where the side is crossed over to nothing, 6 dB softer there; nowhere at 10 Hz.
    slope_db
        of the side below, dB per octave: 12, 24 or 48.
    """
    if signal.shape[0] == 1:
        return signal
    middle = 0.5 * (signal[0] + signal[1])
    side = 0.5 * (signal[0] - signal[1]) * width
    if mono_below_hz > 10.0:
        low, high = crossover_parts(
            np.stack([middle, side]), mono_below_hz, sample_rate=sample_rate, slope_db=slope_db
        )
        # The middle passes the same crossover whole, so that both stay in phase.
        middle, side = low[0] + high[0], high[1]
    return np.stack([middle + side, middle - side])
