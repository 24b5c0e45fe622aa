"""What a plan would come to, before anything is run."""

from __future__ import annotations

import os
from typing import Any, Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.families.batches import documents_of
from nest_crate.core.errors import DocumentError
from nest_crate.core.families import Family, base_values, count_of, load_batch
from nest_crate.core.sound import Sound, dump_sound
from nest_crate.core.sound.recipe import part_name
from nest_crate.core.sound.targets import targets_of
from nest_crate.web.families.requests import family_render
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.rendering import CLOSER, SEEN, json_of

__all__ = ["api"]

api = APIBlueprint(
    "batch_plans", __name__, url_prefix="/api/batches", abp_tags=[Tag(name="batches")]
)

_PROBED, _MEASURED = 12, 100


class BatchPlanRequest(Form):
    document: dict[str, Any]


class BatchProbeRequest(BatchPlanRequest):
    stream: str = Field(default="", max_length=80)


class PlannedSpreadBody(BaseModel):
    """A spread as it is drawn: the sound's own value and both ends; ``clipped``: it reached past
    what the number allows."""

    target: str
    base: float
    low: float
    high: float
    clipped: bool


class PlanNumberBody(BaseModel):
    """A number that can be spread, with its place and what is declared of it."""

    target: str
    owner: str
    label: str
    unit: str
    scale: str
    minimum: float
    maximum: float
    whole: bool
    base: float


class PlannedSoundBody(BaseModel):
    """A sound of the plan; ``name`` is empty where it is gone."""

    id: str
    name: str
    count: int
    note: int
    velocity: int
    hold_s: float
    macros: dict[str, str]
    spreads: list[PlannedSpreadBody]
    numbers: list[PlanNumberBody]


class PlanProblemBody(BaseModel):
    path: str
    message: str


class PlanFiguresBody(BaseModel):
    """How many members there are; ``problems`` why it cannot be run."""

    count: int
    workers: int
    sounds: list[PlannedSoundBody]
    problems: list[PlanProblemBody]


class BatchProbeProblemBody(BaseModel):
    number: int
    words: str


class BatchProbeBody(BaseModel):
    """Of a few members that were rendered: the median of their distances, and means a member of
    length, bytes, and seconds that it takes one worker."""

    count: int
    probed: int
    median_distance: float | None
    length_s: float
    bytes: float
    member_s: float
    problems: list[BatchProbeProblemBody]


class SuggestSpreadsRequest(Form):
    document: dict[str, Any]
    sound: str = Field(max_length=40, description="Which sound of the plan")
    aim: Literal["timbre", "level_pitch"] = "timbre"


class SuggestionsBody(BaseModel):
    spreads: list[dict[str, Any]]
    measured: int


def _workers() -> int:
    """How many members are made at a time, as far as this process knows."""
    return services().settings.job_threads or max(1, (os.cpu_count() or 2) - 1)


@api.post("/figures", responses={200: PlanFiguresBody, 422: Problem})
def plan_figures(body: BatchPlanRequest) -> Response:
    """Count a plan, and say what can be spread; nothing is rendered."""
    plan = load_batch(body.document)
    with services().database.session() as session:
        documents = documents_of(session, current_account(), plan)
    problems: list[PlanProblemBody] = []
    ranges: dict[str, list[PlannedSpreadBody]] = {}
    try:
        family = Family(plan, documents)
        for key, drawn in family.ranges.items():
            ranges[key] = [
                PlannedSpreadBody(
                    target=one.spread.target,
                    base=one.base,
                    low=one.low,
                    high=one.high,
                    clipped=one.clipped,
                )
                for one in drawn
            ]
    except DocumentError as error:
        problems = [PlanProblemBody(path=one.path, message=one.message) for one in error.problems]
    sounds = [_planned(one, documents.get(one.id), ranges.get(one.id, [])) for one in plan.sounds]
    found = PlanFiguresBody(
        count=sum(count_of(one) for one in plan.sounds),
        workers=_workers(),
        sounds=sounds,
        problems=problems,
    )
    return make_response(found.model_dump())


def _planned(
    planned: Any, sound: Sound | None, spreads: list[PlannedSpreadBody]
) -> PlannedSoundBody:
    if sound is None:
        return PlannedSoundBody(
            id=planned.id,
            name="",
            count=count_of(planned),
            note=60,
            velocity=100,
            hold_s=0.0,
            macros={},
            spreads=[],
            numbers=[],
        )
    targets = targets_of(sound)
    bases = base_values(sound, targets)
    numbers = [
        PlanNumberBody(
            target=target,
            owner=part_name(sound, target.split(".", 1)[0]),
            label=one.label,
            unit=one.unit,
            scale=one.scale,
            minimum=one.minimum,
            maximum=one.maximum,
            whole=one.whole,
            base=bases[target],
        )
        for target, one in targets.items()
        if "source.mode" not in target
    ]
    macros = {one.id: one.name for one in sound.movers if one.kind == "macro"}
    return PlannedSoundBody(
        id=planned.id,
        name=sound.name,
        count=count_of(planned),
        note=sound.hit.note,
        velocity=sound.hit.velocity,
        hold_s=sound.hit.hold_s,
        macros=macros,
        spreads=spreads,
        numbers=numbers,
    )


@api.post("/probe", responses={200: BatchProbeBody, 422: Problem})
def probe_plan(body: BatchProbeRequest) -> Response:
    """Render a few members of a plan and measure them. A newer request of the same stream ends
    this one with 409."""
    account, plan = current_account(), load_batch(body.document)
    with services().database.session() as session:
        family = Family(plan, documents_of(session, account, plan))
    wanted = family_render(
        account,
        family,
        "family_probe",
        CLOSER,
        renders=_PROBED,
        stream=body.stream,
        behind=True,
    )
    return json_of(wanted)


@api.post("/suggestions", responses={200: SuggestionsBody, 422: Problem})
def suggest_spreads(body: SuggestSpreadsRequest) -> Response:
    """Measure which numbers change a sound, and suggest spreads of them."""
    account, plan = current_account(), load_batch(body.document)
    with services().database.session() as session:
        documents = documents_of(session, account, plan)
    if body.sound not in documents:
        raise NotFound("This sound is gone, or you may no longer see it")
    family = Family(plan.model_copy(update={"sounds": plan.sounds[:1]}), documents)
    sound = documents[body.sound]
    wanted = family_render(
        account,
        family,
        "family_suggest",
        SEEN,
        renders=_MEASURED,
        behind=True,
        document=dump_sound(sound),
        aim=body.aim,
    )
    return json_of(wanted)
