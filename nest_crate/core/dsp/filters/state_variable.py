"""State-variable filters that meet their analogue prototypes, still and while they move.

The core is trapezoidal, after Zavalishin, "The Art of VA Filter Design" (2018), chapter 4, in the
form of Simper, "Linear Trapezoidal Integrated State Variable Filter" (2013): stable however it
moves. Its coefficients are those of ``matched``, not of the bilinear map, which would squeeze the
top of the spectrum: within 0.25 dB of the prototype from 20 Hz to 16 kHz at every rate.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from numba import njit

from nest_crate.core.cancellation import checkpoint
from nest_crate.core.dsp.filters.matched import (
    HIGHEST_CUTOFF,
    MORE_POLE,
    Coefficients,
    matched_first_order,
    matched_section,
)
from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, Control, at_frames
from nest_crate.core.dsp.util.signals import Signal

__all__ = [
    "HIGHEST_CUTOFF",
    "bilinear_coefficients",
    "filter_coefficients",
    "filter_signal",
    "high_cut",
    "moving_section",
    "ring_time_s",
    "through_sections",
]

# Quality factors of a Butterworth's sections relative to one section's: sqrt 2 / (2 cos(angle)).
_SECTION_Q = {
    12: (1.0,),
    24: (0.541196100146197 * math.sqrt(2.0), 1.306562964876377 * math.sqrt(2.0)),
    36: (0.517638090205041 * math.sqrt(2.0), 1.0, 1.931851652578137 * math.sqrt(2.0)),
}
_SECTIONED = ("low_pass", "high_pass", "band_pass", "notch")
_FIRST_ORDER = ("low_pass", "high_pass", "low_shelf", "high_shelf")
# What these do hangs on a gain alone.
_OF_GAIN = ("peak", "low_shelf", "high_shelf")
# Where only the cutoff moves, coefficients are found at so many places an octave, which are the
# same whatever the way of the cutoff, and read between them.
_PER_OCTAVE, _LOWEST_HZ, _OCTAVES = 24, 5.0, 14
# Where more moves they are found at every so many control points.
_STRIDE = 4
# A high cut opens between these.
_OPENS_FROM_HZ, _OPEN_HZ = 16000.0, 20000.0
# A zero that lies on its pole, but for rounding, does nothing.
_NEUTRAL = 1e-9


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
        corner; held below 0.49 of the rate. One number, or a control signal that is followed along
        straight lines. A peak's middle, the place of half a shelf's gain.
    resonance
        quality factor of the whole: 0.707 is the flattest pass band at any slope; a number or
        a control signal. One pole has none.
    gain_db
        of a peak or a shelf; shared among the sections of a steep one.
    """
    checkpoint()
    if response in _OF_GAIN and isinstance(gain_db, float) and gain_db == 0.0:
        return signal
    sections = filter_coefficients(
        response, slope_db, cutoff_hz, resonance, gain_db, sample_rate=sample_rate
    )
    return through_sections(signal, sections)


def high_cut(signal: Signal, corner_hz: float | Control, *, sample_rate: int) -> Signal:
    """A low-pass of 12 dB per octave that is fully open at 20 kHz: over the last part of its way
    there what it takes away comes back, without a jump."""
    corner = np.asarray(corner_hz, dtype=np.float64)
    if corner.ndim == 0 and corner >= _OPEN_HZ:
        return signal
    cut = filter_signal(
        signal,
        response="low_pass",
        slope_db=12,
        cutoff_hz=corner if corner.ndim else float(corner),
        resonance=math.sqrt(0.5),
        sample_rate=sample_rate,
    )
    way = np.clip((corner - _OPENS_FROM_HZ) / (_OPEN_HZ - _OPENS_FROM_HZ), 0.0, 1.0)
    if not np.any(way > 0.0):
        return cut
    opened = way * way * (3.0 - 2.0 * way)
    if opened.ndim:
        opened = at_frames(opened, signal.shape[1])
    return np.asarray(cut + opened * (signal - cut))


