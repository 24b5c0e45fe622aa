"""Parameters as links move them, read off the movers' control signals."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, Control, at_frames
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.stages import Stage
from nest_crate.core.sound.movers import Link
from nest_crate.core.sound.parameters import Parameter
from nest_crate.core.sound.targets import moved_unit

__all__ = ["EXACTLY", "NOT_MOVED", "Moved", "Moves"]

_STRAIGHT = 1e-6
# What is read with ``exactly``.
EXACTLY = ("level_db", "low_db", "high_db", "pitch_st")


def _bent(value: Control, bend: float) -> Control:
    """A mover's value on its way out from 0, bent alike to either side."""
    if abs(bend) < _STRAIGHT:
        return value
    way = np.expm1(-bend * np.abs(value)) / np.expm1(-bend)
    return np.asarray(np.sign(value) * way)


def _span(every: Control, frames: int, start: int) -> Control:
    """So many frames from ``start`` on; beyond its end the last value stays."""
    part = every[start : start + frames]
    return np.pad(part, (0, frames - part.size), mode="edge") if part.size < frames else part


@dataclass(frozen=True)
class Moves:
    """What moves one part: its links by the path in it, and the stages that they wait for."""

    part: str
    links: tuple[Link, ...] = ()
    stages: tuple[Stage, ...] = ()
    targets: dict[str, Parameter] | None = None
    voices: frozenset[str] = frozenset()
    """Movers that say another value for each voice of a unison."""
    exact: frozenset[str] = frozenset()
    """Movers whose value may jump: their stage gives it at every frame."""

    def names(self) -> frozenset[str]:
        """Paths within the part that are moved."""
        return frozenset(link.target.split(".", 1)[1] for link in self.links)

    def facts(self) -> list[dict[str, Any]]:
        """What a stage's result depends on beside its inputs."""
        return [link.model_dump() for link in self.links]

    def read(self, inputs: list[Signal]) -> Moved:
        """The moved parameters, given the results of ``stages`` in their order."""
        results = {
            stage.owner: result[0] for stage, result in zip(self.stages, inputs, strict=True)
        }
        every = {name: results[name] for name in self.exact}
        controls = {name: each[::CONTROL_FRAMES] for name, each in every.items()}
        return Moved(self, {**results, **controls}, every)


@dataclass(frozen=True)
class Moved:
    """The moved parameters of one part in one render."""

    moves: Moves
    controls: dict[str, Control]
    every: dict[str, Control] = field(default_factory=dict)
    """Of movers that may jump: the value at every frame."""

    @property
    def differ_by_voice(self) -> bool:
        """Whether each voice of a unison is moved in another way."""
        return any({link.mover, link.scaled_by} & self.moves.voices for link in self.moves.links)

    def at_voice(self, place: float) -> Moved:
        """As the voice at a place is moved, -1 the lowest and 1 the highest."""
        own = {key: np.full_like(self.controls[key], place) for key in self.moves.voices}
        return replace(self, controls={**self.controls, **own})

    def control(self, path: str, base: float) -> float | Control:
        """A parameter at the control rate, within its range; the number where nothing moves it."""
        return self._within(path, self.wanted(path, base))

    def _within(self, path: str, wanted: float | Control) -> float | Control:
        if isinstance(wanted, float) or self.moves.targets is None:
            return wanted
        parameter = self.moves.targets[f"{self.moves.part}.{path}"]
        return np.asarray(np.clip(wanted, parameter.minimum, parameter.maximum))

    def wanted(self, path: str, base: float) -> float | Control:
        """As ``control``, as far as the links would take it beyond its range too."""
        return self._sum(self._links(path), path, base, self.controls)

    def _links(self, path: str) -> list[Link]:
        target = f"{self.moves.part}.{path}"
        return [link for link in self.moves.links if link.target == target]

    def _sum(
        self, links: list[Link], path: str, base: float, controls: dict[str, Control]
    ) -> float | Control:
        if not links or self.moves.targets is None:
            return float(base)
        shift: Control | float = 0.0
        for link in links:
            value = _bent(controls[link.mover], link.bend)
            if link.scaled_by is not None:
                value = value * controls[link.scaled_by]
            shift = shift + link.amount * value
        parameter = self.moves.targets[f"{self.moves.part}.{path}"]
        octaves = moved_unit(parameter) == "octave"
        return np.asarray(base * np.exp2(shift) if octaves else base + shift)

    def furthest(self, path: str, base: float, *, up: bool) -> float:
        """As far up or down as links may take a parameter within its range."""
        target = f"{self.moves.part}.{path}"
        reach = sum(abs(link.amount) for link in self.moves.links if link.target == target)
        if not reach or self.moves.targets is None:
            return float(base)
        parameter = self.moves.targets[target]
        way = reach if up else -reach
        octaves = moved_unit(parameter) == "octave"
        moved = base * 2.0 ** min(way, 60.0) if octaves else base + way
        return float(min(parameter.maximum, max(parameter.minimum, moved)))

    def at_frames(self, path: str, base: float, frames: int, start: int = 0) -> float | Control:
        """As ``control``, at every frame from ``start`` on."""
        moved = self.control(path, base)
        return moved if isinstance(moved, float) else at_frames(moved, frames, start)

    def exactly(self, path: str, base: float, frames: int, start: int = 0) -> float | Control:
        """As ``at_frames``, jumping where a mover jumps, to the frame: for levels and pitch."""
        links = self._links(path)
        used = {link.mover for link in links} | {link.scaled_by for link in links}
        if not used & self.every.keys():
            return self.at_frames(path, base, frames, start)
        controls = {
            name: _span(self.every[name], frames, start)
            if name in self.every
            else at_frames(self.controls[name], frames, start)
            for name in used
            if name is not None
        }
        return self._within(path, self._sum(links, path, base, controls))


NOT_MOVED = Moved(Moves(""), {})
