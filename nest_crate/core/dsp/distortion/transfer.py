"""Transfer curves with their integrals, for driving without aliasing.

Each curve has a number, its value and its antiderivative; the mean of a curve over a step is the
difference of its antiderivative over the step. With x the input after gain and bias:

- soft: tanh x; tube: tanh x above 0, tanh(2x) / 2 below, which bends sooner
- hard: x within -1 to 1
- fold: the first three partials of a triangle, sine_fold: a sine, both of slope 1 at 0, so that
  soft signals keep their level
- rectify: 1 - sech 2x, which is tanh(x) tanh(2x): both halves upwards, with a round corner
- drawn: as drawn from -1 to 1, level beyond
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from numba import njit
from numpy.polynomial import Chebyshev, Polynomial
from numpy.typing import NDArray

__all__ = [
    "CORNERED",
    "CURVES",
    "drawn_table",
    "log_cosh",
    "log_term",
    "plain_tanh",
    "saturate_by",
    "squared_exp",
    "transfer_values",
]

CURVES = {"soft": 0, "tube": 1, "hard": 2, "fold": 3, "sine_fold": 4, "rectify": 5, "drawn": 6}
# These have corners, or fold so often, that their harmonics reach an octave further.
CORNERED = frozenset({"hard", "fold", "sine_fold", "rectify", "drawn"})
# A triangle's first three partials make a fold with round corners; this is its peak's inverse.
_FOLD = 1.0 / (1.0 + 1.0 / 9.0 + 1.0 / 25.0)
# Radians for each 1 of x, by which the slope at 0 is 1.
_FOLD_TURN = 1.0 / (_FOLD * (1.0 - 1.0 / 3.0 + 1.0 / 5.0))

_TABLE = 2048
_LN2 = float(np.log(2.0))
# ln cosh(x) = |x| - ln 2 + ln(1 + exp(-2|x|)); beyond this the last term is below 3e-9.
_LOG_TERM_END = 10.0


def _fitted(function: Callable[[Any], Any], end: float, degree: int) -> tuple[float, ...]:
    """A polynomial's coefficients, constant first, that meets a function from 0 to ``end`` at
    the Chebyshev points."""
    nodes = np.cos(np.pi * (np.arange(400) + 0.5) / 400)
    fit = Chebyshev.fit((nodes + 1.0) * end / 2.0, function((nodes + 1.0) * end / 2.0), degree)
    return tuple(float(one) for one in fit.convert(kind=Polynomial).coef)


# exp(-v) is raised to the 32nd power by squaring, exactly 1 where v is 0; ln(1 + z) / z follows.
# Both err by some 1e-9.
_E1, _E2, _E3, _E4, _E5, _E6 = _fitted(lambda v: np.expm1(-v) / v, _LOG_TERM_END / 16.0, 5)
_L0, _L1, _L2, _L3, _L4, _L5, _L6, _L7, _L8, _L9 = _fitted(lambda z: np.log1p(z) / z, 1.0, 9)


# Beyond this tanh is 1 within single precision's rounding.
_TANH_END = 9.0


def _fitted_tanh(degree: int) -> tuple[tuple[float, ...], tuple[float, ...]]:
    """Numerator and denominator, constants first, of tanh(x) / x over (x / ``_TANH_END``)**2.

    Least squares made rational by repetition: Sanathanan and Koerner, "Transfer function synthesis
    as a ratio of two complex polynomials" (IEEE Transactions on Automatic Control, 1963).
    """
    x = (1.0 - np.cos(np.pi * (np.arange(2000) + 0.5) / 2000)) / 2.0 * _TANH_END
    powers = ((x / _TANH_END) ** 2)[:, None] ** np.arange(degree + 1)
    wanted = np.tanh(x) / x
    below = np.ones_like(x)
    for _ in range(30):
        weight = x / below
        unknown = np.hstack([powers, -wanted[:, None] * powers[:, 1:]]) * weight[:, None]
        found = np.linalg.lstsq(unknown, wanted * weight, rcond=None)[0]
        top, bottom = found[: degree + 1], np.concatenate([[1.0], found[degree + 1 :]])
        below = powers @ bottom
    return tuple(map(float, top)), tuple(map(float, bottom))


_TANH_TOP, _TANH_BOTTOM = _fitted_tanh(4)
_T0, _T1, _T2, _T3, _T4 = (np.float32(one) for one in _TANH_TOP)
_B0, _B1, _B2, _B3, _B4 = (np.float32(one) for one in _TANH_BOTTOM)
_SINGLE_END, _SINGLE_SCALE = np.float32(_TANH_END), np.float32(1.0 / _TANH_END**2)


def drawn_table(points: tuple[tuple[float, float], ...]) -> NDArray[np.float64]:
    """A drawn curve and its integral over -1 to 1, shape (2, entries): straight between its points
    as it is drawn, level before the first and behind the last."""
    xs, ys = np.array(points).T
    values = np.interp(np.linspace(-1.0, 1.0, _TABLE + 1), xs, ys)
    steps = 0.5 * (values[1:] + values[:-1]) * (2.0 / _TABLE)
    integral = np.concatenate([[0.0], np.cumsum(steps)])
    return np.ascontiguousarray(np.stack([values, integral - integral[_TABLE // 2]]))


@njit(cache=True, nogil=True, inline="always")
def squared_exp(size):  # type: ignore[no-untyped-def]
    """exp(-2 * size) for size from 0 on, without a branch, so that loops are vectorized."""
    v = min(size, _LOG_TERM_END) * (1.0 / 16.0)
    z = 1.0 + v * (_E1 + v * (_E2 + v * (_E3 + v * (_E4 + v * (_E5 + v * _E6)))))
    z = z * z
    z = z * z
    z = z * z
    z = z * z
    return z * z


@njit(cache=True, nogil=True, inline="always")
def log_term(z):  # type: ignore[no-untyped-def]
    """ln(1 + z) for z from 0 to 1."""
    upper = _L5 + z * (_L6 + z * (_L7 + z * (_L8 + z * _L9)))
    return z * (_L0 + z * (_L1 + z * (_L2 + z * (_L3 + z * (_L4 + z * upper)))))


@njit(cache=True, nogil=True, error_model="numpy", fastmath={"contract"})
def plain_tanh(signal, gain):  # type: ignore[no-untyped-def]
    """tanh of gain * signal (frames,) in place, in single precision: within some 2e-7."""
    for n in range(signal.shape[0]):
        x = min(_SINGLE_END, max(-_SINGLE_END, gain * signal[n]))
        u = x * x * _SINGLE_SCALE
        top = _T0 + u * (_T1 + u * (_T2 + u * (_T3 + u * _T4)))
        signal[n] = x * top / (_B0 + u * (_B1 + u * (_B2 + u * (_B3 + u * _B4))))


@njit(cache=True, nogil=True)
def log_cosh(x):  # type: ignore[no-untyped-def]
    """ln cosh(x)."""
    size = abs(x)
    return size - _LN2 + log_term(squared_exp(size))


@njit(cache=True, nogil=True)
def _value(curve, x, table):  # type: ignore[no-untyped-def]
    """The curve itself."""
    if curve == 0:
        return np.tanh(x)
    if curve == 1:
        return np.tanh(x) if x > 0.0 else 0.5 * np.tanh(2.0 * x)
    if curve == 2:
        return min(1.0, max(-1.0, x))
    if curve == 3:
        u = _FOLD_TURN * x
        return _FOLD * (np.sin(u) - np.sin(3.0 * u) / 9.0 + np.sin(5.0 * u) / 25.0)
    if curve == 4:
        return np.sin(np.float64(x))
    if curve == 5:
        # No size of x beyond these makes a difference, and cosh would overflow.
        return 1.0 - 1.0 / np.cosh(min(300.0, abs(2.0 * x)))
    place = (min(1.0, max(-1.0, x)) + 1.0) * (_TABLE / 2.0)
    index = min(_TABLE - 1, int(place))
    t = place - index
    return table[0, index] * (1.0 - t) + table[0, index + 1] * t


@njit(cache=True, nogil=True)
def _integral(curve, x, table):  # type: ignore[no-untyped-def]
    """Its antiderivative."""
    if curve == 0:
        return log_cosh(x)
    if curve == 1:
        return log_cosh(x) if x > 0.0 else 0.25 * log_cosh(2.0 * x)
    if curve == 2:
        size = abs(x)
        return 0.5 * x * x if size < 1.0 else size - 0.5
    if curve == 3:
        u = _FOLD_TURN * x
        sums = np.cos(u) - np.cos(3.0 * u) / 27.0 + np.cos(5.0 * u) / 125.0
        return -_FOLD * sums / _FOLD_TURN
    if curve == 4:
        # In double precision, for a small step divides what is left of it.
        return -np.cos(np.float64(x))
    if curve == 5:
        return x - 0.5 * np.arctan(np.sinh(min(300.0, max(-300.0, 2.0 * x))))
    inside = min(1.0, max(-1.0, x))
    place = (inside + 1.0) * (_TABLE / 2.0)
    index = min(_TABLE - 1, int(place))
    t = place - index
    rise = table[0, index + 1] - table[0, index]
    whole = table[1, index] + (2.0 / _TABLE) * t * (table[0, index] + 0.5 * t * rise)
    edge = table[0, _TABLE] if x > 0.0 else table[0, 0]
    return whole + edge * (x - inside)


@njit(cache=True, nogil=True)
def saturate_by(curve, signal, rest, table):  # type: ignore[no-untyped-def]
    """The curve in place over (frames,), as the mean over each step; ``rest`` came before."""
    before = rest
    held = _integral(curve, rest, table)
    for n in range(signal.shape[0]):
        x = signal[n]
        now = _integral(curve, x, table)
        step = x - before
        if abs(step) > 1e-6:
            signal[n] = (now - held) / step
        else:
            signal[n] = _value(curve, 0.5 * (x + before), table)
        before = x
        held = now


def transfer_values(
    shape: str, x: NDArray[np.float64], table: NDArray[np.float64]
) -> NDArray[np.float64]:
    """A curve at several places, for pictures and for tests."""
    return np.array([_value(CURVES[shape], float(one), table) for one in x])
