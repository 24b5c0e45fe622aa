"""Resonant bodies as modes: where they lie, how they ring, and the ringing itself.

Fletcher and Rossing, "The Physics of Musical Instruments" (2nd ed., 1998): bars (section 2.14),
membranes (3.1), plates (3.5), strings (2.18); Fletcher, "Normal vibration frequencies of a stiff
piano string" (1964) for the inharmonicity coefficient B.
"""

from __future__ import annotations

from collections.abc import Callable, Sequence
from functools import lru_cache

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.optimize import brentq
from scipy.special import jn_zeros, jv

from nest_crate.core.cancellation import cancel_flag
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["BODIES", "decay_times_s", "modal_signal", "mode_ratios", "stiffened"]

Numbers = NDArray[np.float64]

# Frames of free ringing that are made at once.
_BLOCK = 256
# Of moved modes so many are turned at a time.
_LANES = 8
# A moved turn is found again so often.
_STRIDE = 16
_SILENT = 1e-14
# Of Nyquist: modes are heard so far, and fade out over the last part of it.
_HEARD_TO, _FADE = 0.98, 0.04


def _bar(count: int, position: float, _aspect: float) -> tuple[Numbers, Numbers]:
    """A bar free at both ends: f ~ z^2 with cos z cosh z = 1; struck from an end to its middle."""
    z = np.array([_bar_zero(n) for n in range(1, count + 1)])
    x = 0.5 * position
    # cosh and sinh of large z cancel; written by exponentials that do not grow.
    sigma = (np.cosh(np.minimum(z, 30.0)) - np.cos(z)) / (np.sinh(np.minimum(z, 30.0)) - np.sin(z))
    falling = np.exp(-z * x)
    rising = 0.5 * (1.0 - sigma) * np.exp(np.minimum(z, 30.0) * x)
    shape = rising + 0.5 * (1.0 + sigma) * falling + np.cos(z * x) - sigma * np.sin(z * x)
    return (z / z[0]) ** 2, shape / 2.0


@lru_cache(maxsize=64)
def _bar_zero(n: int) -> float:
    middle = (n + 0.5) * np.pi
    if n > 6:
        return float(middle)
    low, high = middle - 0.1, middle + 0.1
    return float(brentq(lambda z: np.cos(z) - 1.0 / np.cosh(z), low, high, xtol=1e-14))


def _plate(count: int, position: float, aspect: float) -> tuple[Numbers, Numbers]:
    """A rectangular plate on simple supports: f ~ m^2 + (n * aspect)^2, struck on its diagonal."""
    m, n = (one.ravel() for one in np.meshgrid(np.arange(1, 33), np.arange(1, 33)))
    size = m**2 + (n * aspect) ** 2
    order = np.argsort(size, kind="stable")[:count]
    # The diagonal from a corner to just beside the middle, where every mode is reached a little.
    x = 0.02 + 0.45 * position
    shape = np.sin(np.pi * m[order] * x) * np.sin(np.pi * n[order] * x)
    return size[order] / (1.0 + aspect**2), shape


@lru_cache(maxsize=1)
def _bessel_zeros() -> tuple[NDArray[np.int64], Numbers]:
    """Orders and zeros of Bessel functions, the lowest first."""
    orders = np.repeat(np.arange(24), 12)
    zeros = np.concatenate([jn_zeros(order, 12) for order in range(24)])
    rank = np.argsort(zeros, kind="stable")
    return orders[rank], zeros[rank]


def _membrane(count: int, position: float, _aspect: float) -> tuple[Numbers, Numbers]:
    """A round membrane: f ~ the zeros of Bessel functions; struck from its rim to its centre."""
    orders, zeros = (one[:count] for one in _bessel_zeros())
    radius = 0.98 * (1.0 - position)
    return zeros / zeros[0], jv(orders, zeros * radius)


def _tube(count: int, position: float, _aspect: float) -> tuple[Numbers, Numbers]:
    """A tube open at both ends: every harmonic; blown upon from an end to its middle."""
    n = np.arange(1, count + 1)
    return n.astype(np.float64), np.cos(np.pi * n * 0.5 * position) / np.sqrt(n)


def _stopped_tube(count: int, position: float, _aspect: float) -> tuple[Numbers, Numbers]:
    """A tube closed at one end: the odd harmonics; from its open end to its middle."""
    n = 2 * np.arange(1, count + 1) - 1
    return n.astype(np.float64), np.cos(np.pi * n * 0.25 * position) / np.sqrt(n)


