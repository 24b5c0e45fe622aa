"""A sound with numbers that a member has elsewhere, as a document of its own."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any

from nest_crate.core.engine.settled_values import base_value, with_values
from nest_crate.core.sound import Sound, dump_sound, load_sound
from nest_crate.core.sound.curve import Curve
from nest_crate.core.sound.targets import COMMON, targets_of

__all__ = ["base_values", "overridden"]

_PITCH = "pitch_st"


def base_values(sound: Sound, targets: Iterable[str]) -> dict[str, float]:
    """What the sound itself has at targets; a pitch is 0 there."""
    return {target: _base(sound, target) for target in targets}


def _base(sound: Sound, target: str) -> float:
    identifier, path = target.split(".", 1)
    return 0.0 if identifier == COMMON or path == _PITCH else base_value(sound, target)


def overridden(sound: Sound, values: Mapping[str, float]) -> Sound:
    """The sound with values at targets: a valid document that renders as the member does.

    A pitch shifts the curve. A time that is kept as beats becomes one in seconds. What a target
    that is gone would change is left out.
    """
    known = targets_of(sound)
    here = {target: value for target, value in values.items() if target in known}
    if not here:
        return sound
    pitches = {one: value for one, value in here.items() if one.endswith(f".{_PITCH}")}
    numbers = {
        one: int(value) if known[one].whole else value
        for one, value in here.items()
        if one not in pitches
    }
    made = with_values(sound, numbers)
    layers = tuple(
        layer.model_copy(update={"pitch": _shifted(layer.pitch, pitches[f"{layer.id}.{_PITCH}"])})
        if f"{layer.id}.{_PITCH}" in pitches
        else layer
        for layer in made.layers
    )
    common = pitches.get(f"{COMMON}.{_PITCH}", 0.0)
    pitch = _shifted(made.pitch, common) if common else made.pitch
    data = dump_sound(made.model_copy(update={"layers": layers, "pitch": pitch}))
    _forget_beats(data, numbers)
    return load_sound(data)


def _shifted(curve: Curve, semitones: float) -> Curve:
    def moved(points: tuple[Any, ...]) -> tuple[Any, ...]:
        return tuple(one.model_copy(update={"value": one.value + semitones}) for one in points)

    return curve.model_copy(update={"points": moved(curve.points), "release": moved(curve.release)})


def _forget_beats(data: Any, numbers: Mapping[str, float]) -> None:
    """Times of overridden numbers are in seconds, wherever they stand in the document."""
    by_id: dict[str, list[str]] = {}
    for target in numbers:
        identifier, path = target.split(".", 1)
        by_id.setdefault(identifier, []).append(path)

    def look(node: Any, key: str = "") -> None:
        if isinstance(node, list):
            for one in node:
                look(one)
        if not isinstance(node, dict):
            return
        for path in by_id.get(node.get("id", key), ()):
            *inner, last = path.split(".")
            part: Any = node
            for name in inner:
                part = part.get(name) if isinstance(part, dict) else None
            if isinstance(part, dict):
                part.get("in_beats", {}).pop(last, None)
                part.get("and_seconds", {}).pop(last, None)
        for name, one in node.items():
            look(one, name if name == "main" else "")

    look(data)
