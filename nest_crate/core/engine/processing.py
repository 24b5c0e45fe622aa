"""How each kind of processor works on a signal, and how long it rings on.

A new processor is one entry in ``PROCESSORS``.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from nest_crate.core.dsp.comb import comb_ring_time_s, comb_signal
from nest_crate.core.dsp.drive import soft_drive
from nest_crate.core.dsp.filters import filter_signal, ring_time_s
from nest_crate.core.dsp.movement import Control
from nest_crate.core.dsp.resonances import driven_filter_signal, formant_signal
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.engine.effects import EFFECTS, TAILS
from nest_crate.core.engine.moved import NOT_MOVED, Moved
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import (
    CombProcessor,
    DriveProcessor,
    FilterProcessor,
    FormantProcessor,
)
from nest_crate.core.units import A4_HZ, db_to_gain

__all__ = ["FOLLOWED_FROM", "PROCESSORS", "ProcessContext", "ProcessorWork", "process"]


@dataclass(frozen=True)
class ProcessContext:
    """What a processor needs to know: rate and quality, what moves it, the note of the hit
    (at the control rate where it slides)."""

    settings: RenderSettings
    moved: Moved = NOT_MOVED
    note: float | Control = 60.0
    tempo_bpm: float = 120.0


@dataclass(frozen=True)
class ProcessorWork:
    """``apply(signal, processor, context)`` and ``tail_s(processor)`` of one kind.

    The tail is asked of a processor at the lowest frequency that it may be at: what follows the
    keys or is moved is put there before.
    """

    apply: Callable[[Signal, Any, ProcessContext], Signal]
    tail_s: Callable[[Any], float]


# The note at which a cutoff that follows the keys is as it is set.
FOLLOWED_FROM = 60


def _follow(key_follow: float | Control, note: float | Control) -> float | Control:
    """The factor on a frequency that follows the keys."""
    if isinstance(key_follow, float) and key_follow == 0.0:
        return 1.0
    follow = 2.0 ** (np.asarray(key_follow) * (np.asarray(note) - FOLLOWED_FROM) / 12.0)
    return follow if follow.ndim else float(follow)


def _filter(signal: Signal, part: FilterProcessor, context: ProcessContext) -> Signal:
    moved = context.moved.control
    cutoff_hz = moved("cutoff_hz", part.cutoff_hz)
    shape: dict[str, Any] = {
        "response": part.response,
        "slope_db": part.slope_db,
        "cutoff_hz": cutoff_hz * _follow(moved("key_follow", part.key_follow), context.note),
        "resonance": moved("resonance", part.resonance),
        "sample_rate": context.settings.sample_rate,
    }
    drive_db = moved("drive_db", part.drive_db)
    if np.any(np.asarray(drive_db) > 0.0):
        return driven_filter_signal(signal, drive_db=drive_db, gain_db=part.gain_db, **shape)
    return filter_signal(signal, gain_db=moved("gain_db", part.gain_db), **shape)


def _formant(signal: Signal, part: FormantProcessor, context: ProcessContext) -> Signal:
    moved = context.moved.control
    shift_st = np.asarray(moved("shift_st", part.shift_st))
    factor = 2.0 ** (shift_st / 12.0) * np.asarray(
        _follow(moved("key_follow", part.key_follow), context.note)
    )
    return formant_signal(
        signal,
        first_hz=np.asarray(moved("first_hz", part.first_hz) * factor),
        second_hz=np.asarray(moved("second_hz", part.second_hz) * factor),
        sharpness=moved("sharpness", part.sharpness),
        second_db=moved("second_db", part.second_db),
        sample_rate=context.settings.sample_rate,
    )


def _drive(signal: Signal, part: DriveProcessor, context: ProcessContext) -> Signal:
    octaves = 3 if context.settings.quality == "final" else 2
    drive_db = context.moved.at_frames("drive_db", part.drive_db, signal.shape[1])
    if isinstance(drive_db, float):
        return soft_drive(signal, gain=db_to_gain(drive_db), octaves=octaves)
    return soft_drive(signal * 10.0 ** (drive_db / 20.0), gain=1.0, octaves=octaves)


def _comb(signal: Signal, part: CombProcessor, context: ProcessContext) -> Signal:
    moved = context.moved.control
    base_hz = part.frequency_hz
    # What follows the note is moved from there by as much as its own frequency would be.
    factor: float | Control = 1.0
    if part.follows_note:
        transpose_st = moved("transpose_st", part.transpose_st)
        shift_st = np.asarray(context.note) + transpose_st - 69.0
        factor = A4_HZ * np.exp2(shift_st / 12.0) / base_hz
    return comb_signal(
        signal,
        frequency_hz=np.asarray(moved("frequency_hz", base_hz) * factor),
        feedback=moved("feedback", part.feedback),
        forward=moved("forward", part.forward),
        damping_hz=moved("damping_hz", part.damping_hz),
        sample_rate=context.settings.sample_rate,
    )


def _comb_tail_s(part: CombProcessor) -> float:
    return min(30.0, comb_ring_time_s(part.frequency_hz, part.feedback, 100.0))


def _formant_tail_s(part: FormantProcessor) -> float:
    lowest_hz = min(part.first_hz, part.second_hz) * 2.0 ** (min(0.0, part.shift_st) / 12.0)
    return ring_time_s(lowest_hz, part.sharpness, 12)


PROCESSORS: dict[str, ProcessorWork] = {
    **{kind: ProcessorWork(apply, TAILS[kind]) for kind, apply in EFFECTS.items()},
    "formant": ProcessorWork(_formant, _formant_tail_s),
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
        # What is two sides wide now was one before.
        wet = (1.0 - mix) * np.broadcast_to(signal, wet.shape) + mix * wet
    level_db = moved.at_frames("level_db", part.level_db, frames)
    if not isinstance(level_db, float):
        return wet * 10.0 ** (level_db / 20.0)
    gain = db_to_gain(level_db)
    return wet if gain == 1.0 else wet * gain
