"""Sounds as files: removed and imported."""

from __future__ import annotations

from typing import Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from nest_crate.catalogue.sounds.files import import_sound, sound_archive, sound_text
from nest_crate.catalogue.sounds.hearing import files_of_sound
from nest_crate.catalogue.sounds.sounds import require_sound
from nest_crate.web.infra.answers import attachment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import JSON, ZIP, file_answer
from nest_crate.web.infra.forms import LibraryPath, SoundPath
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.uploads import FileForm, make_room, uploaded

__all__ = ["api"]

api = APIBlueprint("sound_files", __name__, url_prefix="/api", abp_tags=[Tag(name="sounds")])
api.before_request(make_room)


class SoundFileQuery(BaseModel):
    """The document alone, or an archive with the recordings that it uses."""

    kind: Literal["json", "zip"] = "zip"


class ImportedBody(BaseModel):
    sound_id: int


@api.get("/sounds/<int:sound_id>/file", responses={200: file_answer(ZIP, JSON), 404: Problem})
def take_away(path: SoundPath, query: SoundFileQuery) -> Response:
    """A sound as one file; imported elsewhere it gives the same bytes again."""
    account = current_account()
    with services().database.session() as session:
        sound = require_sound(session, account, path.sound_id)
        name, document = sound.name, sound.draft
        heard = files_of_sound(session, sound.id)
    as_text = query.kind == "json"
    data = sound_text(document) if as_text else sound_archive(services().store, document, heard)
    response = make_response(data)
    kind = "application/json" if query.kind == "json" else "application/zip"
    response.headers["Content-Type"] = kind
    attachment(response, name, f"sound.{query.kind}")
    return response


@api.post("/libraries/<library:library_id>/sounds", responses={201: ImportedBody, 422: Problem})
def bring_in(path: LibraryPath, form: FileForm) -> tuple[Response, int]:
    """A sound from its file: a document, or an archive with its recordings."""
    with uploaded(form.file) as (_, file):
        sound_id = import_sound(
            services().database,
            services().store,
            current_account(),
            path.library_id,
            file,
        )
    return make_response({"sound_id": sound_id}), 201
