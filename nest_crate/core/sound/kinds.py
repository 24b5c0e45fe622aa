"""The registry of document kinds, read off the models, and what each declares."""

from __future__ import annotations

from typing import Any, Literal, get_args, get_origin

from pydantic import BaseModel

from nest_crate.core.sound.buses import Bus, Send
from nest_crate.core.sound.curve import CurvePoint
from nest_crate.core.sound.document import Sound
from nest_crate.core.sound.layers import Layer, Main, Modulator
from nest_crate.core.sound.movers import Link, Mover
from nest_crate.core.sound.names import MOVER_NAMES, PROCESSOR_NAMES, SOURCE_NAMES
from nest_crate.core.sound.parameters import declared_parameters
from nest_crate.core.sound.playing import FurtherNote, Hit, Pattern, Playing
from nest_crate.core.sound.processors import Branch, Processor
from nest_crate.core.sound.sources import ModeChange, PartialSet, Source, ToneSource, Unison
from nest_crate.core.sound.targets import COMMON_PITCH, PITCH

__all__ = [
    "KINDS",
    "MOVER_KINDS",
    "PROCESSOR_KINDS",
    "SOURCE_KINDS",
    "choices_of",
    "declarations",
    "defaults_of",
    "describe",
]


def _by_kind(union: Any) -> dict[str, type[BaseModel]]:
    members = get_args(get_args(union)[0])
    return {member.model_fields["kind"].default: member for member in members}


SOURCE_KINDS = _by_kind(Source)
PROCESSOR_KINDS = _by_kind(Processor)
MOVER_KINDS = _by_kind(Mover)
KINDS = frozenset({*SOURCE_KINDS, *PROCESSOR_KINDS, *MOVER_KINDS})


def choices_of(model: type[BaseModel]) -> list[dict[str, Any]]:
    """Fields that choose among named values, and switches."""
    found: list[dict[str, Any]] = []
    for name, info in model.model_fields.items():
        if name == "kind" or info.title is None:
            continue
        if info.annotation is bool:
            found.append({"name": name, "label": info.title, "type": "switch"})
        elif get_origin(info.annotation) is Literal:
            values = list(get_args(info.annotation))
            found.append({"name": name, "label": info.title, "type": "choice", "values": values})
    return found


def describe(model: type[BaseModel]) -> dict[str, Any]:
    """What a part is for, its numbers with ranges and units, its choices."""
    return {
        "help": (model.__doc__ or "").strip(),
        "parameters": [parameter.as_dict() for parameter in declared_parameters(model)],
        "choices": choices_of(model),
    }


def defaults_of(part: BaseModel, without: set[str]) -> dict[str, Any]:
    """A part as it is before anything is set, without what each new one has of its own."""
    return part.model_dump(mode="json", exclude=without)


def _inner_parts(model: type[BaseModel]) -> dict[str, Any]:
    """What a part holds that has numbers of its own, such as the bands of an equaliser."""
    inner = {name: info.annotation for name, info in model.model_fields.items()}
    return {
        name: describe(kind)
        for name, kind in inner.items()
        if isinstance(kind, type) and issubclass(kind, BaseModel)
    }


def declarations() -> dict[str, Any]:
    """Every declared parameter of every document part, as plain JSON values."""
    return {
        "sound": {**describe(Sound), "defaults": defaults_of(Sound(name="New"), {"name"})},
        "hit": describe(Hit),
        "layer": {
            **describe(Layer),
            "defaults": defaults_of(
                Layer(id="new", name="New", source=ToneSource()), {"id", "name", "source"}
            ),
        },
        "modulator": {
            **describe(Modulator),
            "defaults": defaults_of(Modulator(id="new", by="new"), {"id", "by"}),
        },
        "bus": describe(Bus),
        "send": describe(Send),
        "branch": describe(Branch),
        "main": describe(Main),
        "playing": describe(Playing),
        "pattern": describe(Pattern),
        "further_note": describe(FurtherNote),
        "curve_point": describe(CurvePoint),
        "unison": describe(Unison),
        "partials": describe(PartialSet),
        "sources": {
            kind: {
                "name": SOURCE_NAMES[kind],
                **describe(SOURCE_KINDS[kind]),
                "modulations": getattr(SOURCE_KINDS[kind], "modulations", ()),
                "defaults": defaults_of(SOURCE_KINDS[kind](), set()),
            }
            for kind in SOURCE_NAMES
        },
        "mode_change": describe(ModeChange),
        "link": describe(Link),
        "pitch": PITCH.as_dict(),
        "common_pitch": COMMON_PITCH.as_dict(),
        "movers": {
            kind: {
                "name": name,
                **describe(MOVER_KINDS[kind]),
                "defaults": defaults_of(MOVER_KINDS[kind](id="new", name=name), {"id", "name"}),
            }
            for kind, name in MOVER_NAMES.items()
        },
        "processors": {
            # A screen makes a new processor from these; its id is its own affair.
            kind: {
                **called._asdict(),
                **describe(PROCESSOR_KINDS[kind]),
                "parts": _inner_parts(PROCESSOR_KINDS[kind]),
                "defaults": defaults_of(PROCESSOR_KINDS[kind](id="new"), {"id"}),
            }
            for kind, called in PROCESSOR_NAMES.items()
        },
    }
