"""How a part goes into the mix: level, pan, cuts, fades, and what pulls it down.

A browser's nodes do the same by the same formulas (Web Audio API, W3C: equal-power panning,
biquad filters), so what is played there and what is rendered here agree.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.signal import lfilter

from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.tryout.document import Duck, Part

__all__ = [
    "CHOKE_S",
    "LONGEST_HIT_S",
    "cut",
    "duck_points",
    "ducked_db",
    "faded",
    "panned",
    "sample_as_hit",
    "velocity_gain",
]

# A hit that another ends is faded out, for a step would click.
CHOKE_S = 0.005
LONGEST_HIT_S = 60.0
_END_FADE_S = 0.02
_OPEN_LOW_HZ, _OPEN_HIGH_HZ = 20.0, 20000.0
_PLAIN_VELOCITY = 100.0


def velocity_gain(velocity: int) -> float:
    """The gain of a sample at a velocity: 1 at 100, and 12 dB for each halving."""
    return float((velocity / _PLAIN_VELOCITY) ** 2)


def sample_as_hit(signal: Signal, sample_rate: int) -> Signal:
    """What a hit plays of a sample: no more than a minute, as renders of sounds; what is longer is
    faded out."""
    frames = round(LONGEST_HIT_S * sample_rate)
    if signal.shape[1] <= frames:
        return signal
    ended = signal[:, :frames].copy()
    fade = round(_END_FADE_S * sample_rate)
    ended[:, -fade:] *= 1.0 - np.arange(1, fade + 1) / fade
    return ended


def panned(signal: Signal, pan: float) -> Signal:
    """Two channels of one or two; equal power (Web Audio API, stereo panner)."""
    if signal.shape[0] == 1:
        angle = (pan + 1.0) * np.pi / 4.0
        return np.stack([signal[0] * np.cos(angle), signal[0] * np.sin(angle)])
    left, right = signal
    if pan <= 0.0:
        angle = (pan + 1.0) * np.pi / 2.0
        return np.stack([left + right * np.cos(angle), right * np.sin(angle)])
    angle = pan * np.pi / 2.0
    return np.stack([left * np.cos(angle), right + left * np.sin(angle)])


def _biquad(signal: Signal, hz: float, sample_rate: int, low_pass: bool) -> Signal:
    """Two poles at a quality of one over root two (R. Bristow-Johnson's formulas)."""
    angle = 2.0 * np.pi * min(hz, 0.499 * sample_rate) / sample_rate
    alpha, cosine = np.sin(angle) / np.sqrt(2.0), np.cos(angle)
    side = (1.0 - cosine) / 2.0 if low_pass else (1.0 + cosine) / 2.0
    middle = 1.0 - cosine if low_pass else -(1.0 + cosine)
    first = 1.0 + alpha
    numerator = np.array([side, middle, side]) / first
    denominator = np.array([1.0, -2.0 * cosine / first, (1.0 - alpha) / first])
    return np.asarray(lfilter(numerator, denominator, signal, axis=1))


def cut(signal: Signal, part: Part, sample_rate: int) -> Signal:
    """A part's low and high cut, 12 dB an octave each."""
    if part.low_cut_hz > _OPEN_LOW_HZ:
        signal = _biquad(signal, part.low_cut_hz, sample_rate, low_pass=False)
    if part.high_cut_hz < _OPEN_HIGH_HZ:
        signal = _biquad(signal, part.high_cut_hz, sample_rate, low_pass=True)
    return signal


def faded(signal: Signal, part: Part, length_s: float, sample_rate: int) -> Signal:
    """A part's fades from the start and to the end of the round, in equal steps of level."""
    if part.fade_in_s == 0.0 and part.fade_out_s == 0.0:
        return signal
    times = np.arange(signal.shape[1]) / sample_rate
    gain = np.ones(signal.shape[1])
    if part.fade_in_s > 0.0:
        gain *= np.clip(times / part.fade_in_s, 0.0, 1.0)
    if part.fade_out_s > 0.0:
        gain *= np.clip((length_s - times) / part.fade_out_s, 0.0, 1.0)
    return signal * gain


def duck_points(duck: Duck, hits_s: list[float]) -> list[tuple[float, float]]:
    """The gain in dB of what is ducked as (time, dB) points with straight lines between them.

    Each hit pulls it down from where it then is, holds it, and lets it go; a hit within the way of
    the one before begins anew.
    """
    points: list[tuple[float, float]] = [(0.0, 0.0)]
    low = -duck.amount_db
    for at in sorted(set(hits_s)):
        start = _value_at(points, at)
        while points and points[-1][0] >= at:
            points.pop()
        points += [(at, start), (at + duck.attack_s, low)]
        points += [(at + duck.attack_s + duck.hold_s, low)]
        points += [(at + duck.attack_s + duck.hold_s + duck.release_s, 0.0)]
    return points


def _value_at(points: list[tuple[float, float]], at: float) -> float:
    times, values = zip(*points, strict=True)
    return float(np.interp(at, times, values))


def ducked_db(
    points: list[tuple[float, float]], frames: int, sample_rate: int
) -> NDArray[np.float64]:
    """The gain of each frame in dB."""
    times, values = zip(*points, strict=True)
    return np.asarray(np.interp(np.arange(frames) / sample_rate, times, values))
