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
from nest_crate.core.dsp.oscillators import Voice, tone_signal
from nest_crate.core.dsp.randomness import uniform_numbers
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.dsp.unison import unison_voices
from nest_crate.core.engine.moved import NOT_MOVED, Moved
from nest_crate.core.engine.notes import PlayedNote, note_line
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
    note_start: int = 0
    """Frames from the start of the hit to that of this note, the common pitch running on."""
    played: PlayedNote | None = None
    """The note where it slides to others, in ``glide_s`` each."""
    glide_s: float = 0.0
    phase_cycles: Signal | None = None
    """Added to a tone's phase at each frame, shape (frames,): another layer's doing."""
    frequency_share: Signal | None = None
    """Added to a tone's frequency at each frame as a part of it."""
    sync_hz: Signal | None = None
    """Pitch of the tone with whose cycles this one begins again, 0 where there is none."""
    sync_share: Signal | None = None

    def with_moved(self, moved: Moved) -> SourceContext:
        """The same with what moves the layer's parameters."""
        return replace(self, moved=moved)


def base_pitch_hz(source: ToneSource, note: int) -> float:
    """Pitch in Hz before any curve."""
    base_hz = note_to_hz(note) if source.follows_note else source.fixed_hz
    shift_st = 12.0 * source.octave + source.transpose_st + source.fine_cent / 100.0
    return base_hz * source.ratio * float(2.0 ** (shift_st / 12.0))


def _moved_base_hz(context: SourceContext, source: ToneSource) -> float | Signal:
    """As ``base_pitch_hz``, at every frame where one of its numbers is moved."""
    plain = base_pitch_hz(source, context.note)

    def moved(name: str) -> float | Signal:
        base = float(getattr(source, name))
        return context.moved.at_frames(f"source.{name}", base, context.frames, context.start)

    transpose, fine = moved("transpose_st"), moved("fine_cent")
    ratio, fixed_hz = moved("ratio"), moved("fixed_hz")
    if all(isinstance(one, float) for one in (transpose, fine, ratio, fixed_hz)):
        return plain
    base_hz = note_to_hz(context.note) if source.follows_note else fixed_hz
    shift_st = 12.0 * source.octave + transpose + np.asarray(fine) / 100.0
    return np.asarray(base_hz * np.asarray(ratio) * np.exp2(shift_st / 12.0))


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


def _vibrato_st(context: SourceContext, source: ToneSource) -> float | Signal:
    """Semitones of the tone's own vibrato, whose rate and depth may be moved."""

    def moved(name: str) -> float | Signal:
        base = float(getattr(source, name))
        return context.moved.at_frames(f"source.{name}", base, context.frames, context.start)

    depth_st, rate_hz = moved("vibrato_st"), moved("vibrato_hz")
    if isinstance(depth_st, float) and depth_st <= 0.0:
        return 0.0
    sample_rate = context.settings.sample_rate
    if isinstance(rate_hz, float):
        turn = 2.0 * np.pi * rate_hz / sample_rate * np.arange(context.frames)
    else:
        gone = np.concatenate([[0.0], np.cumsum(rate_hz[:-1])]) if context.frames else rate_hz
        turn = 2.0 * np.pi / sample_rate * gone
    return np.asarray(depth_st * np.sin(turn))


def pitch_signal(context: SourceContext, source: ToneSource) -> Signal:
    """Pitch in Hz at every frame of the layer, shape (1, frames)."""
    base_hz = _moved_base_hz(context, source)
    sample_rate = context.settings.sample_rate
    shift_st = _shift_st(context.layer.pitch, context, hold_s=context.hold_s)
    if context.common_pitch is not None:
        begun = context.note_start + context.start
        shift_st = shift_st + _shift_st(
            context.common_pitch, context, hold_s=context.hit_hold_s, start=begun
        )
    moved_st = context.moved.at_frames("pitch_st", 0.0, context.frames, context.start)
    if not isinstance(moved_st, float):
        shift_st = shift_st + moved_st
    if context.played is not None and source.follows_note:
        reach = context.start + context.frames
        line = note_line(context.played, context.glide_s, frames=reach, sample_rate=sample_rate)
        shift_st = shift_st + line[context.start :]
    vibrato_st = _vibrato_st(context, source)
    if not isinstance(vibrato_st, float):
        shift_st = shift_st + vibrato_st
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
    voices = unison_voices(
        source.unison.voices,
        detune_cent=source.unison.detune_cent,
        width=source.unison.width,
        phase_spread=source.unison.phase_spread,
        balance=source.unison.balance,
        phase=_start_phase(context, source),
    )
    if context.moved.differ_by_voice and len(voices) > 1:
        total = np.zeros((len(voices[0].gains), context.frames))
        for n, voice in enumerate(voices):
            place = 2.0 * n / (len(voices) - 1) - 1.0
            own = replace(context, moved=context.moved.at_voice(place))
            total += _voices(own, source, [voice], [place])
        return total
    places = [2.0 * n / max(1, len(voices) - 1) - 1.0 for n in range(len(voices))]
    return _voices(context, source, voices, places)


