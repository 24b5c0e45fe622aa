"""Closer looks at a sound: details, the probe for silence, repeats, and what each part does."""

from __future__ import annotations

import dataclasses
from collections.abc import Iterator
from typing import Any

from nest_crate.core.analysis.checks.contribution import list_contributions
from nest_crate.core.analysis.checks.register import look_over_keys
from nest_crate.core.analysis.checks.silence import probe_silence
from nest_crate.core.analysis.measures.difference import difference
from nest_crate.core.analysis.measures.repeats import compare_repeats
from nest_crate.core.analysis.measures.ring_time import Ringing
from nest_crate.core.analysis.pictures.details import Details, HoldOutline, LayerDetails, details
from nest_crate.core.analysis.pictures.processor_look import StepFigures, look_at_processor
from nest_crate.core.engine import render
from nest_crate.core.sound import load_sound
from nest_crate.core.units import hz_to_note, note_name
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks.parts import json_part, outline_of, rounded
from nest_crate.jobs.rendering.workshop import Wanted, Workshop

__all__ = [
    "compare",
    "contributions",
    "look_closely",
    "look_over",
    "probe",
    "processor",
    "repeats",
]


def look_closely(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Pitch reached and ring time of each layer, and the sound for a tap and a long hold."""
    sound = wanted.sound
    holds = wanted.given.get("holds", True)
    looked = details(
        sound,
        wanted.hit_of(sound),
        workshop.settings(wanted),
        memory=workshop.stages,
        holds=holds,
    )
    yield json_part("details", _details(looked))


def probe(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Why is it silent: every step from source to output with its level."""
    sound = wanted.sound
    steps = probe_silence(
        sound, wanted.hit_of(sound), workshop.settings(wanted), memory=workshop.stages
    )
    yield json_part("probe", {"steps": [dataclasses.asdict(step) for step in steps]})


def repeats(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Eight hits in a row, and how far they differ."""
    sound = wanted.sound
    played = sound.model_copy(update={"hit": wanted.hit_of(sound)})
    compared = compare_repeats(played, workshop.settings(wanted), memory=workshop.stages)
    yield json_part("repeats", compared.as_dict())


def contributions(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """What every layer, processor and link changes, each removed once."""
    sound = wanted.sound
    parts = list_contributions(
        sound, wanted.hit_of(sound), workshop.settings(wanted), memory=workshop.stages
    )
    listed = []
    for part in parts:
        facts = dataclasses.asdict(part)
        listed.append({**facts, **facts.pop("difference")})
    yield json_part("contributions", {"parts": listed})


def processor(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """One processor: levels and spectra before and after, its gain over the hit, resonances."""
    sound = wanted.sound
    looked = look_at_processor(
        sound,
        wanted.hit_of(sound),
        workshop.settings(wanted),
        wanted.given["processor"],
        memory=workshop.stages,
    )
    gains = [
        {
            "band": one.band,
            "time_s": rounded(one.time_s, 6),
            "gain_db": rounded(one.gain_db, 2),
        }
        for one in looked.gains
    ]
    found = {
        "before": _figures(looked.before),
        "after": _figures(looked.after),
        "spectrum_hz": rounded(looked.spectrum_hz, 2),
        "change_db": looked.change_db,
        "gains": gains,
        "resonances": [dict(vars(one)) for one in looked.resonances],
    }
    yield json_part("processor", found)


def look_over(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """The sound over the keyboard: level, harshness and low end note by note, with a fix."""
    sound = wanted.sound
    found = look_over_keys(sound, wanted.hit_of(sound), workshop.settings(wanted))
    listed = {
        "readings": [dataclasses.asdict(one) for one in found.readings],
        "fixes": [dataclasses.asdict(fix) for fix in found.fixes],
    }
    yield json_part("register", listed)


def compare(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """How far two states of a sound differ."""
    sound = wanted.sound
    hit, settings = wanted.hit_of(sound), workshop.settings(wanted)
    first, second = (
        render(one, hit, settings, memory=workshop.stages)
        for one in (sound, load_sound(wanted.given["other"]))
    )
    yield json_part("difference", dataclasses.asdict(difference(first, second)))


def _figures(figures: StepFigures) -> dict[str, Any]:
    return {**vars(figures), "spectrum_db": rounded(figures.spectrum_db, 1)}


def _ringing(rang: Ringing | None) -> dict[str, Any] | None:
    if rang is None:
        return None
    return {"loudest_s": rang.loudest_s, "falls_s": list(rang.falls_s), "ring_s": rang.ring_s}


def _layer(layer: LayerDetails) -> dict[str, Any]:
    note, cents = None, None
    if layer.landing_hz is not None:
        exact = hz_to_note(layer.landing_hz)
        nearest = min(127, max(0, round(exact)))
        note, cents = note_name(nearest), 100.0 * (exact - nearest)
    return {
        "track": [list(reading) for reading in layer.track],
        "base_hz": layer.base_hz,
        "landing_hz": layer.landing_hz,
        "note": note,
        "cents": cents,
        "ringing": _ringing(layer.ringing),
        "held_st": layer.held_st,
        "bands_db": [] if layer.bands_db is None else rounded(layer.bands_db, 1),
    }


def _hold(hold: HoldOutline) -> dict[str, Any]:
    return {
        "name": hold.name,
        "hold_s": hold.hold_s,
        "length_s": hold.length_s,
        "end_reason": hold.end_reason,
        "ringing": _ringing(hold.ringing),
        "outline": outline_of(hold.outline),
    }


def _details(looked: Details) -> dict[str, Any]:
    return {
        "layers": {key: _layer(layer) for key, layer in looked.layers.items()},
        "ringing": _ringing(looked.ringing),
        "holds": [_hold(hold) for hold in looked.holds],
        "moved": {target: trace.tolist() for target, trace in looked.moved.items()},
        "held": looked.held,
        "loudness_lufs": looked.loudness_lufs,
    }
