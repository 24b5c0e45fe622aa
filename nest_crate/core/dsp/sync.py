"""Hard sync: where one tone's cycles end, and steps without aliasing for what begins again there.

Steps are band-limited as in Brandt, "Hard Sync Without Aliasing" (ICMC 2001), with a linear-phase
step, for a whole buffer can be corrected on both sides of the jump.
"""

from __future__ import annotations

import numpy as np
from numba import njit
from numpy.typing import NDArray

__all__ = ["STEP_RESIDUAL", "sync_places"]

_PHASES = 256
_HALF_TAPS = 12
# Of Nyquist: what the step's filter lets through, far above all that is kept on the way down.
_BAND = 0.6


def _step_residual() -> NDArray[np.float64]:
    """What turns a step into a band-limited one, shape (phases + 1, taps).

    Row r is for a step r / phases of a frame before the frame at tap ``_HALF_TAPS``.
    """
    fine = 64
    reach = _HALF_TAPS + 1
    x = np.arange(-reach * fine, reach * fine + 1) / fine
    impulse = np.sinc(_BAND * x) * np.kaiser(x.size, 10.0)
    rise = np.concatenate([[0.0], np.cumsum(0.5 * (impulse[1:] + impulse[:-1]))])
    rise /= rise[-1]
    rows = []
    for phase in range(_PHASES + 1):
        since = np.arange(-_HALF_TAPS, _HALF_TAPS) + phase / _PHASES
        rows.append(
            np.interp(since, x, rise) - np.where(np.arange(2 * _HALF_TAPS) >= _HALF_TAPS, 1, 0)
        )
    return np.ascontiguousarray(rows)


STEP_RESIDUAL = _step_residual()


def sync_places(
    cycles_per_frame: NDArray[np.float64],
) -> tuple[NDArray[np.int64], NDArray[np.float64]]:
    """Frames at which a tone of so many cycles per frame begins a new cycle.

    Returns
    -------
    places, parts : np.ndarray [shape=(cycles,)]
        the first frame of each cycle, and how much of a frame before it the cycle began. The
        first cycle begins with the tone and is not among them.
    """
    places = np.empty(int(np.sum(cycles_per_frame)) + 2, dtype=np.int64)
    parts = np.empty(places.shape[0])
    count = _find_places(places, parts, cycles_per_frame)
    return places[:count], parts[:count]


@njit(cache=True, nogil=True)
def _find_places(places, parts, cycles_per_frame):  # type: ignore[no-untyped-def]
    phase = 0.0
    count = 0
    for n in range(1, cycles_per_frame.shape[0]):
        step = cycles_per_frame[n - 1]
        phase += step
        if phase >= 1.0:
            phase -= np.floor(phase)
            if count < places.shape[0]:
                places[count] = n
                parts[count] = min(1.0, phase / step)
                count += 1
    return count
