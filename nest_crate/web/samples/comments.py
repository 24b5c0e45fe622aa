"""Comments on samples, and wishes beside a library."""

from __future__ import annotations

from typing import Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.shared_models import Comment, Wish
from nest_crate.catalogue.samples.comments import (
    add_comment,
    answer_wish,
    close_wish,
    comments_on,
    make_wish,
    remove_comment,
    wishes_of,
)
from nest_crate.web.infra.answers import moment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, LibraryPath, SamplePath
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint("talking", __name__, url_prefix="/api", abp_tags=[Tag(name="libraries")])


class CommentRequest(Form):
    text: str = Field(max_length=4000)
    at_s: float | None = Field(default=None, allow_inf_nan=False)


class CommentBody(BaseModel):
    id: int
    by: str
    own: bool
    at_s: float | None
    text: str
    created: str


class CommentsBody(BaseModel):
    comments: list[CommentBody]


class CommentPath(BaseModel):
    comment_id: int


def _comment(comment: Comment, account_id: int, name: str | None = None) -> CommentBody:
    return CommentBody(
        id=comment.id,
        by=name or comment.account.name,
        own=comment.account_id == account_id,
        at_s=comment.at_s,
        text=comment.text,
        created=moment(comment.created),
    )


@api.get("/samples/<int:sample_id>/comments", responses={200: CommentsBody, 404: Problem})
def list_comments(path: SamplePath) -> Response:
    """The comments on a sample, by time in it."""
    account = current_account()
    with services().database.session() as session:
        rows = comments_on(session, account, path.sample_id)
        listed = [_comment(one, account.id).model_dump() for one in rows]
    return make_response({"comments": listed})


@api.post("/samples/<int:sample_id>/comments", responses={201: CommentBody, 403: Problem})
def new_comment(path: SamplePath, body: CommentRequest) -> tuple[Response, int]:
    """Comment on a sample, perhaps at a time in it."""
    account = current_account()
    with services().database.session() as session:
        made = add_comment(session, account, path.sample_id, text=body.text, at_s=body.at_s)
        answer = _comment(made, account.id, account.name)
    return make_response(answer.model_dump()), 201


@api.delete("/comments/<int:comment_id>", responses={204: None, 403: Problem, 404: Problem})
def drop_comment(path: CommentPath) -> Response:
    """Take a comment back."""
    with services().database.session() as session:
        remove_comment(session, current_account(), path.comment_id)
    return make_response("", 204)


class WishPath(BaseModel):
    wish_id: int


class WishRequest(Form):
    title: str = Field(max_length=120)
    text: str = Field(default="", max_length=4000)
    recording_id: int | None = None


class AnswerRequest(Form):
    sample_id: int | None = None
    sound_id: int | None = None


class WishStateRequest(Form):
    state: Literal["open", "closed"]


class WishBody(BaseModel):
    id: int
    by: str
    own: bool
    title: str
    text: str
    reference: str | None
    state: str
    sample_id: int | None
    sound_id: int | None
    created: str


class WishesBody(BaseModel):
    wishes: list[WishBody]


def _wish(wish: Wish, account_id: int) -> WishBody:
    return WishBody(
        id=wish.id,
        by=wish.account.name,
        own=wish.account_id == account_id,
        title=wish.title,
        text=wish.text,
        reference=wish.reference_digest,
        state=wish.state,
        sample_id=wish.sample_id,
        sound_id=wish.sound_id,
        created=moment(wish.created),
    )


@api.get("/libraries/<library:library_id>/wishes", responses={200: WishesBody, 404: Problem})
def list_wishes(path: LibraryPath) -> Response:
    """The wishes beside a library: open ones first."""
    account = current_account()
    with services().database.session() as session:
        rows = wishes_of(session, account, path.library_id)
        listed = [_wish(one, account.id).model_dump() for one in rows]
    return make_response({"wishes": listed})


@api.post("/libraries/<library:library_id>/wishes", responses={201: WishBody, 403: Problem})
def new_wish(path: LibraryPath, body: WishRequest) -> tuple[Response, int]:
    """Request a sound; a recording may show what is meant."""
    account = current_account()
    with services().database.session() as session:
        wish = make_wish(
            session,
            account,
            path.library_id,
            title=body.title,
            text=body.text,
            recording_id=body.recording_id,
        )
        answer = _wish(wish, account.id)
    return make_response(answer.model_dump()), 201


@api.post("/wishes/<int:wish_id>/answer", responses={200: WishBody, 403: Problem, 422: Problem})
def answer(path: WishPath, body: AnswerRequest) -> Response:
    """Point to the sample or sound that answers a wish."""
    account = current_account()
    with services().database.session() as session:
        wish = answer_wish(
            session, account, path.wish_id, sample_id=body.sample_id, sound_id=body.sound_id
        )
        made = _wish(wish, account.id)
    return make_response(made.model_dump())


@api.put("/wishes/<int:wish_id>", responses={200: WishBody, 403: Problem})
def put_state(path: WishPath, body: WishStateRequest) -> Response:
    """Close a wish or open it again."""
    account = current_account()
    with services().database.session() as session:
        made = _wish(close_wish(session, account, path.wish_id, state=body.state), account.id)
    return make_response(made.model_dump())
