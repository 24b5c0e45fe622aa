"""Signing in and out, one's own password and tokens."""

from __future__ import annotations

from typing import Literal

import structlog
from flask import Response, make_response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.errors import NotSignedIn
from nest_crate.catalogue.db.models import Account, ApiToken, Library
from nest_crate.catalogue.people.accounts import CurrentAccount, change_password, sign_in
from nest_crate.catalogue.people.keys import (
    accept_invitation,
    make_token,
    open_invitation,
    remove_token,
    tokens_of,
)
from nest_crate.catalogue.people.secrets import secret_digest
from nest_crate.catalogue.people.sign_ins import end_sign_in, end_sign_ins, sign_ins_of
from nest_crate.catalogue.people.tries import TooManyTries, begin_try, forget_tries
from nest_crate.demo.people import DEMO_PASSWORD, DEMO_PEOPLE
from nest_crate.web.infra.answers import moment
from nest_crate.web.infra.context import (
    close_session,
    current_account,
    open_session,
    services,
    session_secret,
)
from nest_crate.web.infra.forms import Form
from nest_crate.web.infra.guard import limiter
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

_log = structlog.get_logger()
# Of one name; each more costs a pause.
_FREE_TRIES = 5

api = APIBlueprint("session", __name__, url_prefix="/api/session", abp_tags=[Tag(name="people")])


class AccountBody(BaseModel):
    """The account at work."""

    id: int
    handle: str
    name: str
    administrator: bool


class DemoPersonBody(BaseModel):
    """One of the demo's made-up people, offered where the demo runs."""

    handle: str
    name: str
    role: str
    password: str


class SessionBody(BaseModel):
    """Who is signed in, if anybody; and the demo's people where they are offered."""

    account: AccountBody | None
    demo_people: list[DemoPersonBody]


class SignInRequest(Form):
    handle: str = Field(min_length=1, max_length=60)
    password: str = Field(min_length=1, max_length=400)


class PasswordRequest(Form):
    current: str = Field(max_length=400)
    wanted: str = Field(max_length=400)
    end_tokens: bool = Field(default=False, description="The account's tokens end too")


class TokenRequest(Form):
    name: str = Field(min_length=1, max_length=60)
    scope: Literal["read", "write"] = "read"
    days: int = 90
    library_id: int | None = Field(default=None, description="The one library that it opens")


class TokenBody(BaseModel):
    """A token; ``secret`` is shown only once, when it is made."""

    id: int
    name: str
    scope: str
    library_id: int | None = Field(description="The one library that it opens; null: all")
    created: str
    expires: str
    last_used: str | None
    secret: str | None = None


class TokenList(BaseModel):
    tokens: list[TokenBody]


class TokenPath(BaseModel):
    token_id: int


class SecretPath(BaseModel):
    secret: str = Field(max_length=200)


class InvitationBody(BaseModel):
    """What an invitation is for."""

    note: str
    library: str | None
    role: str
    account: str | None = Field(description="Handle, where it is for a new password of one")


class AcceptRequest(Form):
    """Handle and name are those of a new account; one that is there keeps its own."""

    handle: str = Field(default="", max_length=60)
    name: str = Field(default="", max_length=120)
    password: str = Field(max_length=400)


def account_body(account: CurrentAccount) -> AccountBody:
    """An account as it is answered."""
    return AccountBody(
        id=account.id,
        handle=account.handle,
        name=account.name,
        administrator=account.administrator,
    )


def _session(account: CurrentAccount | None) -> Response:
    offered = services().settings.demo_sign_in
    people = [
        DemoPersonBody(handle=one.handle, name=one.name, role=one.role, password=DEMO_PASSWORD)
        for one in DEMO_PEOPLE
    ]
    body = SessionBody(
        account=None if account is None else account_body(account),
        demo_people=people if offered else [],
    )
    return make_response(body.model_dump())


def _tries() -> str:
    return f"{services().settings.sign_ins_a_minute} per minute"


@api.get("", responses={200: SessionBody})
def who() -> Response:
    """Who is signed in."""
    try:
        return _session(current_account())
    except NotSignedIn:
        return _session(None)


@api.post("", responses={200: SessionBody, 401: Problem, 429: Problem})
def enter(body: SignInRequest) -> Response:
    """Sign in; some tries a minute from one address."""
    about = _tried(body.handle)
    with services().database.session() as session:
        try:
            account = sign_in(session, handle=body.handle, password=body.password)
        except NotSignedIn:
            _log.warning("sign_in_failed", name=body.handle[:60], address=request.remote_addr)
            raise
        forget_tries(session, *about)
        open_session(session, account)
    return _session(account)


