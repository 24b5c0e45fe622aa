"""What a layer may start from: its picture, the tables that ship, a first sound of a file."""

from __future__ import annotations

import base64

import numpy as np
from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from nest_crate.core.dsp.oscillators.wavetables import WaveTable, partials_of_cycles
from nest_crate.core.sound import dump_sound
from nest_crate.core.sound.starters import starters
from nest_crate.core.tables import stock_cycles, stock_names
from nest_crate.jobs.rendering.admission import Step
from nest_crate.jobs.rendering.requests import RenderRequest
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account
from nest_crate.web.infra.rendering import CLOSER, asked, json_of, require_heard

__all__ = ["api"]

api = APIBlueprint("sources", __name__, url_prefix="/api/sources", abp_tags=[Tag(name="bench")])

_COLUMNS = 32
_SECONDS_OF_A_PROPOSAL = 5.0


@api.post("/look", responses={200: bodies.SourceLookBody})
def look(body: bodies.SourceRequest) -> Response:
    """A layer's source as its first note finds it: modes, cycles or outline."""
    return json_of(asked(body).step("source", layer=body.layer))


@api.get("/wavetables", responses={200: bodies.WavetablesBody})
def wavetables() -> Response:
    """The tables that come with the program, each with a few columns of its cycles."""
    current_account()
    listed = []
    for name in stock_names():
        cycles = WaveTable(partials_of_cycles(stock_cycles(name))).cycles(_COLUMNS)
        drawn = np.clip(np.round(cycles[::4] * 127.0), -127, 127).astype(np.int8)
        data = base64.b64encode(drawn.tobytes()).decode()
        shown = bodies.CyclesBody(frames=drawn.shape[0], columns=drawn.shape[1], data=data)
        listed.append(bodies.WavetableBody(name=name, cycles=shown))
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


@api.post("/propose", responses={200: bodies.ProposalBody})
def propose(body: bodies.ProposalRequest) -> Response:
    """A first sound for a recording, and how near it is."""
    account = current_account()
    require_heard(account, {"recording": body.recording})
    wanted = RenderRequest(
        account=f"account {account.id}",
        sound=body.recording,
        steps=[Step("propose", CLOSER)],
        given={"recording": body.recording, "name": body.name},
        cost_s=_SECONDS_OF_A_PROPOSAL,
    )
    return json_of(wanted)


@api.post("/reference", responses={200: bodies.ComparisonBody})
def beside_the_reference(body: bodies.AuditionRequest) -> Response:
    """The sound beside the reference that it names: aligned, by band, with what stands apart."""
    return json_of(asked(body).step("reference"))
