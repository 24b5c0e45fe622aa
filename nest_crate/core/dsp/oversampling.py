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
_SIDE_TAPS = (22, 7, 5, 4)
_STOP_DB = 110.0

# The last way down may leave nothing above Nyquist that could fold back, so it is no half-band
# filter: flat to 5/6 of Nyquist (20 kHz at 48 kHz), closed at Nyquist.
_LAST_SIDE = 85

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
    if signal.shape[1] % 2:
        signal = np.pad(signal, ((0, 0), (0, 1)))
    channels, frames = signal.shape
    half = frames // 2
    margin = taps.shape[0]
    even = np.zeros((channels, half + 2 * margin))
    odd = np.zeros((channels, half + 2 * margin))
    even[:, margin : margin + half] = signal[:, 0::2]
    odd[:, margin : margin + half] = signal[:, 1::2]
    out = np.empty((channels, half))
    if step:
        _decimate_half_band(out, even, odd, taps)
    else:
        _decimate(out, even, odd, taps)
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
def _add_pair(out, weight, first, second):  # type: ignore[no-untyped-def]
    """out += weight * (first + second), all (frames,); apart so that it is vectorized."""
    for n in range(out.shape[0]):
        out[n] += weight * (first[n] + second[n])


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
            for tap in range(side):
                before, after = side - tap, side + 1 + tap
                first, second = x[before : before + count], x[after : after + count]
                _add_pair(between[:count], taps[tap], first, second)
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
            y[:] = 0.5 * even[channel, start + side : start + side + count]
            for tap in range(side):
                after, before = side + tap, side - 1 - tap
                first, second = x[before : before + count], x[after : after + count]
                _add_pair(y, 0.5 * taps[tap], first, second)


@njit(cache=True, nogil=True)
def _decimate(out, even, odd, taps):  # type: ignore[no-untyped-def]
    """Symmetric low-pass (centre tap first) and every second frame; margin of taps' length."""
    margin = taps.shape[0]
    frames = out.shape[1]
    for channel in range(out.shape[0]):
        for start in range(0, frames, _BLOCK):
            count = min(_BLOCK, frames - start)
            evens = even[channel, start : start + count + 2 * margin]
            odds = odd[channel, start : start + count + 2 * margin]
            y = out[channel, start : start + count]
            y[:] = taps[0] * evens[margin : margin + count]
            for tap in range(1, margin):
                ahead = margin + tap // 2
                behind = margin - (tap + 1) // 2
                x = evens if tap % 2 == 0 else odds
                _add_pair(y, taps[tap], x[ahead : ahead + count], x[behind : behind + count])
