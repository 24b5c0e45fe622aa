"""Samples: found, looked at, heard, changed one by one or many at once."""

from __future__ import annotations

import base64
from typing import Any, Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.samples.edits import (
    bin_samples,
    change_sample,
    change_samples,
    edits_of,
    move_samples,
    samples_for,
)
from nest_crate.catalogue.samples.fields import FIELDS, SampleChanges
from nest_crate.catalogue.samples.fields import Tag as SampleTag
from nest_crate.catalogue.samples.statuses import Status
from nest_crate.catalogue.samples.takes import require_sample, sample_file
from nest_crate.catalogue.samples.undo import undo_gesture
from nest_crate.catalogue.search import RangeFacet, SampleQuery
from nest_crate.catalogue.search.account_search import Page, found_ids, search_samples
from nest_crate.core.analysis.features.tags import suggested_tags
from nest_crate.core.sound import load_hit, load_sound
from nest_crate.core.sound.recipe import recipe
from nest_crate.web import bodies
from nest_crate.web.infra.answers import attachment, moment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import WAV, file_answer
from nest_crate.web.infra.forms import Form, IdsRequest, SamplePath
from nest_crate.web.infra.problems import Problem

__all__ = ["api", "sample_body"]

api = APIBlueprint("samples", __name__, url_prefix="/api", abp_tags=[Tag(name="libraries")])

_MOST_FOUND = 100_000


class FileQuery(BaseModel):
    """Any rate, whole numbers of 16 or 24 bits, or float. ``version`` names the bytes for good."""

    sample_rate: Literal["44100", "48000", "88200", "96000", "192000"] = "48000"
    sample_format: Literal["pcm16", "pcm24", "float32"] = "pcm24"
    version: int | None = None
    download: bool = False


class SearchRequest(Form):
    query: SampleQuery = Field(default_factory=SampleQuery)
    offset: int = Field(default=0, ge=0)
    limit: int = Field(default=60, ge=1, le=200)


class SearchBody(BaseModel):
    """One page, the number of all, counts by facet, and how typed words were read."""

    samples: list[bodies.SampleBody]
    total: int
    choices: dict[str, dict[str, int]]
    ranges: dict[str, RangeFacet]
    read_as: dict[str, list[str]]
    names: dict[str, dict[str, str]] = Field(description="Names of libraries and makers by id")


class IdsBody(BaseModel):
    ids: list[int]


class ChangeRequest(Form):
    base_version: int
    changes: SampleChanges


class ChangeManyRequest(IdsRequest):
    changes: SampleChanges = Field(default_factory=SampleChanges)
    add_tags: list[SampleTag] = Field(default_factory=list, max_length=40)
    remove_tags: list[str] = Field(default_factory=list, max_length=40)


class MoveRequest(IdsRequest):
    status: Status


class GestureBody(BaseModel):
    """What was done in one go; name it to undo it."""

    gesture: str
    changed: int


class GestureRequest(Form):
    gesture: str = Field(max_length=32)


class EditEntry(BaseModel):
    """One change in a sample's history; fields as they are called on screen."""

    gesture: str
    label: str
    by: str
    created: str
    undone: bool
    changes: dict[str, list[Any]]


class HistoryBody(BaseModel):
    edits: list[EditEntry]


