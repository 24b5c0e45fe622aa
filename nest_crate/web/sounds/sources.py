"""What a layer may start from: its picture, the tables that ship, a first sound of a file."""

from __future__ import annotations

import base64
from dataclasses import asdict

import numpy as np
from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from numpy.typing import NDArray

from nest_crate.core.analysis.pictures.source_look import SourceLook, look_at_source
from nest_crate.core.dsp.oscillators.wavetables import WaveTable, partials_of_cycles
from nest_crate.core.engine import render
from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.proposals import Comparison, Distance, compare, propose_sound
from nest_crate.core.sound import dump_sound
from nest_crate.core.sound.starters import starters
from nest_crate.core.tables import stock_cycles, stock_names
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, render_settings, services
from nest_crate.web.sounds.sound_request import asked_sound

__all__ = ["api"]

api = APIBlueprint("sources", __name__, url_prefix="/api/sources", abp_tags=[Tag(name="bench")])

_COLUMNS = 32


def _cycles_body(cycles: NDArray[np.int8] | None) -> bodies.CyclesBody | None:
    if cycles is None:
        return None
    data = base64.b64encode(cycles.tobytes()).decode()
    return bodies.CyclesBody(frames=cycles.shape[0], columns=cycles.shape[1], data=data)


def _look_body(looked: SourceLook) -> bodies.SourceLookBody:
    drawn = looked.outline
    return bodies.SourceLookBody(
        kind=looked.kind,
        modes=[bodies.LookedModeBody(**asdict(one)) for one in looked.modes],
        loop_gain=looked.loop_gain,
        cycles=_cycles_body(looked.cycles),
        places=[] if looked.places is None else np.round(looked.places, 4).tolist(),
        places_s=looked.places_s,
        outline=None
        if drawn is None
        else bodies.OutlineBody(
            scale=drawn.scale, data=base64.b64encode(drawn.data.tobytes()).decode()
        ),
        length_s=looked.length_s,
        start_s=looked.start_s,
        end_s=looked.end_s,
        begins_s=looked.begins_s,
    )


@api.post("/look", responses={200: bodies.SourceLookBody})
def look(body: bodies.SourceRequest) -> Response:
    """A layer's source as its first note finds it: modes, cycles or outline."""
    sound, hit, settings = asked_sound(body)
    looked = look_at_source(sound, hit, settings, body.layer, memory=services().stages)
    return make_response(_look_body(looked).model_dump())


@api.get("/wavetables", responses={200: bodies.WavetablesBody})
def wavetables() -> Response:
    """The tables that come with the program, each with a few columns of its cycles."""
    current_account()
    listed = []
    for name in stock_names():
        cycles = WaveTable(partials_of_cycles(stock_cycles(name))).cycles(_COLUMNS)
        drawn = np.clip(np.round(cycles[::4] * 127.0), -127, 127).astype(np.int8)
        listed.append(bodies.WavetableBody(name=name, cycles=_cycles_body(drawn)))
    return make_response(bodies.WavetablesBody(wavetables=listed).model_dump())


@api.get("/starters", responses={200: bodies.StartersBody})
def starting_sounds() -> Response:
    """A sound to start from for each category."""
    current_account()
    listed = [
        bodies.StarterBody(category=one.category, words=one.words, document=dump_sound(one.sound))
        for one in starters()
    ]
    return make_response(bodies.StartersBody(starters=listed).model_dump())


def _distance_body(distance: Distance) -> bodies.DistanceBody:
    return bodies.DistanceBody(
        level_db=distance.level_db,
        pitch_cent=distance.pitch_cent,
        bands_mean_db=distance.bands_mean_db,
        bands_hz=np.round(distance.bands_hz, 1).tolist(),
        bands_db=np.round(distance.bands_db, 2).tolist(),
    )


@api.post("/propose", responses={200: bodies.ProposalBody})
def propose(body: bodies.ProposalRequest) -> Response:
    """A first sound for a recording, and how near it is."""
    current_account()
    recording = render_settings().recording(body.recording)
    made = propose_sound(recording.samples, recording.sample_rate, name=body.name)
    return make_response(
        bodies.ProposalBody(
            document=dump_sound(made.sound),
            distance=_distance_body(made.distance),
            found=made.found,
        ).model_dump()
    )


@api.post("/reference", responses={200: bodies.ComparisonBody})
def beside_the_reference(body: bodies.AuditionRequest) -> Response:
    """The sound beside the reference that it names: aligned, by band, with what stands apart."""
    sound, hit, settings = asked_sound(body)
    if sound.reference is None:
        raise DocumentError([FieldProblem("reference", "the sound has no reference", "missing")])
    left_out = [(one.start_s, one.end_s) for one in sound.reference.left_out]
    ours = render(sound, hit, settings, memory=services().stages)
    found = compare(ours, settings.recording(sound.reference.recording), left_out)
    return make_response(_comparison_body(found).model_dump())


def _comparison_body(found: Comparison) -> bodies.ComparisonBody:
    standing = found.standing
    return bodies.ComparisonBody(
        shift_s=found.shift_s,
        reference_length_s=found.reference_length_s,
        outline=bodies.OutlineBody(
            scale=found.outline.scale, data=base64.b64encode(found.outline.data.tobytes()).decode()
        ),
        step_s=found.step_s,
        bands=[
            bodies.BandLevelsBody(
                name=one.name,
                ours_db=np.round(one.ours_db, 1).tolist(),
                reference_db=np.round(one.reference_db, 1).tolist(),
            )
            for one in found.bands
        ],
        distance=_distance_body(found.distance),
        standing=None
        if standing is None
        else bodies.StandingPeaksBody(
            hz=np.round(standing.hz, 1).tolist(),
            outline_db=np.round(standing.outline_db, 2).tolist(),
            peaks_hz=standing.peaks_hz,
            glide_hz=list(standing.glide_hz),
        ),
    )
