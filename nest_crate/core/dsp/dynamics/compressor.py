"""Compressor and ceiling: level measured, gain computed, gain applied.

Giannoulis, Massberg, Reiss, "Digital Dynamic Range Compressor Design" (JAES 60, 2012): the gain
computer with its soft knee (equation 4) and the smooth, branching peak detector (equation 17).
"""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray
from scipy.fft import irfft, rfft
from scipy.ndimage import uniform_filter1d

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.resampling.oversampling import (
    between_into,
    double_into,
    half_band_taps,
    sharp_taps,
)
from nest_crate.core.dsp.util.running_extremes import running_maximum
from nest_crate.core.dsp.util.signals import Signal

__all__ = [
    "ceiling_gains",
    "ceiling_signal",
    "compressor_gain_db",
    "level_over_time_db",
    "smoothed_gain_db",
    "static_gain_db",
]

_RMS_S = 0.01
# A half-wave of 48 Hz.
_HALF_WAVE_S = 0.0105
_FLOOR = 1e-7


def static_gain_db(
    level_db: NDArray[np.float64], *, threshold_db: float, ratio: float, knee_db: float
) -> NDArray[np.float64]:
    """Gain in dB of a level in dB once all has come to rest; equation (4)."""
    gain_db = np.empty(np.shape(level_db))
    _static(gain_db.ravel(), np.ravel(level_db), threshold_db, 1.0 / ratio - 1.0, knee_db)
    return gain_db


@njit(cache=True, nogil=True)
def _static(out, level, threshold, slope, knee):  # type: ignore[no-untyped-def]
    """Equation (4) for each level (frames,), all in dB; ``slope`` is 1 / ratio - 1."""
    half = 0.5 * max(0.0, knee)
    scale = slope / (4.0 * half) if half > 0.0 else 0.0
    for n in range(out.shape[0]):
        over = level[n] - threshold
        # Within the knee the bend, beyond it the line; without a branch, so it is vectorized.
        within = min(half, max(-half, over)) + half
        out[n] = scale * within * within + slope * max(0.0, over - half)


def compressor_gain_db(
    key: Signal,
    *,
    threshold_db: float,
    ratio: float,
    knee_db: float,
    attack_s: float,
    release_s: float,
    look_ahead_s: float,
    measure: str,
    sample_rate: int,
) -> NDArray[np.float64]:
    """Gain at each frame, shape (frames,), in dB and never above 0.

    Attack and release are the times in which 63 % of a change is made.

    Parameters
    ----------
    key : np.ndarray [shape=(channels, frames)]
        what is listened to; the louder channel counts.
    measure
        peak: the largest magnitude of the last 10.5 ms, so that a steady tone from 48 Hz on has one
        level and not that of each of its half-waves; what that takes of the release is made up
        for (of one shorter than 21 ms in part); or rms over 10 ms.
    """
    ahead = round(look_ahead_s * sample_rate)
    if measure == "peak":
        key = _held_peak(key, sample_rate)
        # So much of the release has gone by when the peak is let go.
        release_s = max(0.5 * release_s, release_s - _HALF_WAVE_S)
    level_db = level_over_time_db(key, measure=measure, ahead=ahead, sample_rate=sample_rate)
    wanted = static_gain_db(level_db, threshold_db=threshold_db, ratio=ratio, knee_db=knee_db)
    return smoothed_gain_db(wanted, attack_s, release_s, sample_rate=sample_rate)


def _held_peak(key: Signal, sample_rate: int) -> Signal:
    """Largest magnitude of all channels over the last 10.5 ms, shape (1, frames)."""
    window = max(1, round(_HALF_WAVE_S * sample_rate))
    size = np.abs(key).max(axis=0)
    held = running_maximum(size, window)
    return np.asarray(held[np.newaxis])


def level_over_time_db(
    key: Signal, *, measure: str, ahead: int, sample_rate: int
) -> NDArray[np.float64]:
    """Level at each frame, shape (frames,): the larger magnitude of the channels, or the rms over
    10 ms, given as the peak of a sine of that rms; ``ahead`` frames early."""
    size = np.abs(key).max(axis=0)
    if measure == "rms":
        window = max(1, round(_RMS_S * sample_rate))
        power = uniform_filter1d((key**2).mean(axis=0), window, mode="constant")
        # A sine's rms lies 3 dB below its peak, and is raised to that.
        size = np.sqrt(np.maximum(2.0 * power, 0.0))
    if ahead:
        size = np.concatenate([size[ahead:], np.zeros(min(ahead, size.size))])[: size.size]
    return np.asarray(20.0 * np.log10(np.maximum(size, _FLOOR)))


