"""Batches as documents: listed, made, opened, saved, copied, binned."""

from __future__ import annotations

from typing import Any

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.batch_models import Batch
from nest_crate.catalogue.families.batches import (
    BATCHES,
    begin_batch,
    create_batch,
    current_batch,
)
from nest_crate.core.families import Spread, load_batch
from nest_crate.core.sound.loading import validated
from nest_crate.web.families.requests import BatchPath
from nest_crate.web.infra.answers import moment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, SoundPath
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint("batches", __name__, url_prefix="/api", abp_tags=[Tag(name="batches")])


class BatchBody(BaseModel):
    """A batch in a list, with the sounds of its plan."""

    id: int
    sound_ids: list[int]
    name: str
    library_id: int
    library_name: str
    changed: str
    deleted: bool


class BatchDraftBody(BatchBody):
    """A batch with its plan; a save names ``version`` as the one it started from."""

    version: int
    document: dict[str, Any]


class BatchList(BaseModel):
    batches: list[BatchBody]


class BatchesQuery(BaseModel):
    binned: bool = False


class NewBatchRequest(Form):
    library_id: int
    document: dict[str, Any]


class BeginBatchRequest(Form):
    spreads: list[dict[str, Any]] = Field(default_factory=list, max_length=48)
    draws: int = Field(default=64, ge=1, le=5000)


class BatchDraftRequest(Form):
    base_version: int
    document: dict[str, Any]


class BatchMoveRequest(Form):
    library_id: int


class BatchBinRequest(Form):
    binned: bool


def _facts(batch: Batch) -> dict[str, Any]:
    sounds = {one["sound"] for one in batch.draft["sounds"] if one["sound"]}
    return {
        "id": batch.id,
        "sound_ids": sorted(sounds),
        "name": batch.name,
        "library_id": batch.library_id,
        "library_name": batch.library.name,
        "changed": moment(batch.changed),
        "deleted": batch.deleted is not None,
    }


def _draft(batch: Batch) -> Response:
    document = current_batch(batch.draft)
    return make_response({**_facts(batch), "version": batch.draft_version, "document": document})


@api.get("/batches", responses={200: BatchList})
def list_batches(query: BatchesQuery) -> Response:
    """All batches of the account's libraries, newest change first."""
    with services().database.session() as session:
        rows = BATCHES.listed(session, current_account(), binned=query.binned)
        return make_response({"batches": [_facts(one) for one in rows]})


@api.post("/batches", responses={201: BatchDraftBody, 422: Problem})
def new_batch(body: NewBatchRequest) -> tuple[Response, int]:
    """Create a batch from a plan."""
    plan = load_batch(body.document)
    with services().database.session() as session:
        made = create_batch(session, current_account(), library_id=body.library_id, plan=plan)
        return _draft(made), 201


@api.post("/sounds/<int:sound_id>/batches", responses={201: BatchDraftBody, 404: Problem})
def begin_one_batch(path: SoundPath, body: BeginBatchRequest) -> tuple[Response, int]:
    """Begin a batch around a sound."""
    spreads = tuple(validated(Spread, one) for one in body.spreads)
    with services().database.session() as session:
        made = begin_batch(
            session, current_account(), path.sound_id, spreads=spreads, draws=body.draws
        )
        return _draft(made), 201


@api.get("/batches/<int:batch_id>", responses={200: BatchDraftBody, 404: Problem})
def open_batch(path: BatchPath) -> Response:
    """A batch with its plan."""
    with services().database.session() as session:
        return _draft(BATCHES.require(session, current_account(), path.batch_id))


@api.put("/batches/<int:batch_id>/draft", responses={200: BatchDraftBody, 409: Problem})
def save_batch(path: BatchPath, body: BatchDraftRequest) -> Response:
    """Save the plan; 409 with both versions where someone saved in between."""
    plan = load_batch(body.document)
    with services().database.session() as session:
        saved = BATCHES.save(
            session,
            current_account(),
            path.batch_id,
            base_version=body.base_version,
            name=plan.name,
            data=plan.model_dump(mode="json"),
        )
        return _draft(saved)


@api.post("/batches/<int:batch_id>/copies", responses={201: BatchDraftBody, 403: Problem})
def copy_batch(path: BatchPath) -> tuple[Response, int]:
    """A copy of a batch's plan beside it, without its rounds."""
    account = current_account()
    with services().database.session() as session:
        batch = BATCHES.require(session, account, path.batch_id)
        plan = load_batch(batch.draft)
        copy = plan.model_copy(update={"name": f"{plan.name[:115]} copy"})
        made = create_batch(session, account, library_id=batch.library_id, plan=copy)
        return _draft(made), 201


@api.put("/batches/<int:batch_id>/library", responses={200: BatchDraftBody, 403: Problem})
def change_library_of_batch(path: BatchPath, body: BatchMoveRequest) -> Response:
    """Move a batch to another library."""
    with services().database.session() as session:
        return _draft(BATCHES.move(session, current_account(), path.batch_id, body.library_id))


@api.put("/batches/<int:batch_id>/bin", responses={204: None, 403: Problem})
def bin_one_batch(path: BatchPath, body: BatchBinRequest) -> Response:
    """Move a batch to the bin, or take it out."""
    with services().database.session() as session:
        BATCHES.bin(session, current_account(), path.batch_id, binned=body.binned)
    return make_response("", 204)
