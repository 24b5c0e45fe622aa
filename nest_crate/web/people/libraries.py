"""Libraries with what is seen over all their samples: map, duplicates, gaps, vocabulary."""

from __future__ import annotations

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.models import Library
from nest_crate.catalogue.people.libraries import (
    change_library,
    create_library,
    libraries_of,
    library_for_new_sounds,
    require_library,
)
from nest_crate.catalogue.people.permissions import PERMISSIONS, Role
from nest_crate.catalogue.samples.name_templates import TEMPLATE_FIELDS
from nest_crate.catalogue.samples.statuses import all_moves
from nest_crate.catalogue.search import SampleQuery
from nest_crate.catalogue.search.account_search import (
    keep_search,
    library_map,
    remove_search,
    searches_of,
)
from nest_crate.catalogue.upkeep.duplicates import duplicates_in
from nest_crate.catalogue.upkeep.gaps import gaps_in
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, LibraryPath
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint("libraries", __name__, url_prefix="/api", abp_tags=[Tag(name="libraries")])


class LibraryList(BaseModel):
    libraries: list[bodies.LibraryBody]


def _body(library: Library, role: Role, samples: int) -> bodies.LibraryBody:
    return bodies.LibraryBody(
        id=library.id,
        key=library.key,
        name=library.name,
        description=library.description,
        visibility=library.visibility,
        role=role,
        may=[action for action, roles in PERMISSIONS.items() if role in roles],
        samples=samples,
    )


@api.get("/libraries", responses={200: LibraryList})
def list_libraries() -> Response:
    """The libraries that one may see, with one's role."""
    with services().database.session() as session:
        rows = libraries_of(session, current_account())
        found = [_body(*row).model_dump() for row in rows]
    return make_response({"libraries": found})


@api.post("/libraries", responses={201: bodies.LibraryBody, 422: Problem})
def new_library(body: bodies.LibraryRequest) -> tuple[Response, int]:
    """Create a library that the account owns."""
    with services().database.session() as session:
        library = create_library(
            session,
            current_account(),
            name=body.name,
            description=body.description,
            visibility=body.visibility,
        )
        answer = _body(library, "owner", 0)
    return make_response(answer.model_dump()), 201


@api.post("/libraries/for-new-sounds", responses={200: bodies.LibraryBody, 403: Problem})
def for_new_sounds() -> Response:
    """The library that a new sound is offered; an account without one gets one of its own."""
    with services().database.session() as session:
        account = current_account()
        library = library_for_new_sounds(session, account)
        rows = {one.id: (one, role, n) for one, role, n in libraries_of(session, account)}
        answer = _body(*rows[library.id])
    return make_response(answer.model_dump())


@api.patch("/libraries/<library:library_id>", responses={204: None, 403: Problem})
def change(path: LibraryPath, body: bodies.LibraryChangeRequest) -> Response:
    """Another name, description, visibility or key."""
    with services().database.session() as session:
        change_library(session, current_account(), path.library_id, **body.model_dump())
    return make_response("", 204)


class MapBody(BaseModel):
    """Places from 0 to 1, one a sample, in the order of the ids; ``category`` counts in
    ``categories``."""

    ids: list[int]
    x: list[float]
    y: list[float]
    category: list[int]
    length_s: list[float]
    categories: list[str]


@api.get("/libraries/<library:library_id>/map", responses={200: MapBody, 404: Problem})
def map_of(path: LibraryPath) -> Response:
    """All samples of a library on a map where near means alike."""
    with services().database.session() as session:
        found = library_map(session, current_account(), services().index, path.library_id)
    x, y = (found.places[:, n].round(4).tolist() for n in (0, 1))
    categories = sorted(set(found.categories))
    numbers = {name: number for number, name in enumerate(categories)}
    # Not looked through once more: it may hold a hundred thousand of each.
    return make_response(
        {
            "ids": found.ids,
            "x": x,
            "y": y,
            "category": [numbers[name] for name in found.categories],
            "length_s": [round(one, 4) for one in found.lengths_s],
            "categories": categories,
        }
    )


class LikenessBody(BaseModel):
    exact: bool
    ids: list[int]


