"""A sound to start from for each kind of hit, so that the first good one takes under a minute."""

from __future__ import annotations

from dataclasses import dataclass
from functools import lru_cache
from typing import Any

from nest_crate.core.sound.document import Sound

__all__ = ["Starter", "starters"]


@dataclass(frozen=True)
class Starter:
    """What it is a start for, what it is made of, and the sound."""

    category: str
    words: str
    sound: Sound


def _points(*points: tuple[float, ...]) -> dict[str, Any]:
    """A curve through (time, value, bend)."""
    names = ("time_s", "value", "bend")
    return {"points": [dict(zip(names, one, strict=False)) for one in points]}


def _layer(
    identifier: str, name: str, pigment: str, level_db: float, source: dict[str, Any], **more: Any
) -> dict[str, Any]:
    given = {"id": identifier, "name": name, "pigment": pigment, "level_db": level_db}
    return {**given, "source": source, **more}


_WHOLE = _points((0, 1))
# What is low stays in the middle: said here, so that no kick or bass forgets it.
_MONO = {"id": "mono", "kind": "width", "mono_below_hz": 120}


def _kick() -> dict[str, Any]:
    body = _layer(
        "body",
        "Body",
        "rust",
        -3,
        {"kind": "tone"},
        level=_points((0, 0), (0.001, 1), (0.05, 0.9), (0.42, 0, 3)),
        pitch=_points((0, 30), (0.012, 13, 2), (0.09, 0, 3)),
    )
    click = _layer(
        "click",
        "Click",
        "slate",
        -17,
        {"kind": "noise", "colour_db": 1},
        level=_points((0, 0), (0.0005, 1), (0.012, 0, 5)),
    )
    drive = {"id": "warm", "kind": "drive", "drive_db": 5, "keep_loudness": True}
    return {"layers": [body, click], "main": {"chain": [drive, _MONO]}, "hit": _hit(31, 0.2)}


def _bass() -> dict[str, Any]:
    low = _layer(
        "low",
        "Low",
        "rust",
        -5,
        {"kind": "tone", "shape": 2},
        level={
            **_points((0, 0), (0.003, 1), (0.25, 0.75, 2)),
            "release": [{"time_s": 0.12, "value": 0, "bend": 3}],
        },
        chain=[{"id": "dark", "kind": "filter", "cutoff_hz": 420, "resonance": 1.6}],
    )
    opening = {
        "id": "bite",
        "name": "Bite",
        "kind": "curve",
        "curve": _points((0, 1), (0.18, 0, 3)),
    }
    link = {"mover": "bite", "target": "dark.cutoff_hz", "amount": 2.4}
    return {
        "layers": [low],
        "movers": [opening],
        "links": [link],
        "main": {"chain": [_MONO]},
        "hit": _hit(33, 0.4),
    }


def _snare() -> dict[str, Any]:
    shell = _layer(
        "shell",
        "Shell",
        "rust",
        -8,
        {"kind": "tone"},
        level=_points((0, 0), (0.0008, 1), (0.16, 0, 4)),
        pitch=_points((0, 9), (0.03, 0, 3)),
    )
    wires = _layer(
        "wires",
        "Wires",
        "teal",
        -9,
        {"kind": "noise", "colour_db": 0.5, "width": 0.5},
        level=_points((0, 0), (0.0008, 1), (0.21, 0, 4)),
        chain=[{"id": "lift", "kind": "filter", "response": "high_pass", "cutoff_hz": 900}],
    )
    return {"layers": [shell, wires], "hit": _hit(54, 0.1)}


def _hat() -> dict[str, Any]:
    metal = _layer(
        "metal",
        "Metal",
        "ochre",
        -9,
        {"kind": "noise", "colour_db": 3, "width": 0.3},
        level=_points((0, 0), (0.0005, 1), (0.07, 0, 5)),
        chain=[
            {"id": "lift", "kind": "filter", "response": "high_pass", "cutoff_hz": 6500},
            {"id": "ring", "kind": "filter", "response": "peak", "cutoff_hz": 9200, "gain_db": 6},
        ],
    )
    return {"layers": [metal], "hit": _hit(60, 0.05)}


def _zap() -> dict[str, Any]:
    beam = _layer(
        "beam",
        "Beam",
        "plum",
        -7,
        {"kind": "tone", "shape": 2},
        level=_points((0, 0), (0.001, 1), (0.3, 0, 3)),
        pitch=_points((0, 40), (0.24, -12, 3)),
        chain=[{"id": "squelch", "kind": "filter", "cutoff_hz": 3200, "resonance": 4}],
    )
    return {"layers": [beam], "hit": _hit(57, 0.1)}


