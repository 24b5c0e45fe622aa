"""Sounds: list, open, save the draft, keep a take."""

from __future__ import annotations

import base64

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.models import Sample, Sound, SoundRevision
from nest_crate.catalogue.samples.fields import TagList
from nest_crate.catalogue.samples.measurement import OUTLINE_COLUMNS
from nest_crate.catalogue.samples.takes import keep_takes, require_sample
from nest_crate.catalogue.sounds.sounds import (
    Made,
    bin_sound,
    create_sound,
    current_document,
    describe_sound,
    duplicate_sound,
    keep_revision,
    made_from,
    move_sound,
    require_sound,
    revisions_of,
    save_draft,
    sounds_of,
)
from nest_crate.core.analysis.pictures.outlines import outline
from nest_crate.core.sound import load_hit, load_sound
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, SoundPath
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.rendering import audio_of, require_heard
from nest_crate.web.samples.samples import sample_body

__all__ = ["api"]

api = APIBlueprint("sounds", __name__, url_prefix="/api/sounds", abp_tags=[Tag(name="sounds")])


class SoundsQuery(BaseModel):
    binned: bool = False


class SoundList(BaseModel):
    sounds: list[bodies.SoundBody]


def _facts(sound: Sound, made: Made | None = None) -> dict[str, object]:
    return {
        "id": sound.id,
        "name": sound.name,
        "category": sound.category,
        "tags": sound.tags,
        "description": sound.description,
        "takes": made.count if made else 0,
        "look": _look(made.newest) if made else None,
        "deleted": sound.deleted is not None,
        "library_id": sound.library_id,
        "library_name": sound.library.name,
        "private": sound.private_to_id is not None,
        "changed": f"{sound.changed.isoformat()}Z",
        "revision": sound.revisions[-1].number if sound.revisions else 0,
    }


def _look(sample: Sample) -> dict[str, object]:
    outline = base64.b64encode(sample.outline).decode()
    return {"length_s": sample.length_s, "outline": outline}


def _draft(sound: Sound) -> Response:
    facts = _facts(sound)
    body = {**facts, "version": sound.draft_version, "document": current_document(sound.draft)}
    return make_response(bodies.DraftBody.model_validate(body).model_dump())


@api.get("", responses={200: SoundList})
def list_sounds(query: SoundsQuery) -> Response:
    """All sounds of the account's libraries, newest change first."""
    with services().database.session() as session:
        rows = sounds_of(session, current_account(), binned=query.binned)
        made = made_from(session, [one.id for one in rows])
        found = [_facts(one, made.get(one.id)) for one in rows]
    return make_response({"sounds": found})


@api.post("", responses={201: bodies.DraftBody, 422: Problem})
def new_sound(body: bodies.NewSoundRequest) -> tuple[Response, int]:
    """Create a sound from a document."""
    document = load_sound(body.document)
    with services().database.session() as session:
        sound = create_sound(
            session,
            current_account(),
            library_id=body.library_id,
            document=document,
            private=body.private,
        )
        return _draft(sound), 201


@api.get("/<int:sound_id>", responses={200: bodies.DraftBody, 404: Problem})
def open_sound(path: SoundPath) -> Response:
    """A sound with its draft."""
    with services().database.session() as session:
        sound = require_sound(session, current_account(), path.sound_id)
        return _draft(sound)


@api.get("/<int:sound_id>/look", responses={200: bodies.SoundLook, 404: Problem})
def look_of(path: SoundPath) -> Response:
    """Length and waveform of a sound's own hit as it is now, rendered behind what people hear."""
    account = current_account()
    with services().database.session() as session:
        document = current_document(require_sound(session, account, path.sound_id).draft)
    require_heard(account, document)
    sound = load_sound(document)
    audio = audio_of(sound, sound.hit)
    drawn = outline(audio.samples, OUTLINE_COLUMNS).data.tobytes()
    look = {"length_s": audio.length_s, "outline": base64.b64encode(drawn).decode()}
    return make_response(look)


@api.put("/<int:sound_id>/draft", responses={200: bodies.DraftBody, 409: Problem, 422: Problem})
def save(path: SoundPath, body: bodies.DraftRequest) -> Response:
    """Save the draft; 409 with both versions where someone saved in between."""
    document = load_sound(body.document)
    with services().database.session() as session:
        sound = save_draft(
            session,
            current_account(),
            path.sound_id,
            base_version=body.base_version,
            document=document,
        )
        return _draft(sound)


