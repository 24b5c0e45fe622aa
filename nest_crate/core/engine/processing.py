"""How each kind of processor works on a signal, and how long it rings on.

A new processor is one entry in ``PROCESSORS``.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from nest_crate.core.dsp.drive import soft_drive
from nest_crate.core.dsp.filters import filter_signal, ring_time_s
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.engine.moved import NOT_MOVED, Moved
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import DriveProcessor, FilterProcessor
from nest_crate.core.units import db_to_gain

__all__ = ["PROCESSORS", "ProcessorWork", "process"]


@dataclass(frozen=True)
class ProcessorWork:
    """``apply(signal, processor, settings, moved)`` and ``tail_s(processor)`` of one kind."""

    apply: Callable[[Signal, Any, RenderSettings, Moved], Signal]
    tail_s: Callable[[Any], float]


def _filter(
    signal: Signal, part: FilterProcessor, settings: RenderSettings, moved: Moved
) -> Signal:
    return filter_signal(
        signal,
        response=part.response,
        slope_db=part.slope_db,
        cutoff_hz=moved.control("cutoff_hz", part.cutoff_hz),
        resonance=moved.control("resonance", part.resonance),
        sample_rate=settings.sample_rate,
    )


def _drive(signal: Signal, part: DriveProcessor, settings: RenderSettings, moved: Moved) -> Signal:
    octaves = 3 if settings.quality == "final" else 2
    drive_db = moved.at_frames("drive_db", part.drive_db, signal.shape[1])
    if isinstance(drive_db, float):
        return soft_drive(signal, gain=db_to_gain(drive_db), octaves=octaves)
    return soft_drive(signal * 10.0 ** (drive_db / 20.0), gain=1.0, octaves=octaves)


PROCESSORS: dict[str, ProcessorWork] = {
    "filter": ProcessorWork(
        _filter, lambda part: ring_time_s(part.cutoff_hz, part.resonance, part.slope_db)
    ),
    # Its filters are symmetric: they reach a few frames beyond the end.
    "drive": ProcessorWork(_drive, lambda part: 0.004),
}


def process(
    signal: Signal, part: Any, settings: RenderSettings, moved: Moved = NOT_MOVED
) -> Signal:
    """A signal through one processor, mixed with the dry signal, at its output level."""
    wet = PROCESSORS[part.kind].apply(signal, part, settings, moved)
    frames = signal.shape[1]
    mix = moved.at_frames("mix", part.mix, frames)
    if not isinstance(mix, float) or mix < 1.0:
        wet = (1.0 - mix) * signal + mix * wet
    level_db = moved.at_frames("level_db", part.level_db, frames)
    if not isinstance(level_db, float):
        return wet * 10.0 ** (level_db / 20.0)
    gain = db_to_gain(level_db)
    return wet if gain == 1.0 else wet * gain
