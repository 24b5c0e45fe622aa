"""What opens without a password: invitations, tokens of programs. Only digests are kept."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from datetime import datetime, timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotAllowed, NotFound, NotSignedIn
from nest_crate.catalogue.db.models import Account, ApiToken, Invitation, Member, utc_now
from nest_crate.catalogue.people.accounts import (
    CurrentAccount,
    Scope,
    account_by_id,
    create_account,
    field_error,
    renew_password,
    require_administrator,
)
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.people.permissions import MEMBER_ROLES
from nest_crate.catalogue.people.secrets import new_secret, secret_digest

__all__ = [
    "accept_invitation",
    "account_of_token",
    "invitations_of",
    "invite",
    "invite_back",
    "make_token",
    "open_invitation",
    "remove_token",
    "tokens_of",
    "withdraw_invitation",
]

_INVITED_FOR = timedelta(days=7)
_MOST_DAYS = 730


def invite(
    session: Session,
    account: CurrentAccount,
    *,
    note: str = "",
    library_id: int | None = None,
    role: str = "listener",
) -> tuple[Invitation, str]:
    """A one-time invitation by an administrator, and its secret, which is shown only once."""
    require_administrator(account)
    if role not in MEMBER_ROLES:
        raise field_error("role", f"{role!r} is not a role in a library")
    if library_id is not None:
        require_library(session, account, library_id, "members.manage")
    secret = new_secret("invitation")
    invitation = Invitation(
        token_digest=secret_digest(secret),
        made_by_id=account.id,
        note=note.strip(),
        library_id=library_id,
        role=role,
        expires=utc_now() + _INVITED_FOR,
    )
    session.add(invitation)
    session.flush()
    return invitation, secret


def invite_back(
    session: Session, account: CurrentAccount, account_id: int
) -> tuple[Invitation, str]:
    """A one-time link by which someone who has an account chooses a new password, and its secret;
    the present password stays good until then."""
    require_administrator(account)
    other = session.get(Account, account_id)
    if other is None or other.disabled:
        raise NotFound(f"There is no open account {account_id}")
    secret = new_secret("invitation")
    invitation = Invitation(
        token_digest=secret_digest(secret),
        made_by_id=account.id,
        note=f"A new password for {other.name}"[:200],
        account_id=other.id,
        expires=utc_now() + _INVITED_FOR,
    )
    session.add(invitation)
    session.flush()
    return invitation, secret


def invitations_of(session: Session, account: CurrentAccount) -> Sequence[Invitation]:
    """All invitations, newest first."""
    require_administrator(account)
    return session.scalars(select(Invitation).order_by(Invitation.id.desc()).limit(200)).all()


def withdraw_invitation(session: Session, account: CurrentAccount, invitation_id: int) -> None:
    """An invitation that was not used opens nothing any more."""
    require_administrator(account)
    invitation = session.get(Invitation, invitation_id, with_for_update=True)
    if invitation is None or invitation.used is not None:
        raise NotFound("There is no such open invitation")
    session.delete(invitation)


def open_invitation(session: Session, secret: str, *, lock: bool = False) -> Invitation:
    """The invitation of a secret; ``NotFound`` where it was used, has expired or never was."""
    query = select(Invitation).where(Invitation.token_digest == secret_digest(secret))
    invitation = session.scalar(query.with_for_update() if lock else query)
    if invitation is None or invitation.used is not None or invitation.expires < utc_now():
        raise NotFound("This invitation is no longer valid. Ask for a new one.")
    return invitation


def accept_invitation(
    session: Session, secret: str, *, handle: str, name: str, password: str
) -> CurrentAccount:
    """The account that an invitation makes, or the one that it gives a new password, whose name and
    handle stay then; it can be used once."""
    invitation = open_invitation(session, secret, lock=True)
    if invitation.account_id is not None:
        invitation.used = utc_now()
        return renew_password(session, invitation.account_id, password)
    account = create_account(session, handle=handle, name=name, password=password)
    invitation.used = utc_now()
    invitation.account_id = account.id
    if invitation.library_id is not None:
        member = Member(
            library_id=invitation.library_id, account_id=account.id, role=invitation.role
        )
        session.add(member)
    return account


def make_token(
    session: Session,
    account: CurrentAccount,
    *,
    name: str,
    scope: Scope,
    days: int,
    library_id: int | None = None,
) -> tuple[ApiToken, str]:
    """A token for a program, and its secret, which is shown only once. With ``library_id`` it opens
    that library alone."""
    if account.scope != "write":
        raise NotAllowed("A read-only token cannot make tokens")
    if account.only_library is not None:
        raise NotAllowed("A token for one library cannot make tokens")
    if library_id is not None:
        require_library(session, account, library_id)
    if not 1 <= days <= _MOST_DAYS:
        raise field_error("days", f"a token lasts 1 to {_MOST_DAYS} days")
    secret = new_secret("token")
    token = ApiToken(
        account_id=account.id,
        name=name.strip() or "Token",
        token_digest=secret_digest(secret),
        scope=scope,
        library_id=library_id,
        expires=utc_now() + timedelta(days=days),
    )
    session.add(token)
    session.flush()
    return token, secret


def tokens_of(session: Session, account: CurrentAccount) -> Sequence[ApiToken]:
    """The account's tokens, newest first."""
    query = select(ApiToken).where(ApiToken.account_id == account.id)
    return session.scalars(query.order_by(ApiToken.id.desc())).all()


def remove_token(session: Session, account: CurrentAccount, token_id: int) -> None:
    """A token that opens nothing any more."""
    token = session.get(ApiToken, token_id)
    if account.scope != "write":
        raise NotAllowed("A read-only token cannot remove tokens")
    if account.only_library is not None:
        raise NotAllowed("A token for one library cannot remove tokens")
    if token is None or token.account_id != account.id:
        raise NotFound(f"There is no token {token_id}")
    session.delete(token)


def account_of_token(session: Session, secret: str) -> CurrentAccount:
    """The account that a token works for, with the token's scope.

    Raises
    ------
    NotSignedIn
        where there is no such token, or it has expired, or the account is closed.
    """
    query = select(ApiToken).where(ApiToken.token_digest == secret_digest(secret))
    token = session.scalar(query)
    now: datetime = utc_now()
    if token is None or token.expires < now:
        raise NotSignedIn("This token is not valid, or has expired")
    # Once a minute is exact enough, and spares a write for each request.
    if token.last_used is None or now - token.last_used > timedelta(minutes=1):
        token.last_used = now
    try:
        account = account_by_id(session, token.account_id)
    except NotFound as error:
        raise NotSignedIn("This token's account is closed") from error
    scope: Scope = "read" if token.scope == "read" else "write"
    return replace(account, scope=scope, administrator=False, only_library=token.library_id)
