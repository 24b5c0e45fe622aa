"""Blind tests of sides: what they said, and new results."""

from __future__ import annotations

from datetime import datetime
from typing import Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.comparing.blind_tests import (
    blind_tests_of,
    keep_ranking,
    keep_trials,
)
from nest_crate.catalogue.db.shared_models import BlindTest
from nest_crate.core.comparing import told_apart_by_chance
from nest_crate.web.comparing.requests import SidesRequest, sides_of
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint(
    "blind_tests", __name__, url_prefix="/api/blind-tests", abp_tags=[Tag(name="comparisons")]
)


class BlindTestBody(BaseModel):
    """``chance``: how likely so many right answers are by guessing; of an A/B/X test alone.
    ``ranking`` has the places of the sides, the best first."""

    id: int
    by: str
    created: datetime
    kind: Literal["abx", "ranking"]
    names: list[str]
    trials: int
    correct: int
    chance: float | None
    ranking: list[int]


class BlindTestsBody(BaseModel):
    tests: list[BlindTestBody]


class TrialRequest(Form):
    was: int = Field(ge=0, le=1, description="Which side X was: 0 for A, 1 for B")
    said: int = Field(ge=0, le=1)


class BlindTestRequest(SidesRequest):
    """Trials of an A/B/X test, or a ranking."""

    answers: list[TrialRequest] = Field(default_factory=list, max_length=200)
    ranking: list[int] = Field(default_factory=list, max_length=4)


@api.post("/of-sides", responses={200: BlindTestsBody, 404: Problem, 422: Problem})
def list_tests(body: SidesRequest) -> Response:
    """What blind tests of just these sides said, newest first."""
    account = current_account()
    sides = sides_of(account, body.sides)
    with services().database.session() as session:
        tests = [_body(one) for one in blind_tests_of(session, account, sides)]
    return make_response(BlindTestsBody(tests=tests).model_dump(mode="json"))


@api.post("", responses={201: BlindTestBody, 403: Problem, 404: Problem, 409: Problem})
def keep_test(body: BlindTestRequest) -> tuple[Response, int]:
    """Keep what was heard in a blind test with the library of the sides."""
    account = current_account()
    sides = sides_of(account, body.sides)
    with services().database.session() as session:
        if body.ranking:
            test = keep_ranking(session, account, sides, body.ranking)
        else:
            answers = [(one.was, one.said) for one in body.answers]
            test = keep_trials(session, account, sides, answers)
        answer = _body(test)
    return make_response(answer.model_dump(mode="json")), 201


def _body(test: BlindTest) -> BlindTestBody:
    abx = test.kind == "abx"
    return BlindTestBody(
        id=test.id,
        by=test.account.name,
        created=test.created,
        kind="abx" if abx else "ranking",
        names=test.names,
        trials=test.trials,
        correct=test.correct,
        chance=told_apart_by_chance(test.correct, test.trials) if abx else None,
        ranking=test.ranking,
    )