def _mallet() -> dict[str, Any]:
    bar = {"kind": "struck", "body": "bar", "modes": 8, "decay_s": 0.6, "damping": 1.0}
    return {"layers": [_layer("bar", "Bar", "rust", -5, bar, level=_WHOLE)], "hit": _hit(69, 0.1)}


def _bell() -> dict[str, Any]:
    plate = {
        "kind": "struck",
        "body": "plate",
        "modes": 32,
        "aspect": 1.2,
        "position": 0.35,
        "decay_s": 3.0,
        "damping": 0.45,
        "hardness": 0.75,
        "spread": 0.5,
    }
    return {
        "layers": [_layer("bell", "Bell", "teal", -6, plate, level=_WHOLE)],
        "hit": _hit(72, 0.1),
    }


def _pluck() -> dict[str, Any]:
    wire = {
        "kind": "struck",
        "body": "string_loop",
        "exciter": "noise",
        "exciter_s": 0.008,
        "position": 0.25,
        "decay_s": 1.8,
        "damping": 0.5,
    }
    level = {**_WHOLE, "release": [{"time_s": 0.15, "value": 0, "bend": 3}]}
    return {
        "layers": [_layer("wire", "Wire", "moss", -6, wire, level=level)],
        "hit": _hit(52, 0.6),
    }


def _riser() -> dict[str, Any]:
    swarm = _layer(
        "swarm",
        "Swarm",
        "plum",
        -10,
        {
            "kind": "wavetable",
            "table": {"origin": "stock", "name": "swarm"},
            "scan": "forwards",
            "scan_s": 2.0,
            "unison": {"voices": 5, "detune_cent": 18, "width": 0.8},
        },
        level={
            **_points((0, 0), (2.0, 1, -2)),
            "release": [{"time_s": 0.06, "value": 0, "bend": 3}],
        },
        pitch=_points((0, -12), (2.0, 12, -2)),
    )
    return {"layers": [swarm], "hit": _hit(48, 2.0)}


def _drone() -> dict[str, Any]:
    hum = _layer(
        "hum",
        "Hum",
        "slate",
        -10,
        {
            "kind": "wavetable",
            "table": {"origin": "stock", "name": "two-throats"},
            "scan": "back_and_forth",
            "scan_s": 3.0,
            "unison": {"voices": 4, "detune_cent": 10, "width": 0.7},
        },
        level={
            **_points((0, 0), (0.8, 1, -1)),
            "release": [{"time_s": 1.0, "value": 0, "bend": 3}],
        },
    )
    hall = {"id": "hall", "kind": "room", "mix": 0.3, "size_m": 20, "decay_s": 2.5}
    return {"layers": [hum], "main": {"chain": [_MONO, hall]}, "hit": _hit(38, 3.0)}


def _whoosh() -> dict[str, Any]:
    air = _layer(
        "air",
        "Air",
        "moss",
        -6,
        {"kind": "noise", "colour_db": -3, "width": 0.8},
        level=_points((0, 0), (0.28, 1, -2), (0.7, 0, 3)),
        chain=[{"id": "band", "kind": "filter", "response": "band_pass", "cutoff_hz": 700}],
    )
    past = {
        "id": "past",
        "name": "Past",
        "kind": "curve",
        "curve": _points((0, 0), (0.3, 1, -1), (0.7, 0, 2)),
    }
    link = {"mover": "past", "target": "band.cutoff_hz", "amount": 2.2}
    return {"layers": [air], "movers": [past], "links": [link], "hit": _hit(60, 0.3)}


def _hit(note: int, hold_s: float) -> dict[str, Any]:
    return {"note": note, "hold_s": hold_s}


_STARTERS = (
    ("Kick", "falling sine and a click, mono below 120 Hz", _kick),
    ("Bass", "sawtooth under a biting filter, mono below 120 Hz", _bass),
    ("Snare", "short shell and bright noise", _snare),
    ("Hat", "high noise with a ring", _hat),
    ("Zap", "falling sawtooth", _zap),
    ("Mallet", "struck bar", _mallet),
    ("Bell", "struck plate", _bell),
    ("Pluck", "string loop", _pluck),
    ("Whoosh", "air that passes by", _whoosh),
    ("Riser", "scanned wavetable that climbs", _riser),
    ("Drone", "two moving humps in a hall", _drone),
)


@lru_cache(maxsize=1)
def starters() -> tuple[Starter, ...]:
    """One for each category, validated like any document."""
    return tuple(
        Starter(
            category, words, Sound.model_validate({"name": f"New {category.lower()}", **make()})
        )
        for category, words, make in _STARTERS
    )
