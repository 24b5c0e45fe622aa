"""Impulses of bodies, made from how they vibrate, and convolution with them."""

from __future__ import annotations

import math
from fractions import Fraction
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.signal import butter, oaconvolve, resample_poly, sosfilt

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.util.randomness import uniform_numbers
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["MADE_IMPULSES", "convolved_signal", "impulse_at", "made_impulse"]

_SPEED_OF_SOUND = 343.0
_HIGHEST_HZ = 16000.0
# What is one frame long at this rate is as strong as its length in seconds at others.
_REFERENCE_RATE = 48000.0
_LONGEST_S = {"small_box": 0.25, "large_box": 0.6, "speaker": 0.12, "spring": 2.2, "plate": 2.8}
MADE_IMPULSES = tuple(_LONGEST_S)


def _pair(name: str, count: int) -> NDArray[np.float64]:
    """Fixed numbers from 0 to 1 for two sides, shape (2, count), the same for ever."""
    raw = uniform_numbers(2 * count, seed=1, part=f"impulse.{name}", hit_number=0)
    return 0.5 * (raw.reshape(2, count) + 1.0)


def _ringing(
    hz: NDArray[np.float64],
    decay_s: NDArray[np.float64],
    gains: NDArray[np.float64],
    frames: int,
    sample_rate: int,
) -> Signal:
    """Sum of decaying sines; gains (2, modes). A decay is the time to -60 dB."""
    out = np.zeros((2, frames))
    time_s = np.arange(frames) / sample_rate
    for n in range(hz.size):
        # Beyond -100 dB nothing is added.
        last = min(frames, math.ceil(decay_s[n] * 100.0 / 60.0 * sample_rate))
        t = time_s[:last]
        out[:, :last] += gains[:, n, np.newaxis] * (
            np.sin(2.0 * np.pi * hz[n] * t) * np.exp(-math.log(1000.0) / decay_s[n] * t)
        )
    return out


def _box(name: str, sides_m: tuple[float, float, float], decay_s: float, rate: int) -> Signal:
    """Modes of the air in a box: c / 2 sqrt((l/a)^2 + (m/b)^2 + (n/c)^2).

    Kuttruff, "Room Acoustics" (2009), equation 3.16; struck in a corner, heard at two places.
    """
    most = [int(2.0 * side * 6000.0 / _SPEED_OF_SOUND) + 1 for side in sides_m]
    numbers = np.array(
        [
            (x, y, z)
            for x in range(most[0])
            for y in range(most[1])
            for z in range(most[2])
            if x + y + z
        ],
        dtype=np.float64,
    )
    hz = _SPEED_OF_SOUND / 2.0 * np.sqrt(np.sum((numbers / np.array(sides_m)) ** 2, axis=1))
    order = np.argsort(hz)[:400]
    numbers, hz = numbers[order], hz[order]
    ears = np.array([[0.31, 0.43, 0.27], [0.62, 0.37, 0.71]])
    gains = np.prod(np.cos(np.pi * numbers[np.newaxis] * ears[:, np.newaxis]), axis=2)
    decays = decay_s / (1.0 + (hz / 2500.0) ** 1.2)
    frames = round(_LONGEST_S[name] * rate)
    # The first sound comes straight, before the walls answer.
    made = _ringing(hz, decays, gains / np.sqrt(hz), frames, rate)
    made[:, 0] += 0.25 * np.abs(made).max() * rate / _REFERENCE_RATE
    return made


def _speaker(rate: int) -> Signal:
    """A cone in a small case: little below 200 Hz and above 5 kHz, three resonances."""
    frames = round(_LONGEST_S["speaker"] * rate)
    click = np.zeros((2, frames))
    click[:, 0] = rate / _REFERENCE_RATE
    sos = butter(2, (190.0, 4800.0), btype="bandpass", fs=rate, output="sos")
    body = _ringing(
        np.array([280.0, 910.0, 2350.0]),
        np.array([0.05, 0.025, 0.012]),
        np.array([[0.03, 0.05, 0.06], [0.03, 0.045, 0.065]]),
        frames,
        rate,
    )
    return np.asarray(sosfilt(sos, click, axis=1) + sosfilt(sos, body, axis=1))


def _spring(rate: int) -> Signal:
    """A spring: echoes whose highs come later and later, up to where it carries nothing more.

    Abel, Berners, Costello, Smith, "Spring Reverb Emulation Using Dispersive Allpass Filters in a
    Waveguide Structure" (AES 121, 2006): the group delay grows towards the transition frequency.
    Two springs, made in the frequency domain.
    """
    frames = round(_LONGEST_S["spring"] * rate)
    size = 2 ** math.ceil(math.log2(2 * frames))
    hz = np.fft.rfftfreq(size, 1.0 / rate)
    sides = []
    for time_s, edge_hz in ((0.041, 4300.0), (0.053, 3900.0)):
        x = np.minimum(hz / edge_hz, 0.995)
        delay_s = time_s / np.sqrt(1.0 - x**2)
        phase = -2.0 * np.pi * np.cumsum(delay_s) * (hz[1] - hz[0])
        carried = 1.0 / (1.0 + (hz / (0.92 * edge_hz)) ** 24) * (hz / (hz + 60.0))
        once = carried * np.exp(1j * phase)
        # Each way there and back is a little softer: the geometric series of all echoes.
        sides.append(np.fft.irfft(once / (1.0 + 0.74 * once), size)[:frames])
    return np.stack(sides)


