"""Libraries and who may do what in them."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from nest_crate.catalogue.accounts import CurrentAccount
from nest_crate.catalogue.errors import NotAllowed, NotFound
from nest_crate.catalogue.models import Library, Member, Sample

__all__ = ["create_library", "libraries_of", "require_library"]

_RANK = {"reader": 0, "editor": 1, "owner": 2}


def create_library(
    session: Session, account: CurrentAccount, *, name: str, description: str = ""
) -> Library:
    """A new library that the account owns."""
    library = Library(name=name.strip(), description=description)
    session.add(library)
    session.flush()
    session.add(Member(library_id=library.id, account_id=account.id, role="owner"))
    return library


def libraries_of(session: Session, account: CurrentAccount) -> Sequence[tuple[Library, str, int]]:
    """The account's libraries by name: library, own role, number of samples."""
    count = (
        select(func.count())
        .where(Sample.library_id == Library.id)
        .correlate(Library)
        .scalar_subquery()
    )
    query = (
        select(Library, Member.role, count)
        .join(Member, Member.library_id == Library.id)
        .where(Member.account_id == account.id)
        .order_by(Library.name, Library.id)
    )
    return [(library, role, number) for library, role, number in session.execute(query)]


def require_library(
    session: Session, account: CurrentAccount, library_id: int, role: str = "reader"
) -> Library:
    """The library, where the account has at least the role.

    Raises
    ------
    NotFound
        where there is no such library, or the account is no member (which looks the same).
    NotAllowed
        where the account's role is lower.
    """
    library = session.get(Library, library_id)
    member = session.get(Member, (library_id, account.id))
    if library is None or member is None:
        raise NotFound(f"There is no library {library_id}")
    if _RANK[member.role] < _RANK[role]:
        raise NotAllowed(f"This needs the role {role} in {library.name}; yours is {member.role}")
    return library
