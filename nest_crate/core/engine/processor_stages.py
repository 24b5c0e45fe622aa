"""A signal through one processor: its band, its mix, its loudness, its level."""

from __future__ import annotations

from typing import Any

import numpy as np

from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from nest_crate.core.dsp.filters.halves import split_halves
from nest_crate.core.dsp.util.signals import Signal, loud_frames, mixed
from nest_crate.core.engine.context import GainCurves, ProcessContext
from nest_crate.core.engine.effects import PROCESSORS
from nest_crate.core.engine.settings import Quality
from nest_crate.core.engine.stages import Load
from nest_crate.core.units import SILENCE_DB, db_to_gain

__all__ = ["band_of", "level_gains_db", "process", "processor_load"]

# No loudness is restored by more.
_MOST_DB = 48.0
_HEARD = 10.0 ** (-90.0 / 20.0)


def process(signal: Signal, part: Any, context: ProcessContext) -> Signal:
    """A signal through one processor, mixed with the dry signal, at its output level."""
    worked, passing = _halves(signal, part, context)
    wet = PROCESSORS[part.kind].apply(worked, part, context)
    if passing is not None:
        wet = wet + passing
    moved, frames = context.moved, signal.shape[1]
    mix = moved.at_frames("mix", part.mix, frames)
    if not isinstance(mix, float):
        # What is two sides wide now was one before.
        wet = (1.0 - mix) * np.broadcast_to(signal, wet.shape) + mix * wet
    elif mix < 1.0:
        wet = mixed(signal, wet, mix, 1.0)
    if part.keep_loudness:
        wet = wet * db_to_gain(_restoring_db(signal, wet, context.sample_rate))
    gain = moved.gain("level_db", part.level_db, frames)
    if not isinstance(gain, float):
        return np.asarray(wet * gain)
    return wet if gain == 1.0 else wet * gain


def level_gains_db(signal: Signal, part: Any, context: ProcessContext) -> GainCurves:
    """The gain over time of a processor that follows the level; empty for any other."""
    gains = PROCESSORS[part.kind].gains_db
    return {} if gains is None else gains(_halves(signal, part, context)[0], part, context)


def processor_load(part: Any, frames: int, quality: Quality) -> Load:
    """What a processor takes, by what its kind declares."""
    work = PROCESSORS[part.kind]
    ns, room = work.cost_of(part) * (1.0 if quality == "final" else 0.6), work.room
    if part.band != "all":
        ns, room = ns + 40.0, room + 3.0
    if part.keep_loudness:
        ns, room = ns + 120.0, max(room, 4.0)
    return Load(frames, ns, room)


def band_of(signal: Signal, part: Any, sample_rate: int) -> Signal:
    """The part of a signal that a processor works on."""
    low, high = split_halves(signal, part.split_hz, sample_rate=sample_rate)
    return high if part.band == "above" else low


def _halves(signal: Signal, part: Any, context: ProcessContext) -> tuple[Signal, Signal | None]:
    """What is worked on, and what passes by."""
    if part.band == "all":
        return signal, None
    low, high = split_halves(signal, part.split_hz, sample_rate=context.sample_rate)
    return (high, low) if part.band == "above" else (low, high)


def _restoring_db(before: Signal, after: Signal, sample_rate: int) -> float:
    """The gain by which what comes out is as loud as what goes in; none where either is silent."""
    # One side alone reads 3 dB less than the same on two.
    spread_db = 10.0 * float(np.log10(after.shape[0] / before.shape[0]))
    # Up to where either is heard: however long the buffer is, the gain is the same.
    end = max(int(loud_frames(one, _HEARD)) for one in (before, after))
    levels = [integrated_loudness_lufs(one[:, :end], sample_rate) for one in (before, after)]
    if min(levels) <= SILENCE_DB:
        return 0.0
    return max(-_MOST_DB, min(_MOST_DB, levels[0] + spread_db - levels[1]))