def _string(count: int, position: float, _aspect: float) -> tuple[Numbers, Numbers]:
    """A string between two ends: every harmonic; struck from an end to its middle."""
    n = np.arange(1, count + 1)
    x = 0.01 + 0.49 * position
    return n.astype(np.float64), np.sin(np.pi * n * x)


BODIES: dict[str, Callable[[int, float, float], tuple[Numbers, Numbers]]] = {
    "bar": _bar,
    "plate": _plate,
    "membrane": _membrane,
    "tube": _tube,
    "stopped_tube": _stopped_tube,
    "string": _string,
}


def mode_ratios(
    body: str, count: int, *, position: float, aspect: float, set_st: Sequence[float] = ()
) -> tuple[Numbers, Numbers]:
    """Frequencies of a body's modes re the first, and how strongly each is struck.

    Parameters
    ----------
    body
        a name of ``BODIES``, or ``set`` for the intervals of ``set_st`` in semitones.
    position
        0 at an end or the rim, 1 in the middle.

    Returns
    -------
    ratios, strikes : np.ndarray [shape=(modes,)]
        strikes from -1 to 1.
    """
    if body == "set":
        steps = np.array(set_st[:count], dtype=np.float64)
        # A set is struck evenly; towards the middle its upper members less.
        tilt = np.linspace(1.0, 1.0 - 0.8 * position, steps.size) if steps.size > 1 else np.ones(1)
        return np.exp2(steps / 12.0), tilt
    return BODIES[body](count, position, aspect)


def stiffened(ratios: Numbers, inharmonicity: float) -> Numbers:
    """Ratios r as stiffness spreads them: r sqrt((1 + B r^2) / (1 + B)) (Fletcher 1964)."""
    return np.asarray(ratios * np.sqrt((1.0 + inharmonicity * ratios**2) / (1.0 + inharmonicity)))


def decay_times_s(ratios: Numbers, decay_s: float, damping: float) -> Numbers:
    """Seconds to -60 dB of each mode: decay_s at ratio 1, 2^damping times less each octave up."""
    return np.asarray(decay_s * ratios**-damping)


