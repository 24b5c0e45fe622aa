"""Try-outs as documents: listed, made, opened, saved, copied, binned."""

from __future__ import annotations

from typing import Any

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.tryout_models import TryOut
from nest_crate.catalogue.tryouts.beginning import begin_from_sound
from nest_crate.catalogue.tryouts.tryouts import (
    bin_tryout,
    create_tryout,
    current_tryout,
    duplicate_tryout,
    move_tryout,
    require_tryout,
    save_draft,
    tryouts_of,
)
from nest_crate.core.tryout import load_tryout
from nest_crate.core.tryout.patterns import PATTERNS
from nest_crate.web.infra.answers import moment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, SoundPath
from nest_crate.web.infra.problems import Problem
from nest_crate.web.tryouts.requests import TryOutPath

__all__ = ["api"]

api = APIBlueprint("tryouts", __name__, url_prefix="/api", abp_tags=[Tag(name="try-outs")])


class TryOutBody(BaseModel):
    """A try-out in a list, with the sounds whose drafts it plays."""

    id: int
    sound_ids: list[int]
    name: str
    library_id: int
    library_name: str
    changed: str
    deleted: bool


class TryOutDraftBody(TryOutBody):
    """A try-out with its document; a save names ``version`` as the one it started from."""

    version: int
    document: dict[str, Any]


class TryOutList(BaseModel):
    tryouts: list[TryOutBody]


class TryOutsQuery(BaseModel):
    binned: bool = False


class NewTryOutRequest(Form):
    library_id: int
    document: dict[str, Any]


class TryOutDraftRequest(Form):
    base_version: int
    document: dict[str, Any]


class PatternBody(BaseModel):
    name: str
    label: str
    tempo_bpm: float
    beats: float


class PatternsBody(BaseModel):
    patterns: list[PatternBody]


class BeginRequest(Form):
    pattern: str = Field(max_length=40)


class TryOutMoveRequest(Form):
    library_id: int


class TryOutBinRequest(Form):
    binned: bool


def _facts(tryout: TryOut) -> dict[str, Any]:
    plays = [part["plays"] for part in tryout.draft["parts"]]
    drafts = {one["sound"] for one in plays if one["kind"] == "sound" and not one["revision"]}
    return {
        "id": tryout.id,
        "sound_ids": sorted(drafts),
        "name": tryout.name,
        "library_id": tryout.library_id,
        "library_name": tryout.library.name,
        "changed": moment(tryout.changed),
        "deleted": tryout.deleted is not None,
    }


def _draft(tryout: TryOut) -> Response:
    body = {
        **_facts(tryout),
        "version": tryout.draft_version,
        "document": current_tryout(tryout.draft),
    }
    return make_response(body)


@api.get("/tryouts", responses={200: TryOutList})
def list_tryouts(query: TryOutsQuery) -> Response:
    """All try-outs of the account's libraries, newest change first."""
    with services().database.session() as session:
        rows = tryouts_of(session, current_account(), binned=query.binned)
        return make_response({"tryouts": [_facts(one) for one in rows]})


@api.get("/tryouts/patterns", responses={200: PatternsBody})
def stock_patterns() -> Response:
    """The stock patterns by which a try-out begins around a sound."""
    current_account()
    patterns = [
        PatternBody(name=name, label=one.label, tempo_bpm=one.tempo_bpm, beats=one.beats)
        for name, one in PATTERNS.items()
    ]
    return make_response(PatternsBody(patterns=patterns).model_dump())


@api.post("/tryouts", responses={201: TryOutDraftBody, 422: Problem})
def new_tryout(body: NewTryOutRequest) -> tuple[Response, int]:
    """Create a try-out from a document."""
    document = load_tryout(body.document)
    with services().database.session() as session:
        made = create_tryout(
            session, current_account(), library_id=body.library_id, document=document
        )
        return _draft(made), 201


@api.post("/sounds/<int:sound_id>/tryouts", responses={201: TryOutDraftBody, 404: Problem})
def begin_tryout(path: SoundPath, body: BeginRequest) -> tuple[Response, int]:
    """Begin a try-out around a sound by a stock pattern."""
    with services().database.session() as session:
        made = begin_from_sound(session, current_account(), path.sound_id, pattern=body.pattern)
        return _draft(made), 201


@api.get("/tryouts/<int:tryout_id>", responses={200: TryOutDraftBody, 404: Problem})
def open_tryout(path: TryOutPath) -> Response:
    """A try-out with its document."""
    with services().database.session() as session:
        return _draft(require_tryout(session, current_account(), path.tryout_id))


@api.put("/tryouts/<int:tryout_id>/draft", responses={200: TryOutDraftBody, 409: Problem})
def save_tryout(path: TryOutPath, body: TryOutDraftRequest) -> Response:
    """Save the document; 409 with both versions where someone saved in between."""
    document = load_tryout(body.document)
    with services().database.session() as session:
        saved = save_draft(
            session,
            current_account(),
            path.tryout_id,
            base_version=body.base_version,
            document=document,
        )
        return _draft(saved)


@api.post("/tryouts/<int:tryout_id>/copies", responses={201: TryOutDraftBody, 403: Problem})
def copy_tryout(path: TryOutPath) -> tuple[Response, int]:
    """A copy of a try-out beside it."""
    with services().database.session() as session:
        return _draft(duplicate_tryout(session, current_account(), path.tryout_id)), 201


@api.put("/tryouts/<int:tryout_id>/library", responses={200: TryOutDraftBody, 403: Problem})
def change_library_of_tryout(path: TryOutPath, body: TryOutMoveRequest) -> Response:
    """Move a try-out to another library."""
    with services().database.session() as session:
        return _draft(move_tryout(session, current_account(), path.tryout_id, body.library_id))


@api.put("/tryouts/<int:tryout_id>/bin", responses={204: None, 403: Problem})
def bin_one_tryout(path: TryOutPath, body: TryOutBinRequest) -> Response:
    """Put a try-out into the bin, or take it out."""
    with services().database.session() as session:
        bin_tryout(session, current_account(), path.tryout_id, binned=body.binned)
    return make_response("", 204)