def _plate(rate: int) -> Signal:
    """A steel plate: bending modes as (m/a)^2 + (n/b)^2, many and ever closer in time.

    Fletcher and Rossing, "The Physics of Musical Instruments" (1998), equation 3.14.
    """
    ratio, scale_hz = 1.61, 9.5
    most = int(math.sqrt(9000.0 / scale_hz)) + 1
    m, n = np.meshgrid(np.arange(1, most), np.arange(1, int(most * ratio)), indexing="ij")
    hz = scale_hz * (m**2 + (n / ratio) ** 2)
    kept = (hz > 30.0) & (hz < 9000.0)
    m, n, hz = m[kept], n[kept], hz[kept]
    # Every third will do, and stays dense: 600 modes by 2.8 s.
    pick = np.argsort(hz)[:: max(1, hz.size // 600)]
    m, n, hz = m[pick], n[pick], hz[pick]
    places = np.array([[0.23, 0.41], [0.67, 0.29]])
    strike = np.sin(np.pi * m * 0.37) * np.sin(np.pi * n * 0.61)
    gains = np.stack([strike * np.sin(np.pi * m * x) * np.sin(np.pi * n * y) for x, y in places])
    decays = 2.6 / (1.0 + (hz / 2200.0) ** 1.1)
    return _ringing(hz, decays, gains, round(_LONGEST_S["plate"] * rate), rate)


@lru_cache(maxsize=24)
def made_impulse(name: str, sample_rate: int) -> Signal:
    """An impulse that ships with the app, shape (2, frames), read-only.

    Raises
    ------
    KeyError
        where there is none of that name.
    """
    match name:
        case "small_box":
            made = _box(name, (0.31, 0.22, 0.17), 0.16, sample_rate)
        case "large_box":
            made = _box(name, (0.94, 0.66, 0.48), 0.42, sample_rate)
        case "speaker":
            made = _speaker(sample_rate)
        case "spring":
            made = _spring(sample_rate)
        case "plate":
            made = _plate(sample_rate)
        case _:
            raise KeyError(name)
    made.setflags(write=False)
    return made


def impulse_at(
    impulse: Signal, *, from_rate: int, size: float, decay_s: float, sample_rate: int
) -> Signal:
    """An impulse at another rate and size, faded by 60 dB in ``decay_s``, at a power of 1 (at
    48 kHz; at others it answers as loudly: twice as many frames, half as strong each).

    Parameters
    ----------
    impulse : np.ndarray [shape=(1 or 2, frames)]
    size
        2 plays it at half its speed.
    """
    up, down = _ratio(sample_rate * size / from_rate)
    sized = impulse if up == down else resample_poly(impulse, up, down, axis=1)
    frames = min(sized.shape[1], math.ceil(decay_s * 100.0 / 60.0 * sample_rate))
    time_s = np.arange(frames) / sample_rate
    faded = sized[:, :frames] * np.exp(-math.log(1000.0) / decay_s * time_s)
    power = float(np.mean(np.sum(faded**2, axis=1)))
    return (
        np.asarray(faded / math.sqrt(power * sample_rate / _REFERENCE_RATE))
        if power > 0.0
        else faded
    )


def _ratio(factor: float) -> tuple[int, int]:
    """Whole numbers for a factor, to within a hundredth of a per cent."""
    found = Fraction(factor).limit_denominator(640)
    return max(1, found.numerator), found.denominator


def convolved_signal(signal: Signal, impulse: Signal, *, late_frames: int) -> Signal:
    """A signal's answer, as long as the signal, stereo where either is.

    Parameters
    ----------
    signal, impulse : np.ndarray [shape=(1 or 2, frames)]
    late_frames
        silence before the answer.
    """
    frames = signal.shape[1]
    channels = max(signal.shape[0], impulse.shape[0])
    out = np.zeros((channels, frames))
    left = frames - late_frames
    if left > 0 and impulse.shape[1]:
        # One side after the other, for each takes several times its own room.
        for channel in range(channels):
            checkpoint()
            source = signal[min(channel, signal.shape[0] - 1), :left]
            answer = oaconvolve(source, impulse[min(channel, impulse.shape[0] - 1)])
            out[channel, late_frames:] = answer[:left]
    return out
