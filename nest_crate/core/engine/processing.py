"""How each kind of processor works on a signal, and how long it rings on.

A new processor is one entry in ``PROCESSORS``.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from nest_crate.core.dsp.comb import comb_ring_time_s, comb_signal
from nest_crate.core.dsp.drive import soft_drive
from nest_crate.core.dsp.filters import filter_signal, ring_time_s
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.engine.moved import NOT_MOVED, Moved
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import CombProcessor, DriveProcessor, FilterProcessor
from nest_crate.core.units import db_to_gain, note_to_hz

__all__ = ["PROCESSORS", "ProcessContext", "ProcessorWork", "process"]


@dataclass(frozen=True)
class ProcessContext:
    """What a processor needs to know: rate and quality, what moves it, the note of the hit."""

    settings: RenderSettings
    moved: Moved = NOT_MOVED
    note: int = 60


@dataclass(frozen=True)
class ProcessorWork:
    """``apply(signal, processor, context)`` and ``tail_s(processor)`` of one kind."""

    apply: Callable[[Signal, Any, ProcessContext], Signal]
    tail_s: Callable[[Any], float]


# The note at which a cutoff that follows the keys is as it is set.
_FOLLOWED_FROM = 60


def _filter(signal: Signal, part: FilterProcessor, context: ProcessContext) -> Signal:
    follow = 2.0 ** (part.key_follow * (context.note - _FOLLOWED_FROM) / 12.0)
    return filter_signal(
        signal,
        response=part.response,
        slope_db=part.slope_db,
        cutoff_hz=context.moved.control("cutoff_hz", part.cutoff_hz) * follow,
        resonance=context.moved.control("resonance", part.resonance),
        gain_db=part.gain_db,
        sample_rate=context.settings.sample_rate,
    )


def _drive(signal: Signal, part: DriveProcessor, context: ProcessContext) -> Signal:
    octaves = 3 if context.settings.quality == "final" else 2
    drive_db = context.moved.at_frames("drive_db", part.drive_db, signal.shape[1])
    if isinstance(drive_db, float):
        return soft_drive(signal, gain=db_to_gain(drive_db), octaves=octaves)
    return soft_drive(signal * 10.0 ** (drive_db / 20.0), gain=1.0, octaves=octaves)


def _comb(signal: Signal, part: CombProcessor, context: ProcessContext) -> Signal:
    base_hz = part.frequency_hz
    # What follows the note is moved from there by as much as its own frequency would be.
    factor = 1.0
    if part.follows_note:
        factor = note_to_hz(context.note + part.transpose_st) / base_hz
    return comb_signal(
        signal,
        frequency_hz=context.moved.control("frequency_hz", base_hz) * factor,
        feedback=part.feedback,
        forward=part.forward,
        damping_hz=part.damping_hz,
        sample_rate=context.settings.sample_rate,
    )


def _comb_tail_s(part: CombProcessor) -> float:
    # The lowest pitch that it may be at rings longest.
    lowest_hz = 10.0 if part.follows_note else part.frequency_hz
    return min(30.0, comb_ring_time_s(lowest_hz, part.feedback, 100.0))


PROCESSORS: dict[str, ProcessorWork] = {
    "comb": ProcessorWork(_comb, _comb_tail_s),
    "filter": ProcessorWork(
        _filter, lambda part: ring_time_s(part.cutoff_hz, part.resonance, part.slope_db)
    ),
    # Its filters are symmetric: they reach a few frames beyond the end.
    "drive": ProcessorWork(_drive, lambda part: 0.004),
}


def process(signal: Signal, part: Any, context: ProcessContext) -> Signal:
    """A signal through one processor, mixed with the dry signal, at its output level."""
    wet = PROCESSORS[part.kind].apply(signal, part, context)
    moved, frames = context.moved, signal.shape[1]
    mix = moved.at_frames("mix", part.mix, frames)
    if not isinstance(mix, float) or mix < 1.0:
        wet = (1.0 - mix) * signal + mix * wet
    level_db = moved.at_frames("level_db", part.level_db, frames)
    if not isinstance(level_db, float):
        return wet * 10.0 ** (level_db / 20.0)
    gain = db_to_gain(level_db)
    return wet if gain == 1.0 else wet * gain
