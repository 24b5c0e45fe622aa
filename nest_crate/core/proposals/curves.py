"""Measured courses as curves of few points."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

__all__ = ["few_points"]

Numbers = NDArray[np.float64]


def few_points(
    time_s: Numbers,
    values: Numbers,
    *,
    tolerance: float,
    most: int,
    heard: Callable[[Numbers], Numbers] = lambda values: values,
) -> list[tuple[float, float]]:
    """Times and values between which straight lines stay within a tolerance, or as near as so many
    points allow: the point furthest off is added again and again (Douglas and Peucker 1973).

    Parameters
    ----------
    heard
        turns values into what the tolerance is meant in, such as dB of an amplitude.
    """
    if time_s.size < 2:
        return [(float(t), float(v)) for t, v in zip(time_s, values, strict=True)]
    kept, wanted = [0, time_s.size - 1], heard(values)
    while len(kept) < most:
        off = np.abs(heard(np.interp(time_s, time_s[kept], values[kept])) - wanted)
        furthest = int(off.argmax())
        if off[furthest] <= tolerance:
            break
        kept = sorted({*kept, furthest})
    return [(float(time_s[n]), float(values[n])) for n in kept]