def _tried(handle: str) -> tuple[str, str]:
    """Count a try before it is looked at, by name and by address."""
    about = (f"name {handle.strip().lower()}", f"address {request.remote_addr}")
    free = (_FREE_TRIES, services().settings.sign_ins_a_minute)
    for key, count in zip(about, free, strict=True):
        try:
            with services().database.session() as session:
                begin_try(session, key, free=count)
        except TooManyTries:
            _log.warning("sign_in_refused", name=handle[:60], address=request.remote_addr)
            raise
    return about


class SignInBody(BaseModel):
    """A browser that is signed in."""

    id: int
    device: str = Field(description="What the browser says it is")
    address: str
    created: str
    last_seen: str
    current: bool


class SignInList(BaseModel):
    sign_ins: list[SignInBody]


class SignInPath(BaseModel):
    sign_in_id: int


@api.get("/sign-ins", responses={200: SignInList})
def list_sign_ins() -> Response:
    """Where one is signed in, the last seen first."""
    mine = secret_digest(session_secret())
    with services().database.session() as session:
        listed = [
            SignInBody(
                id=one.id,
                device=one.device,
                address=one.address,
                created=moment(one.created),
                last_seen=moment(one.last_seen),
                current=one.secret_digest == mine,
            ).model_dump()
            for one in sign_ins_of(session, current_account())
        ]
    return make_response({"sign_ins": listed})


@api.delete("/sign-ins/<int:sign_in_id>", responses={204: None, 404: Problem})
def end_one(path: SignInPath) -> Response:
    """Sign out one browser."""
    with services().database.session() as session:
        end_sign_in(session, current_account(), path.sign_in_id)
    return make_response("", 204)


@api.delete("/sign-ins", responses={204: None})
def end_others() -> Response:
    """Sign out every other browser."""
    account = current_account()
    with services().database.session() as session:
        end_sign_ins(session, account.id, but=session_secret())
    return make_response("", 204)


@api.delete("", responses={200: SessionBody})
def leave() -> Response:
    """Sign out."""
    close_session()
    return _session(None)


@api.put("/password", responses={200: SessionBody, 422: Problem})
@limiter.limit(_tries)
def new_password(body: PasswordRequest) -> Response:
    """Change one's password; all other sessions end."""
    with services().database.session() as session:
        account = change_password(
            session,
            current_account(),
            current=body.current,
            wanted=body.wanted,
            end_tokens=body.end_tokens,
        )
        open_session(session, account)
    return _session(account)


def _token(token: ApiToken, secret: str | None = None) -> TokenBody:
    return TokenBody(
        id=token.id,
        name=token.name,
        scope=token.scope,
        library_id=token.library_id,
        created=f"{token.created.isoformat()}Z",
        expires=f"{token.expires.isoformat()}Z",
        last_used=f"{token.last_used.isoformat()}Z" if token.last_used else None,
        secret=secret,
    )


@api.get("/tokens", responses={200: TokenList})
def list_tokens() -> Response:
    """One's own tokens, newest first."""
    with services().database.session() as session:
        listed = [_token(one).model_dump() for one in tokens_of(session, current_account())]
    return make_response({"tokens": listed})


@api.post("/tokens", responses={201: TokenBody, 422: Problem})
def new_token(body: TokenRequest) -> tuple[Response, int]:
    """A token for a program; its secret is shown only once."""
    with services().database.session() as session:
        token, secret = make_token(
            session,
            current_account(),
            name=body.name,
            scope=body.scope,
            days=body.days,
            library_id=body.library_id,
        )
        answer = _token(token, secret)
    return make_response(answer.model_dump()), 201


@api.delete("/tokens/<int:token_id>", responses={204: None, 404: Problem})
def drop_token(path: TokenPath) -> Response:
    """Remove a token; what uses it is shut out at once."""
    with services().database.session() as session:
        remove_token(session, current_account(), path.token_id)
    return make_response("", 204)


@api.get("/invitations/<string:secret>", responses={200: InvitationBody, 404: Problem})
@limiter.limit(_tries)
def look_at_invitation(path: SecretPath) -> Response:
    """What an invitation is for; 404 where it is not valid any more."""
    with services().database.session() as session:
        invitation = open_invitation(session, path.secret)
        library = session.get(Library, invitation.library_id) if invitation.library_id else None
        account = session.get(Account, invitation.account_id) if invitation.account_id else None
        body = InvitationBody(
            note=invitation.note,
            library=library.name if library else None,
            role=invitation.role,
            account=account.handle if account else None,
        )
    return make_response(body.model_dump())


@api.post("/invitations/<string:secret>", responses={200: SessionBody, 404: Problem, 422: Problem})
@limiter.limit(_tries)
def accept(path: SecretPath, body: AcceptRequest) -> Response:
    """Make an account by an invitation and sign in with it."""
    with services().database.session() as session:
        account = accept_invitation(
            session, path.secret, handle=body.handle, name=body.name, password=body.password
        )
        open_session(session, account)
    return _session(account)
