"""Zero-delay-feedback state-variable filters.

Trapezoidal integration after Zavalishin, "The Art of VA Filter Design" (2018), chapter 4, in the
form of Simper, "Linear Trapezoidal Integrated State Variable Filter" (2013).
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Any

import numpy as np
from numba import njit

from nest_crate.core.cancelling import checkpoint
from nest_crate.core.dsp.movement import CONTROL_FRAMES, Control, at_frames
from nest_crate.core.dsp.signals import Signal

__all__ = [
    "HIGHEST_CUTOFF",
    "Section",
    "filter_signal",
    "moving_state_variable",
    "ring_time_s",
    "section_list",
]

# Cutoff as a fraction of the sample rate; the bilinear map has no room above.
HIGHEST_CUTOFF = 0.49

# Quality factors of a Butterworth's sections relative to one section's: sqrt 2 / (2 cos(angle)).
_SECTION_Q = {
    12: (1.0,),
    24: (0.541196100146197 * math.sqrt(2.0), 1.306562964876377 * math.sqrt(2.0)),
    36: (0.517638090205041 * math.sqrt(2.0), 1.0, 1.931851652578137 * math.sqrt(2.0)),
}

# How input, band and low output of the core are mixed: (input, band as a factor of k, low).
_MIX = {
    "low_pass": (0.0, 0.0, 1.0),
    "high_pass": (1.0, -1.0, -1.0),
    "band_pass": (0.0, 1.0, 0.0),
    "notch": (1.0, -1.0, 0.0),
}
_FIRST_ORDER = ("low_pass", "high_pass", "low_shelf", "high_shelf")


@dataclass(frozen=True)
class Section:
    """One section: factors on g and k, and its mix of (input, band as a factor of k, low).

    Factors and mix are numbers, or controls where the gain moves.
    """

    g_factor: Any
    q: float | Control
    k_factor: Any
    mix: tuple[Any, Any, Any]


def section_list(
    response: str, slope_db: int, resonance: float | Control, gain_db: float | Control
) -> list[Section]:
    """The second-order sections of a response; equations of Simper (2013), pages 3 to 8."""
    if response in _MIX:
        row = _SECTION_Q[slope_db]
        # Only the sharpest section rings as asked; the others keep their own Q.
        return [
            Section(
                1.0,
                resonance * factor if n == len(row) - 1 else factor / math.sqrt(2.0),
                1.0,
                _MIX[response],
            )
            for n, factor in enumerate(row)
        ]
    count = slope_db // 12
    a = 10.0 ** (gain_db / count / 40.0)
    shapes = {
        "peak": (1.0, 1.0 / a, (1.0, a * a - 1.0, 0.0)),
        "low_shelf": (1.0 / a**0.5, 1.0, (1.0, a - 1.0, a * a - 1.0)),
        "high_shelf": (a**0.5, 1.0, (a * a, (1.0 - a) * a, 1.0 - a * a)),
    }
    g_factor, k_factor, mix = shapes[response]
    return [Section(g_factor, resonance, k_factor, mix)] * count


def filter_signal(
    signal: Signal,
    *,
    response: str,
    slope_db: int,
    cutoff_hz: float | Control,
    resonance: float | Control,
    sample_rate: int,
    gain_db: float | Control = 0.0,
) -> Signal:
    """Filter a signal with one section for each 12 dB per octave, or one pole for 6.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    response
        low_pass, high_pass, band_pass, notch, peak, low_shelf or high_shelf; band_pass, notch and
        peak have no 6 dB form and take 12.
    cutoff_hz
        corner, pre-warped so that the corner itself is exact; held below 0.49 of the rate. One
        number, or a control signal that is followed along straight lines. A peak's middle, the
        place of half a shelf's gain.
    resonance
        quality factor of the whole: 0.707 is the flattest pass band at any slope; a number or
        a control signal. One pole has none.
    gain_db
        of a peak or a shelf; shared among the sections of a steep one.
    """
    checkpoint()
    g = np.tan(np.pi * np.minimum(np.asarray(cutoff_hz) / sample_rate, HIGHEST_CUTOFF))
    if isinstance(gain_db, np.ndarray):
        if response not in _MIX:
            return _moved_gain(signal, g, resonance, gain_db, response, slope_db)
        gain_db = 0.0
    if slope_db == 6 and response in _FIRST_ORDER:
        return _first_order(signal, g, response, gain_db)
    filtered = signal
    for section in section_list(response, max(12, slope_db), resonance, gain_db):
        here = g * section.g_factor
        k = np.asarray(section.k_factor / np.asarray(section.q))
        mix_input, mix_band, mix_low = section.mix
        out = np.empty_like(filtered)
        if here.ndim == 0 and k.ndim == 0:
            still = float(k)
            mix = (mix_input, mix_band * still, mix_low)
            _state_variable(out, filtered, float(here), still, *mix)
        else:
            points = max(here.size, k.size)
            moving = [np.broadcast_to(one, (points,)).astype(np.float64) for one in (here, k)]
            moving_state_variable(out, filtered, *moving, CONTROL_FRAMES, *section.mix, False)
        filtered = out
    return filtered


def _moved_gain(
    signal: Signal,
    g: Control,
    resonance: float | Control,
    gain_db: Control,
    response: str,
    slope_db: int,
) -> Signal:
    """A peak or shelf whose gain moves: band and low of its core, mixed anew at each frame."""
    frames = signal.shape[1]
    if slope_db == 6 and response in _FIRST_ORDER:
        v = 10.0 ** (gain_db / 20.0)
        low_shelf = response == "low_shelf"
        low = np.empty_like(signal)
        corner = np.asarray(g / np.sqrt(v) if low_shelf else g * np.sqrt(v))
        _one_pole(low, signal, corner, CONTROL_FRAMES, 0.0, 1.0)
        gain = at_frames(v, frames)
        return signal + (gain - 1.0) * low if low_shelf else gain * signal + (1.0 - gain) * low
    for section in section_list(response, max(12, slope_db), resonance, gain_db):
        points = gain_db.size
        here = np.broadcast_to(np.asarray(g * section.g_factor), (points,)).astype(np.float64)
        k = np.asarray(section.k_factor / np.asarray(section.q))
        k = np.broadcast_to(k, (points,)).astype(np.float64)
        band, low = np.empty_like(signal), np.empty_like(signal)
        moving_state_variable(band, signal, here, k, CONTROL_FRAMES, 0.0, 1.0, 0.0, False)
        moving_state_variable(low, signal, here, k, CONTROL_FRAMES, 0.0, 0.0, 1.0, False)
        mixes = [at_frames(np.broadcast_to(m, (points,)), frames) for m in section.mix]
        signal = mixes[0] * signal + mixes[1] * band + mixes[2] * low
    return signal


def _first_order(signal: Signal, g: Control, response: str, gain_db: float) -> Signal:
    """One pole: low- and high-pass, and shelves whose corner has half the gain in dB.

    With V the shelf's gain: H = 1 + (V - 1) w / (s + w) at w = w0 / sqrt(V) for a low shelf, and
    H = V + (1 - V) w / (s + w) at w = w0 sqrt(V) for a high one; both give sqrt(V) at w0.
    """
    v = 10.0 ** (gain_db / 20.0)
    forms = {
        "low_pass": (1.0, 0.0, 1.0),
        "high_pass": (1.0, 1.0, -1.0),
        "low_shelf": (1.0 / math.sqrt(v), 1.0, v - 1.0),
        "high_shelf": (math.sqrt(v), v, 1.0 - v),
    }
    factor, mix_input, mix_low = forms[response]
    out = np.empty_like(signal)
    _one_pole(out, signal, np.atleast_1d(g * factor), CONTROL_FRAMES, mix_input, mix_low)
    return out


def ring_time_s(cutoff_hz: float, resonance: float, slope_db: int) -> float:
    """Seconds until the filter's own ring has fallen by 100 dB.

    The poles' real part is -pi * cutoff / Q, so the ring falls by 100 dB in Q*ln(1e5)/(pi*cutoff);
    several sections ring at most as many times as long.
    """
    sections = max(1, slope_db // 12)
    q = max(0.5, resonance) * {1: 1.0, 2: 1.85}.get(sections, 2.74)
    return sections * q * math.log(1e5) / (math.pi * cutoff_hz)


@njit(cache=True, nogil=True, fastmath={"contract"})
def _state_variable(out, signal, g, k, mix_input, mix_band, mix_low):  # type: ignore[no-untyped-def]
    """One section over (1 or 2 channels, frames); equations of Simper (2013), page 5.

    Solved for the next state, for each step waits for the one before: with v1 and v2 of the paper
    in the middle between two states, these are sums of few products. Two sides side by side.
    """
    a1 = 1.0 / (1.0 + g * (g + k))
    a2 = g * a1
    a3 = g * a2
    stay, cross, fall = 2.0 * a1 - 1.0, 2.0 * a2, 1.0 - 2.0 * a3
    enter = 2.0 * a3
    band, low = 0.5 * mix_band, 0.5 * mix_low
    last = signal.shape[0] - 1
    left, right, left_out, right_out = signal[0], signal[last], out[0], out[last]
    first = second = third = fourth = 0.0
    # Numbers too small to be normal would slow every step of a silent tail.
    for begin in range(0, signal.shape[1], 64):
        if abs(first) < 1e-30 and abs(second) < 1e-30:
            first = second = 0.0
        if abs(third) < 1e-30 and abs(fourth) < 1e-30:
            third = fourth = 0.0
        for n in range(begin, min(begin + 64, signal.shape[1])):
            v0 = left[n]
            next_first = (stay * first + cross * v0) - cross * second
            next_second = (fall * second + enter * v0) + cross * first
            left_out[n] = (
                mix_input * v0 + band * (first + next_first) + low * (second + next_second)
            )
            first, second = next_first, next_second
            if last == 1:
                v0 = right[n]
                next_first = (stay * third + cross * v0) - cross * fourth
                next_second = (fall * fourth + enter * v0) + cross * third
                right_out[n] = (
                    mix_input * v0 + band * (third + next_first) + low * (fourth + next_second)
                )
                third, fourth = next_first, next_second


@njit(cache=True, nogil=True)
def moving_state_variable(  # type: ignore[no-untyped-def]
    out, signal, g_at, k_at, block, mix_input, mix_band, mix_low, saturating
):
    """As ``_state_variable`` with g and k given each ``block`` frames, straight between.

    Saturating, the band's state, which holds the resonance, is held by tanh.
    """
    for channel in range(signal.shape[0]):
        first = 0.0
        second = 0.0
        for point in range((signal.shape[1] + block - 1) // block):
            here = min(point, g_at.shape[0] - 1)
            after = min(point + 1, g_at.shape[0] - 1)
            g, k = g_at[here], k_at[here]
            g_step, k_step = (g_at[after] - g) / block, (k_at[after] - k) / block
            for n in range(point * block, min((point + 1) * block, signal.shape[1])):
                a1 = 1.0 / (1.0 + g * (g + k))
                a2 = g * a1
                v0 = signal[channel, n]
                v3 = v0 - second
                v1 = a1 * first + a2 * v3
                v2 = second + a2 * first + g * a2 * v3
                first = 2.0 * v1 - first
                if saturating and abs(first) > 1e-3:
                    first = np.tanh(first)
                second = 2.0 * v2 - second
                if abs(first) < 1e-30:
                    first = 0.0
                if abs(second) < 1e-30:
                    second = 0.0
                out[channel, n] = mix_input * v0 + mix_band * k * v1 + mix_low * v2
                g += g_step
                k += k_step


@njit(cache=True, nogil=True)
def _one_pole(out, signal, g_at, block, mix_input, mix_low):  # type: ignore[no-untyped-def]
    """First-order section with g given each ``block`` frames; Zavalishin (2018), section 3.10."""
    for channel in range(signal.shape[0]):
        state = 0.0
        for point in range((signal.shape[1] + block - 1) // block):
            g = g_at[min(point, g_at.shape[0] - 1)]
            g_step = (g_at[min(point + 1, g_at.shape[0] - 1)] - g) / block
            for n in range(point * block, min((point + 1) * block, signal.shape[1])):
                v = (signal[channel, n] - state) * g / (1.0 + g)
                low = v + state
                state = low + v
                if abs(state) < 1e-30:
                    state = 0.0
                out[channel, n] = mix_input * signal[channel, n] + mix_low * low
                g += g_step
