"""Coefficients of filter sections that meet their analogue prototypes up to the top of hearing.

Poles are those of the prototype, z = exp(s T), so that a section rings as its prototype does
(Vicanek, "Matched Second Order Digital Filters", 2016, section 2). The numerator is fitted: with
X = tan(w / 2)^2 / g^2 the squared magnitude of a section is a polynomial in X over another one, and
the numerator's coefficients are those that come nearest to the prototype from 20 Hz to 16.5 kHz in
relative error. Below 64 kHz one pole more, at z = -0.3 and with a zero of its own, takes the rest.

Prototypes, with s = j f / f0: low-pass 1 / (s^2 + s/Q + 1), high-pass s^2, band-pass s/Q and notch
(s^2 + 1) over the same; peak and shelves as in Bristow-Johnson, "Cookbook formulae for audio EQ
biquad filter coefficients" (2005).
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

__all__ = [
    "HIGHEST_CUTOFF",
    "MORE_POLE",
    "Coefficients",
    "matched_first_order",
    "matched_section",
    "section_response",
]

Numbers = NDArray[np.float64]

# Cutoff as a fraction of the sample rate.
HIGHEST_CUTOFF = 0.49
MORE_POLE = -0.3
# Rates from here on need no further pole: what they miss lies far above hearing.
_WIDE_RATE = 64000.0
_LOWEST_HZ, _HIGHEST_HZ, _PLACES = 20.0, 16500.0, 40
# Of the power where a response is loudest: what is softer is not fitted.
_SOFT = 1e-7
_RIDGE = 1e-3
_LOW = 0.004
_NEARBY = np.array([-0.3, -0.1, -0.03, -0.01, 0.0, 0.01, 0.03, 0.1, 0.3])
# Poles of shelves may lie beyond Nyquist; they are held below.
_HIGHEST_POLE = 0.46


@dataclass(frozen=True)
class Coefficients:
    """Of a section at each point, shape (points,) each: g and k of its state-variable core; how
    input, band and low are mixed; and of the pole more its factors on this frame and the last."""

    g: Numbers
    k: Numbers
    mix_input: Numbers
    mix_band: Numbers
    mix_low: Numbers
    more_now: Numbers
    more_last: Numbers
    more: bool

    @property
    def points(self) -> tuple[Numbers, ...]:
        """All in this order, for kernels and for interpolation."""
        return (
            self.g,
            self.k,
            self.mix_input,
            self.mix_band,
            self.mix_low,
            self.more_now,
            self.more_last,
        )


def _prototype(response: str, x: Numbers, q: Numbers, a: Numbers) -> Numbers:
    """Squared magnitude at x = f / f0, shape (points, places)."""
    s = 1j * x
    root = np.sqrt(a)
    bottom = s * s + s / q + 1.0
    top: Any
    match response:
        case "low_pass":
            top = np.ones_like(s)
        case "high_pass":
            top = s * s
        case "band_pass":
            top = s / q
        case "notch":
            top = s * s + 1.0
        case "peak":
            top, bottom = s * s + s * a / q + 1.0, s * s + s / (a * q) + 1.0
        case "low_shelf":
            top, bottom = a * (s * s + s * root / q + a), a * s * s + s * root / q + 1.0
        case _:
            top, bottom = a * (a * s * s + s * root / q + 1.0), s * s + s * root / q + a
    return np.asarray(np.abs(top / bottom) ** 2)


def _core(ratio: Numbers, q: Numbers, sample_rate: int) -> tuple[Numbers, Numbers]:
    """g and k of a state-variable core whose poles are exp of a prototype's, at f0 / rate.

    Poles beyond Nyquist are held below it, as damped as makes them as strong at 16.5 kHz.
    """
    held = np.minimum(ratio, _HIGHEST_POLE)
    top = (_HIGHEST_HZ / sample_rate / np.maximum(ratio, 1e-9)) ** 2
    near = (_HIGHEST_HZ / sample_rate / held) ** 2
    room = (1.0 - top) ** 2 + top / q**2 - (1.0 - near) ** 2
    q = np.where(ratio > held, np.sqrt(near / np.maximum(room, 0.01)), q)
    w = 2.0 * np.pi * held
    damp = 0.5 / q
    radius = np.exp(-damp * w)
    turn = np.sqrt(np.abs(1.0 - damp**2)) * w
    a1 = -2.0 * radius * np.where(damp < 1.0, np.cos(turn), np.cosh(np.minimum(turn, 40.0)))
    return _core_of(a1, radius**2)


def _core_of(a1: Numbers, a2: Numbers) -> tuple[Numbers, Numbers]:
    """g and k for a denominator 1 + a1 z^-1 + a2 z^-2."""
    square = (1.0 + a1 + a2) / (1.0 - a1 + a2)
    g = np.sqrt(np.maximum(square, 1e-18))
    return g, (1.0 - a2) / (1.0 + a2) * (1.0 + square) / g


def section_response(
    section: Coefficients, hz: Numbers, sample_rate: int
) -> NDArray[np.complex128]:
    """Complex response of a section that stands still, at frequencies (places,)."""
    g, k, mix_input, mix_band, mix_low, now, last = (float(one[0]) for one in section.points)
    s = 1j * np.tan(np.pi * hz / sample_rate) / g
    bottom = s * s + k * s + 1.0
    response = (mix_input * bottom + mix_band * s + mix_low) / bottom
    if section.more:
        late = np.exp(-2j * np.pi * hz / sample_rate)
        response = response * (now + last * late) / (1.0 - MORE_POLE * late)
    return np.asarray(response)


def matched_section(
    response: str, cutoff_hz: Numbers, q: Numbers, gain_db: Numbers, sample_rate: int
) -> Coefficients:
    """A second-order section at each point, arrays (points,) or (1,) each."""
    ratio, q, a = np.broadcast_arrays(
        np.minimum(cutoff_hz / sample_rate, HIGHEST_CUTOFF), q, 10.0 ** (gain_db / 40.0)
    )
    pole, pole_q = ratio, q
    if response == "peak":
        pole_q = q * a
    elif response == "low_shelf":
        pole = ratio / np.sqrt(a)
    elif response == "high_shelf":
        pole = ratio * np.sqrt(a)
    zeros = {"high_pass": 2, "band_pass": 1}.get(response, 0)
    wanted = _Wanted(response, ratio, q, a, sample_rate)
    more = sample_rate < _WIDE_RATE and response != "low_pass"
    return _fitted(wanted, _core(pole, pole_q, sample_rate), zeros, more, sample_rate)


def matched_first_order(
    response: str, cutoff_hz: Numbers, gain_db: Numbers, sample_rate: int
) -> Coefficients:
    """One pole at each point: low-pass, high-pass, and shelves whose corner has half the gain.

    With V the shelf's gain: H = 1 + (V - 1) w / (s + w) at w = w0 / sqrt(V) for a low shelf, and
    H = V + (1 - V) w / (s + w) at w = w0 sqrt(V) for a high one; both give sqrt(V) at w0. The
    second pole of the core stands at z = -0.3, where it helps to meet them.
    """
    ratio, v = np.broadcast_arrays(
        np.minimum(cutoff_hz / sample_rate, HIGHEST_CUTOFF), 10.0 ** (gain_db / 20.0)
    )
    corner = {"low_shelf": ratio / np.sqrt(v), "high_shelf": ratio * np.sqrt(v)}.get(
        response, ratio
    )
    pole = np.exp(-2.0 * np.pi * np.minimum(corner, 2.0))
    core = _core_of(-(pole + MORE_POLE), pole * MORE_POLE)
    wanted = _Wanted(f"{response} 6", corner, v, v, sample_rate)
    return _fitted(wanted, core, 1 if response == "high_pass" else 0, False, sample_rate)


@dataclass(frozen=True)
class _Wanted:
    """A prototype whose squared magnitude can be asked for at frequencies."""

    response: str
    ratio: Numbers
    q: Numbers
    a: Numbers
    sample_rate: int

    def at(self, hz: Numbers) -> Numbers:
        x = hz / (self.ratio[:, np.newaxis] * self.sample_rate)
        q, a = self.q[:, np.newaxis], self.a[:, np.newaxis]
        if not self.response.endswith(" 6"):
            return _prototype(self.response, x, q, a)
        top = {
            "low_pass 6": 1.0 + 0.0 * x,
            "high_pass 6": 1j * x,
            "low_shelf 6": a + 1j * x,
            "high_shelf 6": 1.0 + a * 1j * x,
        }[self.response]
        return np.asarray(np.abs(top / (1.0 + 1j * x)) ** 2)


def _fitted(
    wanted: _Wanted, core: tuple[Numbers, Numbers], zeros: int, more: bool, sample_rate: int
) -> Coefficients:
    """Numerators for cores: ``zeros`` of them lie at 0 Hz."""
    g, k = core
    own_hz = wanted.ratio[:, np.newaxis] * sample_rate
    everywhere = np.broadcast_to(np.geomspace(_LOWEST_HZ, _HIGHEST_HZ, _PLACES), (g.size, _PLACES))
    # Where a response is steepest it is looked at more closely.
    nearby = np.minimum(own_hz * (1.0 + _NEARBY), _HIGHEST_HZ)
    hz = np.concatenate([everywhere, nearby], axis=1)
    x = (np.tan(np.pi * hz / sample_rate) / g[:, np.newaxis]) ** 2
    power = wanted.at(hz)
    below = (1.0 - x) ** 2 + (k[:, np.newaxis] ** 2) * x
    own = (g * (1.0 + MORE_POLE) / (1.0 - MORE_POLE)) ** 2
    if more:
        below = below * (1.0 + own[:, np.newaxis] * x)
    heard = power > _SOFT * power.max(axis=1, keepdims=True)
    weight = np.where(heard, 1.0 / np.maximum(power * below, 1e-300), 0.0)
    if wanted.response == "notch":
        # Its zeros lie where they are asked for, and only the pole's own zero is free.
        null = (np.tan(np.pi * wanted.ratio) / g) ** 2
        weight = weight * (1.0 - x / null[:, np.newaxis]) ** 2
        line = _polynomial(x, weight, heard.astype(np.float64), 0, 1 if more else 0)
        n0, n1, n2 = np.ones_like(g), np.zeros_like(g), 1.0 / null
        c0, c1 = line[:, 0], line[:, 1] if more else np.zeros_like(g)
    else:
        whole = 1.0 + own[:, np.newaxis] * x if more else np.ones_like(x)
        found = _polynomial(x, weight * whole, heard.astype(np.float64), zeros, 2)
        c0, c1 = np.ones_like(g), own
        if more:
            # From the section alone, with the zero on the pole, as far as there is something to
            # gain: so coefficients go smoothly with the cutoff.
            start = np.zeros((g.size, 4))
            start[:, :3] = found
            start[:, 1:] += own[:, np.newaxis] * found
            lacking = heard - _value(start, x) * weight
            cubics = start + _polynomial(x, weight, lacking, zeros, 3, _RIDGE)
            d0, d1, left = _apart(cubics, zeros)
            # Far below, the polynomials' numbers lie too far apart; nothing is lacking there but of
            # a band-pass, which has it far above.
            suits = (d1 > 0.0) & ((wanted.ratio > _LOW) | (zeros == 1))
            found = np.where(suits[:, np.newaxis], left, found)
            c0, c1 = np.where(suits, d0, c0), np.where(suits, d1, c1)
        n0, n2 = (np.sqrt(np.maximum(found[:, at], 0.0)) for at in (0, 2))
        n1 = np.sqrt(np.maximum(found[:, 1] + 2.0 * n0 * n2, 0.0))
    n0, n1, n2 = (_rounded(one) for one in (n0, n1, n2))
    now, last = _rounded(np.sqrt(np.maximum(c0, 0.0))), np.zeros_like(g)
    if more:
        # (c s' + d) / (1 + s' g (1 + p) / (1 - p)) with s' = (z - 1) / ((z + 1) g) and p the pole.
        level, share = now, 0.5 * (1.0 - MORE_POLE)
        slope = _rounded(np.sqrt(np.maximum(c1, 0.0)) / g)
        now, last = share * (level + slope), share * (level - slope)
    return Coefficients(g, k, n2, n1 - n2 * k, n0 - n2, now, last, more)


def _rounded(values: Numbers) -> Numbers:
    """Values to 36 bits, so that however a machine solves for them they are the same."""
    fraction, power = np.frexp(values)
    return np.asarray(np.ldexp(np.round(fraction * 2.0**36) / 2.0**36, power))


def _value(found: Numbers, x: Numbers) -> Numbers:
    """Polynomials (points, coefficients) at x (points, places)."""
    total = np.zeros_like(x)
    for n in range(found.shape[1] - 1, -1, -1):
        total = total * x + found[:, n, np.newaxis]
    return total


def _polynomial(
    x: Numbers, weight: Numbers, aim: Numbers, zeros: int, degree: int, ridge: float = 0.0
) -> Numbers:
    """Coefficients (points, degree + 1), constants first, of weighted least squares towards an aim
    (points, places), held near 0 by a ridge."""
    powers = np.arange(zeros, degree + 1)
    columns = x[:, :, np.newaxis] ** powers * weight[:, :, np.newaxis]
    scale = np.maximum(np.linalg.norm(columns, axis=1, keepdims=True), 1e-300)
    columns = columns / scale
    if ridge:
        held = np.broadcast_to(ridge * np.eye(powers.size), (x.shape[0], powers.size, powers.size))
        columns = np.concatenate([columns, held], axis=1)
        aim = np.concatenate([aim, np.zeros((x.shape[0], powers.size))], axis=1)
    turned, upper = np.linalg.qr(columns)
    solved = np.linalg.solve(upper, np.einsum("pgc,pg->pc", turned, aim)[:, :, np.newaxis])
    found = np.zeros((x.shape[0], degree + 1))
    found[:, zeros:] = solved[:, :, 0] / scale[:, 0]
    return found


def _apart(found: Numbers, zeros: int) -> tuple[Numbers, Numbers, Numbers]:
    """Cubics (points, 4) as a line c0 + c1 X with its root below 0 times a quadratic (points, 3),
    whose first ``zeros`` coefficients are 0; c1 is 0 where there is no such root."""
    a0, a1, a2, a3 = (found[:, n] for n in range(4))
    rising = a3 > 0.0
    lead = np.where(rising, a3, 1.0)
    if zeros == 2:
        root = -a2 / lead
    elif zeros == 1:
        # Two roots that meet, or nearly do, are taken for a double one.
        root = -(a2 + np.sqrt(np.maximum(a2**2 - 4.0 * lead * a1, 0.0))) / (2.0 * lead)
    else:
        root = _lowest_root(a0, a1, a2, lead)
    root = np.where(rising & (root < 0.0), root, -1.0)
    b1 = a2 + root * a3
    b0 = a1 + root * b1
    left = np.stack([b0, b1, a3], axis=1)
    left[:, :zeros] = 0.0
    if zeros == 2:
        left = np.stack([0.0 * a3, 0.0 * a3, a3], axis=1)
    suits = rising & (root > -1e12) & (left >= 0.0)[:, [0, 2]].all(axis=1)
    suits &= root != -1.0
    return np.where(suits, -root, 1.0), np.where(suits, 1.0, 0.0), left


def _lowest_root(c0: Numbers, c1: Numbers, c2: Numbers, c3: Numbers) -> Numbers:
    """The real root of cubics furthest below 0, nan where the leading coefficient is not above 0.

    By Newton's steps from Cauchy's bound, where a cubic rises and bends downwards all the way.
    """
    rising = c3 > 0.0
    lead = np.where(rising, c3, 1.0)
    x = -(1.0 + np.maximum(np.maximum(np.abs(c0), np.abs(c1)), np.abs(c2)) / lead)
    for _ in range(200):
        value = ((lead * x + c2) * x + c1) * x + c0
        slope = (3.0 * lead * x + 2.0 * c2) * x + c1
        step = np.where(slope > 0.0, value / np.where(slope > 0.0, slope, 1.0), 0.0)
        x = x - step
        if np.all(np.abs(step) <= 1e-12 * np.abs(x)):
            break
    return np.where(rising, x, np.nan)
