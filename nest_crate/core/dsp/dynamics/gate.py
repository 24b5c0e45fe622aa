"""Gate and transient shaper: gains that follow how the level changes."""

from __future__ import annotations

import math

import numpy as np
from numba import njit
from numpy.typing import NDArray

from nest_crate.core.dsp.dynamics.compressor import level_over_time_db
from nest_crate.core.dsp.util.running_extremes import running_maximum
from nest_crate.core.dsp.util.signals import Signal

__all__ = ["CLOSED_DB", "gate_gain_db", "transient_parts"]

# A floor of so little is silence.
CLOSED_DB = -80.0
_SILENT_DB = -200.0
# It closes this far below where it opens, so that it does not flutter.
_HYSTERESIS_DB = 3.0
_DETECT_S = 0.002
_FASTEST_S = 0.0003
_HALF_WAVE_S = 0.012
# A difference of so much is an attack, or a decay, in full.
_FULL_DB = 9.0
_FAINTEST_DB = -80.0


def _pole(time_s: float, sample_rate: int) -> float:
    return 0.0 if time_s <= 0.0 else math.exp(-1.0 / (time_s * sample_rate))


def gate_gain_db(
    key: Signal,
    *,
    threshold_db: float,
    floor_db: float,
    attack_s: float,
    hold_s: float,
    release_s: float,
    look_ahead_s: float,
    sample_rate: int,
) -> NDArray[np.float64]:
    """Gain at each frame in dB, shape (frames,); -200 where it is closed to silence.

    It opens where the peak of the last 2 ms reaches the threshold, and closes once that has been
    3 dB below for ``hold_s``. Attack and release are the times in which 63 % of the way is made.

    Parameters
    ----------
    key : np.ndarray [shape=(channels, frames)]
        what is listened to.
    """
    ahead = round(look_ahead_s * sample_rate)
    level_db = level_over_time_db(key, measure="peak", ahead=ahead, sample_rate=sample_rate)
    floor = 0.0 if floor_db <= CLOSED_DB else 10.0 ** (floor_db / 20.0)
    gain = np.empty(level_db.size)
    _gate(
        gain,
        level_db,
        np.array([threshold_db, threshold_db - _HYSTERESIS_DB]),
        floor,
        np.array([_pole(attack_s, sample_rate), _pole(release_s, sample_rate)]),
        round((hold_s + _DETECT_S) * sample_rate),
    )
    return np.asarray(20.0 * np.log10(np.maximum(gain, 10.0 ** (_SILENT_DB / 20.0))))


@njit(cache=True, nogil=True)
def _gate(gain, level_db, thresholds, floor, poles, hold):  # type: ignore[no-untyped-def]
    """gain (frames,); thresholds to open and to stay open, poles opening and closing."""
    now = floor
    left = 0
    is_open = False
    for n in range(level_db.shape[0]):
        if level_db[n] >= thresholds[0] or (is_open and level_db[n] >= thresholds[1]):
            is_open = True
            left = hold
        elif left > 0:
            left -= 1
        else:
            is_open = False
        wanted = 1.0 if is_open else floor
        pole = poles[0] if wanted > now else poles[1]
        now = pole * now + (1.0 - pole) * wanted
        gain[n] = now


def transient_parts(
    signal: Signal, *, speed_s: float, sample_rate: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """How much each frame is attack, and how much decay: 0 to 1, shape (frames,) each.

    Followers that differ in one time alone are compared: one that rises at once and one that
    takes ``speed_s`` tell attacks; one that falls slowly and one that falls quickly tell decays.

    Parameters
    ----------
    signal : np.ndarray [shape=(channels, frames)]
    """
    # The largest of the last 12 ms, or each half-wave of a low tone would be an attack.
    window = max(1, round(_HALF_WAVE_S * sample_rate))
    size = np.abs(signal).max(axis=0)
    size = running_maximum(size, window)
    fast, slow = _FASTEST_S, speed_s
    times = ((fast, 4.0 * slow), (slow, 4.0 * slow), (fast, 10.0 * slow), (fast, slow))
    levels = []
    for rise_s, fall_s in times:
        followed = np.empty_like(size)
        _follow(followed, size, _pole(rise_s, sample_rate), _pole(fall_s, sample_rate))
        levels.append(20.0 * np.log10(np.maximum(followed, 10.0 ** (_FAINTEST_DB / 20.0))))
    attack = np.clip((levels[0] - levels[1]) / _FULL_DB, 0.0, 1.0)
    decay = np.clip((levels[2] - levels[3]) / _FULL_DB, 0.0, 1.0)
    return attack, decay * (1.0 - attack)


@njit(cache=True, nogil=True)
def _follow(out, size, rise, fall):  # type: ignore[no-untyped-def]
    """A magnitude (frames,) followed by one pole upwards and another one downwards."""
    level = 0.0
    for n in range(size.shape[0]):
        pole = rise if size[n] > level else fall
        level = pole * level + (1.0 - pole) * size[n]
        out[n] = level
