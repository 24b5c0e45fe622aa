"""Saturation without aliasing: oversampling and antiderivative anti-aliasing together.

Parker, Zavalishin, Le Bivic, "Reducing the Aliasing of Nonlinear Waveshaping Using
Continuous-Time Convolution" (DAFx 2016), equation (10) with its fallback for small steps.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.cancellation import cancel_flag
from nest_crate.core.dsp.distortion.transfer import (
    CORNERED,
    CURVES,
    log_term,
    plain_tanh,
    saturate_by,
    squared_exp,
)
from nest_crate.core.dsp.resampling.oversampling import (
    between_into,
    double_into,
    fine_taps,
    half_band_taps,
    halve_apart_into,
    halve_into,
    halve_last_into,
    last_taps,
)
from nest_crate.core.dsp.util.signals import Signal, peak

__all__ = ["shaped_drive", "soft_drive"]

_LN2 = float(np.log(2.0))
# Frames driven at a time, and what the filters reach beyond them: 20 + 4 + 1 on the way up,
# 1 + 4 + 33 on the way down; at 16 times the rate one more in all.
_BLOCK = 2048
_MARGIN = 96
_GENTLE_OCTAVES, _GENTLE = 2, 10.0 ** (10.0 / 20.0)
_MOST_OCTAVES = 6
# How far into a curve a signal goes before the rate is doubled once more, and again.
_FOLDING = frozenset({"fold", "sine_fold", "rectify"})
_BENT, _CORNERED, _FOLDED = (7.0, 25.0), (7.0, 25.0), (3.0, 10.0)
# The harmonics of tanh fall by asinh(pi / 2 / gain) nepers each: up to this gain those that would
# fold at 8 times 44.1 kHz lie more than 90 dB down for a tone of 10 kHz, and no mean is needed.
_PLAIN = 5.0
# tanh itself, a number beside those of ``transfer``.
_PLAIN_CURVE = -1
_NO_TABLE = np.zeros((2, 2049))
# A step smaller than this has no rise to divide: the slope stands for it.
_SMALL_STEP = 1e-6


def soft_drive(signal: Signal, *, gain: float, octaves: int, adaptive: bool = False) -> Signal:
    """tanh(gain * x), band-limited; see ``shaped_drive``.

    Adaptive, what goes no further than 10 dB into the curve is driven at four times the rate, which
    is enough: alias products below -100 dBc up to 9 kHz. Up to 18 dB no anti-aliasing besides the
    higher rate is needed.
    """
    curve = CURVES["soft"]
    if adaptive and octaves > _GENTLE_OCTAVES:
        reached = gain * peak(signal)
        if reached <= _PLAIN:
            curve = _PLAIN_CURVE
        octaves = _GENTLE_OCTAVES if reached <= _GENTLE else octaves + _more_octaves(reached, _BENT)
    return _in_blocks(signal, 0.0, gain, octaves, curve, _NO_TABLE)


def _more_octaves(reached: float, limits: tuple[float, float]) -> int:
    """How often more the rate is doubled for what goes so far into a curve: a tone's harmonics
    reach in proportion."""
    return sum(reached > limit for limit in limits)


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
        a name of ``CURVES``; those with corners are driven at twice the rate of the others, and
        all at more where they are driven far.
    rest
        the bias that lies before the start and behind the end.
    octaves
        how often the rate is doubled: 3 (8 times) for final quality, 2 for drafts.
    table : np.ndarray [shape=(2, entries)]
        of a drawn curve.
    """
    limits, fine = _BENT, False
    if shape in CORNERED:
        octaves, limits = octaves + 1, _CORNERED
    if octaves > _GENTLE_OCTAVES:
        more = _more_octaves(peak(signal), _FOLDED if shape in _FOLDING else limits)
        octaves, fine = min(_MOST_OCTAVES, octaves + more), more > 0 and shape in _FOLDING
    return _in_blocks(signal, rest, 1.0, octaves, CURVES[shape], table, fine)


def _in_blocks(
    signal: Signal,
    rest: float,
    gain: float,
    octaves: int,
    curve: int,
    table: NDArray[np.float64],
    fine: bool = False,
) -> Signal:
    channels, frames = signal.shape
    # Raised and lowered in single precision, whose rounding lies 140 dB below; bent in double.
    length = _blocks(frames) * _BLOCK + 2 * _MARGIN
    padded = np.full((channels, length), rest, dtype=np.float32)
    padded[:, _MARGIN : _MARGIN + frames] = signal
    out = np.empty((channels, _blocks(frames) * _BLOCK))
    taps_of = fine_taps if fine else half_band_taps
    taps = tuple(taps_of(step).astype(np.float32) for step in range(_MOST_OCTAVES))
    last_even, last_odd, centre = last_taps()
    last = (last_even.astype(np.float32), last_odd.astype(np.float32), np.float32(centre))
    block = _BLOCK + 2 * _MARGIN
    sizes = [block << n if n <= octaves else 0 for n in range(_MOST_OCTAVES + 1)]
    halves = [block << (octaves - 1)] * 2
    levels = tuple(np.empty(size, dtype=np.float32) for size in (*sizes, *halves))
    filters, shape = (taps, *last), (curve, rest, table)
    _drive(out, padded, gain, octaves, levels, filters, shape, cancel_flag())
    return np.ascontiguousarray(out[:, :frames])


