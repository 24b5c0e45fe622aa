"""Who is at work. For now one built-in account, behind the interface real ones will use."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.errors import NotFound
from nest_crate.catalogue.models import Account

__all__ = ["CurrentAccount", "account_by_handle", "account_by_id", "create_account"]


@dataclass(frozen=True)
class CurrentAccount:
    """The account a service works for, free of any session."""

    id: int
    handle: str
    name: str


def _current(account: Account | None, wanted: object) -> CurrentAccount:
    if account is None:
        raise NotFound(f"There is no account {wanted!r}")
    return CurrentAccount(account.id, account.handle, account.name)


def account_by_handle(session: Session, handle: str) -> CurrentAccount:
    """The account with a handle; ``NotFound`` where there is none."""
    return _current(session.scalar(select(Account).where(Account.handle == handle)), handle)


def account_by_id(session: Session, identifier: int) -> CurrentAccount:
    """The account with an id; ``NotFound`` where there is none."""
    return _current(session.get(Account, identifier), identifier)


def create_account(session: Session, *, handle: str, name: str) -> CurrentAccount:
    """A new account."""
    account = Account(handle=handle, name=name)
    session.add(account)
    session.flush()
    return _current(account, handle)
