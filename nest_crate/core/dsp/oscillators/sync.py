"""Hard sync: where one tone's cycles end, and steps without aliasing for what begins again with it.

Steps are band-limited as in Brandt, "Hard Sync Without Aliasing" (ICMC 2001), with a linear-phase
step, for a whole buffer can be corrected on both sides of the jump.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["SLOPE_RESIDUAL", "STEP_RESIDUAL", "sync_places"]

_PHASES = 256
_HALF_TAPS = 12
# Of Nyquist: what the step's filter lets through, far above all that is kept on the way down.
_BAND = 0.6
_KAISER = 10.0


def _residuals() -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """What turns a step of the value, and one of the slope (per frame), into band-limited ones,
    shape (phases + 1, taps) each.

    Row r is for a step r / phases of a frame before the frame at tap ``_HALF_TAPS``. The slope's
    is the integral of the value's: Esqueda, Välimäki and Bilbao, "Rounding Corners with BLAMP"
    (DAFx 2016).
    """
    fine = 256
    reach = _HALF_TAPS + 1
    x = np.arange(-reach * fine, reach * fine + 1) / fine
    impulse = np.sinc(_BAND * x) * np.kaiser(x.size, _KAISER)
    rise = _integral(impulse)
    rise /= rise[-1]
    step = rise - np.where(x > 0.0, 1.0, np.where(x == 0.0, 0.5, 0.0))
    slope = _integral(step) / fine
    # Both sides of the step lack as much, so that nothing is left behind.
    slope -= np.interp(x, [x[0], x[-1]], [0.0, slope[-1]])
    since = np.arange(-_HALF_TAPS, _HALF_TAPS) + np.arange(_PHASES + 1)[:, np.newaxis] / _PHASES
    late = np.arange(2 * _HALF_TAPS) >= _HALF_TAPS
    return (
        np.ascontiguousarray(np.interp(since, x, rise) - late),
        np.ascontiguousarray(np.interp(since, x, slope)),
    )


def _integral(values: NDArray[np.float64]) -> NDArray[np.float64]:
    return np.concatenate([[0.0], np.cumsum(0.5 * (values[1:] + values[:-1]))])


STEP_RESIDUAL, SLOPE_RESIDUAL = _residuals()


def sync_places(
    cycles_per_frame: NDArray[np.float64], times: int
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Raised frames at which a tone of so many cycles a raised frame begins a new cycle.

    Parameters
    ----------
    cycles_per_frame : np.ndarray [shape=(frames,)]
        at the rate; each value stands for ``times`` raised frames.

    Returns
    -------
    places, parts : np.ndarray [shape=(cycles,)]
        the first frame of each cycle, and how much of a frame before it the cycle began. The
        first cycle begins with the tone and is not among them.
    """
    places = np.empty(int(times * np.sum(cycles_per_frame)) + 2, dtype=np.int64)
    parts = np.empty(places.shape[0])
    count = _find_places(places, parts, cycles_per_frame, times)
    return places[:count], parts[:count]


@njit(cache=True, nogil=True)
def _find_places(places, parts, cycles_per_frame, times):  # type: ignore[no-untyped-def]
    phase = 0.0
    count = 0
    for n in range(1, times * cycles_per_frame.shape[0]):
        step = cycles_per_frame[(n - 1) // times]
        phase += step
        if phase >= 1.0:
            phase -= np.floor(phase)
            if count < places.shape[0]:
                places[count] = n
                parts[count] = min(1.0, phase / step)
                count += 1
    return count