def _voices(
    context: SourceContext, source: ToneSource, voices: list[Voice], places: list[float]
) -> Signal:
    """Voices of a tone that are moved alike, at their places from -1 to 1 in the unison."""
    pitch_hz = pitch_signal(context, source)[0]
    detune = context.moved.at_frames(
        "source.unison.detune_cent", source.unison.detune_cent, context.frames, context.start
    )
    if isinstance(detune, float) or source.unison.voices == 1:
        return _cycle(context, source, _Reading(pitch_hz, tuple(voices)))
    # Moved apart, each voice has a pitch of its own.
    total = np.zeros((len(voices[0].gains), context.frames))
    for place, voice in zip(places, voices, strict=True):
        own_hz = pitch_hz * np.exp2(place * detune / 1200.0)
        total += _cycle(context, source, _Reading(own_hz, (replace(voice, ratio=1.0),)))
    return total


@dataclass(frozen=True)
class _Reading:
    """What reads a cycle: pitch at each frame, the voices, and a phase that is added to all."""

    pitch_hz: Signal
    voices: tuple[Voice, ...]
    phase_cycles: Signal | None = None


def _read(
    context: SourceContext, source: ToneSource, tables: CycleTables, reading: _Reading
) -> Signal:
    """A tone from tables, oversampled where its phase is bent by itself or by another layer."""
    final = context.settings.quality == "final"
    sample_rate = context.settings.sample_rate
    feedback = context.moved.at_frames(
        "source.feedback", source.feedback, context.frames, context.start
    )
    bending = (context.phase_cycles, context.frequency_share, context.sync_hz, reading.phase_cycles)
    if np.all(np.asarray(feedback) <= 0.0) and all(one is None for one in bending):
        return tone_signal(
            reading.pitch_hz, tables, sample_rate=sample_rate, voices=reading.voices, fine=final
        )
    phases = [one for one in (context.phase_cycles, reading.phase_cycles) if one is not None]
    return feedback_tone(
        reading.pitch_hz,
        tables,
        amount=feedback,
        sample_rate=sample_rate,
        voices=reading.voices,
        octaves=3 if final else 2,
        phase_cycles=sum(phases[1:], phases[0]) if phases else None,
        frequency_share=context.frequency_share,
        sync_hz=context.sync_hz,
        sync_share=context.sync_share,
    )


# A moved skew is mixed between tables so far apart.
_SKEW_STEPS = 8


def _between(value: float | Signal, steps: int) -> list[tuple[float, float | Signal]]:
    """Neighbouring places of a moved number, ``steps`` to each 1, and the weight of each."""
    if isinstance(value, float):
        return [(value, 1.0)]
    if value.size == 0:
        return [(0.0, 1.0)]
    scaled = value * steps
    places = range(int(np.floor(scaled.min())), int(np.ceil(scaled.max())) + 1)
    weights = [np.maximum(0.0, 1.0 - np.abs(scaled - place)) for place in places]
    return [
        (place / steps, weight)
        for place, weight in zip(places, weights, strict=True)
        if np.any(weight > 0.0)
    ]


def _cycle(context: SourceContext, source: ToneSource, reading: _Reading) -> Signal:
    """The tone with whatever moves its cycle: moved shapes and skews are moved mixes."""

    def moved(name: str) -> float | Signal:
        base = float(getattr(source, name))
        return context.moved.at_frames(f"source.{name}", base, context.frames, context.start)

    skew, width = moved("skew"), moved("width")
    if source.cycle == "partials":
        mixes = [
            (_edited_tables(source.partials, at), part) for at, part in _between(skew, _SKEW_STEPS)
        ]
        return _mixed([(_read(context, source, tables, reading), part) for tables, part in mixes])
    shape = moved("shape")
    if isinstance(width, float):
        parts = [
            (_read(context, source, shape_tables(at, width, bent), reading), weight * part)
            for at, weight in _between(shape, 1)
            for bent, part in _between(skew, _SKEW_STEPS)
        ]
        return _mixed(parts)
    # The pulse is made of two sawtooths, whose distance is its width, so that this can move.
    flat = np.full(context.frames, shape) if isinstance(shape, float) else shape
    plain = np.minimum(flat, 2.0)
    share = np.clip(flat - 2.0, 0.0, 1.0)
    parts = [
        (_read(context, source, shape_tables(at, 0.5, bent), reading), weight * part * (1 - share))
        for at, weight in _between(plain, 1)
        for bent, part in _between(skew, _SKEW_STEPS)
    ]
    if np.any(share > 0.0):
        saw = shape_tables(2.0, 0.5)
        late = replace(reading, phase_cycles=-width - 0.5)
        early = replace(reading, phase_cycles=np.full(context.frames, -0.5))
        parts.append((_read(context, source, saw, late), share))
        parts.append((_read(context, source, saw, early), -share))
    return _mixed(parts)


def _mixed(parts: list[tuple[Signal, float | Signal]]) -> Signal:
    if len(parts) == 1 and isinstance(parts[0][1], float):
        return parts[0][0]
    total = np.zeros_like(parts[0][0])
    for signal, weight in parts:
        total += signal * weight
    return total


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
