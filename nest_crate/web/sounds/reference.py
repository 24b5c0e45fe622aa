"""The account at work, the parameter declarations and the sound document's JSON Schema."""

from __future__ import annotations

from flask import Response, make_response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel

from nest_crate import __version__
from nest_crate.core.engine import ENGINE_VERSION
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.core.sound.kinds import declarations
from nest_crate.core.sound.schema import sound_schema
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account
from nest_crate.web.infra.declared_files import JSON, file_answer

__all__ = ["api"]

api = APIBlueprint("reference", __name__, url_prefix="/api", abp_tags=[Tag(name="reference")])


@api.get("/declarations", responses={200: file_answer(JSON, description="By part"), 304: None})
def declared() -> Response:
    """Every parameter of every document part: label, unit, range, default, scale, step."""
    return _kept_by_clients(make_response(declarations()))


def _kept_by_clients(response: Response) -> Response:
    """What is the same for everybody until the program changes: a client that has it gets 304."""
    response.add_etag()
    response.headers["Cache-Control"] = "public, no-cache"
    response.make_conditional(request)
    return response


@api.get(
    "/sound.schema.json", responses={200: file_answer(JSON, description="JSON Schema"), 304: None}
)
def schema() -> Response:
    """JSON Schema of the sound document."""
    return _kept_by_clients(make_response(sound_schema()))


@api.post("/documents/current", responses={200: bodies.DocumentBody})
def current(body: bodies.DocumentBody) -> Response:
    """A document of any version as this program writes it: upgraded, every field written out."""
    current_account()
    return make_response({"document": dump_sound(load_sound(body.document))})


class HealthBody(BaseModel):
    version: str
    engine_version: int


@api.get("/health", responses={200: HealthBody})
def health() -> Response:
    """Answers where the server runs, whatever the database does."""
    return make_response({"version": __version__, "engine_version": ENGINE_VERSION})
