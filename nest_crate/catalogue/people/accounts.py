"""Who is at work: accounts, passwords, and the sessions that they open."""

from __future__ import annotations

import re
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

from argon2 import PasswordHasher
from argon2.exceptions import Argon2Error, InvalidHashError
from sqlalchemy import delete, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotAllowed, NotFound, NotPossible, NotSignedIn
from nest_crate.catalogue.db.models import Account, ApiToken, SignIn
from nest_crate.catalogue.people.given_links import end_links
from nest_crate.catalogue.people.trivial_passwords import is_trivial
from nest_crate.core.errors import DocumentError, FieldProblem

__all__ = [
    "CurrentAccount",
    "Scope",
    "account_by_handle",
    "account_by_id",
    "accounts_in_order",
    "change_password",
    "create_account",
    "current_of",
    "field_error",
    "renew_password",
    "require_administrator",
    "set_disabled",
    "set_password_where_none",
    "sign_in",
]

Scope = Literal["read", "write"]
SHORTEST_PASSWORD, LONGEST_PASSWORD = 10, 200
_HANDLE = re.compile(r"^[a-z0-9][a-z0-9._-]{1,39}$")
_hasher = PasswordHasher()
# What is checked where there is no such account, so that both take as long.
_NOBODYS = _hasher.hash("nobody has this password")


@dataclass(frozen=True)
class CurrentAccount:
    """The account a service works for, free of any session; ``scope`` is that of its token, and
    ``only_library`` the one library that the token opens, None where it opens all."""

    id: int
    handle: str
    name: str
    administrator: bool = False
    scope: Scope = "write"
    only_library: int | None = None


def current_of(account: Account) -> CurrentAccount:
    """An account at work, of its row."""
    return CurrentAccount(
        account.id, account.handle, account.name, administrator=account.administrator
    )


def _current(account: Account | None, wanted: object) -> CurrentAccount:
    if account is None:
        raise NotFound(f"There is no account {wanted!r}")
    return current_of(account)


def account_by_handle(session: Session, handle: str) -> CurrentAccount:
    """The account with a handle; ``NotFound`` where there is none."""
    return _current(session.scalar(select(Account).where(Account.handle == handle)), handle)


def account_by_id(session: Session, identifier: int) -> CurrentAccount:
    """The account with an id; ``NotFound`` where there is none or it is disabled."""
    account = session.get(Account, identifier)
    return _current(None if account is None or account.disabled else account, identifier)


def field_error(path: str, message: str) -> DocumentError:
    """An error that belongs to one field of a form."""
    return DocumentError([FieldProblem(path, message, "value_error")])


def _hashed(password: str, path: str = "password") -> str:
    if not SHORTEST_PASSWORD <= len(password) <= LONGEST_PASSWORD:
        raise field_error(path, f"use {SHORTEST_PASSWORD} to {LONGEST_PASSWORD} characters")
    if is_trivial(password):
        raise field_error(path, "this is among the first that others would try; choose another")
    return _hasher.hash(password)


def create_account(
    session: Session,
    *,
    handle: str,
    name: str,
    password: str | None = None,
    administrator: bool = False,
) -> CurrentAccount:
    """A new account; without a password nobody can sign in to it.

    Raises
    ------
    DocumentError
        naming the field: a handle that is taken or has other characters, a password too short.
    """
    handle = handle.strip().lower()
    if not _HANDLE.match(handle):
        raise field_error("handle", "use 2 to 40 characters from a to z, 0 to 9, . _ -")
    if not name.strip():
        raise field_error("name", "enter your name")
    if session.scalar(select(Account.id).where(Account.handle == handle)) is not None:
        raise field_error("handle", f"{handle!r} is taken; choose another")
    account = Account(
        handle=handle,
        name=name.strip()[:120],
        password_hash=None if password is None else _hashed(password),
        administrator=administrator,
    )
    session.add(account)
    try:
        session.flush()
    except IntegrityError as error:
        # Someone else was quicker with the same name.
        raise field_error("handle", f"{handle!r} is taken; choose another") from error
    return _current(account, handle)


