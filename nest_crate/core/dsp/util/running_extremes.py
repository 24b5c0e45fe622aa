"""The largest and smallest of a window that goes along."""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["running_maximum"]


def running_maximum(values: NDArray[np.float64], window: int) -> NDArray[np.float64]:
    """The largest of each value and the ``window - 1`` before it, shape (frames,).

    Before the first there is nothing. Van Herk, "A fast algorithm for local minimum and maximum
    filters on rectangular and octagonal kernels" (Pattern Recognition Letters 13, 1992): three
    comparisons a value, whatever the window is.
    """
    result = np.empty_like(values)
    _running_maximum(result, values, max(1, window))
    return result


@njit(cache=True, nogil=True)
def _running_maximum(result, values, window):  # type: ignore[no-untyped-def]
    frames = values.shape[0]
    # Of each block the largest from a place to the block's end.
    onward = np.empty(window + 1)
    onward[:] = -np.inf
    for begin in range(0, frames, window):
        end = min(begin + window, frames)
        largest = -np.inf
        for n in range(begin, end):
            largest = max(largest, values[n])
            result[n] = max(largest, onward[n - begin + 1])
        if end - begin == window:
            largest = -np.inf
            for k in range(window - 1, -1, -1):
                largest = max(largest, values[begin + k])
                onward[k] = largest