def sample_body(sample: Sample) -> bodies.SampleBody:
    """A sample with its lineage, as it is answered."""
    take = sample.take
    loopable = sample.loop_start_s is not None and sample.loop_end_s is not None
    return bodies.SampleBody(
        id=sample.id,
        library_id=sample.library_id,
        library_name=sample.library.name,
        name=sample.name,
        version=sample.version,
        category=sample.category,
        subcategory=sample.subcategory,
        tags=sample.tags,
        description=sample.description,
        licence=sample.licence,
        author=sample.author,
        rating=sample.rating,
        status=sample.status,
        variation_group=sample.variation_group,
        folder=sample.folder,
        variation=sample.variation,
        follows_key=sample.follows_key,
        root_note=sample.root_note,
        tempo_bpm=sample.tempo_bpm,
        loop_start_s=sample.loop_start_s,
        loop_end_s=sample.loop_end_s,
        edits=sample.edits,
        file_digest=sample.file_digest,
        length_s=sample.length_s,
        channels=sample.channels,
        sample_rate=sample.sample_rate,
        peak_db=sample.peak_db,
        true_peak_db=sample.true_peak_db,
        loudness_lufs=sample.loudness_lufs,
        fundamental_hz=sample.fundamental_hz,
        note=sample.note,
        cents=sample.cents,
        pitch_confidence=sample.pitch_confidence,
        several_notes=sample.several_notes,
        decay_s=sample.decay_s,
        brightness_hz=sample.brightness_hz,
        noisiness=sample.noisiness,
        low_share_db=sample.low_share_db,
        suggested_tags=suggested_tags(
            length_s=sample.length_s,
            channels=sample.channels,
            note=sample.note,
            brightness_hz=sample.brightness_hz,
            noisiness=sample.noisiness,
            low_share_db=sample.low_share_db,
            loudness_lufs=sample.loudness_lufs,
            loopable=loopable,
        ),
        outline=base64.b64encode(sample.outline).decode(),
        details=bodies.FileDetails(**sample.details),
        deleted=sample.deleted is not None,
        created=moment(sample.created),
        changed=moment(sample.changed),
        created_by=sample.created_by.name,
        sound_id=take.revision.sound_id if take else None,
        sound_revision=take.revision.number if take else None,
        hit=take.hit if take else None,
        engine_version=take.engine_version if take else None,
        cpu_family=take.cpu_family if take else None,
    )


def _page(page: Page) -> SearchBody:
    return SearchBody(
        samples=[sample_body(one) for one in page.samples],
        total=page.found.total,
        choices=page.found.choices,
        ranges=page.found.ranges,
        read_as=page.found.read_as,
        names=page.names,
    )


@api.post("/samples/search", responses={200: SearchBody, 422: Problem})
def search(body: SearchRequest) -> Response:
    """Find samples in all libraries that one may see: words, facets, ranges, likeness."""
    with services().database.session() as session:
        page = search_samples(
            session,
            current_account(),
            services().index,
            body.query,
            offset=body.offset,
            limit=body.limit,
        )
        # Straight to text: a page's worth of models is not validated twice.
        answer = make_response(_page(page).model_dump_json())
    answer.headers["Content-Type"] = "application/json"
    return answer


@api.post("/samples/ids", responses={200: IdsBody, 422: Problem})
def all_ids(body: SearchRequest) -> Response:
    """The ids of all that a query finds, in order, 100 000 at most."""
    with services().database.session() as session:
        ids = found_ids(session, current_account(), services().index, body.query, most=_MOST_FOUND)
    return make_response({"ids": ids})


@api.get("/samples/<int:sample_id>", responses={200: bodies.SampleBody, 404: Problem})
def one_sample(path: SamplePath) -> Response:
    """One sample."""
    with services().database.session() as session:
        sample = require_sample(session, current_account(), path.sample_id)
        return make_response(sample_body(sample).model_dump())


@api.patch("/samples/<int:sample_id>", responses={200: bodies.SampleBody, 409: Problem})
def change(path: SamplePath, body: ChangeRequest) -> Response:
    """Change fields; 409 with both values where someone changed the same ones in between."""
    with services().database.session() as session:
        sample = change_sample(
            session,
            current_account(),
            path.sample_id,
            body.changes,
            base_version=body.base_version,
            vocabularies=services().vocabularies,
        )
        return make_response(sample_body(sample).model_dump())


@api.post("/samples/change", responses={200: GestureBody, 422: Problem})
def change_many(body: ChangeManyRequest) -> Response:
    """Change many samples in one go."""
    with services().database.session() as session:
        gesture, changed = change_samples(
            session,
            current_account(),
            body.ids,
            body.changes,
            add_tags=body.add_tags,
            remove_tags=body.remove_tags,
            vocabularies=services().vocabularies,
        )
    return make_response({"gesture": gesture, "changed": changed})


