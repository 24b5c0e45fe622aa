"""Whether single resonances of a room are left over in its tail."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
from numpy.typing import NDArray
from scipy.fft import rfft
from scipy.ndimage import median_filter

from nest_crate.core.analysis.checks.remarks import Edit, Fix, Remark
from nest_crate.core.dsp.space.room import room_signal
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.settings import Rendering
from nest_crate.core.sound import Sound
from nest_crate.core.sound.chains import chain_places
from nest_crate.core.sound.processors import RoomProcessor

__all__ = ["check_tail", "ringing_hz"]

# In noise that decays the largest bin lies 11 to 14 dB over the median. Up to this far above, many
# resonances side by side are still heard as one tail.
_RINGS_DB = 20.0
# No room whose resonances are as wide rings.
_SHORT_S = 4.0
_FROM_S, _TO_S = 0.2, 8.0
_RANGE_HZ = (80.0, 12000.0)
# Movement spreads what is high enough to change its phase by a turn or so.
_MOVEMENT, _MOVES_FROM_HZ = 0.3, 1000.0


def check_tail(sound: Sound, rendering: Rendering) -> Remark | None:
    """Says where a long room rings at one frequency, by the room's own answer to a click."""
    rate = rendering.audio.sample_rate
    for place in chain_places(sound):
        for n, part in enumerate(place.chain):
            if not isinstance(part, RoomProcessor) or not part.on or part.mix == 0.0:
                continue
            numbers = (part.size_m, part.decay_s, part.damping_hz, part.movement)
            hz = _room_rings_at(*numbers, rate) if part.decay_s > _SHORT_S else None
            if hz is None:
                continue
            path = f"{place.path}.{n}"
            half = Edit(f"{path}.decay_s", round(0.5 * part.decay_s, 2))
            fixes = [Fix("Half the decay", [half])]
            if part.movement < _MOVEMENT and hz > _MOVES_FROM_HZ:
                fixes.insert(0, Fix("Add movement", [Edit(f"{path}.movement", _MOVEMENT)]))
            return Remark("rings", "warn", f"The reverb rings at {hz:.0f} Hz", fixes=fixes)
    return None


@lru_cache(maxsize=64)
def _room_rings_at(
    size_m: float, decay_s: float, damping_hz: float, movement: float, sample_rate: int
) -> float | None:
    click = np.zeros((1, round(min(decay_s, _TO_S) * sample_rate)))
    click[0, 0] = 1.0
    answer = room_signal(
        click,
        size_m=size_m,
        decay_s=decay_s,
        damping_hz=damping_hz,
        pre_delay_s=0.0,
        low_cut_hz=20.0,
        width=1.0,
        sample_rate=sample_rate,
        movement=movement,
    )
    return ringing_hz(answer[:, round(_FROM_S * sample_rate) :], sample_rate)


def ringing_hz(signal: Signal, sample_rate: int) -> float | None:
    """The frequency of the line of a tail (channels, frames) that stands highest over the median
    around it, by 20 dB and more; None without one."""
    hz, over_db = _over_median(signal, sample_rate)
    best = int(np.argmax(over_db))
    return float(hz[best]) if over_db[best] > _RINGS_DB else None


def _over_median(
    signal: Signal, sample_rate: int
) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Frequencies, and by how many dB each stands over the median around it."""
    power = (np.abs(rfft(signal * np.hanning(signal.shape[1]), axis=1)) ** 2).mean(axis=0)
    hz = np.arange(power.size) * (sample_rate / signal.shape[1])
    inside = (hz > _RANGE_HZ[0]) & (hz < min(_RANGE_HZ[1], 0.45 * sample_rate))
    hz, level = hz[inside], 10.0 * np.log10(np.maximum(power[inside], 1e-30))
    # The medians of twelfths of an octave, and of each with two at either side.
    part = np.floor(np.log2(hz / hz[0]) * 12.0).astype(np.int64)
    edges = np.flatnonzero(np.diff(part, prepend=-1))
    middles = np.array([np.median(one) for one in np.split(level, edges[1:])])
    return hz, level - median_filter(middles, 5, mode="nearest")[part - part[0]]