class DuplicatesBody(BaseModel):
    groups: list[LikenessBody]
    complete: bool = Field(description="Whether there was time to compare all that might be")


@api.get(
    "/libraries/<library:library_id>/duplicates", responses={200: DuplicatesBody, 404: Problem}
)
def duplicates(path: LibraryPath) -> Response:
    """Groups of the same bytes, and of copies at another level, trimmed, later or converted."""
    found = services()
    with found.database.session() as session:
        duplicates = duplicates_in(
            session, found.store, current_account(), found.index, path.library_id
        )
    listed = [{"exact": one.exact, "ids": list(one.sample_ids)} for one in duplicates.groups]
    return make_response({"groups": listed, "complete": duplicates.complete})


class GapBody(BaseModel):
    code: str
    text: str
    ids: list[int]


class GapsBody(BaseModel):
    gaps: list[GapBody]


@api.get("/libraries/<library:library_id>/gaps", responses={200: GapsBody, 404: Problem})
def gaps(path: LibraryPath) -> Response:
    """Missing and odd metadata."""
    with services().database.session() as session:
        vocabulary = services().vocabularies.of(session, path.library_id)
        found = gaps_in(session, current_account(), path.library_id, vocabulary)
    listed = [{"code": one.code, "text": one.text, "ids": list(one.sample_ids)} for one in found]
    return make_response({"gaps": listed})


class TemplateFieldBody(BaseModel):
    name: str
    text: str


class MoveBody(BaseModel):
    from_status: str
    to_status: str
    action: str


class WordsBody(BaseModel):
    """Categories with their subcategories, the fields of name templates, moves of a status."""

    categories: dict[str, list[str]]
    template_fields: list[TemplateFieldBody]
    moves: list[MoveBody]


class WordsQuery(BaseModel):
    library_id: int | None = Field(default=None, description="Categories as this library has them")


@api.get("/vocabulary", responses={200: WordsBody, 404: Problem})
def words(query: WordsQuery) -> Response:
    """What the catalogue's words are: in one library, or those of the server."""
    account, vocabularies = current_account(), services().vocabularies
    vocabulary = vocabularies.servers
    if query.library_id is not None:
        with services().database.session() as session:
            require_library(session, account, query.library_id)
            vocabulary = vocabularies.of(session, query.library_id)
    categories = {key: list(value) for key, value in vocabulary.categories.items()}
    fields = [
        TemplateFieldBody(name=name, text=text) for name, (text, _) in TEMPLATE_FIELDS.items()
    ]
    moves = [
        MoveBody(from_status=before, to_status=after, action=action)
        for before, after, action in all_moves()
    ]
    answer = WordsBody(categories=categories, template_fields=fields, moves=moves)
    return make_response(answer.model_dump())


class SavedSearchRequest(Form):
    name: str = Field(min_length=1, max_length=60, pattern=r"\S")
    query: SampleQuery


class SavedSearchBody(BaseModel):
    id: int
    name: str
    query: SampleQuery


class SavedSearchesBody(BaseModel):
    searches: list[SavedSearchBody]


class SearchPath(BaseModel):
    search_id: int


@api.get("/searches", responses={200: SavedSearchesBody})
def saved_searches() -> Response:
    """One's saved searches by name."""
    with services().database.session() as session:
        listed = [
            SavedSearchBody(id=one.id, name=one.name, query=SampleQuery(**one.query)).model_dump()
            for one in searches_of(session, current_account())
        ]
    return make_response({"searches": listed})


@api.post("/searches", responses={201: SavedSearchBody})
def new_search(body: SavedSearchRequest) -> tuple[Response, int]:
    """Keep a search under a name; the same name replaces the earlier one."""
    with services().database.session() as session:
        kept = keep_search(session, current_account(), name=body.name, query=body.query)
        answer = SavedSearchBody(id=kept.id, name=kept.name, query=body.query)
    return make_response(answer.model_dump()), 201


@api.delete("/searches/<int:search_id>", responses={204: None, 404: Problem})
def drop_search(path: SearchPath) -> Response:
    """Forget a saved search."""
    with services().database.session() as session:
        remove_search(session, current_account(), path.search_id)
    return make_response("", 204)
