"""Rounds of a batch: run, looked at, stopped, gone on with, drawn anew, judged."""

from __future__ import annotations

from pathlib import Path
from typing import Any, Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field
from sqlalchemy import case, func, select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.batch_models import BatchMember, BatchRound
from nest_crate.catalogue.db.job_models import Job, JobItem
from nest_crate.catalogue.families.batches import BATCHES
from nest_crate.catalogue.families.judged import judged, thinned
from nest_crate.catalogue.families.rounds import (
    begin_round,
    go_on,
    redraw,
    require_round,
    rounds_of,
    set_verdicts,
    stop_round,
)
from nest_crate.core.families import MAX_MEMBERS, load_batch
from nest_crate.jobs.waking import wake, work_soon
from nest_crate.web.families.requests import BatchPath, RoundPath
from nest_crate.web.infra.answers import moment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint("rounds", __name__, url_prefix="/api", abp_tags=[Tag(name="batches")])


class RoundBody(BaseModel):
    """A round: ``running`` while members are being made; ``done`` of ``count`` there are, of which
    some ``failed``; ``problem`` why work on it could not go on."""

    id: int
    number: int
    parent_id: int | None
    picked: list[int]
    away: bool
    count: int
    done: int
    failed: int
    kept: int
    rejected: int
    running: bool
    problem: str
    created: str
    created_by: int


class RoundsBody(BaseModel):
    rounds: list[RoundBody]


class RoundDetailBody(RoundBody):
    """A round with the plan that it was run of, and the figures of each sound as it is."""

    batch_id: int
    plan: dict[str, Any]
    originals: dict[str, Any]


class RunRoundRequest(Form):
    base_version: int
    document: dict[str, Any]
    parent: int | None = Field(default=None, description="The round whose members were picked")
    picked: list[int] = Field(default_factory=list, max_length=5)
    away: bool = Field(default=False, description="Far from what was picked instead of near")


class VerdictBody(Form):
    number: int = Field(ge=1)
    verdict: Literal["", "kept", "rejected"] | None = None
    starred: bool | None = None


class VerdictsRequest(Form):
    changes: list[VerdictBody] = Field(min_length=1, max_length=MAX_MEMBERS)


class MemberNumbersRequest(Form):
    numbers: list[int] = Field(min_length=1, max_length=5000)


class ThinRequest(Form):
    count: int = Field(ge=1, le=5000)
    by: str = Field(default="apart", max_length=20, description="apart, or a figure to climb")
    among: list[int] | None = Field(default=None, max_length=MAX_MEMBERS)


class ThinnedBody(BaseModel):
    numbers: list[int]


class JudgedRoundBody(BaseModel):
    """Of rendered members by number: the nearest other, distances, what stands out; the order by
    likeness; the median distance of neighbours."""

    numbers: list[int]
    nearest: list[int | None]
    nearest_distance: list[float | None]
    original_distance: list[float | None]
    marks: list[list[str]]
    by_likeness: list[int]
    median_distance: float | None


def _body(session: Session, made: BatchRound) -> RoundBody:
    found = session.execute(
        select(
            func.count(),
            func.count(BatchMember.file_digest),
            # Counted, for a sum of truths would be read as one truth.
            func.count(case((BatchMember.verdict == "kept", 1))),
            func.count(case((BatchMember.verdict == "rejected", 1))),
        ).where(BatchMember.round_id == made.id)
    ).one()
    total, done, kept, rejected = (int(one) for one in found)
    running = False
    problem = ""
    if made.job_id is not None:
        state = session.scalar(select(Job.state).where(Job.id == made.job_id))
        running = state == "running"
        failed = select(JobItem.words).where(
            JobItem.job_id == made.job_id, JobItem.state == "failed"
        )
        problem = session.scalar(failed.limit(1)) or ""
    return RoundBody(
        id=made.id,
        number=made.number,
        parent_id=made.parent_id,
        picked=made.picked,
        away=bool(made.plan.get("away")),
        count=made.count,
        done=done,
        failed=total - done,
        kept=kept,
        rejected=rejected,
        running=running,
        problem=problem,
        created=moment(made.created),
        created_by=made.created_by_id,
    )


def _detail(session: Session, made: BatchRound) -> Response:
    plan = load_batch(made.plan).model_dump(mode="json")
    originals = {key: one["figures"] for key, one in made.originals.items()}
    body = RoundDetailBody(
        **_body(session, made).model_dump(),
        batch_id=made.batch_id,
        plan=plan,
        originals=originals,
    )
    return make_response(body.model_dump())


