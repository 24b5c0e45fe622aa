"""Care for many samples: each plan is shown first, and carried out with ``apply``."""

from __future__ import annotations

from dataclasses import asdict

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.upkeep.batch_changes import (
    match_loudness,
    rename_samples,
    set_edits,
    trim_samples,
)
from nest_crate.catalogue.upkeep.duplicates import merge_samples
from nest_crate.catalogue.work.rerender import outdated_in
from nest_crate.core.dsp.util.trim import SoundEdits
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, IdsRequest, LibraryPath, SamplePath
from nest_crate.web.infra.problems import Problem
from nest_crate.web.work.running import watched

__all__ = ["api"]

api = APIBlueprint("care", __name__, url_prefix="/api", abp_tags=[Tag(name="libraries")])

_Fade = Field(default=0.0, ge=0.0, le=60.0, allow_inf_nan=False)


class RenameRequest(IdsRequest):
    template: str = Field(min_length=1, max_length=200)
    apply: bool = False


class NameChange(BaseModel):
    id: int
    before: str
    after: str


class RenameBody(BaseModel):
    names: list[NameChange]
    gesture: str | None


@api.post("/samples/rename", responses={200: RenameBody, 422: Problem})
def rename(body: RenameRequest) -> Response:
    """Names by template, shown or given."""
    with services().database.session() as session:
        plan, gesture = rename_samples(
            session, current_account(), body.ids, body.template, apply=body.apply
        )
    names = [NameChange(id=key, before=before, after=after) for key, before, after in plan]
    return make_response(RenameBody(names=names, gesture=gesture).model_dump())


class LoudnessRequest(IdsRequest):
    target_lufs: float = Field(ge=-60.0, le=0.0, allow_inf_nan=False)
    ceiling_dbtp: float = Field(default=-1.0, ge=-20.0, le=0.0, allow_inf_nan=False)
    apply: bool = False


class LoudnessRow(BaseModel):
    sample_id: int
    name: str
    from_lufs: float
    to_lufs: float
    gain_db: float
    held_back: bool


class LoudnessBody(BaseModel):
    rows: list[LoudnessRow]
    gesture: str | None


@api.post("/samples/loudness", responses={200: LoudnessBody, 422: Problem})
def loudness(body: LoudnessRequest) -> Response:
    """Bring samples to one loudness below a true peak, shown or done."""
    with watched() as progress, services().database.session() as session:
        plan, gesture = match_loudness(
            session,
            services().store,
            current_account(),
            body.ids,
            target_lufs=body.target_lufs,
            ceiling_dbtp=body.ceiling_dbtp,
            apply=body.apply,
            progress=progress,
        )
    rows = [LoudnessRow(**asdict(one)) for one in plan]
    return make_response(LoudnessBody(rows=rows, gesture=gesture).model_dump())


class TrimRequest(IdsRequest):
    fade_in_s: float = _Fade
    fade_out_s: float = _Fade
    apply: bool = False


class TrimRow(BaseModel):
    sample_id: int
    name: str
    start_s: float
    end_s: float


class TrimBody(BaseModel):
    rows: list[TrimRow]
    gesture: str | None


@api.post("/samples/trim", responses={200: TrimBody, 422: Problem})
def trim(body: TrimRequest) -> Response:
    """Leave out silence before and behind, shown or done; the files stay as they are."""
    with watched() as progress, services().database.session() as session:
        plan, gesture = trim_samples(
            session,
            services().store,
            current_account(),
            body.ids,
            fade_in_s=body.fade_in_s,
            fade_out_s=body.fade_out_s,
            apply=body.apply,
            progress=progress,
        )
        rows = [
            TrimRow(sample_id=one.id, name=one.name, start_s=edits.start_s, end_s=edits.end_s)
            for one, edits in plan
        ]
    return make_response(TrimBody(rows=rows, gesture=gesture).model_dump())


class EditsRequest(Form):
    base_version: int
    start_s: float = Field(default=0.0, ge=0.0, le=600.0, allow_inf_nan=False)
    end_s: float = Field(default=0.0, ge=0.0, le=600.0, allow_inf_nan=False)
    fade_in_s: float = _Fade
    fade_out_s: float = _Fade
    gain_db: float = Field(default=0.0, ge=-60.0, le=36.0, allow_inf_nan=False)


class GestureAnswer(BaseModel):
    gesture: str


class EditedBody(GestureAnswer):
    """``version`` is the sample's now: name it when changing again."""

    version: int


@api.put("/samples/<int:sample_id>/edits", responses={200: EditedBody, 409: Problem, 422: Problem})
def edits(path: SamplePath, body: EditsRequest) -> Response:
    """Start, end, fades and gain; 409 with both where someone changed them in between."""
    with services().database.session() as session:
        gesture, version = set_edits(
            session,
            services().store,
            current_account(),
            path.sample_id,
            SoundEdits(**body.model_dump(exclude={"base_version"})),
            base_version=body.base_version,
        )
    return make_response({"gesture": gesture, "version": version})


class MergeRequest(IdsRequest):
    keep: int


@api.post("/samples/merge", responses={200: GestureAnswer, 409: Problem})
def merge(body: MergeRequest) -> Response:
    """One sample takes over what others say; those go to the bin."""
    with services().database.session() as session:
        gesture = merge_samples(session, current_account(), body.keep, body.ids)
    return make_response({"gesture": gesture})


class OutdatedBody(BaseModel):
    ids: list[int]


@api.get("/libraries/<library:library_id>/outdated", responses={200: OutdatedBody, 404: Problem})
def outdated(path: LibraryPath) -> Response:
    """Samples whose sound has a newer revision than the one that made them."""
    with services().database.session() as session:
        ids = outdated_in(session, current_account(), path.library_id)
    return make_response({"ids": ids})
