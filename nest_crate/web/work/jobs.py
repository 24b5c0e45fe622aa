"""Long work that goes on by itself: begun, looked at, stopped, made use of or forgotten."""

from __future__ import annotations

from pathlib import Path

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.job_models import JobItem
from nest_crate.catalogue.work.jobs import (
    JobState,
    finished_items,
    forget_job,
    jobs_of,
    own_job,
    state_of,
    stop_job,
)
from nest_crate.catalogue.work.rerender import begin_rerender, heard_render, replace_by_rerender
from nest_crate.jobs.waking import wake
from nest_crate.web.infra.answers import moment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import WAV, file_answer
from nest_crate.web.infra.forms import Form, IdsRequest
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint("jobs", __name__, url_prefix="/api", abp_tags=[Tag(name="jobs")])

_ROWS = 500


class JobPath(BaseModel):
    job_id: int


class JobFilePath(JobPath):
    position: int


class JobBody(BaseModel):
    """``state``: running, done or stopped. ``seconds`` since it began, or that it took."""

    id: int
    kind: str
    title: str
    state: str
    of: int
    done: int
    failed: int
    seconds: float
    created: str


class JobList(BaseModel):
    jobs: list[JobBody]


def _job(state: JobState) -> JobBody:
    return JobBody(
        id=state.job.id,
        kind=state.job.kind,
        title=state.job.title,
        state=state.job.state,
        of=state.of,
        done=state.done,
        failed=state.failed,
        seconds=round(state.seconds, 3),
        created=moment(state.job.created),
    )


@api.get("/jobs", responses={200: JobList})
def list_jobs() -> Response:
    """One's own long work that is under way or has not been made use of, the newest first."""
    with services().database.session() as session:
        jobs = [_job(one).model_dump() for one in jobs_of(session, current_account())]
    return make_response({"jobs": jobs})


@api.get("/jobs/<int:job_id>", responses={200: JobBody, 404: Problem})
def one_job(path: JobPath) -> Response:
    """How far work of one's own is."""
    with services().database.session() as session:
        body = _job(state_of(session, own_job(session, current_account(), path.job_id)))
    return make_response(body.model_dump())


@api.post("/jobs/<int:job_id>/stop", responses={204: None, 404: Problem})
def stop(path: JobPath) -> Response:
    """Begin no more of it; what is done can be made use of."""
    with services().database.session() as session:
        stop_job(session, current_account(), path.job_id)
    return make_response("", 204)


@api.delete("/jobs/<int:job_id>", responses={204: None, 404: Problem})
def forget(path: JobPath) -> Response:
    """Discard work with all that came of it."""
    with services().database.session() as session:
        forget_job(session, current_account(), path.job_id)
    return make_response("", 204)


class RerenderRequest(IdsRequest):
    sample_rate: int | None = Field(default=None, description="Each its own where left out")
    newest: bool = Field(default=False, description="Of the newest revision of its sound")


@api.post("/samples/rerender", responses={201: JobBody, 409: Problem, 422: Problem})
def rerender(body: RerenderRequest) -> Response:
    """Render samples again beside what they are; nothing is changed before ``replace``."""
    with services().database.session() as session:
        job = begin_rerender(
            session,
            current_account(),
            body.ids,
            sample_rate=body.sample_rate,
            newest=body.newest,
        )
        made = _job(state_of(session, job))
    wake(Path(services().settings.run_folder))
    return make_response(made.model_dump(), 201)


class RerenderFigures(BaseModel):
    length_s: float
    peak_db: float
    loudness_lufs: float
    note: str | None
    cents: float | None


class RerenderedBody(BaseModel):
    """A new render beside the present audio. ``likeness`` is the distance in features, 0 where
    there is no difference; ``same`` whether not one number differs."""

    revision: int
    sample_rate: int
    same: bool
    likeness: float
    before: RerenderFigures
    after: RerenderFigures


class RerenderRow(BaseModel):
    """What became of one sample: a render, or words why there is none."""

    position: int
    sample_id: int
    name: str
    words: str | None
    rendered: RerenderedBody | None


class RerenderRows(BaseModel):
    """How far it is, and finished rows behind the position that was asked for, in their order."""

    job: JobBody
    rows: list[RerenderRow]


class AfterQuery(BaseModel):
    after: int = Field(default=-1, ge=-1, description="The position of the last row one has")


def _row(item: JobItem) -> RerenderRow:
    made = None
    if item.result is not None:
        made = RerenderedBody(**{name: item.result[name] for name in RerenderedBody.model_fields})
    return RerenderRow(
        position=item.position,
        sample_id=item.wanted["sample_id"],
        name=item.wanted["name"],
        words=item.words or None,
        rendered=made,
    )


@api.get("/jobs/<int:job_id>/renders", responses={200: RerenderRows, 404: Problem})
def renders(path: JobPath, query: AfterQuery) -> Response:
    """New renders so far, to be looked at and heard."""
    with services().database.session() as session:
        job = own_job(session, current_account(), path.job_id)
        # Counted first: rows that end meanwhile are found by the next look.
        state = _job(state_of(session, job))
        items = finished_items(session, job, after=query.after, limit=_ROWS)
        body = RerenderRows(job=state, rows=[_row(one) for one in items])
    return make_response(body.model_dump())


@api.get(
    "/jobs/<int:job_id>/renders/<int:position>.wav", responses={200: file_answer(WAV), 404: Problem}
)
def render_file(path: JobFilePath) -> Response:
    """A new render as it would be heard."""
    with services().database.session() as session:
        data = heard_render(
            session, services().store, current_account(), path.job_id, path.position
        )
    response = make_response(data)
    response.headers["Content-Type"] = "audio/wav"
    response.headers["Cache-Control"] = "private, max-age=86400"
    return response


class ReplaceRequest(Form):
    sample_ids: list[int] = Field(min_length=1, max_length=5000)


class StayedBody(BaseModel):
    sample_id: int
    words: str


class ReplacedBody(BaseModel):
    """How many took their places, under which gesture to undo it by, and what stayed as it was."""

    gesture: str | None
    count: int
    stayed: list[StayedBody]


@api.post("/jobs/<int:job_id>/replace", responses={200: ReplacedBody, 403: Problem, 404: Problem})
def replace(path: JobPath, body: ReplaceRequest) -> Response:
    """Put new renders in the place of samples' audio, as they were heard."""
    with services().database.session() as session:
        made = replace_by_rerender(
            session, current_account(), path.job_id, frozenset(body.sample_ids)
        )
    stayed = [StayedBody(sample_id=key, words=words) for key, words in made.stayed]
    answer = ReplacedBody(gesture=made.gesture, count=made.count, stayed=stayed)
    return make_response(answer.model_dump())
