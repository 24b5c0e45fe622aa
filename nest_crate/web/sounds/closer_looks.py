"""Closer looks at a sound: details, the probe for silence, repeats, and the sound as a list."""

from __future__ import annotations

import base64
import dataclasses

import numpy as np
from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from nest_crate.core.analysis.checks.contribution import list_contributions
from nest_crate.core.analysis.checks.register import look_over_keys
from nest_crate.core.analysis.checks.silence import probe_silence
from nest_crate.core.analysis.measures.difference import difference
from nest_crate.core.analysis.measures.repeats import compare_repeats
from nest_crate.core.analysis.measures.ring_time import Ringing
from nest_crate.core.analysis.pictures.details import Details, HoldOutline, LayerDetails, details
from nest_crate.core.analysis.pictures.processor_look import (
    ProcessorLook,
    StepFigures,
    look_at_processor,
)
from nest_crate.core.engine import render
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.recipe import recipe
from nest_crate.core.units import hz_to_note, note_name
from nest_crate.web import bodies
from nest_crate.web.infra.context import services
from nest_crate.web.sounds.sound_request import asked_sound

__all__ = ["api"]

api = APIBlueprint("judging", __name__, url_prefix="/api/judging", abp_tags=[Tag(name="bench")])


@api.post("/details", responses={200: bodies.DetailsBody})
def look_closely(body: bodies.DetailsRequest) -> Response:
    """Pitch reached and ring time of each layer, and the sound for a tap and a long hold."""
    sound, hit, settings = asked_sound(body)
    looked = details(sound, hit, settings, memory=services().stages, holds=body.holds)
    return make_response(_details_body(looked).model_dump())


@api.post("/probe", responses={200: bodies.ProbeBody})
def probe(body: bodies.AuditionRequest) -> Response:
    """Why is it silent: every step from source to output with its level."""
    sound, hit, settings = asked_sound(body)
    steps = probe_silence(sound, hit, settings, memory=services().stages)
    return make_response({"steps": [dataclasses.asdict(step) for step in steps]})


@api.post("/repeats", responses={200: bodies.RepeatsBody})
def repeats(body: bodies.AuditionRequest) -> Response:
    """Eight hits in a row, and how far they differ."""
    sound, hit, settings = asked_sound(body)
    played = sound.model_copy(update={"hit": hit})
    compared = compare_repeats(played, settings, memory=services().stages)
    return make_response(compared.as_dict())


@api.post("/contributions", responses={200: bodies.ContributionsBody})
def contributions(body: bodies.AuditionRequest) -> Response:
    """What every layer, processor and link changes, each removed once."""
    sound, hit, settings = asked_sound(body)
    parts = list_contributions(sound, hit, settings, memory=services().stages)
    listed = []
    for part in parts:
        facts = dataclasses.asdict(part)
        listed.append({**facts, **facts.pop("difference")})
    return make_response(bodies.ContributionsBody(parts=listed).model_dump())


@api.post("/processor", responses={200: bodies.ProcessorLookBody})
def look_at(body: bodies.ProcessorRequest) -> Response:
    """One processor: levels and spectra before and after, its gain over the hit, resonances."""
    sound, hit, settings = asked_sound(body)
    looked = look_at_processor(sound, hit, settings, body.processor, memory=services().stages)
    return make_response(_look_body(looked).model_dump())


@api.post("/register", responses={200: bodies.RegisterBody})
def over_the_keys(body: bodies.AuditionRequest) -> Response:
    """The sound over the keyboard: level, harshness and low end note by note, with a fix."""
    sound, hit, settings = asked_sound(body)
    found = look_over_keys(sound, hit, settings)
    return make_response(
        {
            "readings": [dataclasses.asdict(one) for one in found.readings],
            "fixes": [dataclasses.asdict(fix) for fix in found.fixes],
        }
    )


@api.post("/difference", responses={200: bodies.DifferenceBody})
def compare(body: bodies.DifferenceRequest) -> Response:
    """How far two states of a sound differ."""
    sound, hit, settings = asked_sound(body)
    memory = services().stages
    first, second = (
        render(one, hit, settings, memory=memory) for one in (sound, load_sound(body.other))
    )
    return make_response(dataclasses.asdict(difference(first, second)))


@api.post("/recipe", responses={200: bodies.RecipeBody})
def as_list(body: bodies.AuditionRequest) -> Response:
    """The sound as a readable list of every value with its unit."""
    sound, hit, _ = asked_sound(body)
    return make_response({"text": recipe(sound.model_copy(update={"hit": hit}))})


def _figures_body(figures: StepFigures) -> bodies.StepFiguresBody:
    facts = {**vars(figures), "spectrum_db": np.round(figures.spectrum_db, 1).tolist()}
    return bodies.StepFiguresBody(**facts)


def _look_body(looked: ProcessorLook) -> bodies.ProcessorLookBody:
    return bodies.ProcessorLookBody(
        before=_figures_body(looked.before),
        after=_figures_body(looked.after),
        spectrum_hz=np.round(looked.spectrum_hz, 2).tolist(),
        change_db=looked.change_db,
        gains=[
            bodies.GainCurveBody(
                band=one.band,
                time_s=np.round(one.time_s, 6).tolist(),
                gain_db=np.round(one.gain_db, 2).tolist(),
            )
            for one in looked.gains
        ],
        resonances=[bodies.ResonanceBody(**vars(one)) for one in looked.resonances],
    )


def _ringing_body(rang: Ringing | None) -> bodies.RingingBody | None:
    if rang is None:
        return None
    return bodies.RingingBody(
        loudest_s=rang.loudest_s, falls_s=list(rang.falls_s), ring_s=rang.ring_s
    )


def _layer_body(layer: LayerDetails) -> bodies.LayerDetailsBody:
    note, cents = None, None
    if layer.landing_hz is not None:
        exact = hz_to_note(layer.landing_hz)
        nearest = min(127, max(0, round(exact)))
        note, cents = note_name(nearest), 100.0 * (exact - nearest)
    return bodies.LayerDetailsBody(
        track=[list(reading) for reading in layer.track],
        base_hz=layer.base_hz,
        landing_hz=layer.landing_hz,
        note=note,
        cents=cents,
        ringing=_ringing_body(layer.ringing),
        held_st=layer.held_st,
        bands_db=[] if layer.bands_db is None else np.round(layer.bands_db, 1).tolist(),
    )


def _hold_body(hold: HoldOutline) -> bodies.HoldOutlineBody:
    return bodies.HoldOutlineBody(
        name=hold.name,
        hold_s=hold.hold_s,
        length_s=hold.length_s,
        end_reason=hold.end_reason,
        ringing=_ringing_body(hold.ringing),
        outline=bodies.OutlineBody(
            scale=hold.outline.scale,
            data=base64.b64encode(hold.outline.data.tobytes()).decode(),
        ),
    )


def _details_body(looked: Details) -> bodies.DetailsBody:
    return bodies.DetailsBody(
        layers={key: _layer_body(layer) for key, layer in looked.layers.items()},
        ringing=_ringing_body(looked.ringing),
        holds=[_hold_body(hold) for hold in looked.holds],
        moved={target: trace.tolist() for target, trace in looked.moved.items()},
        held=looked.held,
        loudness_lufs=looked.loudness_lufs,
    )