@api.post("/samples/move", responses={200: GestureBody, 403: Problem, 409: Problem})
def move(body: MoveRequest) -> Response:
    """Move samples to another status, all or none."""
    with services().database.session() as session:
        gesture = move_samples(session, current_account(), body.ids, body.status)
    return make_response({"gesture": gesture, "changed": len(body.ids)})


@api.post("/samples/undo", responses={200: IdsBody, 404: Problem})
def undo(body: GestureRequest) -> Response:
    """Take back what was done in one go."""
    with services().database.session() as session:
        ids = undo_gesture(session, services().store, current_account(), body.gesture)
    return make_response({"ids": ids})


def _binned(ids: list[int], *, binned: bool) -> Response:
    with services().database.session() as session:
        gesture = bin_samples(session, current_account(), ids, binned=binned)
    return make_response({"gesture": gesture, "changed": len(ids)})


@api.post("/samples/bin", responses={200: GestureBody, 403: Problem, 404: Problem})
def put_in_bin(body: IdsRequest) -> Response:
    """Put samples into the bin, from which they can be restored."""
    return _binned(body.ids, binned=True)


@api.post("/samples/restore", responses={200: GestureBody, 403: Problem, 404: Problem})
def restore(body: IdsRequest) -> Response:
    """Take samples out of the bin."""
    return _binned(body.ids, binned=False)


@api.get("/samples/<int:sample_id>/history", responses={200: HistoryBody, 404: Problem})
def history(path: SamplePath) -> Response:
    """Who changed what and when, newest first."""
    with services().database.session() as session:
        entries = [
            EditEntry(
                gesture=one.gesture,
                label=one.label,
                by=one.account.name,
                created=moment(one.created),
                undone=one.undone,
                changes=_told(one.changes),
            )
            for one in edits_of(session, current_account(), path.sample_id)
        ]
    return make_response({"edits": [one.model_dump() for one in entries]})


@api.get("/samples/<int:sample_id>/recipe", responses={200: bodies.RecipeBody, 404: Problem})
def sample_recipe(path: SamplePath) -> Response:
    """How the sample was made, in words and units; empty for one that was imported."""
    with services().database.session() as session:
        take = require_sample(session, current_account(), path.sample_id).take
        document, hit = (take.revision.document, take.hit) if take else (None, None)
    if document is None or hit is None:
        return make_response({"text": ""})
    sound = load_sound(document).model_copy(update={"hit": load_hit(hit)})
    return make_response({"text": recipe(sound)})


def _told(changes: dict[str, list[Any]]) -> dict[str, list[Any]]:
    """Changes as people read them: by the fields' names; of comments how many there were."""
    return {
        FIELDS.get(key, key): [len(ids) for ids in pair] if key == "comments" else pair
        for key, pair in changes.items()
    }


class SampleList(BaseModel):
    samples: list[bodies.SampleBody]


@api.post("/samples/listed", responses={200: SampleList, 404: Problem})
def listed(body: IdsRequest) -> Response:
    """Samples by their ids, in that order."""
    with services().database.session() as session:
        found = samples_for(session, current_account(), body.ids, binned=True)
        return make_response({"samples": [sample_body(one).model_dump() for one in found]})


@api.get("/samples/<int:sample_id>/file", responses={200: file_answer(WAV), 404: Problem})
def file(path: SamplePath, query: FileQuery) -> Response:
    """What is heard of a sample, as WAV at a rate and in a number format."""
    with services().database.session() as session:
        sample = require_sample(session, current_account(), path.sample_id)
    data = sample_file(
        services().store,
        sample,
        sample_rate=int(query.sample_rate),
        sample_format=query.sample_format,
    )
    response = make_response(data)
    response.headers["Content-Type"] = "audio/wav"
    # With its version, rate and format an address names these bytes for good.
    forever = query.version == sample.version
    lasting = "private, max-age=31536000, immutable" if forever else "private, no-cache"
    response.headers["Cache-Control"] = lasting
    if query.download:
        attachment(response, sample.name, "wav")
    return response
