"""What a source needs to know, and how its pitch moves."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace

import numpy as np

from nest_crate.core.dsp.util.curves import curve_signal
from nest_crate.core.dsp.util.randomness import uniform_numbers
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.moved import NOT_MOVED, Moved
from nest_crate.core.engine.notes import PlayedNote, note_line
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import Curve, Layer
from nest_crate.core.sound.sources import PitchedSource, SampleSource, TunedSource
from nest_crate.core.units import note_to_hz

__all__ = ["SourceContext", "base_pitch_hz", "own_pitch_hz", "pitch_signal", "start_phase"]

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

    voices_apart: bool = False
    """The voices of a unison are wanted one by one, (voices, frames), each at full scale."""
    by_voice: tuple[Callable[[SourceContext, int], SourceContext], ...] = ()
    """What another layer's voices do to the voices of this one, by their number from 0."""
    on_voice: tuple[Callable[[Signal, int], Signal], ...] = ()
    """The same, of what works on what a voice makes."""
    common_moved: Moved = NOT_MOVED
    """What moves the common pitch."""

    def with_moved(self, moved: Moved, common: Moved) -> SourceContext:
        """The same with what moves the layer's parameters and the common pitch."""
        return replace(self, moved=moved, common_moved=common)

    def moved_number(self, name: str, base: float) -> float | Signal:
        """A number of the source, at every frame of the layer where it is moved."""
        return self.moved.at_frames(f"source.{name}", base, self.frames, self.start)


def base_pitch_hz(source: PitchedSource, note: int) -> float:
    """Pitch in Hz before any curve; a sample that follows no note stands at its own."""
    base_hz = note_to_hz(note) if source.follows_note else own_pitch_hz(source)
    shift_st = 12.0 * source.octave + source.transpose_st + source.fine_cent / 100.0
    return base_hz * source.ratio * float(2.0 ** (shift_st / 12.0))


def own_pitch_hz(source: PitchedSource) -> float:
    """The pitch that a source has of itself, in Hz."""
    if isinstance(source, SampleSource):
        return note_to_hz(source.root_note + source.root_cent / 100.0)
    return source.fixed_hz if isinstance(source, TunedSource) else 0.0


def _moved_base_hz(context: SourceContext, source: PitchedSource) -> float | Signal:
    """As ``base_pitch_hz``, at every frame where one of its numbers is moved."""
    plain = base_pitch_hz(source, context.note)

    def moved(name: str) -> float | Signal:
        return context.moved_number(name, float(getattr(source, name)))

    transpose, fine, ratio = moved("transpose_st"), moved("fine_cent"), moved("ratio")
    fixed_hz = moved("fixed_hz") if isinstance(source, TunedSource) else own_pitch_hz(source)
    if all(isinstance(one, float) for one in (transpose, fine, ratio, fixed_hz)):
        return plain
    base_hz = note_to_hz(context.note) if source.follows_note else fixed_hz
    shift_st = 12.0 * source.octave + transpose + np.asarray(fine) / 100.0
    return np.asarray(base_hz * np.asarray(ratio) * np.exp2(shift_st / 12.0))


def _shift_st(
    curve: Curve, context: SourceContext, *, hold_s: float, start: int = 0
) -> float | Signal:
    """Semitones at every frame of the layer, of a curve that began ``start`` frames earlier; one
    number where it is flat."""
    values = {point.value for point in (*curve.points, *curve.release)}
    if len(values) == 1:
        return values.pop()
    sample_rate = context.settings.sample_rate
    return curve_signal(
        curve,
        frames=start + context.frames,
        sample_rate=sample_rate,
        hold_s=hold_s,
    )[start:]


def _vibrato_st(context: SourceContext, source: PitchedSource) -> float | Signal:
    """Semitones of the tone's own vibrato, whose rate and depth may be moved."""

    def moved(name: str) -> float | Signal:
        return context.moved_number(name, float(getattr(source, name)))

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


def pitch_signal(context: SourceContext, source: PitchedSource) -> Signal:
    """Pitch in Hz at every frame of the layer, shape (1, frames)."""
    base_hz = _moved_base_hz(context, source)
    sample_rate = context.settings.sample_rate
    shift_st = _shift_st(context.layer.pitch, context, hold_s=context.hold_s)
    if context.common_pitch is not None:
        begun = context.note_start + context.start
        shift_st = shift_st + _shift_st(
            context.common_pitch, context, hold_s=context.hit_hold_s, start=begun
        )
        common_st = context.common_moved.exactly("pitch_st", 0.0, context.frames, context.start)
        shift_st = shift_st + common_st
    moved_st = context.moved.exactly("pitch_st", 0.0, context.frames, context.start)
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
    bounded = np.clip(moved, _LOWEST_HZ, sample_rate / 2.0)
    if np.ndim(bounded) == 0:
        return np.full((1, context.frames), float(bounded))
    made: Signal = bounded[np.newaxis]
    return made


def start_phase(context: SourceContext, phase_deg: float, phase_random: float) -> float:
    """In cycles; the random part is the hit's own."""
    stray = uniform_numbers(
        1, seed=context.seed, part=f"{context.layer.id}.phase", hit_number=context.hit_number
    )
    return phase_deg / 360.0 + 0.5 * phase_random * float(stray[0])
