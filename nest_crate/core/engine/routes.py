"""Buses and sends: where layers meet, for one note by itself or for all of a hit."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, field
from functools import partial

from nest_crate.core.dsp.filters.crossovers import crossover_parts
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.planner import Planner
from nest_crate.core.engine.stages import Load, Stage, stage
from nest_crate.core.engine.sums import added_up, at_gain
from nest_crate.core.sound import Bus
from nest_crate.core.sound.buses import Send
from nest_crate.core.sound.chains import chain_ids
from nest_crate.core.sound.routes import buses_in_order, sends_from

__all__ = ["RoutePlanner"]


@dataclass
class RoutePlanner(Planner):
    """A planner that knows where layers go; ``heard`` names those that are not muted."""

    heard: frozenset[str] = frozenset()
    made_buses: dict[str, Stage] = field(default_factory=dict)
    made_main: Stage | None = None

    def bus(self, bus: Bus) -> Stage:
        """What comes out of a bus."""
        made = self.made_buses.get(bus.id)
        if made is None:
            made = self.made_buses[bus.id] = self._make_bus(bus)
        return made

    @property
    def limits_all(self) -> bool:
        """Whether what goes past the main chain passes its last limiter too."""
        chain = self.sound.main.chain
        last = chain[-1] if chain else None
        return self.sound.main.limit_all and last is not None and last.kind == "ceiling" and last.on

    def main_chain(self, joining: Sequence[Stage] = ()) -> Stage:
        """The main chain's output, before the main level; ``joining`` comes in before its last
        processor."""
        if self.made_main is None:
            chain = self.sound.main.chain
            before = added_up("main", self.arriving("main"), self.frames)
            if joining:
                before = self.chain(chain[:-1], before)
                before = self.chain(chain[-1:], added_up("output", [before, *joining], self.frames))
            else:
                before = self.chain(chain, before)
            self.made_main = self.taps["main"] = before
        return self.made_main

    def arriving(self, at: str) -> list[Stage]:
        """All that leads to a bus, to ``main`` or to the output, in the order of the document:
        layers, then buses, each with its sends behind it; of main itself its sends alone."""
        found: list[Stage] = []
        for layer in self.sound.layers:
            if layer.id in self.heard:
                found += self._from(layer.id, layer.to, at, partial(self.layer, layer.id))
        for bus in buses_in_order(self.sound):
            if bus is None:
                found += self._from("main", "", at, self.main_chain)
            elif not bus.mute:
                found += self._from(bus.id, bus.to, at, partial(self.bus, bus))
        return found

    def _from(self, owner: str, to: str, at: str, make: Callable[[], Stage]) -> list[Stage]:
        """What a layer, a bus or main brings to a place: itself, and its sends."""
        sends = [one for one in sends_from(self.sound, owner) if one.on and one.to == at]
        if to != at and not sends:
            return []
        made = make()
        found = [made] if to == at else []
        return found + [self._send(one, made if one.source == owner else None) for one in sends]

    def _send(self, send: Send, output: Stage | None) -> Stage:
        before = self.taps[send.source] if output is None else output
        made = self.taps[send.id] = self.levelled(send.id, "send", send.level_db, before)
        return made

    def _make_bus(self, bus: Bus) -> Stage:
        before = added_up(bus.id, self.arriving(bus.id), self.frames)
        if bus.split:
            low = self._part(bus, before, 0)
            high = self._part(bus, before, 1)
            parts = [self.chain(bus.low_chain, low), self.chain(bus.chain, high)]
            joined = added_up(bus.id, parts, self.frames)
        else:
            # What stands in the low chain waits until the bus is split.
            joined = self.chain(bus.chain, before)
            self.taps |= dict.fromkeys(chain_ids(bus.low_chain), joined)
        made = self.levelled(bus.id, "bus", bus.level_db, joined)
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
            return at_gain(part, moved.gain(name, getattr(bus, name), frames))

        facts = {
            "crossover_hz": bus.crossover_hz,
            "level_db": getattr(bus, name),
            "which": which,
            "rate": settings.sample_rate,
            "moved": moves.facts(),
        }
        load = Load(frames, 20.0, 3.0)
        return stage(bus.id, "part", facts, work, (before, *moves.stages), load=load)
