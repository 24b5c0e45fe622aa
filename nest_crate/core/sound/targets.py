"""What can be moved: every number of a sound's parts, with its declaration."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from pydantic import BaseModel

from nest_crate.core.sound.chains import branches_of, chain_places
from nest_crate.core.sound.parameters import Parameter, declared_parameters
from nest_crate.core.sound.parts import SoundParts
from nest_crate.core.sound.sources import MAX_MODES, PitchedSource, StruckSource

__all__ = [
    "COMMON",
    "COMMON_PITCH",
    "LEVELS",
    "PITCH",
    "differs_by_voice",
    "inner_part",
    "is_followed",
    "moved_unit",
    "part_of",
    "targets_of",
]

# Added to a tone's pitch, beside its curve; no field of the document, for 0 is its only base.
PITCH = Parameter(
    name="pitch_st",
    label="Pitch",
    unit="st",
    minimum=-120.0,
    maximum=120.0,
    default=0.0,
    scale="linear",
    step=1.0,
    whole=False,
    help="Added to the pitch of the layer.",
    followed=True,
)

# The common pitch as a target and as the owner of a curve.
COMMON = "common"
COMMON_PITCH = replace(PITCH, label="Common pitch", help="Added to the common pitch.")

# What a link may move as amplitude.
LEVELS = ("level_db", "low_db", "high_db")

# Before the number of a body's mode, in the path of what is changed of it.
_MODE = "mode"


def moved_unit(parameter: Parameter) -> str:
    """The unit in which a parameter is moved: frequencies in octaves, all else in its own.

    A link whose law is linear moves frequencies in Hz.
    """
    return "octave" if parameter.octaves else parameter.unit


def _parts(sound: SoundParts) -> Iterator[tuple[str, str, BaseModel]]:
    """Every part with numbers: its id, its path within what has that id, the part itself."""
    for layer in sound.layers:
        yield layer.id, "", layer
        yield layer.id, "source.", layer.source
        for name in ("unison", "partials"):
            inner = getattr(layer.source, name, None)
            if isinstance(inner, BaseModel):
                yield layer.id, f"source.{name}.", inner
        if isinstance(layer.source, StruckSource):
            # All that there may be, so that a body with fewer modes keeps its links.
            for mode in range(1, MAX_MODES + 1):
                yield layer.id, f"source.{_MODE}{mode}.", layer.source.change_of(mode)
        for modulator in layer.modulators:
            yield modulator.id, "", modulator
    for place in chain_places(sound):
        for part in place.chain:
            yield part.id, "", part
            for name in type(part).model_fields:
                inner = getattr(part, name)
                if isinstance(inner, BaseModel):
                    yield part.id, f"{name}.", inner
            for branch in branches_of(part):
                yield branch.id, "", branch
    for bus in sound.buses:
        yield bus.id, "", bus
    for send in sound.sends:
        yield send.id, "", send
    yield "main", "", sound.main
    for mover in sound.movers:
        yield mover.id, "", mover


def targets_of(sound: SoundParts) -> dict[str, Parameter]:
    """Every target that a link of the sound may name."""
    found: dict[str, Parameter] = {f"{COMMON}.{PITCH.name}": COMMON_PITCH}
    for identifier, path, part in _parts(sound):
        if path == "source." and isinstance(part, PitchedSource):
            found[f"{identifier}.{PITCH.name}"] = PITCH
        for one in declared_parameters(type(part)):
            found[f"{identifier}.{path}{one.name}"] = one
    return found


def is_followed(sound: SoundParts, target: str) -> bool:
    """Whether what moves a target moves it all through the hit; else once, at its start."""
    return targets_of(sound)[target].followed


def differs_by_voice(sound: SoundParts, target: str) -> bool:
    """Whether voices can differ in a target: followed numbers of what has voices, and its pitch."""
    identifier, path = target.split(".", 1)
    source = next((one.source for one in sound.layers if one.id == identifier), None)
    if source is None or not hasattr(source, "unison"):
        return False
    own = {f"source.{one.name}" for one in declared_parameters(type(source)) if one.followed}
    return path in (PITCH.name, "source.phase_deg") or path in own


def inner_part(part: BaseModel, name: str) -> BaseModel:
    """The part that a path's next name leads to: a field, or a mode of a struck body."""
    if isinstance(part, StruckSource) and name.removeprefix(_MODE).isdigit():
        return part.change_of(int(name.removeprefix(_MODE)))
    found = getattr(part, name)
    if not isinstance(found, BaseModel):
        raise LookupError(f"{name!r} holds no part")
    return found


def part_of(sound: SoundParts, identifier: str) -> BaseModel:
    """The layer, bus, processor, mover or main output with an id.

    Raises
    ------
    LookupError
        where there is none.
    """
    for one, path, part in _parts(sound):
        if one == identifier and not path:
            return part
    raise LookupError(f"no part has the id {identifier!r}")
