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


def _describe(model: type[BaseModel]) -> dict[str, Any]:
    return {
        "help": (model.__doc__ or "").strip(),
        "parameters": [parameter.as_dict() for parameter in declared_parameters(model)],
        "choices": choices_of(model),
    }


def _defaults(part: BaseModel, without: set[str]) -> dict[str, Any]:
    """A part as it is before anything is set, without what each new one has of its own."""
    return part.model_dump(mode="json", exclude=without)


def _inner_parts(model: type[BaseModel]) -> dict[str, Any]:
    """What a part holds that has numbers of its own, such as the bands of an equaliser."""
    inner = {name: info.annotation for name, info in model.model_fields.items()}
    return {
        name: _describe(kind)
        for name, kind in inner.items()
        if isinstance(kind, type) and issubclass(kind, BaseModel)
    }


def declarations() -> dict[str, Any]:
    """Every declared parameter of every document part, as plain JSON values."""
    return {
        "sound": {**_describe(Sound), "defaults": _defaults(Sound(name="New"), {"name"})},
        "hit": _describe(Hit),
        "layer": {
            **_describe(Layer),
            "defaults": _defaults(
                Layer(id="new", name="New", source=ToneSource()), {"id", "name", "source"}
            ),
        },
        "modulator": {
            **_describe(Modulator),
            "defaults": _defaults(Modulator(id="new", by="new"), {"id", "by"}),
        },
        "bus": _describe(Bus),
        "send": _describe(Send),
        "branch": _describe(Branch),
        "main": _describe(Main),
        "playing": _describe(Playing),
        "pattern": _describe(Pattern),
        "further_note": _describe(FurtherNote),
        "curve_point": _describe(CurvePoint),
        "unison": _describe(Unison),
        "partials": _describe(PartialSet),
        "sources": {
            kind: {
                "name": SOURCE_NAMES[kind],
                **_describe(SOURCE_KINDS[kind]),
                "modulations": getattr(SOURCE_KINDS[kind], "modulations", ()),
                "defaults": _defaults(SOURCE_KINDS[kind](), set()),
            }
            for kind in SOURCE_NAMES
        },
        "mode_change": _describe(ModeChange),
        "link": _describe(Link),
        "pitch": PITCH.as_dict(),
        "common_pitch": COMMON_PITCH.as_dict(),
        "movers": {
            kind: {
                "name": name,
                **_describe(MOVER_KINDS[kind]),
                "defaults": _defaults(MOVER_KINDS[kind](id="new", name=name), {"id", "name"}),
            }
            for kind, name in MOVER_NAMES.items()
        },
        "processors": {
            # A screen makes a new processor from these; its id is its own affair.
            kind: {
                **called._asdict(),
                **_describe(PROCESSOR_KINDS[kind]),
                "parts": _inner_parts(PROCESSOR_KINDS[kind]),
                "defaults": _defaults(PROCESSOR_KINDS[kind](id="new"), {"id"}),
            }
            for kind, called in PROCESSOR_NAMES.items()
        },
    }