def _fits(stored: str | None, password: str) -> bool:
    try:
        return _hasher.verify(stored or _NOBODYS, password[: 2 * LONGEST_PASSWORD]) and bool(stored)
    except (Argon2Error, InvalidHashError):
        return False


def sign_in(session: Session, *, handle: str, password: str) -> CurrentAccount:
    """The account that a name and a password open.

    Raises
    ------
    NotSignedIn
        saying the same whether the name, the password or both are wrong.
    """
    handle = handle.strip().lower()
    account = session.scalar(select(Account).where(Account.handle == handle))
    if account is not None and account.handle != handle:
        # The database takes letters with accents for those without.
        account = None
    if not _fits(account.password_hash if account else None, password) or account is None:
        raise NotSignedIn("Wrong name or password")
    if account.disabled:
        raise NotSignedIn("This account is closed; ask an administrator")
    if account.password_hash and _hasher.check_needs_rehash(account.password_hash):
        account.password_hash = _hasher.hash(password)
    return _current(account, handle)


def change_password(
    session: Session,
    account: CurrentAccount,
    *,
    current: str,
    wanted: str,
    end_tokens: bool = False,
) -> CurrentAccount:
    """A new password, which ends all sessions of the account, and its tokens where that is asked
    for. The caller signs the browser at work in again."""
    if account.scope != "write":
        raise NotAllowed("A read-only token cannot change a password")
    row = session.get_one(Account, account.id, with_for_update=True)
    if not _fits(row.password_hash, current):
        raise field_error("current", "this is not your current password")
    row.password_hash = _hashed(wanted, "wanted")
    session.execute(delete(SignIn).where(SignIn.account_id == account.id))
    if end_tokens:
        session.execute(delete(ApiToken).where(ApiToken.account_id == account.id))
    return _current(row, account.id)


def renew_password(session: Session, account_id: int, wanted: str) -> CurrentAccount:
    """A new password for a user who lost theirs; it ends all sessions of the account."""
    row = session.get(Account, account_id, with_for_update=True)
    if row is None or row.disabled:
        raise NotFound("This account is closed; ask an administrator")
    row.password_hash = _hashed(wanted)
    session.execute(delete(SignIn).where(SignIn.account_id == account_id))
    return _current(row, account_id)


def set_password_where_none(session: Session, handle: str, password: str) -> None:
    """A first password for an account that cannot be signed in to yet."""
    row = session.scalar(select(Account).where(Account.handle == handle).with_for_update())
    if row is not None and row.password_hash is None:
        row.password_hash = _hashed(password)


def require_administrator(account: CurrentAccount) -> None:
    """``NotAllowed`` where the account is none."""
    if not account.administrator or account.scope != "write":
        raise NotAllowed("Only an administrator may do this")


def accounts_in_order(session: Session, account: CurrentAccount) -> Sequence[Account]:
    """All accounts by name, for an administrator."""
    require_administrator(account)
    return session.scalars(select(Account).order_by(Account.name, Account.id)).all()


def set_disabled(
    session: Session, account: CurrentAccount, account_id: int, *, disabled: bool
) -> None:
    """Close an account, which ends its sessions, tokens and links for good, or open it again."""
    require_administrator(account)
    if account_id == account.id:
        raise NotPossible("You cannot close your own account")
    row = session.get(Account, account_id)
    if row is None:
        raise NotFound(f"There is no account {account_id}")
    row.disabled = disabled
    if disabled:
        session.execute(delete(SignIn).where(SignIn.account_id == account_id))
        session.execute(delete(ApiToken).where(ApiToken.account_id == account_id))
        end_links(session, f"the account of {row.name} was closed", created_by_id=account_id)
