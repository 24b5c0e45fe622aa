"""Noise: even, crackling or stepped, of any colour, one or two sides wide."""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.signal import oaconvolve

from nest_crate.core.dsp.util.fixed_rate_noise import THROWN_RATE, at_rate, frames_needed
from nest_crate.core.dsp.util.randomness import uniform_numbers
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["noise_signal"]

# Taps of the colour filter on either side; it resolves 6 Hz.
_SIDE = 4096
# The slope ends below this; brown noise would be all rumble otherwise.
_LOWEST_HZ = 20.0


def noise_signal(
    frames: int,
    *,
    texture: str,
    colour_db: float,
    rate_hz: float,
    width: float,
    offset_s: float,
    sample_rate: int,
    seed: int,
    part: str,
    hit_number: int,
) -> Signal:
    """Noise that is the same for the same key, shape (1 or 2, frames).

    It is thrown at 48 kHz and brought to other rates from there: the same density per Hz up to
    20 kHz at every rate, and the same events at the same instants.

    Parameters
    ----------
    texture
        even; crackle (``rate_hz`` random impulses a second); stepped (a new value ``rate_hz``
        times a second).
    colour_db
        slope per octave; the power up to 24 kHz stays that of the white noise.
    width
        0 one signal, 1 two that share nothing; the correlation is cos(width * 90 degrees).
    """
    draws = [_Draws(seed, name, hit_number) for name in (part, f"{part}.side")]
    skipped = round(offset_s * THROWN_RATE)
    thrown = frames_needed(frames, sample_rate)
    sides = [
        at_rate(_one(thrown, draw, texture, colour_db, rate_hz, skipped), frames, sample_rate)
        for draw in (draws if width > 0.0 else draws[:1])
    ]
    if len(sides) == 1:
        return sides[0][np.newaxis]
    angle = width * math.pi / 4.0
    middle, side = math.cos(angle) * sides[0], math.sin(angle) * sides[1]
    return np.stack([middle + side, middle - side])


def _one(
    frames: int, draw: _Draws, texture: str, colour_db: float, rate_hz: float, skipped: int
) -> NDArray[np.float64]:
    """One side of a noise at the rate at which it is thrown, from ``skipped`` frames on."""
    coloured = colour_db != 0.0
    # The filter reaches so far to either side.
    count = frames + (2 * _SIDE if coloured else 0)
    if texture == "stepped":
        steps = ((np.arange(count) + skipped) * rate_hz / THROWN_RATE).astype(np.int64)
        signal = draw.numbers("steps", int(steps[-1]) + 1 if count else 0)[steps]
    elif texture == "crackle":
        chance = draw.numbers("when", count, skipped)
        size = draw.numbers("size", count, skipped)
        signal = np.where(chance < 2.0 * rate_hz / THROWN_RATE - 1.0, size, 0.0)
    else:
        signal = draw.numbers("", count, skipped)
    if coloured:
        signal = oaconvolve(signal, _colour_filter(colour_db), mode="valid")
    return np.ascontiguousarray(signal[:frames])


class _Draws:
    """Streams of uniform numbers of one noise, by what they are for."""

    def __init__(self, seed: int, part: str, hit_number: int) -> None:
        self._seed = seed
        self._part = part
        self._hit_number = hit_number

    def numbers(self, use: str, count: int, skip: int = 0) -> NDArray[np.float64]:
        part = f"{self._part}.{use}" if use else self._part
        hit_number = self._hit_number
        return uniform_numbers(count, seed=self._seed, part=part, hit_number=hit_number, skip=skip)


@lru_cache(maxsize=32)
def _colour_filter(colour_db: float) -> NDArray[np.float64]:
    """Symmetric filter of 2 * _SIDE + 1 taps with a straight slope in dB per octave, energy 1."""
    size = 8 * _SIDE
    frequencies = np.maximum(np.fft.rfftfreq(size, 1.0 / THROWN_RATE), _LOWEST_HZ)
    gains = (frequencies / 1000.0) ** (colour_db / (20.0 * math.log10(2.0)))
    whole = np.fft.irfft(gains, size)
    taps = np.concatenate([whole[-_SIDE:], whole[: _SIDE + 1]]) * np.hanning(2 * _SIDE + 1)
    return np.asarray(taps / math.sqrt(np.sum(taps**2)))
