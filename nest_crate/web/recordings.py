"""Recordings brought in from outside, for what a sound may refer to."""

from __future__ import annotations

import tempfile
from collections.abc import Iterator
from contextlib import closing, contextmanager
from dataclasses import asdict
from pathlib import Path

from flask import Response, make_response, request
from flask_openapi3 import APIBlueprint, FileStorage, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.models import Recording
from nest_crate.catalogue.recordings import import_recording, recordings_of
from nest_crate.core.formats.midi import MAX_MIDI_BYTES, read_notes
from nest_crate.storage import StorageError
from nest_crate.web import bodies
from nest_crate.web.context import current_account, services
from nest_crate.web.problems import Problem

__all__ = ["FileForm", "api", "make_room", "uploaded"]

api = APIBlueprint(
    "recordings", __name__, url_prefix="/api/recordings", abp_tags=[Tag(name="bench")]
)

# What a form adds to a file of the largest size.
_LARGEST_BYTES = 200_000_000 + 100_000


class FileForm(BaseModel):
    file: FileStorage


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


@contextmanager
def uploaded(given: FileStorage) -> Iterator[tuple[str, Path]]:
    """A file that was sent: its name without folder and ending, and where it lies for now."""
    name = (given.filename or "Recording").replace("\\", "/").rsplit("/", 1)[-1]
    with tempfile.TemporaryDirectory(prefix="nest-crate-") as folder, closing(given):
        path = Path(folder) / "sent"
        try:
            given.save(path)
        except OSError as error:
            reason = error.strerror or "no room"
            raise StorageError(f"The file could not be taken: {reason}") from error
        yield name.rsplit(".", 1)[0], path


def make_room() -> None:
    """Audio files are larger than anything else that is sent."""
    if request.mimetype == "multipart/form-data":
        request.max_content_length = _LARGEST_BYTES


api.before_request(make_room)


@api.post("", responses={201: bodies.RecordingBody})
def bring_in(form: FileForm) -> Response:
    """Bring in an audio file (WAV, AIFF, FLAC, Ogg, MP3): up to 10 minutes, one or two channels."""
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


@api.get("/<string:digest>.wav", responses={404: Problem})
def recording_file(path: DigestPath) -> Response:
    """A stored recording as float WAV, for hearing it."""
    current_account()
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
