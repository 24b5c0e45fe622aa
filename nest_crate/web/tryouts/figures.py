"""What is measured of a try-out: the mix, where two parts overlap, levels, a game's run."""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np
from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.errors import NotPossible
from nest_crate.catalogue.db.models import Sample
from nest_crate.core.tryout import PlaysGroup
from nest_crate.core.tryout.game import (
    distance_gain_db,
    distance_high_cut_hz,
    figures_of_run,
    run_of,
)
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.rendering import json_of
from nest_crate.web.tryouts.requests import TryOutRequest, loaded, played_by, render_of

__all__ = ["api"]

api = APIBlueprint(
    "tryout_figures", __name__, url_prefix="/api/tryouts", abp_tags=[Tag(name="try-outs")]
)


class MixRequest(TryOutRequest):
    round_number: int = Field(default=0, ge=0, le=100_000)
    stream: str = Field(default="", max_length=80)


class MixBody(BaseModel):
    """Figures of one round with what rings on after it; ``missing`` says by part why it is
    silent."""

    measures: bodies.MeasuresBody | None
    outline: bodies.OutlineBody
    spectrogram: bodies.SpectrogramBody
    length_s: float
    missing: dict[str, str]


@api.post("/mix", responses={200: MixBody, 422: Problem})
def mix_figures(body: MixRequest) -> Response:
    """Render one round and answer with its measures and pictures. A newer request of the same
    stream ends this one with 409."""
    account, tryout = current_account(), loaded(body)
    played = played_by(account, tryout, body.drafts)
    # Behind what is played: the next edit's hit shall not wait for figures.
    wanted = render_of(
        account,
        tryout,
        played,
        "tryout_mix",
        round=body.round_number,
        stream=body.stream,
        behind=True,
    )
    return json_of(wanted)


class OverlapRequest(TryOutRequest):
    first: str = Field(max_length=40)
    second: str = Field(max_length=40, description="The part that gives way")
    whole: bool = Field(default=False, description="The whole hit instead of its first 50 ms")
    plain: bool = Field(default=True, description="Ducking left out")
    stream: str = Field(default="", max_length=80)


class StretchBody(BaseModel):
    from_hz: float
    to_hz: float
    from_s: float
    to_s: float
    share: float


class OfferBody(BaseModel):
    kind: str
    value: float
    before_db: float
    after_db: float


class TogetherBody(BaseModel):
    sum_db: float
    inverted_db: float
    shift_s: float
    shifted_db: float


class TuningBody(BaseModel):
    first_hz: float
    second_hz: float
    semitones: int
    to_hz: float


class MeetingBody(BaseModel):
    from_s: float
    first_s: float
    second_s: float
    until_s: float


class JudgedBody(BaseModel):
    """Levels (bands, steps of 5 ms) of both parts where hits of them lie nearest to each other,
    what covers what, what the sum of their lows loses, and offers."""

    meeting: MeetingBody
    bands_hz: list[float]
    first_db: list[list[float]]
    second_db: list[list[float]]
    covered: list[list[int]]
    amount_db: float
    hidden_db: float
    stretches: list[StretchBody]
    together: TogetherBody
    offers: list[OfferBody]
    tuning: TuningBody | None


class OverlapBody(BaseModel):
    """``judged`` is null where one of the two is silent."""

    judged: JudgedBody | None


@api.post("/overlap", responses={200: OverlapBody, 422: Problem})
def overlap_of_parts(body: OverlapRequest) -> Response:
    """Where two parts cover each other."""
    account, tryout = current_account(), loaded(body)
    # Only the two are rendered, and only for them it is said what it costs.
    both = tryout.model_copy(
        update={
            "parts": tuple(one for one in tryout.parts if one.id in (body.first, body.second)),
            "ducks": tuple(
                one
                for one in tryout.ducks
                if {one.part, one.by} <= {body.first, body.second} and not body.plain
            ),
            "game": None,
        }
    )
    played = played_by(account, both, body.drafts)
    wanted = render_of(
        account,
        both,
        played,
        "tryout_overlap",
        stream=body.stream,
        first=body.first,
        second=body.second,
        plain=body.plain,
        seconds=None if body.whole else 0.05,
    )
    return json_of(wanted)


class LevelsBody(BaseModel):
    """By part, the level in dB at which all are equally loud."""

    levels: dict[str, float]


@api.post("/levels", responses={200: LevelsBody, 422: Problem})
def matched(body: TryOutRequest) -> Response:
    """Levels at which one hit of each part is as loud as the middle one is now."""
    account, tryout = current_account(), loaded(body)
    played = played_by(account, tryout, body.drafts)
    return json_of(render_of(account, tryout, played, "tryout_levels"))


class GameRequest(TryOutRequest):
    run: int = Field(default=1, ge=0, le=1_000_000, description="Another number, another run")
    count: int = Field(default=200, ge=2, le=1000)


class TriggerBody(BaseModel):
    at_s: float
    variation: int
    sample: int
    name: str
    pitch_semitones: float
    gain_db: float


class PairBody(BaseModel):
    first: str
    second: str
    times: int
    distance: float


class RunBody(BaseModel):
    """A run of hits as a game would trigger them, and what is heard of neighbours."""

    triggers: list[TriggerBody]
    distances: list[float]
    alike: list[PairBody]
    below: int
    soonest_repeat: int | None
    median_repeat: float | None
    soonest_repeat_s: float | None
    variations: int
    apart_count: int
    needed: int | None
    distance_gain_db: float
    high_cut_hz: float


@api.post("/game", responses={200: RunBody, 409: Problem, 422: Problem})
def game_run(body: GameRequest) -> Response:
    """A run of a variation group, triggered as the try-out's game test says."""
    tryout = loaded(body)
    game = tryout.game
    part = next((one for one in tryout.parts if game and one.id == game.part), None)
    if game is None or part is None or not isinstance(part.plays, PlaysGroup):
        raise NotPossible("A game test needs a part that plays a variation group")
    played = played_by(current_account(), tryout)
    there = [one for one in part.sample_ids if one in played.samples]
    if not there:
        raise NotPossible(played.missing.get(part.id, "The group has no samples"))
    plays = part.plays.model_copy(update={"samples": tuple(there)})
    run = run_of(game, plays, body.run, body.count)
    figures = figures_of_run(run, _vectors(there), game.apart)
    names = [played.samples[one].name for one in there]
    found: dict[str, Any] = asdict(figures)
    found["alike"] = [
        {**pair, "first": names[pair["first"]], "second": names[pair["second"]]}
        for pair in found["alike"]
    ]
    found["triggers"] = [
        {**asdict(one), "sample": there[one.variation], "name": names[one.variation]} for one in run
    ]
    answer = RunBody(
        **found,
        variations=len(there),
        distance_gain_db=distance_gain_db(game.distance_m),
        high_cut_hz=distance_high_cut_hz(game.distance_m),
    )
    return make_response(answer.model_dump())


def _vectors(sample_ids: list[int]) -> Any:
    """Features as they were measured; they have been asked for already."""
    with services().database.session() as session:
        rows = [session.get_one(Sample, one).features for one in sample_ids]
    return np.stack([np.frombuffer(row, dtype=np.float32) for row in rows])