def _blocks(frames: int) -> int:
    return -(-frames // _BLOCK)


@njit(cache=True, nogil=True)
def _drive(out, padded, gain, octaves, levels, filters, shape, cancel):  # type: ignore[no-untyped-def]
    """Up, saturate, down, block by block, so that the raised signal never leaves the cache.

    Levels are room for a block at each rate, and for its even and its odd frames; padded holds
    _MARGIN frames more than out on either side: what the filters reach.
    """
    taps, last_even, last_odd, centre = filters
    curve, rest, table = shape
    length = _BLOCK + 2 * _MARGIN
    top = levels[octaves]
    even, odd = levels[_MOST_OCTAVES + 1], levels[_MOST_OCTAVES + 2]
    integral = np.empty(top.shape[0] + 1)
    result = levels[0]
    for channel in range(out.shape[0]):
        for start in range(0, out.shape[1], _BLOCK):
            if cancel[0]:
                return
            block = padded[channel, start : start + length]
            double_into(levels[1], block, taps[0])
            for step in range(1, octaves - 1):
                double_into(levels[step + 1], levels[step], taps[step])
            below = levels[octaves - 1]
            if curve == _PLAIN_CURVE:
                _bend_twice(below, top, gain, taps[octaves - 1])
            else:
                double_into(top, below, taps[octaves - 1])
                _bend(top, gain, integral, curve, rest, table)
                halve_into(below, top, taps[octaves - 1], even, odd)
            for step in range(octaves - 2, 0, -1):
                halve_into(levels[step], levels[step + 1], taps[step], even, odd)
            halve_last_into(result, levels[1], last_even, last_odd, centre, even, odd)
            out[channel, start : start + _BLOCK] = result[_MARGIN : _MARGIN + _BLOCK]


@njit(cache=True, nogil=True)
def _bend_twice(signal, room, gain, taps):  # type: ignore[no-untyped-def]
    """tanh of a signal (frames,) at twice its rate, in place; room is (2 * frames,) to work in.

    Each frame is bent by itself, so those in between need not be put among the others.
    """
    between, bent = room[: signal.shape[0]], room[signal.shape[0] :]
    between_into(between, signal, taps)
    plain_tanh(signal, np.float32(gain))
    plain_tanh(between, np.float32(gain))
    halve_apart_into(bent, signal, between, taps)
    signal[:] = bent


@njit(cache=True, nogil=True)
def _bend(signal, gain, integral, curve, rest, table):  # type: ignore[no-untyped-def]
    """The curve in place; tanh, which is driven most, by loops that are vectorized."""
    if curve == 0 and rest == 0.0:
        _bend_softly(signal, gain, integral)
    else:
        saturate_by(curve, signal, rest, table)


# Frames of the raised signal looked at together for steps too small to be divided by.
_PIECE = 256


@njit(cache=True, nogil=True, error_model="numpy", fastmath={"contract"})
def _bend_softly(signal, gain, integral):  # type: ignore[no-untyped-def]
    """tanh of gain * signal (frames,) in place, silence before: its mean over each step, which is
    the antiderivative's rise over the step's width."""
    integral[0] = log_term(1.0) - _LN2
    for n in range(signal.shape[0]):
        x = np.float32(gain * signal[n])
        size = np.float64(abs(x))
        integral[n + 1] = size - _LN2 + log_term(squared_exp(size))
        signal[n] = x
    last = np.float32(0.0)
    for begin in range(0, signal.shape[0], _PIECE):
        piece = signal[begin : begin + _PIECE]
        last = _mean_over_steps(piece, integral[begin : begin + piece.shape[0] + 1], last)


@njit(cache=True, nogil=True, error_model="numpy", fastmath={"contract"})
def _mean_over_steps(signal, integral, before):  # type: ignore[no-untyped-def]
    """A piece (frames,) of what ``_bend_softly`` bends, with its integral (frames + 1,) and the
    frame before it. Returns its last frame as it was."""
    last = signal[signal.shape[0] - 1]
    small = 0
    previous = before
    for n in range(signal.shape[0]):
        x = signal[n]
        small += abs(x - previous) < _SMALL_STEP
        previous = x
    previous = before
    if small == 0:
        for n in range(signal.shape[0]):
            x = signal[n]
            signal[n] = (integral[n + 1] - integral[n]) / (np.float64(x) - np.float64(previous))
            previous = x
        return last
    for n in range(signal.shape[0]):
        x = signal[n]
        step = np.float64(x) - np.float64(previous)
        flat = abs(step) < _SMALL_STEP
        # tanh itself, by the same exponential.
        z = squared_exp(np.float64(abs(x)))
        steep = (1.0 - z) / (1.0 + z)
        mean = (integral[n + 1] - integral[n]) / (1.0 if flat else step)
        signal[n] = (steep if x >= 0.0 else -steep) if flat else mean
        previous = x
    return last
