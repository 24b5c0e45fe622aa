"""What sets a body ringing: a blow, a burst of noise, a sweep down."""

from __future__ import annotations

import math

import numpy as np
from numpy.typing import NDArray
from scipy.signal import fftconvolve

from nest_crate.core.dsp.util.fixed_rate_noise import THROWN_RATE, at_rate
from nest_crate.core.dsp.util.randomness import uniform_numbers

__all__ = ["blow_correction", "contact_s", "noise_burst", "pulse", "sweep"]

Numbers = NDArray[np.float64]

# How long the softest and the hardest exciter touch the body.
_SOFTEST_S, _HARDEST_S = 0.008, 0.00002
_NOT_DRIVEN = 1e-3
_HEARD_HZ = 20000.0


def contact_s(hardness: float) -> float:
    """Seconds for which an exciter of a hardness from 0 to 1 touches the body."""
    return float(_SOFTEST_S * (_HARDEST_S / _SOFTEST_S) ** hardness)


def pulse(hardness: float, sample_rate: int) -> Numbers:
    """One blow: a raised cosine as long as the contact, whose sum is 1.

    Each frame holds the mean over its own span, so that the shortest pulse is still the right one.
    """
    length = contact_s(hardness) * sample_rate
    edges = np.minimum(np.arange(int(np.ceil(length)) + 1) / length, 1.0)
    return np.asarray(np.diff(edges - np.sin(2.0 * np.pi * edges) / (2.0 * np.pi)))


def blow_correction(hardness: float, hz: Numbers, sample_rate: int) -> Numbers:
    """By how much more a blow itself drives modes at ``hz`` than its frames do, shape of ``hz``.

    Means over frames lose the highs, as sinc(f / rate), except where the whole blow is one frame.
    The transform of a raised cosine of length T is sinc(f T) / (1 - (f T)^2).
    """
    # What is struck above what is heard, and falls into it, is driven as strongly as what is heard.
    hz = np.minimum(hz, _HEARD_HZ)
    blow = pulse(hardness, sample_rate)
    turn = -2.0j * np.pi * np.arange(blow.size) / sample_rate
    framed = np.abs(np.exp(np.multiply.outer(hz, turn)) @ blow)
    span = hz * contact_s(hardness)
    near_one = np.abs(span - 1.0) < 1e-6
    whole = np.abs(np.sinc(span) / np.where(near_one, 1.0, 1.0 - span**2))
    whole = np.where(near_one, 0.5, whole)
    # Where a blow drives nothing there is nothing to correct.
    heard = whole > _NOT_DRIVEN
    return np.where(heard, np.clip(whole / np.where(heard, framed, 1.0), 0.5, 2.0), 1.0)


def noise_burst(
    length_s: float, hardness: float, sample_rate: int, *, seed: int, part: str, hit_number: int
) -> Numbers:
    """Noise that falls away over ``length_s``, dulled as a soft blow would be; energy 1 at 48 kHz.

    The same burst at every rate: what it gives to a mode depends on the mode alone.
    """
    count = max(1, round(length_s * THROWN_RATE))
    noise = uniform_numbers(count, seed=seed, part=part, hit_number=hit_number)
    falling = noise * (1.0 - np.arange(count) / count) ** 2
    burst = _with_energy_one(fftconvolve(falling, pulse(hardness, THROWN_RATE)))
    if sample_rate == THROWN_RATE:
        return burst
    frames = math.ceil(burst.size * sample_rate / THROWN_RATE)
    return at_rate(burst, frames, sample_rate) * (THROWN_RATE / sample_rate)


def sweep(
    length_s: float, hardness: float, sample_rate: int, *, from_hz: float = 0.0, to_hz: float = 30.0
) -> Numbers:
    """A sine from one frequency to another; energy 1 at 48 kHz.

    Exponential sweep: Farina, "Simultaneous Measurement of Impulse Response and Distortion with a
    Swept-Sine Technique" (AES 108, 2000), equation (5).

    Parameters
    ----------
    from_hz
        where it begins; by hardness, from 500 Hz to 16 kHz, where it is 0.
    """
    count = max(8, round(length_s * sample_rate))
    highest = 0.45 * sample_rate
    first_hz = min(from_hz or 500.0 * 32.0**hardness, highest)
    way = np.arange(count) / count
    ratio = min(to_hz, highest) / first_hz
    if abs(math.log(ratio)) < 1e-6:
        cycles = first_hz * length_s * way
    else:
        cycles = first_hz * length_s / np.log(ratio) * (ratio**way - 1.0)
    ends = np.minimum(1.0, np.minimum(way, 1.0 - way) * 20.0)
    # At twice the rate half as strong: a mode hears twice as many frames of it.
    share = math.sqrt(THROWN_RATE / sample_rate)
    return _with_energy_one(np.sin(2.0 * np.pi * cycles) * ends) * share


def _with_energy_one(signal: Numbers) -> Numbers:
    return np.asarray(signal / np.sqrt(max(float(np.sum(signal**2)), 1e-12)))