def filter_coefficients(
    response: str,
    slope_db: int,
    cutoff_hz: float | Control,
    resonance: float | Control,
    gain_db: float | Control,
    *,
    sample_rate: int,
) -> list[Coefficients]:
    """The sections of a response, each at one point or at every control point."""
    if response in _SECTIONED:
        gain_db = 0.0
    if slope_db == 6 and response in _FIRST_ORDER:
        return [_at(f"{response} 6", cutoff_hz, 1.0, gain_db, sample_rate)]
    if response not in _SECTIONED:
        count = max(12, slope_db) // 12
        each_db = np.asarray(gain_db) / count
        level: float | Control = each_db if each_db.ndim else float(each_db)
        return [_at(response, cutoff_hz, resonance, level, sample_rate)] * count
    row = _SECTION_Q[max(12, slope_db)]
    # Only the sharpest section rings as asked; the others keep their own Q.
    return [
        _at(
            response,
            cutoff_hz,
            resonance * factor if n == len(row) - 1 else factor / math.sqrt(2.0),
            0.0,
            sample_rate,
        )
        for n, factor in enumerate(row)
    ]


def _at(
    response: str,
    cutoff_hz: float | Control,
    q: float | Control,
    gain_db: float | Control,
    sample_rate: int,
) -> Coefficients:
    """One section, found once where nothing moves."""
    cutoff, quality, gain = (
        np.atleast_1d(np.asarray(one, float)) for one in (cutoff_hz, q, gain_db)
    )
    if quality.size == 1 and gain.size == 1:
        shape = (response, float(quality[0]), float(gain[0]), sample_rate)
        if cutoff.size == 1:
            return _still(float(cutoff[0]), *shape)
        return _read_off(_table(*shape), cutoff)
    points = max(cutoff.size, quality.size, gain.size)
    picked = np.unique(np.append(np.arange(0, points, _STRIDE), points - 1))
    at = [np.broadcast_to(one, (points,))[picked] for one in (cutoff, quality, gain)]
    found = _found(response, at[0], at[1], at[2], sample_rate)
    return _between(found, picked.astype(np.float64), np.arange(points, dtype=np.float64))


def _found(
    response: str, cutoff: Control, q: Control, gain_db: Control, sample_rate: int
) -> Coefficients:
    if response.endswith(" 6"):
        return matched_first_order(response[:-2], cutoff, gain_db, sample_rate)
    return matched_section(response, cutoff, q, gain_db, sample_rate)


@lru_cache(maxsize=512)
def _still(
    cutoff_hz: float, response: str, q: float, gain_db: float, sample_rate: int
) -> Coefficients:
    cutoff, quality, gain = (np.array([one]) for one in (cutoff_hz, q, gain_db))
    return _found(response, cutoff, quality, gain, sample_rate)


@lru_cache(maxsize=64)
def _table(response: str, q: float, gain_db: float, sample_rate: int) -> Coefficients:
    """A section over all cutoffs."""
    cutoff = _LOWEST_HZ * 2.0 ** (np.arange(_OCTAVES * _PER_OCTAVE + 1) / _PER_OCTAVE)
    return _found(response, cutoff, np.array([q]), np.array([gain_db]), sample_rate)


def _read_off(table: Coefficients, cutoff_hz: Control) -> Coefficients:
    places = _PER_OCTAVE * np.log2(np.maximum(cutoff_hz, 1e-3) / _LOWEST_HZ)
    return _between(table, np.arange(table.g.size, dtype=np.float64), places)


def _between(found: Coefficients, known: Control, places: Control) -> Coefficients:
    """Coefficients at places between the known ones; g goes as its logarithm does."""
    rows = [np.interp(places, known, one) for one in found.points[1:]]
    g = np.exp(np.interp(places, known, np.log(found.g)))
    k, mix_input, mix_band, mix_low, now, last = rows
    return Coefficients(g, k, mix_input, mix_band, mix_low, now, last, found.more)


