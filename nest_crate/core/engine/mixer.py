"""Several notes of one hit, buses and the main output: where everything is summed."""

from __future__ import annotations

from collections.abc import Callable

import numpy as np

from nest_crate.core.dsp.util.signals import Signal, fade_end
from nest_crate.core.engine.ends import note_frames
from nest_crate.core.engine.notes import NOTE_FADE_S, PlayedNote, played_notes
from nest_crate.core.engine.planner import Planner
from nest_crate.core.engine.routes import RoutePlanner
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.engine.stages import Load, Stage, stage
from nest_crate.core.engine.sums import added_up
from nest_crate.core.sound import Bus, Hit, Sound
from nest_crate.core.sound.chains import chain_ids

__all__ = ["HitPlanner", "hit_planner"]


class HitPlanner(RoutePlanner):
    """As a planner of one note, with layers that sum what all notes of the hit play."""

    notes: tuple[RoutePlanner, ...] = ()

    def levels_of(self, identifier: str) -> list[Stage]:
        """The stages whose loudest peak is the level of a tap: of a processor within a layer that
        plays several notes each note's own, else the tap itself."""
        every = [one.taps[identifier] for one in self.notes if identifier in one.taps]
        in_chain = identifier not in self.made_layers and identifier not in self.made_buses
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
                found += [*note.made_layers.values(), *note.made_buses.values()]
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
            self._sum_taps(chain_ids(self._layer(identifier).chain))
        return made

    def bus(self, bus: Bus) -> Stage:
        if not self.notes or not bus.each_note:
            return super().bus(bus)
        made = self.made_buses.get(bus.id)
        if made is None:
            made = self._summed(bus.id, [one.bus(bus) for one in self.notes])
            self.made_buses[bus.id] = self.taps[bus.id] = made
            self._sum_taps([*chain_ids(bus.low_chain), *chain_ids(bus.chain)])
        return made

    def _sum_taps(self, identifiers: list[str]) -> None:
        for one in identifiers:
            self.taps[one] = self._summed(one, [note.taps[one] for note in self.notes])

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

    def mix(self) -> Stage:
        """The output: the layers that are heard, by way of buses, sends and the main chain."""
        for bus in self.sound.buses:
            # Muted or leading nowhere, it has a level to show all the same.
            self.bus(bus)
        straight = self.arriving("output")
        chained = self.main_chain(joining=straight if self.limits_all else [])
        if straight and not self.limits_all:
            chained = added_up("output", [chained, *straight], self.frames)
        return self.levelled("main", "level", self.sound.main.level_db, chained)


def hit_planner(
    sound: Sound,
    hit: Hit,
    settings: RenderSettings,
    frames: int,
    *,
    longer: int = 0,
    heard: frozenset[str] | None = None,
    of_note: Callable[[Hit], Sound] | None = None,
) -> HitPlanner:
    """A planner for all notes of a hit; ``longer`` as in ``ends.planned_frames``.

    Parameters
    ----------
    heard
        ids of the layers that lead anywhere; all where None.
    of_note
        the sound as one note of several finds it, where it differs from note to note.
    """
    notes = played_notes(sound, hit)
    first = notes[0]
    if heard is None:
        heard = frozenset(layer.id for layer in sound.layers)
    if len(notes) == 1:
        return HitPlanner(sound, first.hit(hit), settings, frames, hit, first, heard=heard)
    planner = HitPlanner(
        sound,
        hit.model_copy(update={"further": ()}),
        settings,
        frames,
        hit,
        PlayedNote(0.0, hit.note, hit.hold_s, hit.number),
        heard=heard,
    )
    rate = settings.sample_rate
    planner.notes = tuple(
        RoutePlanner(
            sound if of_note is None else of_note(one.hit(hit)),
            one.hit(hit),
            settings,
            note_frames(sound, one, start, frames, settings, longer=longer),
            hit,
            one,
            heard=heard,
        )
        for one in notes
        if (start := round(one.start_s * rate)) < frames
    )
    return planner
