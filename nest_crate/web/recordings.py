"""Recordings brought in from outside, for what a sound may refer to."""

from __future__ import annotations

from contextlib import closing

from flask import Response, make_response, request
from flask_openapi3 import APIBlueprint, FileStorage, Tag
from pydantic import BaseModel

from nest_crate.catalogue.models import Recording
from nest_crate.catalogue.recordings import import_recording, recordings_of
from nest_crate.web import bodies
from nest_crate.web.context import current_account, services

__all__ = ["api"]

api = APIBlueprint(
    "recordings", __name__, url_prefix="/api/recordings", abp_tags=[Tag(name="bench")]
)

# A minute of stereo at 192 kHz in 32 bits, with some room.
_LARGEST_BYTES = 100_000_000


class RecordingForm(BaseModel):
    file: FileStorage


def _body(one: Recording) -> bodies.RecordingBody:
    return bodies.RecordingBody(
        id=one.id,
        name=one.name,
        digest=one.digest,
        length_s=one.length_s,
        channels=one.channels,
        sample_rate=one.sample_rate,
    )


@api.get("", responses={200: bodies.RecordingsBody})
def recordings() -> Response:
    """The account's recordings, the newest first."""
    account = current_account()
    with services().database.session() as session:
        listed = [_body(one).model_dump() for one in recordings_of(session, account)]
    return make_response({"recordings": listed})


@api.before_request
def make_room() -> None:
    """Audio files are larger than anything else that is sent here."""
    request.max_content_length = _LARGEST_BYTES
    request.max_form_memory_size = _LARGEST_BYTES


@api.post("", responses={201: bodies.RecordingBody})
def bring_in(form: RecordingForm) -> Response:
    """Bring in an audio file (WAV, FLAC, OGG, AIFF): up to 60 s, one or two channels."""
    account, given = current_account(), form.file
    name = (given.filename or "Recording").replace("\\", "/").rsplit("/", 1)[-1]
    stem = name.rsplit(".", 1)[0]
    # A large file lies in a temporary one until it is closed.
    with closing(given):
        data = given.read()
    identifier = import_recording(
        services().database, services().store, account, name=stem, data=data
    )
    with services().database.session() as session:
        one = session.get_one(Recording, identifier)
        kept = _body(one).model_dump()
    return make_response(kept, 201)
