"""What is kept of a round: samples, a sound of its own, the plan as a file."""

from __future__ import annotations

import json

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.families.keeping import (
    KEPT_AT_ONCE,
    keep_members,
    plan_of,
    sound_of_member,
)
from nest_crate.catalogue.families.rounds import family_of, require_round
from nest_crate.web.families.requests import MemberPath, RoundPath
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import JSON, file_answer
from nest_crate.web.infra.forms import Form
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint(
    "family_kept", __name__, url_prefix="/api/rounds", abp_tags=[Tag(name="batches")]
)


class KeepMembersRequest(Form):
    numbers: list[int] = Field(min_length=1, max_length=KEPT_AT_ONCE)
    library_id: int


class KeptMembersBody(BaseModel):
    sample_ids: list[int]


class MadeSoundBody(BaseModel):
    sound_id: int


@api.post("/<int:round_id>/keep", responses={201: KeptMembersBody, 422: Problem})
def keep_as_samples(path: RoundPath, body: KeepMembersRequest) -> tuple[Response, int]:
    """Keep members as samples of one variation group."""
    account = current_account()
    with services().database.session() as session:
        made = require_round(session, account, path.round_id, "batch.edit")
        kept = keep_members(session, account, made, body.numbers, library_id=body.library_id)
    return make_response({"sample_ids": kept}), 201


@api.post(
    "/<int:round_id>/members/<int:number>/sound", responses={201: MadeSoundBody, 404: Problem}
)
def member_as_sound(path: MemberPath) -> tuple[Response, int]:
    """A member as a sound of its own, beside its original."""
    account = current_account()
    with services().database.session() as session:
        made = require_round(session, account, path.round_id, "batch.edit")
        sound = sound_of_member(session, account, made, path.number)
        identifier = sound.id
    return make_response({"sound_id": identifier}), 201


@api.get(
    "/<int:round_id>/plan", responses={200: file_answer(JSON, description="The plan"), 404: Problem}
)
def plan_file(path: RoundPath) -> Response:
    """The plan of a round with its sounds in it, for the command line."""
    with services().database.session() as session:
        made = require_round(session, current_account(), path.round_id)
        family = family_of(session, made)
    data = json.dumps(plan_of(family), indent=1, ensure_ascii=False)
    response = make_response(data)
    response.headers["Content-Type"] = "application/json"
    return response
