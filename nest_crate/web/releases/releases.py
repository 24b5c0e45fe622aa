"""Releases of a library, for people and for build scripts."""

from __future__ import annotations

from collections import Counter
from collections.abc import Sequence
from typing import Any

from flask import Response, make_response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import Library
from nest_crate.catalogue.db.shared_models import Release
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.releases.formats import (
    FormatPlan,
    format_by_digest,
    format_manifest,
    make_format,
)
from nest_crate.catalogue.releases.releases import (
    Change,
    changes_between,
    changes_since_last,
    make_release,
    release_by_number,
    release_files,
    release_holds,
    release_manifest,
    release_sizes,
    releases_of,
)
from nest_crate.web.infra.answers import archive, moment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import AIFF, FLAC, JSON, OGG, WAV, ZIP, file_answer
from nest_crate.web.infra.forms import Form, LibraryPath
from nest_crate.web.infra.problems import Problem
from nest_crate.web.tryouts.demos import demo_of
from nest_crate.web.work.running import watched

__all__ = ["ReleasePath", "api", "release_archive", "with_tag"]

api = APIBlueprint("releases", __name__, url_prefix="/api", abp_tags=[Tag(name="releases")])

_TEMPLATE = "{category}/{name}"


class ReleasePath(LibraryPath):
    number: str = Field(max_length=20, description="As 1.0.0, or latest")


class ItemPath(ReleasePath):
    digest: str = Field(pattern=r"^[0-9a-f]{64}$")


class ReleaseRequest(Form):
    number: str = Field(max_length=20)
    note: str = Field(default="", max_length=4000)
    template: str = Field(default=_TEMPLATE, min_length=1, max_length=200)
    sample_ids: list[int] | None = Field(
        default=None, max_length=5000, description="All that is approved where left out"
    )
    demos: list[int] = Field(
        default_factory=list, max_length=20, description="Try-outs whose mixes are released too"
    )


class ReleaseBody(BaseModel):
    """A release in the list."""

    id: int
    number: str
    note: str
    created: str
    created_by: str
    digest: str
    files: int
    size_bytes: int


class ReleaseList(BaseModel):
    releases: list[ReleaseBody]


class ChangeBody(BaseModel):
    """What became of one sample; a file of each side is fetched by its ``sha256``."""

    kind: str
    sample_id: int
    before: dict[str, Any] | None
    after: dict[str, Any] | None


class ChangesBody(BaseModel):
    """The first of the changes, and how many there are in all by kind."""

    since: str | None
    changes: list[ChangeBody]
    counts: dict[str, int]


class ChangesQuery(BaseModel):
    limit: int = Field(default=200, ge=1, le=100_000, description="So many changes at most")


def _release(release: Release, size: tuple[int, int]) -> ReleaseBody:
    return ReleaseBody(
        id=release.id,
        number=release.number,
        note=release.note,
        created=moment(release.created),
        created_by=release.created_by.name,
        digest=release.manifest_digest,
        files=size[0],
        size_bytes=size[1],
    )


@api.get("/libraries/<library:library_id>/releases", responses={200: ReleaseList, 404: Problem})
def list_releases(path: LibraryPath) -> Response:
    """The releases of a library, the highest number first."""
    with services().database.session() as session:
        rows = releases_of(session, current_account(), path.library_id)
        sizes = release_sizes(session, rows)
        listed = [_release(one, sizes[one.id]).model_dump() for one in rows]
    return make_response({"releases": listed})


@api.post(
    "/libraries/<library:library_id>/releases",
    responses={201: ReleaseBody, 403: Problem, 409: Problem, 422: Problem},
)
def new_release(path: LibraryPath, body: ReleaseRequest) -> tuple[Response, int]:
    """Freeze approved samples under a number; it can never be changed."""
    account = current_account()
    with services().database.session() as session:
        require_library(session, account, path.library_id, "release.make")
    demos = [demo_of(account, one) for one in dict.fromkeys(body.demos)]
    with watched() as progress:
        identifier = make_release(
            services().database,
            services().store,
            account,
            path.library_id,
            number=body.number.strip(),
            note=body.note,
            template=body.template,
            sample_ids=body.sample_ids,
            demos=demos,
            progress=progress,
        )
    with services().database.session() as session:
        release = session.get_one(Release, identifier)
        answer = _release(release, release_sizes(session, [release])[release.id])
    return make_response(answer.model_dump()), 201


def _changes(since: str | None, changes: Sequence[Change], limit: int) -> Response:
    listed = [
        ChangeBody(kind=one.kind, sample_id=one.sample_id, before=one.before, after=one.after)
        for one in changes[:limit]
    ]
    counts = Counter(one.kind for one in changes)
    return make_response(ChangesBody(since=since, changes=listed, counts=counts).model_dump())


@api.get("/libraries/<library:library_id>/releases/changes", responses={200: ChangesBody})
def pending(path: LibraryPath, query: ChangesQuery) -> Response:
    """What a release made now would change re the last one."""
    with services().database.session() as session:
        since, changes = changes_since_last(session, current_account(), path.library_id)
    return _changes(since, changes, query.limit)


