"""How each kind of source makes its signal. A new source is one entry in ``SOURCES``."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from nest_crate.core.dsp.curves import curve_signal
from nest_crate.core.dsp.oscillators import tone_signal
from nest_crate.core.dsp.randomness import uniform_numbers
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import Layer, NoiseSource, ToneSource
from nest_crate.core.units import note_to_hz

__all__ = ["SOURCES", "SourceContext", "base_pitch_hz", "pitch_signal"]

# Pitch is held where a cycle still has two frames.
_LOWEST_HZ = 0.01


@dataclass(frozen=True)
class SourceContext:
    """What a source needs to know: the layer, the hit, the span it sounds in."""

    layer: Layer
    note: int
    hit_number: int
    seed: int
    hold_s: float
    frames: int
    settings: RenderSettings


def base_pitch_hz(source: ToneSource, note: int) -> float:
    """Pitch in Hz before any curve."""
    base_hz = note_to_hz(note) if source.follows_note else source.fixed_hz
    return base_hz * float(2.0 ** ((source.transpose_st + source.fine_cent / 100.0) / 12.0))


def pitch_signal(context: SourceContext, source: ToneSource) -> Signal:
    """Pitch in Hz at every frame of the layer, shape (1, frames)."""
    base_hz = base_pitch_hz(source, context.note)
    points = (*context.layer.pitch.points, *context.layer.pitch.release)
    sample_rate = context.settings.sample_rate
    if len({point.value for point in points}) == 1:
        moved = np.full(context.frames, base_hz * 2.0 ** (points[0].value / 12.0))
    else:
        shift_st = curve_signal(
            context.layer.pitch,
            frames=context.frames,
            sample_rate=sample_rate,
            hold_s=context.hold_s,
        )
        moved = base_hz * np.exp2(shift_st / 12.0)
    bounded: Signal = np.clip(moved, _LOWEST_HZ, sample_rate / 2.0)
    return bounded[np.newaxis]


def _tone(context: SourceContext, source: ToneSource) -> Signal:
    return tone_signal(
        pitch_signal(context, source)[0],
        shape=source.shape,
        width=source.width,
        phase_deg=source.phase_deg,
        sample_rate=context.settings.sample_rate,
        fine=context.settings.quality == "final",
    )


def _noise(context: SourceContext, source: NoiseSource) -> Signal:
    numbers = uniform_numbers(
        context.frames,
        seed=context.seed,
        part=f"{context.layer.id}.noise",
        hit_number=context.hit_number if source.new_each_hit else 0,
    )
    return numbers[np.newaxis]


SOURCES: dict[str, Callable[[SourceContext, Any], Signal]] = {"tone": _tone, "noise": _noise}
