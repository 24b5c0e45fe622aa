"""The stages of one note: sources, levels, layers with their chains, and movers."""

from __future__ import annotations

import math
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from nest_crate.core.dsp.util.curves import curve_signal
from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, Control, control_points
from nest_crate.core.dsp.util.signals import Signal, pan_signal
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.drawn_movers import DrawnMover
from nest_crate.core.engine.effects import PROCESSORS
from nest_crate.core.engine.exactness import is_exact
from nest_crate.core.engine.modulation import Acting, modulated_source
from nest_crate.core.engine.moved import Moves
from nest_crate.core.engine.movers import MOVERS, MoverContext
from nest_crate.core.engine.notes import PlayedNote, note_line
from nest_crate.core.engine.processor_stages import band_of, level_gains_db, process, processor_load
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.source_cost import source_load
from nest_crate.core.engine.sources import SourceContext, pitch_signal, voice_ratios
from nest_crate.core.engine.stages import Load, Stage, split_by, stage
from nest_crate.core.engine.sums import all_added, levelled
from nest_crate.core.sound import Hit, Layer, Processor, Sound
from nest_crate.core.sound.layers import Modulator
from nest_crate.core.sound.links import curve_movers
from nest_crate.core.sound.parameters import Parameter
from nest_crate.core.sound.processors import ForkProcessor, Need
from nest_crate.core.sound.sources import PitchedSource
from nest_crate.core.sound.targets import COMMON, targets_of
from nest_crate.core.units import db_to_gain

__all__ = ["Planner"]

# Velocity that plays a layer at its level as set, and what full sense makes of a tenth of it.
_VELOCITY_AT_LEVEL = 100.0
_VELOCITY_RANGE_DB = 40.0


def _velocity_gain(velocity: int, sense: float) -> float:
    """Amplitude factor of a velocity; velocity 100 is 1."""
    level_db = sense * _VELOCITY_RANGE_DB * math.log10(velocity / _VELOCITY_AT_LEVEL)
    return float(10.0 ** (level_db / 20.0))


