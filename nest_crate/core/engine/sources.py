"""How each kind of source makes its signal. A new source is one entry in ``SOURCES``."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np

from nest_crate.core.dsp.curves import curve_signal
from nest_crate.core.dsp.cycles import (
    CycleTables,
    edited_partials,
    shape_tables,
    skewed_partials,
)
from nest_crate.core.dsp.feedback import feedback_tone
from nest_crate.core.dsp.noise import noise_signal
from nest_crate.core.dsp.oscillators import tone_signal
from nest_crate.core.dsp.randomness import uniform_numbers
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.dsp.unison import unison_voices
from nest_crate.core.engine.moved import NOT_MOVED, Moved
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import Curve, Layer, NoiseSource, ToneSource
from nest_crate.core.sound.sources import PartialSet
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
    common_pitch: Curve | None = None
    start: int = 0
    """Frames from the start of the hit to the layer's own."""
    hit_hold_s: float = 0.0
    """End of the hold from the start of the hit."""
    moved: Moved = NOT_MOVED
    phase_cycles: Signal | None = None
    """Added to a tone's phase at each frame, shape (frames,): another layer's doing."""

    def with_moved(self, moved: Moved) -> SourceContext:
        """The same with what moves the layer's parameters."""
        return replace(self, moved=moved)


def base_pitch_hz(source: ToneSource, note: int) -> float:
    """Pitch in Hz before any curve."""
    base_hz = note_to_hz(note) if source.follows_note else source.fixed_hz
    shift_st = 12.0 * source.octave + source.transpose_st + source.fine_cent / 100.0
    return base_hz * source.ratio * float(2.0 ** (shift_st / 12.0))


def _shift_st(curve: Curve, context: SourceContext, *, hold_s: float, start: int = 0) -> Signal:
    """Semitones at every frame of the layer, of a curve that began ``start`` frames earlier."""
    values = {point.value for point in (*curve.points, *curve.release)}
    if len(values) == 1:
        return np.full(context.frames, values.pop())
    sample_rate = context.settings.sample_rate
    return curve_signal(
        curve,
        frames=start + context.frames,
        sample_rate=sample_rate,
        hold_s=hold_s,
    )[start:]


def pitch_signal(context: SourceContext, source: ToneSource) -> Signal:
    """Pitch in Hz at every frame of the layer, shape (1, frames)."""
    base_hz = base_pitch_hz(source, context.note)
    sample_rate = context.settings.sample_rate
    shift_st = _shift_st(context.layer.pitch, context, hold_s=context.hold_s)
    if context.common_pitch is not None:
        shift_st = shift_st + _shift_st(
            context.common_pitch, context, hold_s=context.hit_hold_s, start=context.start
        )
    moved_st = context.moved.at_frames("pitch_st", 0.0, context.frames, context.start)
    if not isinstance(moved_st, float):
        shift_st = shift_st + moved_st
    if source.vibrato_st > 0.0:
        turn = 2.0 * np.pi * source.vibrato_hz / sample_rate * np.arange(context.frames)
        shift_st = shift_st + source.vibrato_st * np.sin(turn)
    moved = base_hz * np.exp2(shift_st / 12.0)
    bounded: Signal = np.clip(moved, _LOWEST_HZ, sample_rate / 2.0)
    return bounded[np.newaxis]


@lru_cache(maxsize=64)
def _edited_tables(partials: PartialSet, skew: float) -> CycleTables:
    drawn = edited_partials(
        partials.amplitudes,
        partials.phases_deg,
        tilt_db=partials.tilt_db,
        odd_even=partials.odd_even,
        comb=partials.comb,
    )
    return CycleTables(skewed_partials(drawn, skew))


def _start_phase(context: SourceContext, source: ToneSource) -> float:
    """In cycles; the random part is the hit's own."""
    stray = uniform_numbers(
        1, seed=context.seed, part=f"{context.layer.id}.phase", hit_number=context.hit_number
    )
    return source.phase_deg / 360.0 + 0.5 * source.phase_random * float(stray[0])


def _tone(context: SourceContext, source: ToneSource) -> Signal:
    final = context.settings.quality == "final"
    voices = unison_voices(
        source.unison.voices,
        detune_cent=source.unison.detune_cent,
        width=source.unison.width,
        phase_spread=source.unison.phase_spread,
        balance=source.unison.balance,
        phase=_start_phase(context, source),
    )
    pitch_hz = pitch_signal(context, source)[0]
    sample_rate = context.settings.sample_rate

    def read(tables: CycleTables) -> Signal:
        if source.feedback > 0.0 or context.phase_cycles is not None:
            return feedback_tone(
                pitch_hz,
                tables,
                amount=source.feedback,
                sample_rate=sample_rate,
                voices=voices,
                octaves=3 if final else 2,
                phase_cycles=context.phase_cycles,
            )
        return tone_signal(pitch_hz, tables, sample_rate=sample_rate, voices=voices, fine=final)

    if source.cycle == "partials":
        return read(_edited_tables(source.partials, source.skew))
    shape = context.moved.at_frames("source.shape", source.shape, context.frames, context.start)
    if isinstance(shape, float):
        return read(shape_tables(shape, source.width, source.skew))
    # Between two shapes their partials mix in proportion, so a moved shape is a moved mix.
    lowest, highest = int(np.floor(shape.min())), int(np.ceil(shape.max()))
    mixed = np.zeros((len(voices[0].gains), context.frames))
    for whole in range(lowest, highest + 1):
        weight = np.maximum(0.0, 1.0 - np.abs(shape - whole))
        mixed += weight * read(shape_tables(float(whole), source.width, source.skew))
    return mixed


def _noise(context: SourceContext, source: NoiseSource) -> Signal:
    return noise_signal(
        context.frames,
        texture=source.texture,
        colour_db=source.colour_db,
        rate_hz=source.rate_hz,
        width=source.width,
        offset_s=source.offset_s,
        sample_rate=context.settings.sample_rate,
        seed=context.seed,
        part=f"{context.layer.id}.noise",
        hit_number=context.hit_number if source.new_each_hit else 0,
    )


SOURCES: dict[str, Callable[[SourceContext, Any], Signal]] = {"tone": _tone, "noise": _noise}