def smoothed_gain_db(
    wanted_db: NDArray[np.float64], attack_s: float, release_s: float, *, sample_rate: int
) -> NDArray[np.float64]:
    """A gain in dB on its way down with the attack, and up with the release."""
    attack, release = (
        0.0 if time_s <= 0.0 else math.exp(-1.0 / (time_s * sample_rate))
        for time_s in (attack_s, release_s)
    )
    gain_db = np.empty_like(wanted_db)
    _smooth(gain_db, wanted_db, attack, release)
    return gain_db


@njit(cache=True, nogil=True, fastmath={"contract"})
def _smooth(out, wanted, attack, release):  # type: ignore[no-untyped-def]
    """One pole, quicker downwards than upwards; equation (17) on the gain in dB.

    Both ways are worked out and one is taken, for each frame waits for the one before.
    """
    gain = 0.0
    taken, released = 1.0 - attack, 1.0 - release
    for n in range(out.shape[0]):
        down = attack * gain + taken * wanted[n]
        up = release * gain + released * wanted[n]
        gain = down if wanted[n] < gain else up
        out[n] = gain


_LOOK_S = 0.0015
# Meters differ by so much in how they read between the samples of full-band noise: 0.3 dB.
_INSIDE = 10.0 ** (-0.3 / 20.0)
_BLOCK = 1024
# Frames read exactly at a time, and those around that are cut off with the block's own ends.
_EXACT_BLOCK, _EXACT_MARGIN = 6144, 1024
# No more than so many times the largest sample is ever read between them.
_MOST_BETWEEN = 4.0
# Of Nyquist: how far meters are open, and where they are closed.
_READ_TO = ((1.0, 1.001), (0.91, 1.0), (0.83, 0.95))
# White noise has 6, a sawtooth of 1 kHz 0.1.
_BRIGHT = 2.0
# What the filters of three doublings reach, in frames, with some room.
_MARGIN = 64


def ceiling_gains(
    driven: Signal, *, ceiling_db: float, release_s: float, sample_rate: int
) -> NDArray[np.float64]:
    """Gains (frames,) by which a signal's true peak, measured at eight times, stays below.

    The meter reads by an interpolation that is flat to 0.94 of Nyquist; 0.3 dB are kept for what
    other meters read of what lies above.

    The gain that each moment needs is spread over 1.5 ms to either side (a running minimum, then
    a mean over the same span, which never passes it), and rises again by ``release_s``.
    """
    ceiling = _INSIDE * 10.0 ** (ceiling_db / 20.0)
    frames = driven.shape[1]
    gains = np.ones(frames)
    held = driven
    bright = _is_bright(driven)
    if bright:
        # Meters between those that are read differ by some tenths more.
        ceiling *= _INSIDE
    # What the gain itself bends between the samples is removed in a second round.
    for margin in (1.0, 0.999, 0.998):
        peaks = _exact_peaks(held, ceiling) if bright else _true_peaks(held, ceiling)
        if peaks.max(initial=0.0) <= margin * ceiling:
            break
        needed = np.minimum(1.0, margin * ceiling / np.maximum(peaks, 1e-12))
        reach = max(1, round(_LOOK_S * sample_rate))
        # From as far behind to as far ahead; at both ends there is nothing to hold back.
        ahead = np.concatenate([needed, np.ones(reach)])
        lowest = -running_maximum(-ahead, 2 * reach + 1)[reach:]
        released = np.empty_like(lowest)
        _release(released, lowest, math.exp(-1.0 / (release_s * sample_rate)))
        gains = gains * uniform_filter1d(released, reach, mode="nearest")
        held = driven * gains
    return gains


def _is_bright(signal: Signal) -> bool:
    """Whether much lies near Nyquist, as in white noise, where short filters cannot read between
    the samples: the second difference, of which that makes sixteen times its power, tells."""
    return bool(_brightness(signal) > _BRIGHT)


@njit(cache=True, nogil=True)
def _brightness(signal):  # type: ignore[no-untyped-def]
    """Energy of the second difference re that of the signal (channels, frames)."""
    bent = 0.0
    whole = 1e-30
    for channel in range(signal.shape[0]):
        one = signal[channel]
        for n in range(2, one.shape[0]):
            difference = one[n] - 2.0 * one[n - 1] + one[n - 2]
            bent += difference * difference
            whole += one[n] * one[n]
    return bent / whole


