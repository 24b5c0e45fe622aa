"""What a page needs to play a try-out live: the plan of a round, hits and beds as audio."""

from __future__ import annotations

from dataclasses import asdict, replace
from typing import Any

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.tryouts.playing import Played
from nest_crate.core.sound import load_sound
from nest_crate.core.tryout import (
    Part,
    PlacedHit,
    PlaysBed,
    PlaysGroup,
    PlaysSound,
    TryOut,
    load_tryout,
    placed,
)
from nest_crate.core.tryout.mixing import duck_points
from nest_crate.jobs.rendering.admission import Step
from nest_crate.web.infra.context import current_account
from nest_crate.web.infra.declared_files import FLAC, WAV, file_answer
from nest_crate.web.infra.forms import Form
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.rendering import HEARD, heard_of, of_sound
from nest_crate.web.tryouts.requests import (
    DraftSound,
    TryOutRequest,
    loaded,
    played_by,
    render_of,
    sample_given,
)

__all__ = ["api"]

api = APIBlueprint(
    "tryouts_played", __name__, url_prefix="/api/tryouts", abp_tags=[Tag(name="try-outs")]
)


class PlanRequest(TryOutRequest):
    round_number: int = Field(default=0, ge=0, le=100_000)


class EventBody(BaseModel):
    """A hit as it is heard in a round."""

    part: str
    hit: int
    at_s: float
    notes: list[int]
    velocity: int
    hold_s: float | None
    macros: dict[str, float]
    sample: int | None
    until_s: float | None


class DuckPointBody(BaseModel):
    at_s: float
    gain_db: float


class DuckBody(BaseModel):
    """How far a part is pulled down by one duck, in dB, with straight lines between the points."""

    part: str
    by: str
    points: list[DuckPointBody]


class SourceBody(BaseModel):
    """What a part plays: its name, and ``key`` that changes where its audio does; ``missing`` says
    why it is silent."""

    part: str
    name: str
    kind: str
    about: str
    key: str
    missing: str
    own_note: int | None = None
    length_s: float | None = None


class PlanBody(BaseModel):
    """A round: its hits in order of time, gains, sources. ``varies``: rounds differ."""

    events: list[EventBody]
    ducks: list[DuckBody]
    sources: list[SourceBody]
    varies: bool
    length_s: float


@api.post("/plan", responses={200: PlanBody, 422: Problem})
def plan(body: PlanRequest) -> Response:
    """What is heard in one round, and when; nothing is rendered for it."""
    tryout = loaded(body)
    played = played_by(current_account(), tryout, body.drafts)
    events = placed(tryout, body.round_number)
    found = PlanBody(
        events=[EventBody(**{**asdict(one), "macros": dict(one.macros)}) for one in events],
        ducks=_ducks(tryout, _times(events)),
        sources=[_source(part, played) for part in tryout.parts],
        varies=_varies(tryout),
        length_s=tryout.length_s,
    )
    return make_response(found.model_dump())


def _times(events: list[Any]) -> dict[str, list[float]]:
    found: dict[str, list[float]] = {}
    for event in events:
        found.setdefault(event.part, []).append(event.at_s)
    return found


def _ducks(tryout: TryOut, times: dict[str, list[float]]) -> list[DuckBody]:
    return [
        DuckBody(
            part=duck.part,
            by=duck.by,
            points=[
                DuckPointBody(at_s=at_s, gain_db=gain_db)
                for at_s, gain_db in duck_points(duck, times[duck.by])
            ],
        )
        for duck in tryout.ducks
        if times.get(duck.by)
    ]


def _varies(tryout: TryOut) -> bool:
    by_chance = any(hit.chance < 1.0 for part in tryout.parts for hit in part.hits)
    groups = [part.plays for part in tryout.parts if isinstance(part.plays, PlaysGroup)]
    return by_chance or any(one.choice != "velocity" for one in groups)


def _source(part: Part, played: Played) -> SourceBody:
    plays = part.plays
    missing = played.missing.get(part.id, "")
    if isinstance(plays, PlaysSound):
        sound = played.sounds.get(plays.key)
        if sound is None:
            return _silent(part, "sound", missing)
        return SourceBody(
            part=part.id,
            name=sound.name,
            kind="sound",
            about="draft" if plays.revision is None else sound.version,
            key=f"sound {plays.key} {sound.version}",
            missing=missing,
            own_note=int(sound.document["hit"]["note"]),
        )
    there = [played.samples[one] for one in part.sample_ids if one in played.samples]
    if not there:
        return _silent(part, plays.kind, missing)
    name = (there[0].group or there[0].name) if isinstance(plays, PlaysGroup) else there[0].name
    versions = " ".join(f"{one.digest[:12]}.{one.version}" for one in there)
    return SourceBody(
        part=part.id,
        name=name,
        kind=plays.kind,
        about=_about(plays, len(there)),
        key=f"{plays.kind} {versions}",
        missing=missing,
        length_s=max(one.length_s for one in there),
    )