class RevisionList(BaseModel):
    revisions: list[bodies.RevisionBody]


def _revision(revision: SoundRevision) -> bodies.RevisionBody:
    return bodies.RevisionBody(
        number=revision.number,
        note=revision.note,
        created=f"{revision.created.isoformat()}Z",
        created_by=revision.created_by.name,
        document=current_document(revision.document),
    )


@api.get("/<int:sound_id>/revisions", responses={200: RevisionList, 404: Problem})
def list_revisions(path: SoundPath) -> Response:
    """The kept revisions of a sound, newest first."""
    with services().database.session() as session:
        rows = revisions_of(session, current_account(), path.sound_id)
        return make_response({"revisions": [_revision(row).model_dump() for row in rows]})


class KeptRevision(BaseModel):
    revision: bodies.RevisionBody
    version: int


@api.post("/<int:sound_id>/revisions", responses={201: KeptRevision, 409: Problem})
def new_revision(path: SoundPath, body: bodies.RevisionRequest) -> tuple[Response, int]:
    """Save the draft and keep it as a revision with a note."""
    document = load_sound(body.document)
    account = current_account()
    with services().database.session() as session:
        sound = save_draft(
            session, account, path.sound_id, base_version=body.base_version, document=document
        )
        revision = keep_revision(session, account, sound, note=body.note.strip())
        answer = KeptRevision(revision=_revision(revision), version=sound.draft_version)
    return make_response(answer.model_dump()), 201


class KeptTake(BaseModel):
    """The first sample that was kept, the ids of all, and the sound's version now."""

    sample: bodies.SampleBody
    ids: list[int]
    version: int


@api.post("/<int:sound_id>/takes", responses={201: KeptTake, 409: Problem, 507: Problem})
def take(path: SoundPath, body: bodies.TakeRequest) -> tuple[Response, int]:
    """Render hits at final quality and put the takes into a library under a name."""
    hit, document = load_hit(body.hit), load_sound(body.document)
    require_heard(current_account(), body.document)
    ids = keep_takes(
        services().database,
        services().store,
        current_account(),
        path.sound_id,
        base_version=body.base_version,
        document=document,
        hits=[hit.model_copy(update={"number": hit.number + n}) for n in range(body.count)],
        library_id=body.library_id,
        name=body.name,
        sample_rate=body.sample_rate,
        rendered=lambda one: audio_of(document, one, sample_rate=body.sample_rate),
    )
    with services().database.session() as session:
        sample = sample_body(require_sample(session, current_account(), ids[0]))
        version = require_sound(session, current_account(), path.sound_id).draft_version
    answer = KeptTake(sample=sample, ids=ids, version=version)
    return make_response(answer.model_dump()), 201


class DescribeRequest(Form):
    """What is left out stays."""

    category: str | None = Field(default=None, max_length=40)
    tags: TagList | None = None
    description: str | None = Field(default=None, max_length=4000)


@api.patch("/<int:sound_id>", responses={204: None, 403: Problem, 422: Problem})
def describe(path: SoundPath, body: DescribeRequest) -> Response:
    """What the catalogue says of a sound."""
    with services().database.session() as session:
        describe_sound(
            session,
            current_account(),
            path.sound_id,
            category=body.category,
            tags=body.tags,
            description=body.description,
            vocabularies=services().vocabularies,
        )
    return make_response("", 204)


@api.post("/<int:sound_id>/copies", responses={201: bodies.DraftBody, 403: Problem})
def duplicate(path: SoundPath) -> tuple[Response, int]:
    """A copy of a sound beside it."""
    with services().database.session() as session:
        return _draft(duplicate_sound(session, current_account(), path.sound_id)), 201


class LibraryMoveRequest(Form):
    library_id: int


@api.put("/<int:sound_id>/library", responses={200: bodies.DraftBody, 403: Problem, 404: Problem})
def move(path: SoundPath, body: LibraryMoveRequest) -> Response:
    """Move a sound to a library, where its members see it."""
    with services().database.session() as session:
        return _draft(move_sound(session, current_account(), path.sound_id, body.library_id))


class BinRequest(Form):
    binned: bool


@api.put("/<int:sound_id>/bin", responses={204: None, 403: Problem})
def put_in_bin(path: SoundPath, body: BinRequest) -> Response:
    """Put a sound into the bin, or take it out."""
    with services().database.session() as session:
        bin_sound(session, current_account(), path.sound_id, binned=body.binned)
    return make_response("", 204)