@api.get(
    "/libraries/<library:library_id>/releases/<string:number>/changes", responses={200: ChangesBody}
)
def changes_of(path: ReleasePath, query: ChangesQuery) -> Response:
    """What a release changed re the one before it."""
    with services().database.session() as session:
        account = current_account()
        release = release_by_number(session, account, path.library_id, path.number)
        earlier = _earlier(releases_of(session, account, path.library_id), release)
        before = [item.facts for item in earlier.items] if earlier else []
        changes = changes_between(before, [item.facts for item in release.items])
    return _changes(earlier.number if earlier else None, changes, query.limit)


def _earlier(releases: Sequence[Release], release: Release) -> Release | None:
    """The next lower release; they come the highest first."""
    numbers = [one.number for one in releases]
    return next(iter(releases[numbers.index(release.number) + 1 :]), None)


def with_tag(response: Response, digest: str) -> Response:
    """An answer that is not sent again to a client that has it."""
    response.set_etag(digest)
    response.headers["Cache-Control"] = "private, no-cache"
    response.make_conditional(request)
    return response


@api.get(
    "/libraries/<library:library_id>/releases/<string:number>",
    responses={200: file_answer(JSON, description="The manifest"), 304: None, 404: Problem},
)
def manifest(path: ReleasePath) -> Response:
    """A release's manifest: its files with sums and their details; 304 where the caller has it."""
    with services().database.session() as session:
        release = release_by_number(session, current_account(), path.library_id, path.number)
        if request.if_none_match.contains(release.manifest_digest):
            return with_tag(make_response(""), release.manifest_digest)
        library = session.get_one(Library, path.library_id)
        body = release_manifest(release, library.name)
    return with_tag(make_response(body), release.manifest_digest)


def release_archive(release: Release, library_name: str) -> Response:
    """A release as one archive."""
    files = release_files(services().store, release, library_name)
    name = "".join(one if one.isalnum() and one.isascii() else "-" for one in library_name.lower())
    return archive(files, f"{name.strip('-') or 'library'}-{release.number}")


@api.get(
    "/libraries/<library:library_id>/releases/<string:number>.zip",
    responses={200: file_answer(ZIP), 404: Problem},
)
def download(path: ReleasePath) -> Response:
    """A release as one archive, sent while it is read."""
    with services().database.session() as session:
        release = release_by_number(session, current_account(), path.library_id, path.number)
        library = session.get_one(Library, path.library_id)
        _ = list(release.items)
    return release_archive(release, library.name)


class FormatPath(ReleasePath):
    digest: str = Field(max_length=64, description="What asking for the format answered")


class FormatBody(BaseModel):
    """A format that a release is kept in; its manifest is asked for by the digest."""

    digest: str
    number: str
    files: int
    size_bytes: int


@api.post(
    "/libraries/<library:library_id>/releases/<string:number>/formats",
    responses={200: FormatBody, 201: FormatBody, 404: Problem, 409: Problem, 422: Problem},
)
def ask_for_format(path: ReleasePath, body: FormatPlan) -> tuple[Response, int]:
    """A release in another format, rate, layout or loudness. It is made once and kept (201); who
    asks later gets the same bytes (200)."""
    account = current_account()
    with watched() as progress:
        digest, new = make_format(
            services().database,
            services().store,
            account,
            path.library_id,
            path.number,
            body,
            progress=progress,
        )
    with services().database.session() as session:
        release, kept = format_by_digest(session, account, path.library_id, path.number, digest)
        sizes = [item.size_bytes for item in kept.items]
        answer = FormatBody(
            digest=digest, number=release.number, files=len(sizes), size_bytes=sum(sizes)
        )
    return make_response(answer.model_dump()), 201 if new else 200


@api.get(
    "/libraries/<library:library_id>/releases/<string:number>/formats/<string:digest>",
    responses={200: file_answer(JSON, description="The manifest"), 304: None, 404: Problem},
)
def manifest_of_format(path: FormatPath) -> Response:
    """The manifest of a release in a format; 304 where the caller has it."""
    with services().database.session() as session:
        account = current_account()
        release, kept = format_by_digest(
            session, account, path.library_id, path.number, path.digest
        )
        if request.if_none_match.contains(kept.manifest_digest):
            return with_tag(make_response(""), kept.manifest_digest)
        library = session.get_one(Library, path.library_id)
        body = format_manifest(release, kept, library.name)
    return with_tag(make_response(body), kept.manifest_digest)


@api.get(
    "/libraries/<library:library_id>/releases/<string:number>/files/<string:digest>",
    responses={200: file_answer(WAV, FLAC, OGG, AIFF), 304: None, 404: Problem},
)
def one_file(path: ItemPath) -> Response:
    """One file of a release by its SHA-256; 304 where the caller has it."""
    with services().database.session() as session:
        release = release_by_number(session, current_account(), path.library_id, path.number)
        held = release_holds(session, release, path.digest)
    if not held:
        raise NotFound("There is no such file in this release")
    data = services().store.get(path.digest)
    response = make_response(data)
    response.headers["Content-Type"] = _kind_of(data)
    return with_tag(response, path.digest)


def _kind_of(data: bytes) -> str:
    """The media type of a released file, by how it begins."""
    for begin, kind in ((b"RIFF", WAV), (b"fLaC", FLAC), (b"OggS", OGG), (b"FORM", AIFF)):
        if data.startswith(begin):
            return kind
    return "application/octet-stream"
