"""Samples: what a library holds, and their audio."""

from __future__ import annotations

import base64
import re
from typing import Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from nest_crate.catalogue.libraries import create_library, libraries_of
from nest_crate.catalogue.models import Sample
from nest_crate.catalogue.takes import import_sample, require_sample, sample_file, samples_of
from nest_crate.web import bodies
from nest_crate.web.context import current_account, services
from nest_crate.web.problems import Problem
from nest_crate.web.recordings import FileForm, make_room, uploaded

__all__ = ["api", "sample_body"]

api = APIBlueprint("samples", __name__, url_prefix="/api", abp_tags=[Tag(name="libraries")])


api.before_request(make_room)


class LibraryPath(BaseModel):
    library_id: int


class SamplePath(BaseModel):
    sample_id: int


class FileQuery(BaseModel):
    """Any rate, whole numbers of 16 or 24 bits, or float."""

    sample_rate: Literal["44100", "48000", "88200", "96000", "192000"] = "48000"
    sample_format: Literal["pcm16", "pcm24", "float32"] = "pcm24"
    download: bool = False


class LibraryList(BaseModel):
    libraries: list[bodies.LibraryBody]


class SampleList(BaseModel):
    samples: list[bodies.SampleBody]


def sample_body(sample: Sample) -> bodies.SampleBody:
    """A sample with its lineage, as it is answered."""
    take = sample.take
    return bodies.SampleBody(
        id=sample.id,
        library_id=sample.library_id,
        name=sample.name,
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
        outline=base64.b64encode(sample.outline).decode(),
        details=bodies.FileDetails(**sample.details),
        created=f"{sample.created.isoformat()}Z",
        created_by=sample.created_by.name,
        sound_id=take.revision.sound_id if take else None,
        sound_revision=take.revision.number if take else None,
        hit=take.hit if take else None,
        engine_version=take.engine_version if take else None,
    )


@api.get("/libraries", responses={200: LibraryList})
def list_libraries() -> Response:
    """The account's libraries."""
    with services().database.session() as session:
        rows = libraries_of(session, current_account())
        found = [
            bodies.LibraryBody(
                id=library.id,
                name=library.name,
                description=library.description,
                role=role,
                samples=count,
            ).model_dump()
            for library, role, count in rows
        ]
    return make_response({"libraries": found})


@api.post("/libraries", responses={201: bodies.LibraryBody, 422: Problem})
def new_library(body: bodies.LibraryRequest) -> tuple[Response, int]:
    """Create a library that the account owns."""
    with services().database.session() as session:
        library = create_library(
            session, current_account(), name=body.name, description=body.description
        )
        answer = bodies.LibraryBody(
            id=library.id,
            name=library.name,
            description=library.description,
            role="owner",
            samples=0,
        )
    return make_response(answer.model_dump()), 201


@api.get("/libraries/<int:library_id>/samples", responses={200: SampleList, 404: Problem})
def list_samples(path: LibraryPath) -> Response:
    """The samples of a library by name."""
    with services().database.session() as session:
        rows = samples_of(session, current_account(), path.library_id)
        return make_response({"samples": [sample_body(row).model_dump() for row in rows]})


@api.post("/libraries/<int:library_id>/samples", responses={201: bodies.SampleBody, 404: Problem})
def bring_in_sample(path: LibraryPath, form: FileForm) -> Response:
    """Bring an audio file into a library; it is measured on arrival."""
    account = current_account()
    with uploaded(form.file) as (name, file):
        identifier = import_sample(
            services().database, services().store, account, path.library_id, name=name, path=file
        )
    with services().database.session() as session:
        made = sample_body(require_sample(session, account, identifier)).model_dump()
    return make_response(made, 201)


@api.get("/samples/<int:sample_id>/file", responses={404: Problem})
def file(path: SamplePath, query: FileQuery) -> Response:
    """A sample's audio as WAV at a rate and in a number format."""
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
    # A sample's file never changes; its id with rate and format names these bytes for good.
    response.headers["Cache-Control"] = "private, max-age=31536000, immutable"
    if query.download:
        name = re.sub(r"[^\w\- ]+", "", sample.name, flags=re.ASCII).strip() or "sample"
        disposition = f'attachment; filename="{name}.wav"'
        response.headers["Content-Disposition"] = disposition
    return response
