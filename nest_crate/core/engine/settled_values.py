"""Parameters that are moved once a hit, set to what their movers say at its start."""

from __future__ import annotations

from typing import Any

import numpy as np
from pydantic import BaseModel

from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, Control
from nest_crate.core.engine.drawn_movers import drawn_scale
from nest_crate.core.engine.moved import Moved, Moves
from nest_crate.core.engine.movers import MOVERS, MoverContext
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.sound.links import curve_movers
from nest_crate.core.sound.movers import Link, Mover
from nest_crate.core.sound.parameters import Parameter
from nest_crate.core.sound.sources import ModeChange, StruckSource
from nest_crate.core.sound.targets import inner_part, part_of, targets_of

__all__ = [
    "base_value",
    "differs_by_note",
    "put_numbers",
    "settled",
    "settled_for_note",
    "with_values",
]


def base_value(sound: Sound, target: str) -> float:
    """The value of a target before anything moves it."""
    identifier, path = target.split(".", 1)
    if path == "pitch_st":
        return 0.0
    node = part_of(sound, identifier)
    *inner, last = path.split(".")
    for name in inner:
        node = inner_part(node, name)
    return float(getattr(node, last))


def settled(sound: Sound, hit: Hit, settings: RenderSettings) -> Sound:
    """The sound as one hit finds it: what is moved once a hit stands at its value for this hit,
    and only what is followed through the hit is still linked."""
    return _settled(sound, hit, hit, settings)


def differs_by_note(sound: Sound) -> bool:
    """Whether a random mover gives what is set once a hit another value for each note."""
    return any(mover.kind == "random" and mover.each_note for mover in sound.movers)


def settled_for_note(sound: Sound, hit: Hit, settings: RenderSettings, note: Hit) -> Sound:
    """As ``settled``, as one note of a hit finds it: random movers that are drawn for each note
    have the note's own value, all else is the hit's."""
    return _settled(sound, hit, note, settings)


def _settled(sound: Sound, hit: Hit, note: Hit, settings: RenderSettings) -> Sound:
    targets = targets_of(sound) if sound.links else {}
    voices = {mover.id for mover in sound.movers if mover.kind == "voice"}
    once = [
        link
        for link in sound.links
        # The start phase is set once, but for each voice.
        if not targets[link.target].followed and link.mover not in voices
    ]
    if not once:
        return sound
    start = _Start(sound, hit, note, settings, once)
    values = {target: start.value(target) for target in dict.fromkeys(one.target for one in once)}
    kept = tuple(link for link in sound.links if link not in once)
    return with_values(sound, values).model_copy(update={"links": kept})


class _Start:
    """What movers say at the very start of a hit, each found when it is first asked for."""

    def __init__(
        self, sound: Sound, hit: Hit, note: Hit, settings: RenderSettings, once: list[Link]
    ) -> None:
        self._sound, self._hit, self._note, self._settings = sound, hit, note, settings
        self._once = {link.target for link in once}
        self._targets: dict[str, Parameter] = targets_of(sound)
        self._found: dict[str, Control] = {}

    def value(self, target: str) -> float:
        """A parameter as it is moved; as it stands where nothing moves it."""
        identifier, path = target.split(".", 1)
        links = tuple(link for link in self._sound.links if link.target == target)
        names = {link.mover for link in links} | {link.scaled_by for link in links}
        controls = {name: self._mover(name) for name in names if name is not None}
        moved = Moved(Moves(identifier, links, (), self._targets), controls)
        found = moved.control(path, base_value(self._sound, target))
        value = float(np.atleast_1d(found)[0])
        return round(value) if self._targets[target].whole else value

    def _mover(self, identifier: str) -> Control:
        found = self._found.get(identifier)
        if found is None and "." in identifier:
            curve, _ = curve_movers(self._sound)[identifier]
            value = drawn_scale(identifier) * curve.points[0].value
            found = self._found[identifier] = np.array([value])
        if found is None:
            mover = self._settled_mover(identifier)
            own = mover.kind == "random" and mover.each_note
            context = MoverContext(
                id=identifier,
                hit=self._note if own else self._hit,
                seed=self._sound.seed,
                tempo_bpm=self._sound.tempo_bpm,
                frames=CONTROL_FRAMES,
                settings=self._settings,
                moved=lambda path: self.value(f"{identifier}.{path}"),
            )
            # Silent yet of what a follower follows.
            silence = [np.zeros((1, CONTROL_FRAMES))]
            found = self._found[identifier] = MOVERS[mover.kind](context, mover, silence)
        return found

    def _settled_mover(self, identifier: str) -> Mover:
        mover = next(one for one in self._sound.movers if one.id == identifier)
        changed = {
            target.split(".", 1)[1]: self.value(target)
            for target in self._once
            if target.startswith(f"{identifier}.")
        }
        return mover.model_copy(update=changed) if changed else mover


# What holds parts with ids of their own.
_HOLDING = ("chain", "low_chain", "branches", "modulators")


def with_values(sound: Sound, values: dict[str, float]) -> Sound:
    """The sound with numbers put at targets."""
    of: dict[str, dict[str, float]] = {}
    for target, value in values.items():
        identifier, path = target.split(".", 1)
        of.setdefault(identifier, {})[path] = value

    def each(parts: tuple[Any, ...]) -> tuple[Any, ...]:
        return tuple(put_numbers(_chained(part), of.get(part.id, {})) for part in parts)

    def _chained(part: Any) -> Any:
        names = [name for name in _HOLDING if getattr(part, name, ())]
        if not names:
            return part
        return part.model_copy(update={name: each(getattr(part, name)) for name in names})

    return sound.model_copy(
        update={
            "layers": each(sound.layers),
            "buses": each(sound.buses),
            "sends": each(sound.sends),
            "movers": each(sound.movers),
            "main": put_numbers(_chained(sound.main), of.get("main", {})),
        }
    )


def put_numbers(part: BaseModel, values: dict[str, float]) -> BaseModel:
    """A part with values at paths within it."""
    for path, value in values.items():
        name, _, rest = path.partition(".")
        if not rest:
            part = part.model_copy(update={name: value})
            continue
        inner = put_numbers(inner_part(part, name), {rest: value})
        if isinstance(part, StruckSource) and isinstance(inner, ModeChange):
            part = part.with_change(inner)
        else:
            part = part.model_copy(update={name: inner})
    return part
