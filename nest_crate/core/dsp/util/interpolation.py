"""Reading between samples: the cubic through four of them, in Lagrange's form.

a, b, c, d lie at -1, 0, 1, 2; x from 0 to 1 is the way from b to c.
"""

from __future__ import annotations

from numba import njit

__all__ = ["cubic", "cubic_terms", "cubic_weights"]

_THIRD, _SIXTH = 1.0 / 3.0, 1.0 / 6.0


@njit(cache=True, nogil=True, inline="always")
def cubic_terms(a, b, c, d):  # type: ignore[no-untyped-def]
    """Factors of x, x^2 and x^3; that of 1 is b."""
    first = c - a * _THIRD - b * 0.5 - d * _SIXTH
    second = (a + c) * 0.5 - b
    third = (d - a) * _SIXTH + (b - c) * 0.5
    return first, second, third


@njit(cache=True, nogil=True, inline="always")
def cubic(a, b, c, d, x):  # type: ignore[no-untyped-def]
    """The value at x."""
    first, second, third = cubic_terms(a, b, c, d)
    return ((third * x + second) * x + first) * x + b


@njit(cache=True, nogil=True, inline="always")
def cubic_weights(x):  # type: ignore[no-untyped-def]
    """What a, b, c and d count at x; quicker than their terms where many are read at one x."""
    a = x * (x * (0.5 - _SIXTH * x) - _THIRD)
    b = 1.0 + x * (x * (0.5 * x - 1.0) - 0.5)
    c = x * (1.0 + x * (0.5 - 0.5 * x))
    d = x * (x * x - 1.0) * _SIXTH
    return a, b, c, d
