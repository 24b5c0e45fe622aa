"""Browsers that are signed in: each is listed, and ended by itself or with all others."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotFound, NotSignedIn
from nest_crate.catalogue.db.models import Account, SignIn, utc_now
from nest_crate.catalogue.people.accounts import CurrentAccount, current_of
from nest_crate.catalogue.people.secrets import new_secret, secret_digest

__all__ = ["account_signed_in", "begin_sign_in", "end_sign_in", "end_sign_ins", "sign_ins_of"]

# Exact enough to tell browsers apart, and spares a write for each request.
_SEEN_EVERY = timedelta(minutes=5)


def begin_sign_in(
    session: Session, account_id: int, *, days: int, device: str = "", address: str = ""
) -> str:
    """A new one; answers the secret for its cookie. Expired ones of the account go."""
    secret = new_secret("session")
    expired = (SignIn.account_id == account_id, SignIn.expires < utc_now())
    session.execute(delete(SignIn).where(*expired))
    session.add(
        SignIn(
            secret_digest=secret_digest(secret),
            account_id=account_id,
            device=device[:200],
            address=address[:45],
            expires=utc_now() + timedelta(days=days),
        )
    )
    session.flush()
    return secret


def account_signed_in(session: Session, secret: str) -> CurrentAccount:
    """The account of a cookie's secret; ``NotSignedIn`` where it ended or the account is closed."""
    query = (
        select(SignIn, Account)
        .join(Account, SignIn.account_id == Account.id)
        .where(SignIn.secret_digest == secret_digest(secret))
    )
    row = session.execute(query).one_or_none()
    now = utc_now()
    if row is None or row[0].expires < now or row[1].disabled:
        raise NotSignedIn("Sign in again")
    found, account = row
    if now - found.last_seen > _SEEN_EVERY:
        found.last_seen = now
    return current_of(account)


def sign_ins_of(session: Session, account: CurrentAccount) -> Sequence[SignIn]:
    """Those of an account, the one last seen first."""
    query = select(SignIn).where(SignIn.account_id == account.id, SignIn.expires >= utc_now())
    return session.scalars(query.order_by(SignIn.last_seen.desc(), SignIn.id.desc())).all()


def end_sign_in(session: Session, account: CurrentAccount, identifier: int) -> None:
    """One of one's own is signed out."""
    found = session.get(SignIn, identifier)
    if found is None or found.account_id != account.id:
        raise NotFound("There is no such session")
    session.delete(found)


def end_sign_ins(session: Session, account_id: int, *, but: str = "") -> None:
    """All of an account are signed out, but the one with this secret."""
    query = delete(SignIn).where(SignIn.account_id == account_id)
    if but:
        query = query.where(SignIn.secret_digest != secret_digest(but))
    session.execute(query)
