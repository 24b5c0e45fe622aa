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
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import DriveProcessor, FilterProcessor
from nest_crate.core.units import db_to_gain

__all__ = ["PROCESSORS", "ProcessorWork", "process"]


@dataclass(frozen=True)
class ProcessorWork:
    """``apply(signal, processor, settings)`` and ``tail_s(processor)`` of one kind."""

    apply: Callable[[Signal, Any, RenderSettings], Signal]
    tail_s: Callable[[Any], float]


def _filter(signal: Signal, part: FilterProcessor, settings: RenderSettings) -> Signal:
    return filter_signal(
        signal,
        response=part.response,
        slope_db=part.slope_db,
        cutoff_hz=part.cutoff_hz,
        resonance=part.resonance,
        sample_rate=settings.sample_rate,
    )


def _drive(signal: Signal, part: DriveProcessor, settings: RenderSettings) -> Signal:
    octaves = 3 if settings.quality == "final" else 2
    return soft_drive(signal, gain=db_to_gain(part.drive_db), octaves=octaves)


PROCESSORS: dict[str, ProcessorWork] = {
    "filter": ProcessorWork(
        _filter, lambda part: ring_time_s(part.cutoff_hz, part.resonance, part.slope_db)
    ),
    # Its filters are symmetric: they reach a few frames beyond the end.
    "drive": ProcessorWork(_drive, lambda part: 0.004),
}


def process(signal: Signal, part: Any, settings: RenderSettings) -> Signal:
    """A signal through one processor, mixed with the dry signal, at its output level."""
    wet = PROCESSORS[part.kind].apply(signal, part, settings)
    if part.mix < 1.0:
        wet = (1.0 - part.mix) * signal + part.mix * wet
    gain = db_to_gain(part.level_db)
    return wet if gain == 1.0 else wet * gain
