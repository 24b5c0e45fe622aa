"""Doubling and halving the sample rate with linear-phase half-band filters, without delay."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.signal import firwin, kaiser_beta

from nest_crate.core.dsp.signals import Signal

__all__ = ["halve_rate", "raise_rate", "return_rate"]

# Of an octave-by-octave climb: taps on either side, used when the rate is doubled the n-th time.
# The first must turn within 20 to 28 kHz (at 48 kHz), the later ones have much more room.
# Multiples of four, which are worked on together.
_SIDE_TAPS = (24, 8, 8, 4)
_STOP_DB = 110.0

# The last way down may leave nothing above Nyquist that could fold back, so it is no half-band
# filter: flat to 5/6 of Nyquist (20 kHz at 48 kHz), closed at Nyquist.
_LAST_SIDE = 88

# Frames worked on at a time, few enough to stay in the cache.
_BLOCK = 2048


@lru_cache(maxsize=8)
def _odd_taps(step: int) -> NDArray[np.float64]:
    """The non-zero taps on one side of a half-band filter, nearest first, for gain 1."""
    side = _SIDE_TAPS[min(step, len(_SIDE_TAPS) - 1)]
    taps = firwin(4 * side - 1, 0.5, window=("kaiser", kaiser_beta(_STOP_DB)))
    odd = taps[2 * side :: 2] * 2.0
    return np.ascontiguousarray(odd / (2.0 * odd.sum()))


@lru_cache(maxsize=1)
def _last_taps() -> NDArray[np.float64]:
    """Centre tap and one side of the low-pass used on the last way down."""
    taps = firwin(2 * _LAST_SIDE + 1, 11.0 / 24.0, window=("kaiser", kaiser_beta(_STOP_DB)))
    return np.ascontiguousarray(taps[_LAST_SIDE:] / taps.sum())


def double_rate(signal: Signal, step: int) -> Signal:
    """A signal at twice its rate; ``step`` tells how often it was doubled before."""
    taps = _odd_taps(step)
    channels, frames = signal.shape
    side = taps.shape[0]
    padded = np.zeros((channels, frames + 2 * side))
    padded[:, side : side + frames] = signal
    out = np.empty((channels, 2 * frames))
    _interpolate(out, padded, taps)
    return out


def halve_rate(signal: Signal, step: int) -> Signal:
    """A signal at half its rate, rounded up to whole frames: the way back from ``double_rate``."""
    taps = _odd_taps(step) if step else _last_taps()
    margin = taps.shape[0] if step else _LAST_SIDE // 2 + 1
    if signal.shape[1] % 2:
        signal = np.pad(signal, ((0, 0), (0, 1)))
    channels, frames = signal.shape
    half = frames // 2
    even = np.zeros((channels, half + 2 * margin))
    odd = np.zeros((channels, half + 2 * margin))
    even[:, margin : margin + half] = signal[:, 0::2]
    odd[:, margin : margin + half] = signal[:, 1::2]
    out = np.empty((channels, half))
    if step:
        _decimate_half_band(out, even, odd, taps)
    else:
        by_even, by_odd = taps[2::2].copy(), taps[1::2].copy()
        _decimate(out, even, odd, by_even, by_odd, taps[0])
    return out


def raise_rate(signal: Signal, octaves: int) -> Signal:
    """A signal at 2**octaves times its rate."""
    for step in range(octaves):
        signal = double_rate(signal, step)
    return signal


def return_rate(signal: Signal, octaves: int) -> Signal:
    """A signal back at its rate after ``raise_rate``."""
    for step in reversed(range(octaves)):
        signal = halve_rate(signal, step)
    return signal


@njit(cache=True, nogil=True)
def _add_pairs(out, x, taps, first, ahead, behind):  # type: ignore[no-untyped-def]
    """out[n] += sum over four taps of taps[first + i] * (x[ahead + i + n] + x[behind - i + n]).

    Four at a time, so that out is read and written once for four; slices, because an index that
    might be negative keeps the loop from being vectorized.
    """
    count = out.shape[0]
    t0, t1, t2, t3 = taps[first], taps[first + 1], taps[first + 2], taps[first + 3]
    a0, b0 = x[ahead : ahead + count], x[behind : behind + count]
    a1, b1 = x[ahead + 1 : ahead + 1 + count], x[behind - 1 : behind - 1 + count]
    a2, b2 = x[ahead + 2 : ahead + 2 + count], x[behind - 2 : behind - 2 + count]
    a3, b3 = x[ahead + 3 : ahead + 3 + count], x[behind - 3 : behind - 3 + count]
    for n in range(count):
        out[n] += (t0 * (a0[n] + b0[n]) + t1 * (a1[n] + b1[n])) + (
            t2 * (a2[n] + b2[n]) + t3 * (a3[n] + b3[n])
        )


@njit(cache=True, nogil=True)
def _interpolate(out, padded, taps):  # type: ignore[no-untyped-def]
    """Even frames are the input's own, odd ones the filter's; padded has zeros on both sides."""
    side = taps.shape[0]
    frames = out.shape[1] // 2
    between = np.empty(_BLOCK)
    for channel in range(out.shape[0]):
        for start in range(0, frames, _BLOCK):
            count = min(_BLOCK, frames - start)
            x = padded[channel, start : start + count + 2 * side]
            between[:] = 0.0
            for tap in range(0, side, 4):
                _add_pairs(between[:count], x, taps, tap, side + 1 + tap, side - tap)
            middle = x[side : side + count]
            pairs = out[channel, 2 * start : 2 * (start + count)]
            for n in range(count):
                pairs[2 * n] = middle[n]
                pairs[2 * n + 1] = between[n]


@njit(cache=True, nogil=True)
def _decimate_half_band(out, even, odd, taps):  # type: ignore[no-untyped-def]
    """Half-band low-pass and every second frame: even frames at 1/2, odd ones by the taps."""
    side = taps.shape[0]
    frames = out.shape[1]
    for channel in range(out.shape[0]):
        for start in range(0, frames, _BLOCK):
            count = min(_BLOCK, frames - start)
            x = odd[channel, start : start + count + 2 * side]
            y = out[channel, start : start + count]
            y[:] = even[channel, start + side : start + side + count]
            for tap in range(0, side, 4):
                _add_pairs(y, x, taps, tap, side + tap, side - 1 - tap)
            y *= 0.5


@njit(cache=True, nogil=True)
def _decimate(out, even, odd, taps_even, taps_odd, centre):  # type: ignore[no-untyped-def]
    """Symmetric low-pass and every second frame; its taps apart by even and odd distance."""
    margin = (even.shape[1] - out.shape[1]) // 2
    frames = out.shape[1]
    for channel in range(out.shape[0]):
        for start in range(0, frames, _BLOCK):
            count = min(_BLOCK, frames - start)
            evens = even[channel, start : start + count + 2 * margin]
            odds = odd[channel, start : start + count + 2 * margin]
            y = out[channel, start : start + count]
            y[:] = centre * evens[margin : margin + count]
            for tap in range(0, taps_even.shape[0], 4):
                _add_pairs(y, evens, taps_even, tap, margin + 1 + tap, margin - 1 - tap)
            for tap in range(0, taps_odd.shape[0], 4):
                _add_pairs(y, odds, taps_odd, tap, margin + tap, margin - 1 - tap)
