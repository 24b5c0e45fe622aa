"""Closer looks at a sound: details, the probe for silence, repeats, and the sound as a list."""

from __future__ import annotations

from dataclasses import replace

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from nest_crate.core.sound import load_sound
from nest_crate.core.sound.chains import chain_places
from nest_crate.core.sound.recipe import recipe
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account
from nest_crate.web.infra.rendering import asked, json_of, require_heard

__all__ = ["api"]

api = APIBlueprint("judging", __name__, url_prefix="/api/judging", abp_tags=[Tag(name="bench")])

# About so many renders of the sound each takes.
_RENDERS_OF_DETAILS = 3
_RENDERS_OF_REPEATS = 8
_KEYS_LOOKED_AT = 12


@api.post("/details", responses={200: bodies.DetailsBody})
def look_closely(body: bodies.DetailsRequest) -> Response:
    """Pitch reached and ring time of each layer, and the sound for a tap and a long hold."""
    given = asked(body, times=_RENDERS_OF_DETAILS if body.holds else 1)
    return json_of(given.step("details", holds=body.holds))


@api.post("/probe", responses={200: bodies.ProbeBody})
def probe(body: bodies.AuditionRequest) -> Response:
    """Why is it silent: every step from source to output with its level."""
    return json_of(asked(body).step("probe"))


@api.post("/repeats", responses={200: bodies.RepeatsBody})
def repeats(body: bodies.AuditionRequest) -> Response:
    """Eight hits in a row, and how far they differ."""
    return json_of(asked(body, times=_RENDERS_OF_REPEATS).step("repeats"))


@api.post("/contributions", responses={200: bodies.ContributionsBody})
def contributions(body: bodies.AuditionRequest) -> Response:
    """What every layer, processor and link changes, each removed once."""
    given = asked(body)
    sound = given.sound
    processors = sum(len(place.chain) for place in chain_places(sound))
    parts = len(sound.layers) + len(sound.links) + processors
    return json_of(replace(given, seconds=given.seconds * (1 + parts)).step("contributions"))


@api.post("/processor", responses={200: bodies.ProcessorLookBody})
def look_at(body: bodies.ProcessorRequest) -> Response:
    """One processor: levels and spectra before and after, its gain over the hit, resonances."""
    return json_of(asked(body).step("processor", processor=body.processor))


@api.post("/register", responses={200: bodies.RegisterBody})
def over_the_keys(body: bodies.AuditionRequest) -> Response:
    """The sound over the keyboard: level, harshness and low end note by note, with a fix."""
    return json_of(asked(body, times=_KEYS_LOOKED_AT).step("register"))


@api.post("/difference", responses={200: bodies.DifferenceBody})
def compare(body: bodies.DifferenceRequest) -> Response:
    """How far two states of a sound differ."""
    given = asked(body, times=2)
    load_sound(body.other)
    require_heard(current_account(), body.other)
    return json_of(given.step("difference", other=body.other))


@api.post("/recipe", responses={200: bodies.RecipeBody})
def as_list(body: bodies.AuditionRequest) -> Response:
    """The sound as a readable list of every value with its unit."""
    given = asked(body)
    return make_response({"text": recipe(given.sound.model_copy(update={"hit": given.hit}))})
