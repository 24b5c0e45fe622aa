"""Links that open a release, a sample, a sound or a try-out without an account; see ``shared``."""

from __future__ import annotations

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.shared_models import ShareLink
from nest_crate.catalogue.releases.links import (
    keep_link,
    links_of,
    revoke_link,
    share_release,
    share_sample,
    share_sound,
    share_tryout,
)
from nest_crate.catalogue.releases.releases import release_by_number
from nest_crate.web.infra.answers import moment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, LibraryPath, SamplePath, SoundPath
from nest_crate.web.infra.problems import Problem
from nest_crate.web.releases.releases import ReleasePath

__all__ = ["api"]

api = APIBlueprint("links", __name__, url_prefix="/api", abp_tags=[Tag(name="releases")])


class ShareRequest(Form):
    days: int = 30
    note: str = Field(default="", max_length=500)


class LinkBody(BaseModel):
    """A link; ``path`` is shown only once, when it is made."""

    id: int
    release_id: int | None
    sample_id: int | None
    sound_id: int | None
    tryout_id: int | None
    note: str
    expires: str
    revoked: bool
    ended_because: str = Field(description="Why it ended by itself; an owner may keep it then")
    path: str | None = None


class LinksBody(BaseModel):
    links: list[LinkBody]


class LinkedTryOutPath(BaseModel):
    tryout_id: int


class LinkPath(BaseModel):
    link_id: int


def _link(link: ShareLink, secret: str | None = None) -> LinkBody:
    return LinkBody(
        id=link.id,
        release_id=link.release_id,
        sample_id=link.sample_id,
        sound_id=link.sound_id,
        tryout_id=link.tryout_id,
        note=link.note,
        expires=moment(link.expires),
        revoked=link.revoked,
        ended_because=link.ended_because,
        path=f"/shared/{secret}" if secret else None,
    )


def _told(link: ShareLink, secret: str) -> tuple[Response, int]:
    """A new link with its path, which is shown only once."""
    return make_response(_link(link, secret).model_dump()), 201


@api.post(
    "/libraries/<library:library_id>/releases/<string:number>/links",
    responses={201: LinkBody, 403: Problem, 422: Problem},
)
def link_release(path: ReleasePath, body: ShareRequest) -> tuple[Response, int]:
    """A link that opens a release without an account until it expires."""
    with services().database.session() as session:
        account = current_account()
        release = release_by_number(session, account, path.library_id, path.number)
        return _told(*share_release(session, account, release.id, **body.model_dump()))


@api.post("/samples/<int:sample_id>/links", responses={201: LinkBody, 403: Problem, 422: Problem})
def link_sample(path: SamplePath, body: ShareRequest) -> tuple[Response, int]:
    """A link that opens a sample with its sound and notes without an account."""
    with services().database.session() as session:
        return _told(*share_sample(session, current_account(), path.sample_id, **body.model_dump()))


@api.post("/sounds/<int:sound_id>/links", responses={201: LinkBody, 403: Problem, 422: Problem})
def link_sound(path: SoundPath, body: ShareRequest) -> tuple[Response, int]:
    """A link that opens a sound, as it is then, without an account."""
    with services().database.session() as session:
        return _told(*share_sound(session, current_account(), path.sound_id, **body.model_dump()))


@api.post("/tryouts/<int:tryout_id>/links", responses={201: LinkBody, 403: Problem, 404: Problem})
def link_tryout(path: LinkedTryOutPath, body: ShareRequest) -> tuple[Response, int]:
    """A link that plays a try-out, as it is then, without an account."""
    with services().database.session() as session:
        return _told(*share_tryout(session, current_account(), path.tryout_id, **body.model_dump()))


@api.get("/libraries/<library:library_id>/links", responses={200: LinksBody, 403: Problem})
def list_links(path: LibraryPath) -> Response:
    """The links of a library, newest first."""
    with services().database.session() as session:
        rows = links_of(session, current_account(), path.library_id)
        return make_response({"links": [_link(one).model_dump() for one in rows]})


@api.delete("/links/<int:link_id>", responses={204: None, 403: Problem, 404: Problem})
def drop_link(path: LinkPath) -> Response:
    """A link that opens nothing any more."""
    with services().database.session() as session:
        revoke_link(session, current_account(), path.link_id)
    return make_response("", 204)


@api.post("/links/<int:link_id>/keep", responses={200: LinkBody, 403: Problem, 404: Problem})
def take_over_link(path: LinkPath) -> Response:
    """Let a link open again that ended with its maker's membership or the library's openness."""
    with services().database.session() as session:
        link = keep_link(session, current_account(), path.link_id)
        return make_response(_link(link).model_dump())