def modal_signal(
    exciter: Numbers,
    *,
    frames: int,
    frequencies_hz: Numbers,
    decays_s: Numbers,
    gains: Signal,
    sample_rate: int,
    shift: Numbers | None = None,
) -> Signal:
    """What modes answer to an exciter, shape (channels, frames): each a decaying sine for each
    impulse of it.

    Parameters
    ----------
    exciter : np.ndarray [shape=(exciter frames,)]
    decays_s : np.ndarray [shape=(modes,)]
        to -60 dB.
    gains : np.ndarray [shape=(channels, modes)]
        of a mode nothing is heard while its frequency lies above Nyquist.
    shift : np.ndarray [shape=(frames,)]
        what all frequencies are multiplied by at each frame; 1 all through where None.
    """
    lowest = 1.0 if shift is None else float(shift.min(initial=1.0))
    heard = frequencies_hz * lowest < _HEARD_TO * 0.5 * sample_rate
    out = np.zeros((gains.shape[0], frames))
    if not frames or not heard.any():
        return out
    turns = 2.0 * np.pi * frequencies_hz[heard] / sample_rate
    radius = 10.0 ** (-3.0 / (decays_s[heard] * sample_rate))
    onto = np.ascontiguousarray(gains[:, heard])
    if shift is None:
        _ring(out, exciter, turns, radius, onto, cancel_flag())
        return out
    groups = -(-turns.size // _LANES)

    def lanes(values: Numbers) -> Numbers:
        padded = np.zeros(groups * _LANES)
        padded[: values.size] = values
        return padded.reshape(groups, _LANES)

    rows = np.stack([lanes(row) for row in onto])
    _ring_moved(out, exciter, lanes(turns), lanes(radius), rows, shift, cancel_flag())
    return out


@njit(cache=True, nogil=True, fastmath={"contract"})
def _ring(out, exciter, turns, radius, onto, cancel):  # type: ignore[no-untyped-def]
    """Modes (modes,) one after the other; out (channels, frames).

    While it is excited a mode is turned and shrunk frame by frame. Afterwards a whole block is its
    state times the powers of one turn, which nothing waits for. A mode that has fallen silent is
    left.
    """
    frames, channels = out.shape[1], out.shape[0]
    struck = min(frames, exciter.shape[0])
    left, right = out[0], out[channels - 1]
    powers_c, powers_s = np.empty(_BLOCK), np.empty(_BLOCK)
    for mode in range(turns.shape[0]):
        if cancel[0]:
            return
        c, s = radius[mode] * np.cos(turns[mode]), radius[mode] * np.sin(turns[mode])
        to_left, to_right = onto[0, mode], onto[channels - 1, mode]
        re = im = 0.0
        for n in range(struck):
            re, im = c * re - s * im + exciter[n], s * re + c * im
            left[n] += im * to_left
            if channels > 1:
                right[n] += im * to_right
        a, b = c, s
        for n in range(_BLOCK):
            powers_c[n], powers_s[n] = a, b
            a, b = a * c - b * s, a * s + b * c
        for begin in range(struck, frames, _BLOCK):
            if re * re + im * im < _SILENT:
                break
            count = min(frames, begin + _BLOCK) - begin
            one, two = re * to_left, im * to_left
            row = left[begin : begin + count]
            for n in range(count):
                row[n] += one * powers_s[n] + two * powers_c[n]
            if channels > 1:
                one, two = re * to_right, im * to_right
                other = right[begin : begin + count]
                for n in range(count):
                    other[n] += one * powers_s[n] + two * powers_c[n]
            c_whole, s_whole = powers_c[_BLOCK - 1], powers_s[_BLOCK - 1]
            re, im = re * c_whole - im * s_whole, re * s_whole + im * c_whole


@njit(cache=True, nogil=True, inline="always")
def _below_nyquist(turn):  # type: ignore[no-untyped-def]
    """How much is heard of a mode that turns by so many radians a frame."""
    return min(1.0, max(0.0, (_HEARD_TO * np.pi - turn) / (_FADE * np.pi)))


@njit(cache=True, nogil=True)
def _add_lanes(out, summed, begin, count):  # type: ignore[no-untyped-def]
    """Sums over the lanes of (channels, block, lanes), in an order that is always the same."""
    for channel in range(out.shape[0]):
        for n in range(count):
            row = summed[channel, n]
            out[channel, begin + n] = ((row[0] + row[1]) + (row[2] + row[3])) + (
                (row[4] + row[5]) + (row[6] + row[7])
            )


@njit(cache=True, nogil=True, fastmath={"contract"})
def _ring_moved(out, exciter, turns, radius, onto, shift, cancel):  # type: ignore[no-untyped-def]
    """As ``_ring``, with all frequencies times ``shift`` (frames,): the turn of each mode is found
    every 16 frames and followed along a straight line between; above Nyquist it rings on unheard.
    """
    groups = turns.shape[0]
    frames, struck, channels = out.shape[1], exciter.shape[0], out.shape[0]
    real, imaginary = np.zeros((groups, _LANES)), np.zeros((groups, _LANES))
    rings = np.ones(groups, dtype=np.bool_)
    summed = np.zeros((channels, _STRIDE, _LANES))
    cosines, sines = radius * np.cos(turns * shift[0]), radius * np.sin(turns * shift[0])
    c_step, s_step = np.zeros(_LANES), np.zeros(_LANES)
    level, l_step = np.zeros((groups, _LANES)), np.zeros(_LANES)
    for group in range(groups):
        for k in range(_LANES):
            level[group, k] = _below_nyquist(turns[group, k] * shift[0])
    for begin in range(0, frames, _STRIDE):
        if cancel[0]:
            return
        count = min(frames, begin + _STRIDE) - begin
        after = shift[min(frames - 1, begin + _STRIDE)]
        summed[:] = 0.0
        for group in range(groups):
            if not rings[group]:
                continue
            c, s, re, im = cosines[group], sines[group], real[group], imaginary[group]
            loud = level[group]
            to_left, to_right = onto[0, group], onto[channels - 1, group]
            for k in range(_LANES):
                turn = turns[group, k] * after
                c_step[k] = (radius[group, k] * np.cos(turn) - c[k]) / _STRIDE
                s_step[k] = (radius[group, k] * np.sin(turn) - s[k]) / _STRIDE
                l_step[k] = (_below_nyquist(turn) - loud[k]) / _STRIDE
            for n in range(count):
                x = exciter[begin + n] if begin + n < struck else 0.0
                row = summed[0, n]
                for k in range(_LANES):
                    a = c[k] * re[k] - s[k] * im[k] + x
                    b = s[k] * re[k] + c[k] * im[k]
                    re[k] = a
                    im[k] = b
                    heard = b * loud[k]
                    row[k] += heard * to_left[k]
                    if channels > 1:
                        summed[1, n, k] += heard * to_right[k]
                    c[k] += c_step[k]
                    s[k] += s_step[k]
                    loud[k] += l_step[k]
            if begin + count >= struck:
                loudest = 0.0
                for k in range(_LANES):
                    loudest = max(loudest, re[k] * re[k] + im[k] * im[k])
                rings[group] = loudest >= _SILENT
        _add_lanes(out, summed, begin, count)
