"""Saturation without aliasing: oversampling and antiderivative anti-aliasing together.

Parker, Zavalishin, Le Bivic, "Reducing the Aliasing of Nonlinear Waveshaping Using
Continuous-Time Convolution" (DAFx 2016), equation (10) with its fallback for small steps.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.oversampling import (
    double_into,
    half_band_taps,
    halve_into,
    halve_last_into,
    last_taps,
)
from nest_crate.core.dsp.signals import Signal, peak
from nest_crate.core.dsp.transfer import CORNERED, CURVES, saturate_by

__all__ = ["shaped_drive", "soft_drive"]

_STEPS_PER_UNIT = 64
_END = 24.0
_LN2 = float(np.log(2.0))
# Frames driven at a time, and what the filters reach beyond them: 24 + 4 + 2 on the way up,
# 2 + 4 + 45 on the way down.
_BLOCK = 1024
_MARGIN = 96
_GENTLE_OCTAVES, _GENTLE = 2, 10.0 ** (10.0 / 20.0)
_NO_TABLE = np.zeros((2, 2049))


def _log_term_cubics() -> NDArray[np.float64]:
    """Cubics of ln(1 + exp(-2u)), u from 0 to _END, four coefficients an interval (flat).

    ln cosh(x) = |x| - ln 2 + ln(1 + exp(-2|x|)), of which this is the last term. Each cubic meets
    the function and its slope at both ends (Hermite), so the sum's slope, tanh, has no steps.
    """
    u = np.arange(0, int(_END * _STEPS_PER_UNIT) + 2) / _STEPS_PER_UNIT
    value = np.log1p(np.exp(-2.0 * u))
    slope = (np.tanh(u) - 1.0) / _STEPS_PER_UNIT
    rise = value[1:] - value[:-1]
    c2 = 3.0 * rise - 2.0 * slope[:-1] - slope[1:]
    c3 = slope[:-1] + slope[1:] - 2.0 * rise
    return np.ascontiguousarray(np.stack([value[:-1], slope[:-1], c2, c3], axis=1)).reshape(-1)


_LOG_TERM = _log_term_cubics()


def soft_drive(signal: Signal, *, gain: float, octaves: int, adaptive: bool = False) -> Signal:
    """tanh(gain * x), band-limited; see ``shaped_drive``.

    Adaptive, what goes no further than 10 dB into the curve is driven at four times the rate, which
    is enough: alias products below -100 dBc up to 9 kHz, and 0.3 dB less at 16 kHz.
    """
    if adaptive and octaves > _GENTLE_OCTAVES and gain * peak(signal) <= _GENTLE:
        octaves = _GENTLE_OCTAVES
    return _in_blocks(signal, 0.0, gain, octaves, CURVES["soft"], _NO_TABLE)


def shaped_drive(
    signal: Signal,
    *,
    shape: str,
    rest: float,
    octaves: int,
    table: NDArray[np.float64] = _NO_TABLE,
) -> Signal:
    """A transfer curve of ``transfer`` over a signal, band-limited.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
        with gain and bias in it already.
    shape
        a name of ``CURVES``; those with corners are driven at twice the rate of the others.
    rest
        the bias that lies before the start and behind the end.
    octaves
        how often the rate is doubled: 3 (8 times) for final quality, 2 for drafts.
    table : np.ndarray [shape=(2, entries)]
        of a drawn curve.
    """
    if shape in CORNERED:
        octaves += 1
    return _in_blocks(signal, rest, 1.0, octaves, CURVES[shape], table)


def _in_blocks(
    signal: Signal,
    rest: float,
    gain: float,
    octaves: int,
    curve: int,
    table: NDArray[np.float64],
) -> Signal:
    channels, frames = signal.shape
    padded = np.full((channels, _blocks(frames) * _BLOCK + 2 * _MARGIN), rest)
    padded[:, _MARGIN : _MARGIN + frames] = signal
    out = np.empty((channels, _blocks(frames) * _BLOCK))
    taps = tuple(half_band_taps(step) for step in range(4))
    _drive(out, padded, gain, octaves, taps, *last_taps(), _LOG_TERM, curve, rest, table)
    return np.ascontiguousarray(out[:, :frames])


def _blocks(frames: int) -> int:
    return -(-frames // _BLOCK)


@njit(cache=True, nogil=True)
def _drive(  # type: ignore[no-untyped-def]
    out,
    padded,
    gain,
    octaves,
    taps,
    last_even,
    last_odd,
    centre,
    log_term,
    curve,
    rest,
    table,
):
    """Up, saturate, down, block by block, so that the raised signal never leaves the cache.

    padded holds _MARGIN frames more than out on either side: what the filters reach.
    """
    length = _BLOCK + 2 * _MARGIN
    two, four = np.empty(2 * length), np.empty(4 * length)
    eight = np.empty(8 * length if octaves > 2 else 0)
    sixteen = np.empty(16 * length if octaves > 3 else 0)
    even, odd = np.empty(8 * length), np.empty(8 * length)
    integral = np.empty(16 * length + 1)
    for channel in range(out.shape[0]):
        for start in range(0, out.shape[1], _BLOCK):
            block = padded[channel, start : start + length]
            double_into(two, block, taps[0])
            double_into(four, two, taps[1])
            if octaves == 2:
                _bend(four, gain, log_term, integral, curve, rest, table)
            else:
                double_into(eight, four, taps[2])
                if octaves == 3:
                    _bend(eight, gain, log_term, integral, curve, rest, table)
                else:
                    double_into(sixteen, eight, taps[3])
                    _bend(sixteen, gain, log_term, integral, curve, rest, table)
                    halve_into(eight, sixteen, taps[3], even, odd)
                halve_into(four, eight, taps[2], even, odd)
            halve_into(two, four, taps[1], even, odd)
            halve_last_into(four[:length], two, last_even, last_odd, centre, even, odd)
            out[channel, start : start + _BLOCK] = four[_MARGIN : _MARGIN + _BLOCK]


@njit(cache=True, nogil=True)
def _bend(signal, gain, log_term, integral, curve, rest, table):  # type: ignore[no-untyped-def]
    """The curve in place; tanh, which is driven most, by loops that are vectorized."""
    if curve == 0 and rest == 0.0:
        _saturate(signal, gain, log_term, integral)
    else:
        saturate_by(curve, signal, rest, table, log_term)


@njit(cache=True, nogil=True)
def _saturate(signal, gain, log_term, integral):  # type: ignore[no-untyped-def]
    """tanh in place over (frames,), as the mean over each step of its antiderivative.

    In loops of their own, so that the division is vectorized; integral is room to work in.
    """
    frames = signal.shape[0]
    for n in range(frames):
        x = gain * signal[n]
        size = abs(x)
        position = min(size, _END) * _STEPS_PER_UNIT
        index = np.uint32(position)
        t = position - index
        at = index * np.uint32(4)
        cubic = log_term[at + np.uint32(2)] + t * log_term[at + np.uint32(3)]
        cubic = log_term[at] + t * (log_term[at + np.uint32(1)] + t * cubic)
        signal[n] = x
        integral[n + 1] = size - _LN2 + cubic
    # Before the first frame there was silence: ln cosh(0) = 0.
    integral[0] = 0.0
    before = 0.0
    for n in range(frames):
        x = signal[n]
        step = x - before
        if abs(step) > 1e-7:
            signal[n] = (integral[n + 1] - integral[n]) / step
        else:
            middle = 0.5 * (x + before)
            # Below 0.01 the series' next term is less than 2e-11.
            if abs(middle) < 0.01:
                signal[n] = middle - middle * middle * middle / 3.0
            else:
                signal[n] = np.tanh(middle)
        before = x
