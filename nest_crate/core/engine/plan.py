"""From a sound and a hit to a plan: the stages, and how many frames they fill."""

from __future__ import annotations

import math
from dataclasses import dataclass, field

import numpy as np

from nest_crate.core.dsp.curves import curve_signal
from nest_crate.core.dsp.signals import Signal, pan_signal, sum_signals
from nest_crate.core.engine.modulation import modulated_source
from nest_crate.core.engine.moved import Moves
from nest_crate.core.engine.movers import MOVERS, MoverContext
from nest_crate.core.engine.processing import PROCESSORS, ProcessContext, process
from nest_crate.core.engine.settings import MAX_LENGTH_S, RenderSettings
from nest_crate.core.engine.sources import SourceContext
from nest_crate.core.engine.stages import Stage, stage
from nest_crate.core.sound import Hit, Layer, Processor, Sound
from nest_crate.core.sound.parameters import Parameter
from nest_crate.core.sound.targets import targets_of
from nest_crate.core.units import db_to_gain

__all__ = ["SILENCE_HOLD_S", "Plan", "make_plan", "sounding_layers", "source_context"]

# A render ends once the output has stayed silent this long.
SILENCE_HOLD_S = 0.05

# Velocity that plays a layer at its level as set, and what full sense makes of a tenth of it.
_VELOCITY_AT_LEVEL = 100.0
_VELOCITY_RANGE_DB = 40.0


@dataclass(frozen=True)
class Plan:
    """Stages in the order of the sound: each layer's source, its level, the layer itself,
    ``taps`` and ``movers`` by id, ``output`` last.

    ``ends_by_itself`` is False where a layer never falls silent.
    """

    output: Stage
    sources: dict[str, Stage]
    levels: dict[str, Stage]
    layers: dict[str, Stage]
    taps: dict[str, Stage]
    movers: dict[str, Stage]
    frames: int
    ends_by_itself: bool


def sounding_layers(sound: Sound) -> list[Layer]:
    """The layers that are heard: none that is muted, only the solo ones where there are any."""
    soloed = any(layer.solo for layer in sound.layers)
    return [layer for layer in sound.layers if not layer.mute and (layer.solo or not soloed)]


def velocity_gain(velocity: int, sense: float) -> float:
    """Amplitude factor of a velocity; velocity 100 is 1."""
    level_db = sense * _VELOCITY_RANGE_DB * math.log10(velocity / _VELOCITY_AT_LEVEL)
    return float(10.0 ** (level_db / 20.0))


def _furthest(sound: Sound, part: Processor) -> Processor:
    """A processor where movement takes it to its longest tail: lowest cutoff, most resonance."""
    names = {"filter": ("cutoff_hz", "resonance"), "comb": ("frequency_hz", "")}.get(part.kind)
    if names is None:
        return part
    reach = [
        sum(abs(link.amount) for link in sound.links if link.target == f"{part.id}.{name}")
        for name in names
    ]
    if not any(reach):
        return part
    lowest_hz = max(10.0, float(getattr(part, names[0])) * 2.0 ** -reach[0])
    changed: dict[str, float] = {names[0]: lowest_hz}
    if part.kind == "filter":
        changed["resonance"] = min(40.0, part.resonance + reach[1])
    return part.model_copy(update=changed)


def _follows_note(part: Processor) -> bool:
    return bool(getattr(part, "key_follow", 0.0) or getattr(part, "follows_note", False))


def chain_tail_s(sound: Sound, chain: tuple[Processor, ...]) -> float:
    """Seconds that a chain may sound on after its input has ended."""
    return sum(PROCESSORS[part.kind].tail_s(_furthest(sound, part)) for part in chain if part.on)


def layer_end_s(sound: Sound, layer: Layer, hold_s: float) -> float:
    """When a layer has fallen silent, or infinity where it never does."""
    if layer.level.final_value() > 0.0:
        return math.inf
    held_s = max(0.0, hold_s - layer.delay_s)
    return layer.delay_s + layer.level.end_s(held_s) + chain_tail_s(sound, layer.chain)