def _about(plays: Any, count: int) -> str:
    if isinstance(plays, PlaysGroup):
        return f"group of {count}"
    if isinstance(plays, PlaysBed):
        follows = plays.follow and plays.tempo_bpm > 0.0
        return f"bed at {plays.tempo_bpm:g} bpm, follows" if follows else "bed, as it is"
    return "sample"


def _silent(part: Part, kind: str, missing: str) -> SourceBody:
    return SourceBody(
        part=part.id, name=part.name, kind=kind, about="missing", key="", missing=missing
    )


class HitRequest(Form):
    """One hit of a part: of its sound at the tempo, or of a sample, which is given as it is."""

    plays: dict[str, Any]
    tempo_bpm: float = Field(default=120.0, ge=20.0, le=400.0)
    notes: list[int] = Field(default_factory=list, max_length=16)
    velocity: int = Field(default=100, ge=1, le=127)
    hold_s: float | None = Field(default=None, ge=0.0, le=60.0)
    macros: dict[str, float] = Field(default_factory=dict, max_length=8)
    sample: int | None = Field(default=None, description="Which one of a group")
    draft: dict[str, Any] | None = Field(
        default=None, description="The sound as it is being edited"
    )


def _one_part(plays: dict[str, Any], hit: dict[str, Any] | None, tempo_bpm: float) -> TryOut:
    """A try-out of one part, so that what plays is checked by the document's own rules."""
    hits = [] if hit is None else [hit]
    part = {"id": "one", "name": "One", "plays": plays, "hits": hits}
    return load_tryout({"name": "One", "tempo_bpm": tempo_bpm, "parts": [part]})


@api.post("/hits", responses={200: file_answer(WAV, FLAC), 404: Problem, 422: Problem})
def play_placed_hit(body: HitRequest) -> Response:
    """One hit as float WAV or FLAC at 48 kHz."""
    account = current_account()
    hit = body.model_dump(include={"notes", "velocity", "hold_s", "macros"})
    tryout = _one_part(body.plays, hit, body.tempo_bpm)
    part = tryout.parts[0]
    if isinstance(part.plays, PlaysSound):
        return _sound_hit(body, tryout, part.plays, part.hits[0])
    played = played_by(account, tryout)
    wanted = body.sample if body.sample is not None else part.sample_ids[0]
    if wanted not in played.samples:
        raise NotFound(played.missing.get(part.id, f"The part has no sample {wanted}"))
    given = render_of(account, tryout, Played(), "tryout_hit", sample=sample_given(played, wanted))
    return heard_of(replace(given, steps=[Step("tryout_hit", HEARD)]))


def _sound_hit(body: HitRequest, tryout: TryOut, plays: PlaysSound, hit: PlacedHit) -> Response:
    drafts = [] if body.draft is None else [DraftSound(sound_id=plays.sound, document=body.draft)]
    played = played_by(current_account(), tryout, drafts)
    found = played.sounds.get(plays.key)
    if found is None:
        raise NotFound(played.missing["one"])
    sound = load_sound(found.document)
    event = {
        "notes": list(hit.notes),
        "velocity": hit.velocity,
        "hold_s": hit.hold_s,
        "macros": hit.macros,
    }
    asked = of_sound(sound, sound.hit)
    return heard_of(asked.step("tryout_hit", HEARD, event=event, tempo_bpm=body.tempo_bpm))


class BedRequest(Form):
    plays: dict[str, Any]
    tempo_bpm: float = Field(ge=20.0, le=400.0)
    length_s: float = Field(ge=0.1, le=120.0)


@api.post("/beds", responses={200: file_answer(WAV, FLAC), 404: Problem, 422: Problem})
def play_bed(body: BedRequest) -> Response:
    """A bed for one round, stretched where it follows the tempo, as float WAV or FLAC at 48 kHz."""
    account = current_account()
    tryout = _one_part(body.plays, None, body.tempo_bpm)
    part = tryout.parts[0]
    if not isinstance(part.plays, PlaysBed):
        raise NotFound("This part is no bed")
    played = played_by(account, tryout)
    if part.plays.sample not in played.samples:
        raise NotFound(played.missing["one"])
    given = render_of(
        account,
        tryout,
        Played(),
        "tryout_bed",
        bed=part.plays.model_dump(mode="json"),
        sample=sample_given(played, part.plays.sample),
        tempo_bpm=body.tempo_bpm,
        length_s=body.length_s,
    )
    return heard_of(replace(given, steps=[Step("tryout_bed", HEARD)]))