def _exact_peaks(signal: Signal, ceiling: float) -> NDArray[np.float64]:
    """As ``_true_peaks``, by Fourier transforms of overlapping blocks, as several meters would read
    them: one to Nyquist itself, others that are closed there. Of white noise they differ by more
    than 1 dB, and each may be the one that is used."""
    frames = signal.shape[1]
    peaks = np.abs(signal).max(axis=0)
    size = _EXACT_BLOCK + 2 * _EXACT_MARGIN
    places = np.linspace(0.0, 1.0, size // 2 + 1)
    readings = [
        np.clip((none - places) / (none - full), 0.0, 1.0).astype(np.float32) * np.float32(8.0)
        for full, none in _READ_TO
    ]
    for begin in range(0, frames, _EXACT_BLOCK):
        checkpoint()
        first, last = begin - _EXACT_MARGIN, begin + _EXACT_BLOCK + _EXACT_MARGIN
        inside = slice(max(0, first), min(frames, last))
        if peaks[inside].max() * _MOST_BETWEEN < ceiling:
            continue
        # In single precision, whose rounding lies far below what is kept inside the ceiling.
        cut = np.zeros((signal.shape[0], size), dtype=np.float32)
        cut[:, inside.start - first : inside.stop - first] = signal[:, inside]
        spectrum = rfft(cut, axis=1)
        each = np.zeros(size)
        for reading in readings:
            fine = irfft(spectrum * reading, 8 * size, axis=1)
            _keep_larger(each, fine)
        count = min(_EXACT_BLOCK, frames - begin)
        own = each[_EXACT_MARGIN : _EXACT_MARGIN + count]
        np.maximum(peaks[begin : begin + count], own, out=peaks[begin : begin + count])
    return np.asarray(peaks)


@njit(cache=True, nogil=True)
def _keep_larger(peaks, fine):  # type: ignore[no-untyped-def]
    """peaks (frames,) or the largest magnitude of each eight of fine (channels, 8 frames)."""
    for channel in range(fine.shape[0]):
        for n in range(peaks.shape[0]):
            largest = abs(fine[channel, 8 * n])
            for k in range(1, 8):
                largest = max(largest, abs(fine[channel, 8 * n + k]))
            peaks[n] = max(peaks[n], largest)


def _true_peaks(signal: Signal, ceiling: float) -> NDArray[np.float64]:
    """Largest magnitude between each frame and the next at eight times the rate, shape (frames,).

    Where no interpolation could reach the ceiling the samples' own magnitude is given.
    """
    frames = signal.shape[1]
    blocks = -(-frames // _BLOCK)
    # In single precision, whose rounding lies far below what is kept inside the ceiling.
    padded = np.zeros((signal.shape[0], blocks * _BLOCK + 2 * _MARGIN), dtype=np.float32)
    padded[:, _MARGIN : _MARGIN + frames] = signal
    every = (sharp_taps(), half_band_taps(1), half_band_taps(2))
    taps = tuple(one.astype(np.float32) for one in every)
    # Each doubling can raise a magnitude by no more than the sum of its taps' magnitudes.
    most = math.prod(max(1.0, 2.0 * float(np.abs(one).sum())) for one in taps)
    peaks = np.zeros(blocks * _BLOCK)
    _peaks_in_blocks(peaks, padded, taps, ceiling / most)
    return peaks[:frames]


@njit(cache=True, nogil=True)
def _peaks_in_blocks(peaks, padded, taps, harmless):  # type: ignore[no-untyped-def]
    """peaks (frames,) of padded (channels, frames + margins), block by block in the cache."""
    length = _BLOCK + 2 * _MARGIN
    single = np.float32
    two, four = np.empty(2 * length, single), np.empty(4 * length, single)
    between = np.empty(4 * length, single)
    for channel in range(padded.shape[0]):
        for start in range(0, peaks.shape[0], _BLOCK):
            block = padded[channel, start : start + length]
            out = peaks[start : start + _BLOCK]
            largest = single(0.0)
            for n in range(length):
                largest = max(largest, abs(block[n]))
            if largest < harmless:
                for n in range(_BLOCK):
                    out[n] = max(out[n], abs(block[_MARGIN + n]))
                continue
            double_into(two, block, taps[0])
            double_into(four, two, taps[1])
            between_into(between, four, taps[2])
            for n in range(4 * _MARGIN, 4 * (_MARGIN + _BLOCK)):
                four[n] = max(abs(four[n]), abs(between[n]))
            inner = four[4 * _MARGIN : 4 * (_MARGIN + _BLOCK)]
            for n in range(_BLOCK):
                size = max(
                    max(inner[4 * n], inner[4 * n + 1]), max(inner[4 * n + 2], inner[4 * n + 3])
                )
                out[n] = max(out[n], size)


def ceiling_signal(
    signal: Signal, *, ceiling_db: float, gain_db: float, release_s: float, sample_rate: int
) -> Signal:
    """A signal raised by a gain and held below a ceiling; see ``ceiling_gains``."""
    driven = signal * 10.0 ** (gain_db / 20.0)
    return np.asarray(
        driven
        * ceiling_gains(driven, ceiling_db=ceiling_db, release_s=release_s, sample_rate=sample_rate)
    )


@njit(cache=True, nogil=True)
def _release(out, wanted, pole):  # type: ignore[no-untyped-def]
    """Down at once, up along one pole; never above what is wanted."""
    gain = 1.0
    for n in range(out.shape[0]):
        gain = min(wanted[n], pole * gain + (1.0 - pole))
        out[n] = gain
