"""A closer look at a layer's source: a body's modes, a table's cycles, a sample's outline."""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.analysis.pictures.outlines import Outline, outline
from nest_crate.core.engine import RenderSettings, StageMemory
from nest_crate.core.engine.ends import planned_frames
from nest_crate.core.engine.mixer import hit_planner
from nest_crate.core.engine.settled_values import settled
from nest_crate.core.engine.sources import SourceContext, base_pitch_hz
from nest_crate.core.engine.sources.sampled import played_part, start_offset_s
from nest_crate.core.engine.sources.struck import body_modes, loop_feedback, struck_exciter
from nest_crate.core.engine.sources.wavetable import position_signal, table_of
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.sound import Hit, SampleSource, Sound, StruckSource, WavetableSource

__all__ = ["LookedMode", "SourceLook", "look_at_source"]

_COLUMNS = 560
_CYCLE = 64
_PLACES = 96
_FLOOR_DB = -90.0


@dataclass(frozen=True)
class LookedMode:
    """One mode as the hit finds it: frequency, level re the loudest, seconds to -60 dB."""

    mode: int
    hz: float
    level_db: float
    decay_s: float
    heard: bool


@dataclass(frozen=True)
class SourceLook:
    """What there is to see of a source; what its kind doesn't have stays empty.

    ``cycles`` int8 (frames, columns), 127 standing for 1; ``places`` where the hit reads a table,
    0 to 1, evenly spread over ``places_s`` seconds; ``outline`` of a whole recording of
    ``length_s``, of which ``start_s`` to ``end_s`` is played, this hit from ``begins_s`` on.
    """

    kind: str
    modes: list[LookedMode] = field(default_factory=list)
    loop_gain: float | None = None
    cycles: NDArray[np.int8] | None = None
    places: NDArray[np.float64] | None = None
    places_s: float = 0.0
    outline: Outline | None = None
    length_s: float = 0.0
    start_s: float = 0.0
    end_s: float = 0.0
    begins_s: float = 0.0


def look_at_source(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    layer_id: str,
    *,
    memory: StageMemory | None = None,
) -> SourceLook:
    """The source of a layer, as the first note of a hit finds it.

    Raises
    ------
    DocumentError
        where there is no such layer.
    """
    sound = settled(sound, hit, settings)
    layer = next((one for one in sound.layers if one.id == layer_id), None)
    if layer is None:
        raise DocumentError([FieldProblem("layer", f"there is no layer {layer_id!r}", "unknown")])
    context = _context(sound, hit, settings, layer_id, memory)
    match layer.source:
        case StruckSource():
            return _body(context, layer.source)
        case WavetableSource():
            return _table(context, layer.source)
        case SampleSource():
            return _sample(context, layer.source)
    return SourceLook(layer.source.kind)


def _context(
    sound: Sound, hit: Hit, settings: RenderSettings, layer_id: str, memory: StageMemory | None
) -> SourceContext:
    """What the first note's source knows, its movers followed."""
    frames, _ = planned_frames(sound, hit, settings)
    planner = hit_planner(sound, hit, settings, frames)
    first = planner.notes[0] if planner.notes else planner
    layer = next(one for one in sound.layers if one.id == layer_id)
    context, runner = first.source_context(layer), StageRunner(memory)
    moved = [
        moves.read([runner.result(stage) for stage in moves.stages])
        for moves in (first.moves(layer_id), first.common_moves(context))
    ]
    return context.with_moved(*moved)


def _body(context: SourceContext, source: StruckSource) -> SourceLook:
    rate = context.settings.sample_rate
    first_hz = base_pitch_hz(source, context.note) / source.size
    if source.body == "string_loop":
        return SourceLook(source.kind, loop_gain=loop_feedback(source, first_hz, rate)[0])
    modes = body_modes(source)
    exciter = struck_exciter(context, source)
    count = 1 << max(10, 2 * exciter.size - 1).bit_length()
    hz = modes.ratios * first_hz
    places = np.fft.rfftfreq(count, 1.0 / rate)
    struck = np.abs(modes.strikes) * np.interp(hz, places, np.abs(np.fft.rfft(exciter, count)))
    struck = np.where(hz < 0.49 * rate, struck, 0.0)
    levels = 20.0 * np.log10(np.maximum(struck / max(struck.max(initial=0.0), 1e-12), 1e-9))
    return SourceLook(
        source.kind,
        modes=[
            LookedMode(n + 1, float(f), max(_FLOOR_DB, float(level)), float(t), bool(heard))
            for n, (f, level, t, heard) in enumerate(
                zip(hz, levels, modes.decays_s, modes.heard, strict=True)
            )
        ],
    )


def _table(context: SourceContext, source: WavetableSource) -> SourceLook:
    table = table_of(source.table, context.settings)
    cycles = np.clip(np.round(table.cycles(_CYCLE) * 127.0), -127, 127).astype(np.int8)
    places = position_signal(context, source, table.frames)
    # As far as the hit is held and a little after, which is what is heard of the way.
    shown = min(places.size, round((context.hold_s + 0.25) * context.settings.sample_rate))
    picked = places[np.linspace(0, max(0, shown - 1), _PLACES).astype(np.int64)] if shown else None
    return SourceLook(
        source.kind,
        cycles=cycles,
        places=None if picked is None else picked / max(1, table.frames - 1),
        places_s=shown / context.settings.sample_rate,
    )


def _sample(context: SourceContext, source: SampleSource) -> SourceLook:
    if source.recording is None:
        return SourceLook(source.kind)
    recording = context.settings.recording(source.recording)
    part = played_part(source, context.settings)
    start_s, end_s = (part.start_s, part.end_s) if part is not None else (0.0, 0.0)
    length_s = max(end_s - start_s, 1e-9)
    return SourceLook(
        source.kind,
        outline=outline(recording.samples, _COLUMNS),
        length_s=recording.length_s,
        start_s=start_s,
        end_s=end_s,
        begins_s=start_s + start_offset_s(context, source) % length_s,
    )