def bilinear_coefficients(
    response: str, cutoff_hz: float | Control, q: float, *, sample_rate: int
) -> Coefficients:
    """A low- or high-pass by the bilinear map, at one point or at every control point.

    Squeezed at the top, but so that parts which were in phase as analogue filters stay so.
    """
    ratio = np.minimum(np.atleast_1d(np.asarray(cutoff_hz, float)) / sample_rate, HIGHEST_CUTOFF)
    g = np.tan(np.pi * ratio)
    k, one, none = np.full_like(g, 1.0 / q), np.ones_like(g), np.zeros_like(g)
    if response == "low_pass":
        return Coefficients(g, k, none, none, one, one, none, False)
    return Coefficients(g, k, one, -k, -one, one, none, False)


def through_sections(signal: Signal, sections: list[Coefficients]) -> Signal:
    """A signal (channels, frames) through sections, one after the other."""
    filtered = signal
    for section in sections:
        out = np.empty_like(filtered)
        if section.g.size == 1:
            g, k, *mix, now, last = (float(one[0]) for one in section.points)
            cancelled = section.more and abs(last + MORE_POLE * now) <= _NEUTRAL * now
            if cancelled:
                # The pole's own zero lies on it: what is left of both is a gain.
                mix = [now * one for one in mix]
            if section.more and not cancelled:
                _with_one_more(out, filtered, g, k, tuple(mix), now, last)
            else:
                _state_variable(out, filtered, g, k, tuple(mix))
        else:
            controls = np.stack(section.points)
            moving_section(out, filtered, controls, CONTROL_FRAMES, section.more, False)
        filtered = out
    return filtered


