"""Audio files brought into libraries, and what a template would read in their names."""

from __future__ import annotations

from typing import Any

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.samples.imports import ImportRules, import_sample
from nest_crate.catalogue.samples.name_patterns import name_pattern
from nest_crate.catalogue.samples.takes import require_sample
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, LibraryPath
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.uploads import FileForm, make_room, uploaded
from nest_crate.web.samples.samples import sample_body

__all__ = ["api"]

api = APIBlueprint("imports", __name__, url_prefix="/api", abp_tags=[Tag(name="libraries")])
api.before_request(make_room)


class NamesRequest(Form):
    """Paths of files as they lie below the folder that is imported, without their endings."""

    template: str = Field(max_length=200)
    paths: list[str] = Field(max_length=5000)


class NameRead(BaseModel):
    path: str
    fits: bool
    values: dict[str, Any] = Field(description="By field of a sample, what the name says")


class NamesBody(BaseModel):
    """The first names with what is read in them, and how many of all fit."""

    names: list[NameRead]
    fitting: int


_SHOWN = 50


@api.post(
    "/libraries/<library:library_id>/samples",
    responses={200: bodies.SampleBody, 201: bodies.SampleBody, 404: Problem},
)
def bring_in_sample(path: LibraryPath, query: ImportRules, form: FileForm) -> Response:
    """Bring an audio file into a library; it is measured on arrival, its words are kept.

    200 tells that it was there already, and what it is called.
    """
    account = current_account()
    with uploaded(form.file) as (name, file):
        brought = import_sample(
            services().database,
            services().store,
            account,
            path.library_id,
            name=name,
            path=file,
            vocabularies=services().vocabularies,
            rules=query,
        )
    with services().database.session() as session:
        made = sample_body(require_sample(session, account, brought.sample_id)).model_dump()
    return make_response(made, 201 if brought.new else 200)


@api.post("/names/read", responses={200: NamesBody, 422: Problem})
def read_names(body: NamesRequest) -> Response:
    """What a template reads in names, before they are imported by it."""
    pattern = name_pattern(body.template)
    read = [pattern.read(one) for one in body.paths]
    names = [
        NameRead(path=one[:400], fits=values is not None, values=values or {})
        for one, values in zip(body.paths[:_SHOWN], read, strict=False)
    ]
    fitting = sum(values is not None for values in read)
    return make_response(NamesBody(names=names, fitting=fitting).model_dump())
