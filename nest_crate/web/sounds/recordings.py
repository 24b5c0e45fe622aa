"""Recordings imported, for what a sound may refer to."""

from __future__ import annotations

from contextlib import closing
from dataclasses import asdict

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.models import Recording
from nest_crate.catalogue.sounds.hearing import may_hear
from nest_crate.catalogue.sounds.recordings import import_recording, recordings_of
from nest_crate.core.formats.midi import MAX_MIDI_BYTES, read_notes
from nest_crate.storage import FileMissing
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import WAV, file_answer
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.uploads import FileForm, make_room, uploaded

__all__ = ["api"]

api = APIBlueprint(
    "recordings", __name__, url_prefix="/api/recordings", abp_tags=[Tag(name="bench")]
)


def _body(one: Recording) -> bodies.RecordingBody:
    return bodies.RecordingBody(
        id=one.id,
        name=one.name,
        digest=one.digest,
        length_s=one.length_s,
        channels=one.channels,
        sample_rate=one.sample_rate,
        details=bodies.FileDetails(**one.details),
    )


@api.get("", responses={200: bodies.RecordingsBody})
def recordings() -> Response:
    """The account's recordings, the newest first."""
    account = current_account()
    with services().database.session() as session:
        listed = [_body(one).model_dump() for one in recordings_of(session, account)]
    return make_response({"recordings": listed})


api.before_request(make_room)


@api.post("", responses={201: bodies.RecordingBody})
def bring_in(form: FileForm) -> Response:
    """Import an audio file (WAV, AIFF, FLAC, Ogg, MP3): up to 10 minutes, one or two channels."""
    account = current_account()
    with uploaded(form.file) as (name, path):
        identifier = import_recording(
            services().database, services().store, account, name=name, path=path
        )
    with services().database.session() as session:
        one = session.get_one(Recording, identifier)
        kept = _body(one).model_dump()
    return make_response(kept, 201)


class DigestPath(BaseModel):
    digest: str = Field(pattern=r"^[0-9a-f]{64}$")


@api.get("/<string:digest>.wav", responses={200: file_answer(WAV), 404: Problem})
def recording_file(path: DigestPath) -> Response:
    """A stored recording as float WAV, for hearing it."""
    account = current_account()
    with services().database.session() as session:
        if not may_hear(session, account, [path.digest]):
            raise FileMissing("There is no such recording")
    response = make_response(services().store.get(path.digest))
    response.headers["Content-Type"] = "audio/wav"
    # A digest names these bytes for good.
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    return response


@api.post("/midi", responses={200: bodies.MidiBody})
def midi(form: FileForm) -> Response:
    """The notes of a MIDI file, the first at 0 s."""
    current_account()
    with closing(form.file):
        notes = read_notes(form.file.read(MAX_MIDI_BYTES + 1))
    return make_response({"notes": [asdict(one) for one in notes]})
