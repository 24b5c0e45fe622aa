"""Random signals are thrown at one rate and brought to others, so that a sound is the same at all.

A band-limited conversion by whole-number ratios: Crochiere and Rabiner, "Multirate Digital Signal
Processing" (1983), section 2.4.
"""

from __future__ import annotations

import math
from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.signal import firwin, upfirdn

__all__ = ["THROWN_RATE", "at_rate", "frames_needed"]

THROWN_RATE = 48000
# All that is heard passes.
_PASSED_HZ = 20000.0
_STOPPED_DB = 100.0


def frames_needed(frames: int, sample_rate: int) -> int:
    """Frames to throw for so many at another rate."""
    if sample_rate == THROWN_RATE or not frames:
        return frames
    up, down, taps = _converter(sample_rate)
    return (frames * down + taps.size) // up + 2


def at_rate(thrown: NDArray[np.float64], frames: int, sample_rate: int) -> NDArray[np.float64]:
    """The first frames, at a rate, of what was thrown (frames,); silence before it.

    At the thrown rate itself it is returned as it is; at others it is flat up to 20 kHz, and has
    nothing above the lower one's Nyquist.
    """
    if sample_rate == THROWN_RATE or not frames:
        return np.ascontiguousarray(thrown[:frames])
    up, down, taps = _converter(sample_rate)
    middle = taps.size // 2
    # upfirdn begins with the first tap; its output steps by ``down``, so the middle of the filter
    # is brought to a multiple of that by silence before it.
    late = -middle % down
    filtered = upfirdn(np.concatenate([np.zeros(late), taps]), thrown, up, down)
    first = (middle + late) // down
    return np.ascontiguousarray(filtered[first : first + frames])


@lru_cache(maxsize=8)
def _converter(sample_rate: int) -> tuple[int, int, NDArray[np.float64]]:
    """Whole numbers by which the rate is raised and lowered, and the low-pass between."""
    common = math.gcd(THROWN_RATE, sample_rate)
    up, down = sample_rate // common, THROWN_RATE // common
    raised = float(THROWN_RATE * up)
    stopped_hz = min(THROWN_RATE, sample_rate) / 2.0
    # Kaiser's formula for the length (Oppenheim and Schafer 1989, equation 7.76).
    width = 2.0 * math.pi * (stopped_hz - _PASSED_HZ) / raised
    side = math.ceil((_STOPPED_DB - 7.95) / (2.285 * width) / 2.0)
    beta = 0.1102 * (_STOPPED_DB - 8.7)
    taps = firwin(2 * side + 1, 0.5 * (stopped_hz + _PASSED_HZ), window=("kaiser", beta), fs=raised)
    return up, down, np.asarray(taps * up)