def ring_time_s(cutoff_hz: float, resonance: float, slope_db: int) -> float:
    """Seconds until the filter's own ring has fallen by 100 dB.

    The poles' real part is -pi * cutoff / Q, so the ring falls by 100 dB in Q*ln(1e5)/(pi*cutoff);
    several sections ring at most as many times as long.
    """
    sections = max(1, slope_db // 12)
    q = max(0.5, resonance) * {1: 1.0, 2: 1.85}.get(sections, 2.74)
    return sections * q * math.log(1e5) / (math.pi * cutoff_hz)


@njit(cache=True, nogil=True)
def _next_state(g, k):  # type: ignore[no-untyped-def]
    """How much of both states and of the input goes into the next states of a section."""
    a1 = 1.0 / (1.0 + g * (g + k))
    a2 = g * a1
    a3 = g * a2
    return 2.0 * a1 - 1.0, 2.0 * a2, 1.0 - 2.0 * a3, 2.0 * a3


@njit(cache=True, nogil=True, fastmath={"contract"})
def _state_variable(out, signal, g, k, mix):  # type: ignore[no-untyped-def]
    """One section over (1 or 2 channels, frames); equations of Simper (2013), page 5.

    Solved for the next state, for each step waits for the one before: with v1 and v2 of the paper
    in the middle between two states, these are sums of few products. Two sides side by side.
    """
    mix_input, mix_band, mix_low = mix
    stay, cross, fall, enter = _next_state(g, k)
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


@njit(cache=True, nogil=True, fastmath={"contract"})
def _with_one_more(out, signal, g, k, mix, now, last_part):  # type: ignore[no-untyped-def]
    """As ``_state_variable``, with the further pole and its zero in the same pass."""
    mix_input, mix_band, mix_low = mix
    stay, cross, fall, enter = _next_state(g, k)
    band, low = 0.5 * mix_band, 0.5 * mix_low
    last = signal.shape[0] - 1
    left, right, left_out, right_out = signal[0], signal[last], out[0], out[last]
    first = second = third = fourth = 0.0
    x1 = y1 = x2 = y2 = 0.0
    for begin in range(0, signal.shape[1], 64):
        if abs(first) < 1e-30 and abs(second) < 1e-30:
            first = second = 0.0
        if abs(third) < 1e-30 and abs(fourth) < 1e-30:
            third = fourth = 0.0
        if abs(y1) < 1e-30:
            y1 = 0.0
        if abs(y2) < 1e-30:
            y2 = 0.0
        for n in range(begin, min(begin + 64, signal.shape[1])):
            v0 = left[n]
            next_first = (stay * first + cross * v0) - cross * second
            next_second = (fall * second + enter * v0) + cross * first
            x = mix_input * v0 + band * (first + next_first) + low * (second + next_second)
            y1 = (now * x + last_part * x1) + MORE_POLE * y1
            left_out[n] = y1
            first, second, x1 = next_first, next_second, x
            if last == 1:
                v0 = right[n]
                next_first = (stay * third + cross * v0) - cross * fourth
                next_second = (fall * fourth + enter * v0) + cross * third
                x = mix_input * v0 + band * (third + next_first) + low * (fourth + next_second)
                y2 = (now * x + last_part * x2) + MORE_POLE * y2
                right_out[n] = y2
                third, fourth, x2 = next_first, next_second, x


@njit(cache=True, nogil=True, fastmath={"contract"})
def moving_section(out, signal, controls, block, more, saturating):  # type: ignore[no-untyped-def]
    """As ``_state_variable`` with coefficients (7, points), one each ``block`` frames, straight
    between; both channels side by side.

    Saturating, the band's state s, which holds the resonance, is damped by s^2 besides: per radian
    of the cutoff ds = -s^3, whose way over a step of 2 g is s / sqrt(1 + 4 g s^2), so that the hold
    is the same at every rate and cutoff.
    """
    channels, frames = signal.shape
    last_point = controls.shape[1] - 1
    right = channels - 1
    s1 = s2 = t1 = t2 = 0.0
    x1 = y1 = x2 = y2 = 0.0
    for point in range((frames + block - 1) // block):
        here, after = min(point, last_point), min(point + 1, last_point)
        g, k = controls[0, here], controls[1, here]
        m0, m1, m2 = controls[2, here], controls[3, here], controls[4, here]
        now, last = controls[5, here], controls[6, here]
        share = 1.0 / block
        g_step, k_step = (controls[0, after] - g) * share, (controls[1, after] - k) * share
        m0_step = (controls[2, after] - m0) * share
        m1_step = (controls[3, after] - m1) * share
        m2_step = (controls[4, after] - m2) * share
        now_step, last_step = (
            (controls[5, after] - now) * share,
            (controls[6, after] - last) * share,
        )
        if abs(s1) < 1e-30 and abs(s2) < 1e-30:
            s1 = s2 = 0.0
        if abs(t1) < 1e-30 and abs(t2) < 1e-30:
            t1 = t2 = 0.0
        for n in range(point * block, min((point + 1) * block, frames)):
            a1 = 1.0 / (1.0 + g * (g + k))
            a2 = g * a1
            x = signal[0, n]
            v3 = x - s2
            v1 = a1 * s1 + a2 * v3
            v2 = s2 + a2 * s1 + g * a2 * v3
            s1 = 2.0 * v1 - s1
            s2 = 2.0 * v2 - s2
            if saturating:
                s1 /= math.sqrt(1.0 + 4.0 * g * s1 * s1)
            y = m0 * x + m1 * v1 + m2 * v2
            if more:
                y1 = (now * y + last * x1) + MORE_POLE * y1
                x1 = y
                y = y1
            out[0, n] = y
            if right == 1:
                x = signal[1, n]
                v3 = x - t2
                v1 = a1 * t1 + a2 * v3
                v2 = t2 + a2 * t1 + g * a2 * v3
                t1 = 2.0 * v1 - t1
                t2 = 2.0 * v2 - t2
                if saturating:
                    t1 /= math.sqrt(1.0 + 4.0 * g * t1 * t1)
                y = m0 * x + m1 * v1 + m2 * v2
                if more:
                    y2 = (now * y + last * x2) + MORE_POLE * y2
                    x2 = y
                    y = y2
                out[1, n] = y
            g += g_step
            k += k_step
            m0 += m0_step
            m1 += m1_step
            m2 += m2_step
            now += now_step
            last += last_step
