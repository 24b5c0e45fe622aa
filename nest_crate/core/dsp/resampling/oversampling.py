"""Doubling and halving the sample rate with linear-phase half-band filters, without delay."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.signal import firwin, remez

from nest_crate.core.dsp.util.signals import Signal

__all__ = [
    "between_into",
    "double_into",
    "fine_taps",
    "half_band_taps",
    "halve_apart_into",
    "halve_into",
    "halve_last_into",
    "halve_rate",
    "last_taps",
    "octaves_above",
    "raise_cleanly",
    "raise_rate",
    "return_rate",
    "sharp_taps",
]

# Of an octave-by-octave climb: taps on either side, used when the rate is doubled the n-th time.
# The first must turn within 20 to 28 kHz (at 48 kHz), the later ones have much more room.
# Multiples of four, which are worked on together; what they shall stop lies 102 dB down.
_SIDE_TAPS = (20, 8, 4, 4)
_FINE_SIDES = (36, 16, 8, 8)
_LAST_DESIGNED = 4
_SHARP_SIDE, _SHARP_PASS = 48, 22.6 / 96.0
_FIRST_PASS, _FIRST_STOP = 20.0 / 96.0, 28.0 / 96.0

# The last way down may leave nothing above Nyquist that could fold back, so it is no half-band
# filter: flat within 0.0014 dB to 5/6 of Nyquist (20 kHz at 48 kHz), closed at Nyquist.
# What would fold is held 97 dB down.
_LAST_SIDE = 64
_LAST_BANDS, _LAST_WEIGHTS = (0.0, 5.0 / 24.0, 0.25, 0.5), (1.0, 6.0)
_CLEAN_SIDE, _CLEAN_BETA = 96, 12.2


@lru_cache(maxsize=8)
def fine_taps(step: int) -> NDArray[np.float64]:
    """As ``half_band_taps``, with images 140 dB down: for what is bent so far that every trace of
    them turns it. Kaiser's window over the ideal half-band filter."""
    side = _FINE_SIDES[min(step, len(_FINE_SIDES) - 1)]
    distance = 2.0 * np.arange(side) + 1.0
    window = np.kaiser(4 * side + 1, 14.0)[2 * side + 1 :: 2]
    odd = np.sinc(distance / 2.0) * window
    return np.ascontiguousarray(odd / (2.0 * odd.sum()))


@lru_cache(maxsize=8)
def half_band_taps(step: int) -> NDArray[np.float64]:
    """The non-zero taps on one side of a half-band filter, nearest first, for gain 1."""
    # Further up there is no narrower band to find: what the fifth passes is plenty.
    step = min(step, _LAST_DESIGNED)
    side = _SIDE_TAPS[min(step, len(_SIDE_TAPS) - 1)]
    passed = _FIRST_STOP / 2.0**step if step else _FIRST_PASS
    # Vaidyanathan and Nguyen, "A 'trick' for the design of FIR half-band filters" (IEEE Trans.
    # CAS 34, 1987): every second tap by itself is a filter of equal ripple that lets all pass.
    odd = remez(2 * side, [0.0, 2.0 * passed], [1.0])[side:]
    return np.ascontiguousarray(odd / (2.0 * odd.sum()))


@lru_cache(maxsize=1)
def sharp_taps() -> NDArray[np.float64]:
    """As ``half_band_taps(0)``, flat to 0.94 of Nyquist: for reading peaks of full-band signals."""
    odd = remez(2 * _SHARP_SIDE, [0.0, 2.0 * _SHARP_PASS], [1.0])[_SHARP_SIDE:]
    return np.ascontiguousarray(odd / (2.0 * odd.sum()))


@lru_cache(maxsize=1)
def last_taps() -> tuple[NDArray[np.float64], NDArray[np.float64], float]:
    """The low-pass of the last way down: taps at even and at odd distances, centre tap."""
    taps = remez(2 * _LAST_SIDE + 1, _LAST_BANDS, [1.0, 0.0], weight=_LAST_WEIGHTS)
    side = taps[_LAST_SIDE:] / taps.sum()
    return side[2::2].copy(), side[1::2].copy(), float(side[0])


@lru_cache(maxsize=1)
def _clean_taps() -> tuple[NDArray[np.float64], NDArray[np.float64], float]:
    """As ``last_taps``, longer: what is bent by a signal of eight cycles hears its images too."""
    taps = firwin(2 * _CLEAN_SIDE + 1, sum(_LAST_BANDS[1:3]), window=("kaiser", _CLEAN_BETA))
    side = taps[_CLEAN_SIDE:]
    return side[2::2].copy(), side[1::2].copy(), float(side[0])