def planned_frames(sound: Sound, hit: Hit, settings: RenderSettings) -> tuple[int, bool]:
    """Frames to compute, and whether the sound ends by itself within them."""
    ends = [layer_end_s(sound, layer, hit.hold_s) for layer in sounding_layers(sound)]
    tail_s = chain_tail_s(sound, sound.main.chain)
    natural_s = max(ends, default=0.0) + tail_s + 2.0 * SILENCE_HOLD_S
    if settings.length_s is not None:
        return max(1, round(settings.length_s * settings.sample_rate)), True
    ends_by_itself = natural_s <= MAX_LENGTH_S
    return math.ceil(min(natural_s, MAX_LENGTH_S) * settings.sample_rate), ends_by_itself


def make_plan(sound: Sound, hit: Hit, settings: RenderSettings) -> Plan:
    """The stages from sources to the main output."""
    frames, ends_by_itself = planned_frames(sound, hit, settings)
    planner = Planner(sound, hit, settings, frames)
    layers = {layer.id: planner.layer(layer.id) for layer in sounding_layers(sound)}
    mixed = stage(
        "main sum",
        {"frames": frames},
        lambda inputs: sum_signals(inputs, frames),
        tuple(layers.values()),
    )
    chained = planner.chain(sound.main.chain, mixed)
    moves = planner.moves("main")
    level_db = sound.main.level_db

    def set_level(inputs: list[Signal]) -> Signal:
        moved_db = moves.read(inputs[1:]).at_frames("level_db", level_db, frames)
        return inputs[0] * (
            db_to_gain(moved_db) if isinstance(moved_db, float) else 10.0 ** (moved_db / 20.0)
        )

    facts = {"level_db": level_db, "moved": moves.facts()}
    output = stage("main level", facts, set_level, (chained, *moves.stages))
    heard = set(layers)
    return Plan(
        output,
        {key: made for key, made in planner.sources.items() if key in heard},
        {key: made for key, made in planner.levels.items() if key in heard},
        layers,
        planner.taps,
        {mover.id: planner.mover(mover.id) for mover in sound.movers},
        frames,
        ends_by_itself,
    )


def source_context(
    sound: Sound, layer: Layer, hit: Hit, settings: RenderSettings, frames: int
) -> SourceContext:
    """What a layer's source needs to know in a render of ``frames`` frames."""
    start = min(frames, round(layer.delay_s * settings.sample_rate))
    return SourceContext(
        layer=layer,
        note=hit.note,
        hit_number=hit.number,
        seed=sound.seed,
        hold_s=max(0.0, hit.hold_s - layer.delay_s),
        frames=frames - start,
        settings=settings,
        common_pitch=sound.pitch if layer.follows_pitch else None,
        start=start,
        hit_hold_s=hit.hold_s,
    )


