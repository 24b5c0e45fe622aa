"""Parameters as links move them, read off the movers' control signals."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np

from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, Control, at_frames
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine.stages import Stage
from nest_crate.core.sound.movers import Link
from nest_crate.core.sound.parameters import Parameter
from nest_crate.core.units import SILENCE_DB, db_to_gain

__all__ = ["EXACTLY", "NOT_MOVED", "Moved", "Moves", "moved_furthest"]

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
        """The links that shift a number; those that scale a level are ``_scaling``."""
        target = f"{self.moves.part}.{path}"
        return [one for one in self.moves.links if one.target == target and one.law != "amplitude"]

    def _scaling(self, path: str) -> list[Link]:
        target = f"{self.moves.part}.{path}"
        return [one for one in self.moves.links if one.target == target and one.law == "amplitude"]

    def _sum(
        self, links: list[Link], path: str, base: float, controls: dict[str, Control]
    ) -> float | Control:
        if not links or self.moves.targets is None:
            return float(base)
        octaves = self.moves.targets[f"{self.moves.part}.{path}"].octaves
        shift: Control | float = 0.0
        turned: Control | float | None = None
        for link in links:
            part = link.amount * _value(link, controls)
            if octaves and link.law == "plain":
                turned = part if turned is None else turned + part
            else:
                shift = shift + part
        factor = 1.0 if turned is None else np.exp2(turned)
        if octaves and all(link.law == "plain" for link in links):
            return np.asarray(base * factor)
        return np.asarray(base * factor + shift)

    def furthest(self, path: str, base: float, *, up: bool) -> float:
        """As far up or down as links may take a parameter within its range."""
        links = self._links(path)
        if not links or self.moves.targets is None:
            return float(base)
        parameter = self.moves.targets[f"{self.moves.part}.{path}"]
        return moved_furthest(links, parameter, base, up=up)

    def at_frames(self, path: str, base: float, frames: int, start: int = 0) -> float | Control:
        """As ``control``, at every frame from ``start`` on."""
        moved = self.control(path, base)
        return moved if isinstance(moved, float) else at_frames(moved, frames, start)

    def exactly(self, path: str, base: float, frames: int, start: int = 0) -> float | Control:
        """As ``at_frames``, jumping where a mover jumps, to the frame: for levels and pitch."""
        links = self._links(path)
        if not _names(links) & self.every.keys():
            return self.at_frames(path, base, frames, start)
        controls = self._at_every(links, frames, start)
        return self._within(path, self._sum(links, path, base, controls))

    def _at_every(self, links: list[Link], frames: int, start: int) -> dict[str, Control]:
        return {
            name: _span(self.every[name], frames, start)
            if name in self.every
            else at_frames(self.controls[name], frames, start)
            for name in _names(links)
        }

    def gain(self, path: str, base_db: float, frames: int, start: int = 0) -> float | Control:
        """A level as a factor at every frame: links in dB, and those that go by amplitude, which
        reach silence."""
        level_db = self.exactly(path, base_db, frames, start)
        own = db_to_gain(level_db) if isinstance(level_db, float) else 10.0 ** (level_db / 20.0)
        scaling = self._scaling(path)
        return own * _scale(scaling, self._at_every(scaling, frames, start)) if scaling else own

    def level_db(self, path: str, base_db: float) -> float | Control:
        """A level in dB at the control rate, as far down as ``SILENCE_DB``; for readouts."""
        level_db, scaling = self.control(path, base_db), self._scaling(path)
        if not scaling:
            return level_db
        scale = np.maximum(_scale(scaling, self.controls), 10.0 ** (SILENCE_DB / 20.0))
        return np.asarray(np.maximum(SILENCE_DB, level_db + 20.0 * np.log10(scale)))


def _names(links: list[Link]) -> set[str]:
    return {name for link in links for name in (link.mover, link.scaled_by) if name is not None}


def _value(link: Link, controls: dict[str, Control]) -> Control:
    value = _bent(controls[link.mover], link.bend)
    return value if link.scaled_by is None else value * controls[link.scaled_by]


def _scale(links: list[Link], controls: dict[str, Control]) -> Control:
    """The factor of links that go by amplitude: of an amount a and a value v it is 1 - a + a v,
    below 0 it is 1 + a v; never below 0."""
    total: Control | float = 1.0
    for link in links:
        rest = 1.0 - max(0.0, link.amount)
        total = total * np.maximum(0.0, rest + link.amount * _value(link, controls))
    return np.asarray(total)


def moved_furthest(links: Iterable[Link], parameter: Parameter, base: float, *, up: bool) -> float:
    """As far up or down as links may take a number from a value, within its range."""
    way = 1.0 if up else -1.0
    octaves = own = 0.0
    for link in links:
        if parameter.octaves and link.law == "plain":
            octaves += abs(link.amount)
        elif link.law != "amplitude":
            own += abs(link.amount)
    moved = base * 2.0 ** min(way * octaves, 60.0) + way * own
    return float(min(parameter.maximum, max(parameter.minimum, moved)))


NOT_MOVED = Moved(Moves(""), {})
