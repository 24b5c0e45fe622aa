"""Accounts and invitations, for administrators; members of libraries, for their owners."""

from __future__ import annotations

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.models import Account, Invitation, Member
from nest_crate.catalogue.people.accounts import accounts_in_order, set_disabled
from nest_crate.catalogue.people.keys import (
    invitations_of,
    invite,
    invite_back,
    withdraw_invitation,
)
from nest_crate.catalogue.people.libraries import members_of, remove_member, set_member
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.forms import Form, LibraryPath
from nest_crate.web.infra.problems import Problem

__all__ = ["api"]

api = APIBlueprint("people", __name__, url_prefix="/api", abp_tags=[Tag(name="people")])


class PersonBody(BaseModel):
    """An account as administrators see it."""

    id: int
    handle: str
    name: str
    administrator: bool
    disabled: bool
    created: str


class PeopleBody(BaseModel):
    people: list[PersonBody]


class AccountPath(BaseModel):
    account_id: int


class DisableRequest(Form):
    disabled: bool


class InviteRequest(Form):
    note: str = Field(default="", max_length=200)
    library_id: int | None = None
    role: str = "listener"


class InvitationRow(BaseModel):
    """An invitation; ``path`` is shown only once, when it is made."""

    id: int
    note: str
    role: str
    library_id: int | None
    account_id: int | None
    created: str
    expires: str
    used: str | None
    path: str | None = None


class InvitationsBody(BaseModel):
    invitations: list[InvitationRow]


class InvitationPath(BaseModel):
    invitation_id: int


class MemberPath(LibraryPath):
    account_id: int


class MemberRequest(Form):
    handle: str = Field(max_length=60)
    role: str = Field(max_length=20)


class MemberBody(BaseModel):
    account_id: int
    handle: str
    name: str
    role: str


class MembersBody(BaseModel):
    members: list[MemberBody]


def _person(account: Account) -> PersonBody:
    return PersonBody(
        id=account.id,
        handle=account.handle,
        name=account.name,
        administrator=account.administrator,
        disabled=account.disabled,
        created=f"{account.created.isoformat()}Z",
    )


@api.get("/accounts", responses={200: PeopleBody, 403: Problem})
def list_accounts() -> Response:
    """All accounts by name."""
    with services().database.session() as session:
        listed = [
            _person(one).model_dump() for one in accounts_in_order(session, current_account())
        ]
    return make_response({"people": listed})


@api.put("/accounts/<int:account_id>", responses={204: None, 403: Problem, 409: Problem})
def close_account(path: AccountPath, body: DisableRequest) -> Response:
    """Close an account or open it again."""
    with services().database.session() as session:
        set_disabled(session, current_account(), path.account_id, disabled=body.disabled)
    return make_response("", 204)


def _invitation(one: Invitation, secret: str | None = None) -> InvitationRow:
    return InvitationRow(
        id=one.id,
        note=one.note,
        role=one.role,
        library_id=one.library_id,
        account_id=one.account_id,
        created=f"{one.created.isoformat()}Z",
        expires=f"{one.expires.isoformat()}Z",
        used=f"{one.used.isoformat()}Z" if one.used else None,
        path=f"/welcome/{secret}" if secret else None,
    )


@api.get("/invitations", responses={200: InvitationsBody, 403: Problem})
def list_invitations() -> Response:
    """All invitations, newest first."""
    with services().database.session() as session:
        listed = [
            _invitation(one).model_dump() for one in invitations_of(session, current_account())
        ]
    return make_response({"invitations": listed})


@api.post("/invitations", responses={201: InvitationRow, 403: Problem, 422: Problem})
def new_invitation(body: InviteRequest) -> tuple[Response, int]:
    """Invite someone; the answer holds the one-time link's path."""
    with services().database.session() as session:
        invitation, secret = invite(
            session,
            current_account(),
            note=body.note,
            library_id=body.library_id,
            role=body.role,
        )
        answer = _invitation(invitation, secret)
    return make_response(answer.model_dump()), 201


@api.post("/accounts/<int:account_id>/invitation", responses={201: InvitationRow, 403: Problem})
def new_password_link(path: AccountPath) -> tuple[Response, int]:
    """A one-time link by which the account's owner chooses a new password."""
    with services().database.session() as session:
        invitation, secret = invite_back(session, current_account(), path.account_id)
        answer = _invitation(invitation, secret)
    return make_response(answer.model_dump()), 201


@api.delete("/invitations/<int:invitation_id>", responses={204: None, 404: Problem})
def drop_invitation(path: InvitationPath) -> Response:
    """Withdraw an invitation that was not used."""
    with services().database.session() as session:
        withdraw_invitation(session, current_account(), path.invitation_id)
    return make_response("", 204)


def _member(member: Member) -> MemberBody:
    account = member.account
    return MemberBody(
        account_id=account.id, handle=account.handle, name=account.name, role=member.role
    )


@api.get("/libraries/<library:library_id>/members", responses={200: MembersBody, 404: Problem})
def list_members(path: LibraryPath) -> Response:
    """The members of a library by name."""
    with services().database.session() as session:
        rows = members_of(session, current_account(), path.library_id)
        listed = [_member(one).model_dump() for one in rows]
    return make_response({"members": listed})


@api.put("/libraries/<library:library_id>/members", responses={200: MemberBody, 422: Problem})
def put_member(path: LibraryPath, body: MemberRequest) -> Response:
    """Give someone a role in a library, or another one."""
    with services().database.session() as session:
        member = set_member(
            session, current_account(), path.library_id, handle=body.handle, role=body.role
        )
        answer = _member(member)
    return make_response(answer.model_dump())


class RemovedMember(BaseModel):
    """How many links that they made ended with it; an owner may keep them."""

    links_ended: int


@api.delete(
    "/libraries/<library:library_id>/members/<int:account_id>", responses={200: RemovedMember}
)
def drop_member(path: MemberPath) -> Response:
    """Someone is no member any more."""
    with services().database.session() as session:
        ended = remove_member(session, current_account(), path.library_id, path.account_id)
    return make_response(RemovedMember(links_ended=ended).model_dump())