@dataclass
class Planner:
    """Makes each stage once, when it is first asked for: a follower asks for its layer."""

    sound: Sound
    hit: Hit
    settings: RenderSettings
    frames: int
    sources: dict[str, Stage] = field(default_factory=dict)
    levels: dict[str, Stage] = field(default_factory=dict)
    taps: dict[str, Stage] = field(default_factory=dict)
    made_layers: dict[str, Stage] = field(default_factory=dict)
    made_movers: dict[str, Stage] = field(default_factory=dict)
    targets: dict[str, Parameter] = field(default_factory=dict)

    def __post_init__(self) -> None:
        if self.sound.links:
            self.targets = targets_of(self.sound)

    def moves(self, part: str) -> Moves:
        """What moves a part, with the stages of its movers."""
        links = tuple(link for link in self.sound.links if link.target.split(".", 1)[0] == part)
        names = {link.mover for link in links} | {link.scaled_by for link in links}
        stages = tuple(self.mover(name) for name in sorted(name for name in names if name))
        return Moves(part, links, stages, self.targets)

    def mover(self, identifier: str) -> Stage:
        """A mover's control signal, shape (1, points)."""
        made = self.made_movers.get(identifier)
        if made is not None:
            return made
        mover = next(one for one in self.sound.movers if one.id == identifier)
        moves = self.moves(identifier)
        followed = (self.layer(mover.layer),) if mover.kind == "follower" else ()

        def work(inputs: list[Signal]) -> Signal:
            moved = moves.read(inputs[len(followed) :])
            context = MoverContext(
                id=identifier,
                hit=self.hit,
                seed=self.sound.seed,
                tempo_bpm=self.sound.tempo_bpm,
                frames=self.frames,
                settings=self.settings,
                moved=lambda path: moved.control(path, float(getattr(mover, path))),
            )
            return np.ascontiguousarray(MOVERS[mover.kind](context, mover, inputs)[np.newaxis])

        facts = {
            "mover": mover.model_dump(),
            "hit": self.hit.model_dump(),
            "seed": self.sound.seed,
            "tempo": self.sound.tempo_bpm,
            "frames": self.frames,
            "rate": self.settings.sample_rate,
            "moved": moves.facts(),
        }
        made = stage(f"{identifier} mover", facts, work, (*followed, *moves.stages))
        self.made_movers[identifier] = made
        return made

    def layer(self, identifier: str) -> Stage:
        """A layer's output after its own chain."""
        made = self.made_layers.get(identifier)
        if made is None:
            layer = next(one for one in self.sound.layers if one.id == identifier)
            source, shaped = self._source_and_level(layer)
            self.sources[identifier], self.levels[identifier] = source, shaped
            made = self.taps[identifier] = self.chain(layer.chain, shaped)
            self.made_layers[identifier] = made
        return made

    def _source_and_level(self, layer: Layer) -> tuple[Stage, Stage]:
        """A layer's source, and the same with its level curve, velocity and pan."""
        sound, hit, settings, frames = self.sound, self.hit, self.settings, self.frames
        context = source_context(sound, layer, hit, settings, frames)
        start, held_s = context.start, context.hold_s
        common = context.common_pitch if layer.source.kind == "tone" else None
        moves = self.moves(layer.id)
        by = layer.modulation.by
        modulators = (self.layer(by),) if by is not None else ()
        span = {
            "frames": frames - start,
            "hold_s": held_s,
            "rate": settings.sample_rate,
            "quality": settings.quality,
            "moved": moves.facts(),
        }
        source = stage(
            f"{layer.id} source",
            {
                **span,
                "id": layer.id,
                "seed": sound.seed,
                "source": layer.source.model_dump(),
                "pitch": layer.pitch.model_dump(),
                "common": common.model_dump() if common else None,
                "start": start if common or moves.links or by is not None else 0,
                "hit_hold_s": hit.hold_s if common else 0.0,
                "note": hit.note,
                "number": hit.number,
                "modulation": layer.modulation.model_dump() if by is not None else None,
            },
            lambda inputs: modulated_source(
                context.with_moved(moves.read(inputs[len(modulators) :])), inputs[: len(modulators)]
            ),
            (*modulators, *moves.stages),
        )
        velocity = velocity_gain(hit.velocity, layer.velocity_sense)

        def shape_level(inputs: list[Signal]) -> Signal:
            moved = moves.read(inputs[1:])
            level = curve_signal(
                layer.level,
                frames=frames - start,
                sample_rate=settings.sample_rate,
                hold_s=held_s,
            )
            level_db = moved.at_frames("level_db", layer.level_db, frames - start, start)
            if isinstance(level_db, float):
                level *= velocity * db_to_gain(level_db)
            else:
                level *= velocity * 10.0 ** (level_db / 20.0)
            placed = np.zeros((inputs[0].shape[0], frames))
            np.multiply(inputs[0], level, out=placed[:, start:])
            return pan_signal(placed, moved.at_frames("pan", layer.pan, frames))

        depends_on = {
            **span,
            "start": start,
            "gain": velocity,
            "level_db": layer.level_db,
            "pan": layer.pan,
            "level": layer.level.model_dump(),
        }
        inputs = (source, *moves.stages)
        return source, stage(f"{layer.id} level", depends_on, shape_level, inputs)

    def chain(self, chain: tuple[Processor, ...], before: Stage) -> Stage:
        """The stages of a chain; each processor's output is a tap."""
        for part in chain:
            if part.on:
                before = self._processor(part, before)
            self.taps[part.id] = before
        return before

    def _processor(self, part: Processor, before: Stage) -> Stage:
        moves = self.moves(part.id)
        depends_on = {
            "processor": part.model_dump(exclude={"id"}),
            "note": self.hit.note if _follows_note(part) else None,
            "rate": self.settings.sample_rate,
            "quality": self.settings.quality,
            "moved": moves.facts(),
        }
        return stage(
            f"{part.id} {part.kind}",
            depends_on,
            lambda inputs: process(
                inputs[0],
                part,
                ProcessContext(self.settings, moves.read(inputs[1:]), self.hit.note),
            ),
            (before, *moves.stages),
        )