def _woken(response: Response) -> Response:
    wake(Path(services().settings.run_folder))
    return response


@api.post("/batches/<int:batch_id>/ready", responses={204: None, 404: Problem})
def workers_ready(path: BatchPath) -> Response:
    """A round will be run soon: workers are started, so that its first members come at once."""
    with services().database.session() as session:
        BATCHES.require(session, current_account(), path.batch_id, "batch.edit")
    work_soon(Path(services().settings.run_folder), path.batch_id)
    return make_response("", 204)


@api.get("/batches/<int:batch_id>/rounds", responses={200: RoundsBody, 404: Problem})
def list_rounds(path: BatchPath) -> Response:
    """The rounds of a batch in their order; each names the round that it was bred from."""
    with services().database.session() as session:
        rows = rounds_of(session, current_account(), path.batch_id)
        found = RoundsBody(rounds=[_body(session, one) for one in rows])
    return make_response(found.model_dump())


@api.post("/batches/<int:batch_id>/rounds", responses={201: RoundDetailBody, 409: Problem})
def run_round(path: BatchPath, body: RunRoundRequest) -> tuple[Response, int]:
    """Save the plan and run a round of it."""
    plan = load_batch(body.document)
    with services().database.session() as session:
        made = begin_round(
            session,
            current_account(),
            path.batch_id,
            base_version=body.base_version,
            plan=plan,
            parent=body.parent,
            picked=body.picked,
            away=body.away,
            vocabularies=services().vocabularies,
        )
        response = _detail(session, made)
    return _woken(response), 201


@api.get("/rounds/<int:round_id>", responses={200: RoundDetailBody, 404: Problem})
def one_round(path: RoundPath) -> Response:
    """How far a round is, with its plan."""
    with services().database.session() as session:
        return _detail(session, require_round(session, current_account(), path.round_id))


@api.post("/rounds/<int:round_id>/stop", responses={200: RoundDetailBody, 404: Problem})
def stop_one_round(path: RoundPath) -> Response:
    """Make no more members; those that there are stay."""
    with services().database.session() as session:
        made = require_round(session, current_account(), path.round_id, "batch.edit", lock=True)
        stop_round(session, made)
        return _detail(session, made)


@api.post("/rounds/<int:round_id>/go-on", responses={200: RoundDetailBody, 404: Problem})
def go_on_with_round(path: RoundPath) -> Response:
    """Make the members that are missing."""
    account = current_account()
    with services().database.session() as session:
        made = require_round(session, account, path.round_id, "batch.edit", lock=True)
        go_on(session, account, made)
        session.flush()
        response = _detail(session, made)
    return _woken(response)


@api.post("/rounds/<int:round_id>/redraw", responses={200: RoundDetailBody, 422: Problem})
def draw_others(path: RoundPath, body: MemberNumbersRequest) -> Response:
    """Make other members in the place of some."""
    account = current_account()
    with services().database.session() as session:
        made = require_round(session, account, path.round_id, "batch.edit", lock=True)
        redraw(session, account, made, body.numbers)
        session.flush()
        response = _detail(session, made)
    return _woken(response)


@api.put("/rounds/<int:round_id>/verdicts", responses={204: None, 422: Problem})
def judge_members(path: RoundPath, body: VerdictsRequest) -> Response:
    """Keep, reject or star members."""
    changes = {
        one.number: one.model_dump(exclude={"number"}, exclude_none=True) for one in body.changes
    }
    with services().database.session() as session:
        made = require_round(session, current_account(), path.round_id, "batch.edit")
        set_verdicts(session, made, changes)
    return make_response("", 204)


@api.get("/rounds/<int:round_id>/judged", responses={200: JudgedRoundBody, 404: Problem})
def judge_round(path: RoundPath) -> Response:
    """Distances within the round, and what stands out, of the members that there are by now."""
    with services().database.session() as session:
        found = judged(session, require_round(session, current_account(), path.round_id))
    return make_response(JudgedRoundBody(**vars(found)).model_dump())


@api.post("/rounds/<int:round_id>/thin", responses={200: ThinnedBody, 422: Problem})
def thin_round(path: RoundPath, body: ThinRequest) -> Response:
    """Which members to choose; nothing is changed."""
    with services().database.session() as session:
        made = require_round(session, current_account(), path.round_id)
        numbers = thinned(session, made, body.count, by=body.by, among=body.among)
    return make_response({"numbers": numbers})