@dataclass
class Planner:
    """Makes each stage once, when it is first asked for: a follower asks for its layer.

    ``hit`` is the note's own; ``whole`` the hit that it belongs to, which began ``played.start_s``
    earlier.
    """

    sound: Sound
    hit: Hit
    settings: RenderSettings
    frames: int
    whole: Hit
    played: PlayedNote
    sources: dict[str, Stage] = field(default_factory=dict)
    levels: dict[str, Stage] = field(default_factory=dict)
    taps: dict[str, Stage] = field(default_factory=dict)
    made_layers: dict[str, Stage] = field(default_factory=dict)
    made_movers: dict[str, Stage] = field(default_factory=dict)
    targets: dict[str, Parameter] = field(default_factory=dict)
    must_end: list[Stage] = field(default_factory=list)
    """Stages that must have fallen silent by their end, though more may follow them."""

    def __post_init__(self) -> None:
        if self.sound.links:
            self.targets = targets_of(self.sound)

    @property
    def note_start(self) -> int:
        """Frames from the hit's start to the note's."""
        return round(self.played.start_s * self.settings.sample_rate)

    def moves(self, part: str) -> Moves:
        """What moves a part, with the stages of its movers."""
        links = tuple(link for link in self.sound.links if link.target.split(".", 1)[0] == part)
        names = {link.mover for link in links} | {link.scaled_by for link in links}
        stages = tuple(self.mover(name) for name in sorted(name for name in names if name))
        voices = frozenset(
            one.id for one in self.sound.movers if one.kind == "voice" and one.id in names
        )
        exact = frozenset(name for name in names if name and is_exact(self.sound, name))
        return Moves(part, links, stages, self.targets, voices, exact)

    def note_control(self) -> float | Control:
        """The note that is played, at the control rate where it slides."""
        if not self.played.line:
            return float(self.hit.note)
        rate = self.settings.sample_rate / CONTROL_FRAMES
        glide_s = self.sound.playing.glide_s
        points = control_points(self.frames)
        return self.hit.note + note_line(self.played, glide_s, frames=points, sample_rate=rate)

    def _line_facts(self) -> Any:
        """What slides of the pitch, for stages that follow it."""
        return [*self.played.line, self.sound.playing.glide_s] if self.played.line else None

    def mover(self, identifier: str) -> Stage:
        """A mover's control signal, shape (1, points), or every frame of it where it may jump."""
        made = self.made_movers.get(identifier)
        if made is not None:
            return made
        if "." in identifier:
            made = self.made_movers[identifier] = self._curve_mover(identifier)
            return made
        mover = next(one for one in self.sound.movers if one.id == identifier)
        moves = self.moves(identifier)
        followed: tuple[Stage, ...] = ()
        if mover.kind == "follower" and mover.layer is not None:
            followed = (self.layer(mover.layer),)

        exact = is_exact(self.sound, identifier)
        step = 1 if exact else CONTROL_FRAMES
        count = control_points(self.frames) * (CONTROL_FRAMES // step)

        def work(inputs: list[Signal]) -> Signal:
            moved = moves.read(inputs[len(followed) :])

            def own(path: str) -> float | Control:
                base = float(getattr(mover, path))
                return moved.exactly(path, base, count) if exact else moved.control(path, base)

            context = MoverContext(
                id=identifier,
                hit=self.hit,
                seed=self.sound.seed,
                tempo_bpm=self.sound.tempo_bpm,
                frames=self.frames,
                settings=self.settings,
                moved=own,
                step=step,
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
            "step": step,
        }
        points = Load(count, ns=30.0 if exact else 100.0, room=4.0, channels=1)
        made = stage(identifier, "mover", facts, work, (*followed, *moves.stages), load=points)
        self.made_movers[identifier] = made
        return made

    def _curve_mover(self, identifier: str) -> Stage:
        common = identifier.startswith(f"{COMMON}.")
        curve, delay_s = curve_movers(self.sound)[identifier]
        # The common pitch began with the hit, a layer's own curves begin with the layer.
        drawn = DrawnMover(
            identifier,
            curve,
            delay_s=delay_s,
            before=self.note_start if common else 0,
            hold_s=self.whole.hold_s if common else max(0.0, self.hit.hold_s - delay_s),
        )
        rate = self.settings.sample_rate
        exact = is_exact(self.sound, identifier)
        return drawn.stage(frames=self.frames, sample_rate=rate, every=exact)

    def layer(self, identifier: str) -> Stage:
        """A layer's output after its own chain."""
        made = self.made_layers.get(identifier)
        if made is None:
            layer = self._layer(identifier)
            source = self.sources[identifier] = self._source(layer)
            shaped = self.levels[identifier] = self._shaped(layer, source)
            made = self.taps[identifier] = self.chain(layer.chain, shaped)
            self.made_layers[identifier] = made
        return made

    def _layer(self, identifier: str) -> Layer:
        return next(one for one in self.sound.layers if one.id == identifier)

    def source_context(self, layer: Layer) -> SourceContext:
        """What a layer's source needs to know."""
        start = min(self.frames, round(layer.delay_s * self.settings.sample_rate))
        return SourceContext(
            layer=layer,
            note=self.hit.note,
            hit_number=self.hit.number,
            seed=self.sound.seed,
            hold_s=max(0.0, self.hit.hold_s - layer.delay_s),
            frames=self.frames - start,
            settings=self.settings,
            common_pitch=self.sound.pitch if layer.follows_pitch else None,
            start=start,
            note_start=self.note_start,
            hit_hold_s=self.whole.hold_s,
            played=self.played if self.played.line else None,
            glide_s=self.sound.playing.glide_s,
        )

    def _pitch_facts(self, context: SourceContext) -> dict[str, Any]:
        """What a layer's pitch depends on beside its source and what moves it."""
        pitched = isinstance(context.layer.source, PitchedSource)
        common = context.common_pitch if pitched else None
        return {
            "pitch": context.layer.pitch.model_dump(),
            "common": common.model_dump() if common else None,
            "common_moved": self.common_moves(context).facts(),
            "note_start": context.note_start if common else 0,
            "hit_hold_s": context.hit_hold_s if common else 0.0,
            "line": self._line_facts() if pitched else None,
            "note": context.note,
        }

    def pitch(self, identifier: str, *, voices: bool = False) -> Stage:
        """The pitch in Hz of a layer, shape (1, frames), or of each of its voices; 0 before it
        begins and of noise."""
        layer = self._layer(identifier)
        context = self.source_context(layer)
        moves, common = self.moves(identifier), self.common_moves(context)
        ratios = voice_ratios(layer.source) if voices else np.ones((1, 1))

        def work(inputs: list[Signal]) -> Signal:
            placed = np.zeros((ratios.size, self.frames))
            if isinstance(layer.source, PitchedSource):
                own, of_common = split_by(inputs, [moves.stages, common.stages])
                moved = context.with_moved(moves.read(own), common.read(of_common))
                placed[:, context.start :] = ratios * pitch_signal(moved, layer.source)
            return placed

        facts = {
            **self._pitch_facts(context),
            "source": layer.source.model_dump(),
            "start": context.start,
            "frames": self.frames,
            "hold_s": context.hold_s,
            "rate": self.settings.sample_rate,
            "moved": moves.facts(),
            "ratios": ratios.tolist(),
        }
        load = Load(self.frames, ns=30.0, room=4.0, channels=ratios.size)
        stages = (*moves.stages, *common.stages)
        return stage(identifier, "pitch", facts, work, stages, load=load)

    def common_moves(self, context: SourceContext) -> Moves:
        """What moves the common pitch, for a layer that follows it."""
        pitched = isinstance(context.layer.source, PitchedSource)
        follows = context.common_pitch is not None and pitched
        return self.moves(COMMON) if follows else Moves(COMMON)

    def _modulators(self, layer: Layer) -> list[tuple[Modulator, Stage, bool]]:
        """What acts on a layer: the modulators that are on, each with its layer's signal and
        whether that is one for each voice."""
        found = []
        for one in layer.modulators:
            if not one.on:
                continue
            voices = self._voice_by_voice(layer, one)
            if one.way == "sync":
                # A noise has no cycles that another tone could begin again with.
                if isinstance(self._layer(one.by).source, PitchedSource):
                    found.append((one, self.pitch(one.by, voices=voices), voices))
            elif voices:
                found.append((one, self._voices(one), True))
            else:
                found.append((one, self._tapped(one), False))
        return found

    def _voice_by_voice(self, layer: Layer, modulator: Modulator) -> bool:
        """Whether each voice has one of its own to act on it."""
        own, other = (
            getattr(one.source, "unison", None) for one in (layer, self._layer(modulator.by))
        )
        same = own is not None and other is not None and own.voices == other.voices > 1
        return modulator.by_voice and modulator.tap != "output" and same

    def _tapped(self, modulator: Modulator) -> Stage:
        """A modulating layer where it is taken."""
        output = self.layer(modulator.by)
        match modulator.tap:
            case "output":
                return output
            case "level":
                return self.levels[modulator.by]
            case "source":
                return self._placed(self.sources[modulator.by])

    def _voices(self, modulator: Modulator) -> Stage:
        """The voices of a modulating layer one by one, at full scale or at its level."""
        layer = self._layer(modulator.by)
        placed = self._placed(self._source(layer, voices_apart=True))
        return placed if modulator.tap == "source" else self._shaped(layer, placed, pan=False)

    def _placed(self, source: Stage) -> Stage:
        """A layer's source, silent until the layer begins."""
        start, frames = self.source_context(self._layer(source.owner)).start, self.frames

        def work(inputs: list[Signal]) -> Signal:
            return np.pad(inputs[0], ((0, 0), (start, 0)))

        facts = {"start": start, "frames": frames}
        load = Load(frames, 2.0)
        return stage(source.owner, "placed", facts, work, (source,), load=load)

    def _source(self, layer: Layer, *, voices_apart: bool = False) -> Stage:
        """A layer's source, shape (1 or 2, frames) from its own start on."""
        context = replace(self.source_context(layer), voices_apart=voices_apart)
        start, settings = context.start, self.settings
        moves, common = self.moves(layer.id), self.common_moves(context)
        acting = self._modulators(layer)
        amounts = [self.moves(one.id) for one, _, _ in acting]
        follows_common = context.common_pitch is not None and isinstance(
            layer.source, PitchedSource
        )
        groups = [[made for _, made, _ in acting], moves.stages, common.stages]
        groups += [one.stages for one in amounts]

        def work(inputs: list[Signal]) -> Signal:
            signals, own, of_common, *of_amounts = split_by(inputs, groups)
            given = [one.read(part) for one, part in zip(amounts, of_amounts, strict=True)]
            return modulated_source(
                context.with_moved(moves.read(own), common.read(of_common)),
                [
                    Acting(one, signal, amount, voices)
                    for (one, _, voices), signal, amount in zip(acting, signals, given, strict=True)
                ],
            )

        facts = {
            "frames": self.frames - start,
            "hold_s": context.hold_s,
            "rate": settings.sample_rate,
            "quality": settings.quality,
            "moved": moves.facts(),
            **self._pitch_facts(context),
            "id": layer.id,
            "seed": self.sound.seed,
            "source": layer.source.model_dump(),
            "start": start if follows_common or moves.links or acting else 0,
            "number": self.hit.number,
            "modulators": [one.model_dump(exclude={"id", "by"}) for one, _, _ in acting],
            "amounts": [one.facts() for one in amounts],
            "voices_apart": voices_apart,
        }
        load = source_load(context, moves, bool(acting))
        inputs = [made for group in groups for made in group]
        return stage(layer.id, "source", facts, work, inputs, load=load)

    def _shaped(self, layer: Layer, before: Stage, *, pan: bool = True) -> Stage:
        """A layer's source, placed or from its own start on, at its level curve, level and pan."""
        settings, frames = self.settings, self.frames
        context = self.source_context(layer)
        start, held_s = context.start, context.hold_s
        moves = self.moves(layer.id)
        velocity = _velocity_gain(self.hit.velocity, layer.velocity_sense)
        velocity *= db_to_gain(self.played.gain_db)

        def work(inputs: list[Signal]) -> Signal:
            moved = moves.read(inputs[1:])
            level = curve_signal(
                layer.level,
                frames=frames - start,
                sample_rate=settings.sample_rate,
                hold_s=held_s,
            )
            level *= velocity * moved.gain("level_db", layer.level_db, frames - start, start)
            source = inputs[0][:, -(frames - start) :] if frames > start else inputs[0][:, :0]
            placed = np.zeros((source.shape[0], frames))
            np.multiply(source, level, out=placed[:, start:])
            return pan_signal(placed, moved.at_frames("pan", layer.pan, frames)) if pan else placed

        facts = {
            "frames": frames - start,
            "hold_s": held_s,
            "rate": settings.sample_rate,
            "quality": settings.quality,
            "moved": moves.facts(),
            "start": start,
            "gain": velocity,
            "level_db": layer.level_db,
            "pan": layer.pan if pan else None,
            "level": layer.level.model_dump(),
        }
        load = Load(frames, ns=12.0, room=2.0)
        return stage(layer.id, "level", facts, work, (before, *moves.stages), load=load)

    def chain(self, chain: tuple[Processor, ...], before: Stage) -> Stage:
        """The stages of a chain; each processor's output is a tap."""
        for part in chain:
            if part.on:
                before = self._processor(part, before)
            self.taps[part.id] = before
        return before

    def _processor(self, part: Processor, before: Stage) -> Stage:
        moves = self.moves(part.id)
        if PROCESSORS[part.kind].needs_end:
            self.must_end.append(before)
        heard = tuple(self.layer(one) for one in part.hears())
        if isinstance(part, ForkProcessor):
            heard = (self._branches(part, before),)
        needs = part.needs(moves.names())
        depends_on = {
            "processor": part.model_dump(exclude={"id", "branches"}),
            "rate": self.settings.sample_rate,
            "quality": self.settings.quality,
            "moved": moves.facts(),
            "needs": {need: self._need_facts(need, part) for need in needs},
        }

        def context(inputs: list[Signal]) -> ProcessContext:
            return ProcessContext(
                self.settings,
                moves.read(inputs[1 + len(heard) :]),
                {need: self._given(need, part) for need in needs},
                tuple(inputs[1 : 1 + len(heard)]),
            )

        return stage(
            part.id,
            part.kind,
            depends_on,
            lambda inputs: process(inputs[0], part, context(inputs)),
            (before, *heard, *moves.stages),
            gains_db=lambda inputs: level_gains_db(inputs[0], part, context(inputs)),
            load=processor_load(part, self.frames, self.settings.quality),
        )

    def _branches(self, fork: ForkProcessor, before: Stage) -> Stage:
        """The sum of a fork's branches; a fork without any leaves its input as it is."""
        worked = before
        if fork.band != "all":
            rate, frames = self.settings.sample_rate, self.frames
            facts = {"band": fork.band, "split_hz": fork.split_hz, "rate": rate}
            load = Load(frames, 40.0, 3.0)
            worked = stage(
                fork.id,
                "band",
                facts,
                lambda inputs: band_of(inputs[0], fork, rate),
                (before,),
                load=load,
            )
        if not fork.branches:
            return worked
        made = []
        for branch in fork.branches:
            chained = self.chain(branch.chain, worked)
            if branch.level_db or self.moves(branch.id).links:
                chained = self.levelled(branch.id, "branch", branch.level_db, chained)
            self.taps[branch.id] = chained
            if branch.on:
                made.append(chained)
        return made[0] if len(made) == 1 else all_added(fork.id, made, self.frames)

    def levelled(self, owner: str, kind: str, level_db: float, before: Stage) -> Stage:
        """A stage at a part's ``level_db``."""
        return levelled(self.moves(owner), kind, level_db, before, self.frames)

    def _given(self, need: Need, part: Processor) -> Any:
        """What a processor's kind declares that it needs."""
        match need:
            case "note":
                return self.note_control()
            case "tempo":
                return self.sound.tempo_bpm
            case "random":
                return (self.sound.seed, part.id)

    def _need_facts(self, need: Need, part: Processor) -> Any:
        """The same as plain values, for the stage's key."""
        return [self.hit.note, self._line_facts()] if need == "note" else self._given(need, part)
