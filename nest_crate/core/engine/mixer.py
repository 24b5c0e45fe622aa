"""Several notes of one hit, buses and the main output: where everything is summed."""

from __future__ import annotations

import numpy as np

from nest_crate.core.dsp.filters.crossovers import crossover_parts
from nest_crate.core.dsp.util.signals import Signal, fade_end, sum_signals
from nest_crate.core.engine.ends import note_frames
from nest_crate.core.engine.notes import NOTE_FADE_S, PlayedNote, played_notes
from nest_crate.core.engine.planner import Planner
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.stages import Load, Stage, stage
from nest_crate.core.sound import Bus, Hit, Sound
from nest_crate.core.sound.routes import buses_in_order
from nest_crate.core.units import db_to_gain

__all__ = ["HitPlanner", "hit_planner"]


def _level(signal: Signal, level_db: float | Signal) -> Signal:
    if isinstance(level_db, float):
        return signal if level_db == 0.0 else signal * db_to_gain(level_db)
    return np.asarray(signal * 10.0 ** (level_db / 20.0))


class HitPlanner(Planner):
    """As a planner of one note, with layers that sum what all notes of the hit play."""

    notes: tuple[Planner, ...] = ()

    def levels_of(self, identifier: str) -> list[Stage]:
        """The stages whose loudest peak is the level of a tap: of a processor within a layer that
        plays several notes each note's own, else the tap itself."""
        every = [one.taps[identifier] for one in self.notes if identifier in one.taps]
        in_chain = identifier not in self.made_layers
        return every if every and in_chain else [self.taps[identifier]]

    def all_must_end(self) -> list[Stage]:
        """As ``must_end``, with those of every note."""
        return [*self.must_end, *(one for note in self.notes for one in note.must_end)]

    def cut_notes(self) -> list[Stage]:
        """What layers play of notes that are cut off by their own planned length."""
        found: list[Stage] = []
        for note in self.notes:
            left = self.frames - note.note_start
            if note.frames < left and not np.isfinite(note.played.ends_s):
                found += note.made_layers.values()
        return found

    def layer(self, identifier: str) -> Stage:
        if not self.notes:
            return super().layer(identifier)
        made = self.made_layers.get(identifier)
        if made is None:
            played = [one.layer(identifier) for one in self.notes]
            made = self.taps[identifier] = self._summed(identifier, played)
            self.made_layers[identifier] = made
            first = self.notes[0]
            self.sources[identifier] = first.sources[identifier]
            self.levels[identifier] = first.levels[identifier]
            for part in self._layer(identifier).chain:
                every = [one.taps[part.id] for one in self.notes]
                self.taps[part.id] = self._summed(part.id, every)
        return made

    def _summed(self, identifier: str, played: list[Stage]) -> Stage:
        """What every note played, each at its own time, cut where the next one ends it.

        One note after the other is added, so that no more than one need be held beside the sum.
        """
        total: Stage | None = None
        for note, part in zip(self.notes, played, strict=True):
            total = self._with_note(identifier, total, part, self._span(note))
        assert total is not None
        return total

    def _with_note(
        self, identifier: str, before: Stage | None, part: Stage, span: tuple[int, int]
    ) -> Stage:
        fade, (start, end) = round(NOTE_FADE_S * self.settings.sample_rate), span

        def work(inputs: list[Signal]) -> Signal:
            channels = max(signal.shape[0] for signal in inputs)
            total = np.zeros((channels, self.frames))
            if before is not None:
                total += inputs[0]
            signal = inputs[-1]
            heard = min(signal.shape[1], end - start)
            cut = signal[:, :heard]
            if heard < signal.shape[1]:
                cut = fade_end(cut, fade)
            total[:, start : start + heard] += cut
            return total

        facts = {"span": span, "frames": self.frames}
        inputs = [part] if before is None else [before, part]
        return stage(identifier, "notes", facts, work, inputs, load=Load(self.frames, 4.0, 1.0))

    def _span(self, note: Planner) -> tuple[int, int]:
        """First frame of a note, and the frame by which it has gone."""
        start, end = note.note_start, note.note_start + note.frames
        if np.isfinite(note.played.ends_s):
            rate = self.settings.sample_rate
            end = min(end, round((note.played.ends_s + NOTE_FADE_S) * rate))
        return start, min(end, self.frames)

    def mix(self, heard: list[str]) -> Stage:
        """The output: the layers named, by way of buses and the main chain."""
        arriving: dict[str, list[Stage]] = {"main": [], "output": []}
        arriving |= {bus.id: [] for bus in self.sound.buses}
        for layer in self.sound.layers:
            if layer.id in heard:
                arriving[layer.to].append(self.layer(layer.id))
        for bus in buses_in_order(self.sound):
            made = self._bus(bus, arriving[bus.id])
            if not bus.mute:
                arriving[bus.to].append(made)
        chained = self.chain(self.sound.main.chain, self._sum("main", arriving["main"]))
        self.taps["main"] = chained
        if arriving["output"]:
            chained = self._sum("output", [chained, *arriving["output"]])
        return self._main_level(chained)

    def _sum(self, name: str, parts: list[Stage]) -> Stage:
        """The sum of stages, one added after the other, so that each may be let go at once."""
        frames = self.frames

        def added(*some: Stage) -> Stage:
            return stage(
                name,
                "sum",
                {"frames": frames},
                lambda inputs: sum_signals(inputs, frames),
                some,
                load=Load(frames, 2.0),
            )

        total = added(*parts[:1])
        for part in parts[1:]:
            total = added(total, part)
        return total

    def _main_level(self, before: Stage) -> Stage:
        moves = self.moves("main")
        level_db, frames = self.sound.main.level_db, self.frames

        def work(inputs: list[Signal]) -> Signal:
            return _level(inputs[0], moves.read(inputs[1:]).exactly("level_db", level_db, frames))

        facts = {"level_db": level_db, "moved": moves.facts()}
        load = Load(frames, 4.0, 1.0)
        return stage("main", "level", facts, work, (before, *moves.stages), load=load)

    def _bus(self, bus: Bus, parts: list[Stage]) -> Stage:
        before = self._sum(bus.id, parts)
        if bus.split:
            low = self._part(bus, before, 0)
            high = self._part(bus, before, 1)
            joined = self._sum(
                bus.id, [self.chain(bus.low_chain, low), self.chain(bus.chain, high)]
            )
        else:
            # What stands in the low chain waits until the bus is split.
            joined = self.chain(bus.chain, before)
            self.taps |= {part.id: joined for part in bus.low_chain}
        moves, frames = self.moves(bus.id), self.frames

        def work(inputs: list[Signal]) -> Signal:
            moved = moves.read(inputs[1:])
            return _level(inputs[0], moved.exactly("level_db", bus.level_db, frames))

        facts = {"level_db": bus.level_db, "moved": moves.facts()}
        load = Load(frames, 4.0, 1.0)
        made = stage(bus.id, "bus", facts, work, (joined, *moves.stages), load=load)
        self.taps[bus.id] = made
        return made

    def _part(self, bus: Bus, before: Stage, which: int) -> Stage:
        """The low (0) or the high part (1) of a split bus, at its level."""
        moves, frames, settings = self.moves(bus.id), self.frames, self.settings
        name = ("low_db", "high_db")[which]

        def work(inputs: list[Signal]) -> Signal:
            moved = moves.read(inputs[1:])
            part = crossover_parts(
                inputs[0],
                moved.control("crossover_hz", bus.crossover_hz),
                sample_rate=settings.sample_rate,
            )[which]
            return _level(part, moved.exactly(name, getattr(bus, name), frames))

        facts = {
            "crossover_hz": bus.crossover_hz,
            "level_db": getattr(bus, name),
            "which": which,
            "rate": settings.sample_rate,
            "moved": moves.facts(),
        }
        load = Load(frames, 20.0, 3.0)
        return stage(bus.id, "part", facts, work, (before, *moves.stages), load=load)


def hit_planner(
    sound: Sound, hit: Hit, settings: RenderSettings, frames: int, *, longer: int = 0
) -> HitPlanner:
    """A planner for all notes of a hit; ``longer`` as in ``ends.planned_frames``."""
    notes = played_notes(sound, hit)
    first = notes[0]
    if len(notes) == 1:
        return HitPlanner(sound, first.hit(hit), settings, frames, hit, first)
    planner = HitPlanner(
        sound,
        hit.model_copy(update={"further": ()}),
        settings,
        frames,
        hit,
        PlayedNote(0.0, hit.note, hit.hold_s, hit.number),
    )
    rate = settings.sample_rate
    planner.notes = tuple(
        Planner(
            sound,
            one.hit(hit),
            settings,
            note_frames(sound, one, start, frames, settings, longer=longer),
            hit,
            one,
        )
        for one in notes
        if (start := round(one.start_s * rate)) < frames
    )
    return planner