def double_rate(signal: Signal, step: int) -> Signal:
    """A signal at twice its rate; ``step`` tells how often it was doubled before."""
    taps = half_band_taps(step)
    side = taps.shape[0]
    padded = np.pad(signal, ((0, 0), (side, side)))
    out = np.empty((signal.shape[0], 2 * padded.shape[1]))
    for channel in range(signal.shape[0]):
        double_into(out[channel], padded[channel], taps)
    return np.ascontiguousarray(out[:, 2 * side : -2 * side])


def halve_rate(signal: Signal, step: int) -> Signal:
    """A signal at half its rate, rounded up to whole frames: the way back from ``double_rate``."""
    margin = 2 * (_LAST_SIDE // 2 + 1 if step == 0 else half_band_taps(step).shape[0])
    padded = np.pad(signal, ((0, 0), (margin, margin + signal.shape[1] % 2)))
    out = np.empty((signal.shape[0], padded.shape[1] // 2))
    even, odd = np.empty(out.shape[1]), np.empty(out.shape[1])
    for channel in range(signal.shape[0]):
        if step:
            halve_into(out[channel], padded[channel], half_band_taps(step), even, odd)
        else:
            halve_last_into(out[channel], padded[channel], *last_taps(), even, odd)
    return np.ascontiguousarray(out[:, margin // 2 : out.shape[1] - margin // 2])


def octaves_above(sample_rate: int, *, final: bool) -> int:
    """How often a rate is doubled inside sources, so that all rates come to about the same:
    353 to 384 kHz in final quality, half of that in drafts."""
    octaves = 3 if sample_rate < 64000 else 2 if sample_rate < 128000 else 1
    return octaves if final else max(1, octaves - 1)


def raise_rate(signal: Signal, octaves: int) -> Signal:
    """A signal at 2**octaves times its rate."""
    for step in range(octaves):
        signal = double_rate(signal, step)
    return signal


def raise_cleanly(signal: Signal, octaves: int) -> Signal:
    """As ``raise_rate``, without a trace above the old Nyquist, for what is multiplied or bends.

    A half-band filter leaves images of what lies above 5/6 of Nyquist (20 kHz at 48 kHz), which a
    product brings down into hearing range. Here that is removed instead: flat to 5/6 of Nyquist
    within 0.0001 dB, images 118 dB down.
    """
    if octaves == 0:
        return signal
    even, odd, centre = _clean_taps()
    margin = even.shape[0] + 1
    padded = np.pad(signal, ((0, 0), (margin, margin)))
    doubled = np.empty((signal.shape[0], 2 * signal.shape[1]))
    for channel in range(signal.shape[0]):
        _double_cleanly(doubled[channel], padded[channel], even, odd, centre)
    for step in range(1, octaves):
        doubled = double_rate(doubled, step)
    return doubled


def return_rate(signal: Signal, octaves: int) -> Signal:
    """A signal back at its rate after ``raise_rate``."""
    for step in reversed(range(octaves)):
        signal = halve_rate(signal, step)
    return signal


@njit(cache=True, nogil=True, fastmath={"contract"})
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


@njit(cache=True, nogil=True, fastmath={"contract"})
def _add_eight(out, x, taps, first, ahead, behind):  # type: ignore[no-untyped-def]
    """As ``_add_pairs`` for eight taps, so that out is read and written half as often."""
    count = out.shape[0]
    t0, t1, t2, t3 = taps[first], taps[first + 1], taps[first + 2], taps[first + 3]
    t4, t5, t6, t7 = taps[first + 4], taps[first + 5], taps[first + 6], taps[first + 7]
    a0, b0 = x[ahead : ahead + count], x[behind : behind + count]
    a1, b1 = x[ahead + 1 : ahead + 1 + count], x[behind - 1 : behind - 1 + count]
    a2, b2 = x[ahead + 2 : ahead + 2 + count], x[behind - 2 : behind - 2 + count]
    a3, b3 = x[ahead + 3 : ahead + 3 + count], x[behind - 3 : behind - 3 + count]
    a4, b4 = x[ahead + 4 : ahead + 4 + count], x[behind - 4 : behind - 4 + count]
    a5, b5 = x[ahead + 5 : ahead + 5 + count], x[behind - 5 : behind - 5 + count]
    a6, b6 = x[ahead + 6 : ahead + 6 + count], x[behind - 6 : behind - 6 + count]
    a7, b7 = x[ahead + 7 : ahead + 7 + count], x[behind - 7 : behind - 7 + count]
    for n in range(count):
        out[n] += (
            (t0 * (a0[n] + b0[n]) + t1 * (a1[n] + b1[n]))
            + (t2 * (a2[n] + b2[n]) + t3 * (a3[n] + b3[n]))
        ) + (
            (t4 * (a4[n] + b4[n]) + t5 * (a5[n] + b5[n]))
            + (t6 * (a6[n] + b6[n]) + t7 * (a7[n] + b7[n]))
        )


@njit(cache=True, nogil=True)
def _add_taps(out, x, taps, ahead, behind):  # type: ignore[no-untyped-def]
    """out[n] += sum over all taps of taps[i] * (x[ahead + i + n] + x[behind - i + n])."""
    count = taps.shape[0]
    eights = count - count % 8
    for tap in range(0, eights, 8):
        _add_eight(out, x, taps, tap, ahead + tap, behind - tap)
    for tap in range(eights, count, 4):
        _add_pairs(out, x, taps, tap, ahead + tap, behind - tap)


@njit(cache=True, nogil=True)
def between_into(out, x, taps):  # type: ignore[no-untyped-def]
    """What lies in the middle between each frame of x (frames,) and the next, into out (frames,).

    With x itself this is x at twice its rate, even and odd frames apart. As many frames as there
    are taps at either end are 0.
    """
    side = taps.shape[0]
    frames = x.shape[0]
    out[:] = 0.0
    _add_taps(out[side : frames - side], x, taps, side + 1, side)


@njit(cache=True, nogil=True)
def halve_apart_into(out, even, odd, taps):  # type: ignore[no-untyped-def]
    """As ``halve_into`` of even and odd frames apart, (frames,) each."""
    side = taps.shape[0]
    frames = even.shape[0]
    y = out[side : frames - side]
    y[:] = even[side : frames - side]
    _add_taps(y, odd, taps, side, side - 1)
    y *= np.float32(0.5)  # in either precision
    out[:side] = 0.0
    out[frames - side : frames] = 0.0


@njit(cache=True, nogil=True)
def double_into(out, x, taps):  # type: ignore[no-untyped-def]
    """x (frames,) at twice its rate into out (2 * frames,).

    Even frames are the input's own, odd ones the filter's. As many frames as there are taps at
    either end have no full support: there out is 0.
    """
    side = taps.shape[0]
    frames = x.shape[0]
    count = frames - 2 * side
    # The second half of out serves as room for the frames between.
    between = out[2 * frames - count :]
    between[:] = 0.0
    _add_taps(between, x, taps, side + 1, side)
    middle = x[side : side + count]
    pairs = out[2 * side : 2 * (side + count)]
    for n in range(count):
        value = between[n]
        pairs[2 * n] = middle[n]
        pairs[2 * n + 1] = value
    out[: 2 * side] = 0.0
    out[2 * (frames - side) :] = 0.0


@njit(cache=True, nogil=True)
def _double_cleanly(out, padded, taps_even, taps_odd, centre):  # type: ignore[no-untyped-def]
    """padded (frames and margins) at twice its rate into out (2 * frames,)."""
    margin = taps_even.shape[0] + 1
    count = out.shape[0] // 2
    even, odd = np.empty(count), np.zeros(count)
    even[:] = centre * padded[margin : margin + count]
    _add_taps(even, padded, taps_even, margin + 1, margin - 1)
    _add_taps(odd, padded, taps_odd, margin + 1, margin)
    for n in range(count):
        out[2 * n] = 2.0 * even[n]
        out[2 * n + 1] = 2.0 * odd[n]


@njit(cache=True, nogil=True)
def _apart(x, even, odd):  # type: ignore[no-untyped-def]
    """Even and odd frames of x (2 * frames,)."""
    for n in range(x.shape[0] // 2):
        even[n] = x[2 * n]
        odd[n] = x[2 * n + 1]


@njit(cache=True, nogil=True)
def halve_into(out, x, taps, even, odd):  # type: ignore[no-untyped-def]
    """x (2 * frames,) through the half-band low-pass into every second frame, out (frames,).

    As many frames as there are taps at either end of out are 0; even and odd are room to work in.
    """
    frames = x.shape[0] // 2
    _apart(x, even, odd)
    halve_apart_into(out, even[:frames], odd[:frames], taps)


@njit(cache=True, nogil=True)
def halve_last_into(out, x, taps_even, taps_odd, centre, even, odd):  # type: ignore[no-untyped-def]
    """As ``halve_into`` with the full low-pass of ``last_taps``, which leaves nothing to fold."""
    margin = taps_even.shape[0] + 1
    frames = x.shape[0] // 2
    count = frames - 2 * margin
    _apart(x, even, odd)
    y = out[margin : margin + count]
    y[:] = centre * even[margin : margin + count]
    _add_taps(y, even, taps_even, margin + 1, margin - 1)
    _add_taps(y, odd, taps_odd, margin, margin - 1)
    out[:margin] = 0.0
    out[frames - margin : frames] = 0.0
