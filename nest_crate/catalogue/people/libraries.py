"""Libraries, their members, and the gate that every service goes through."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Literal, cast

from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session, joinedload

from nest_crate.catalogue.db.errors import NotAllowed, NotFound, NotPossible
from nest_crate.catalogue.db.models import Account, Library, Member, Sample, Sound
from nest_crate.catalogue.people.accounts import CurrentAccount, account_by_handle, field_error
from nest_crate.catalogue.people.given_links import end_links
from nest_crate.catalogue.people.library_keys import free_key, is_key
from nest_crate.catalogue.people.permissions import (
    MEMBER_ROLES,
    PERMISSIONS,
    READING,
    Action,
    Role,
    may,
)

__all__ = [
    "Visibility",
    "change_library",
    "create_library",
    "libraries_of",
    "library_for_new_sounds",
    "library_id_of",
    "lock_library",
    "members_of",
    "remove_member",
    "require_library",
    "role_in",
    "set_member",
    "visible_library_ids",
]

Visibility = Literal["private", "shared", "public"]


def create_library(
    session: Session,
    account: CurrentAccount,
    *,
    name: str,
    description: str = "",
    visibility: Visibility = "shared",
) -> Library:
    """A new library that the account owns."""
    if account.scope != "write":
        raise NotAllowed("A read-only token cannot make a library")
    if account.only_library is not None:
        raise NotAllowed("A token for one library cannot make another")
    library = Library(
        key=free_key(name, _Taken(session)),
        name=name.strip(),
        description=description,
        visibility=visibility,
    )
    session.add(library)
    session.flush()
    session.add(Member(library_id=library.id, account_id=account.id, role="owner"))
    session.flush()
    return library


class _Taken:
    """The keys of all libraries, looked up one by one."""

    def __init__(self, session: Session) -> None:
        self._session = session

    def __contains__(self, key: object) -> bool:
        return self._session.scalar(select(Library.id).where(Library.key == key)) is not None


def library_id_of(session: Session, key: str) -> int:
    """The number of the library with a key; ``NotFound`` where no library has it."""
    found = session.scalar(select(Library.id).where(Library.key == key))
    if found is None:
        raise NotFound(f"There is no library with the key {key!r}")
    return found


def library_for_new_sounds(session: Session, account: CurrentAccount) -> Library:
    """Where the account's next sound goes: the library of the sound that it changed last, or the
    first that it may make sounds in; one of its own is made where there is none."""
    # Two tabs at once shall not make two libraries.
    session.execute(select(Account.id).where(Account.id == account.id).with_for_update())
    open_to = {
        library.id: library
        for library, role, _ in libraries_of(session, account)
        if may(role, "sound.edit")
    }
    last = session.scalar(
        select(Sound.library_id)
        .where(Sound.changed_by_id == account.id, Sound.library_id.in_(open_to))
        .order_by(Sound.changed.desc())
        .limit(1)
    )
    if last is not None:
        return open_to[last]
    for library in open_to.values():
        return library
    name = f"Sounds of {account.name}"[:120]
    return create_library(session, account, name=name, visibility="private")


def role_in(session: Session, account: CurrentAccount, library: Library) -> Role | None:
    """The account's role in a library, None where it may not even see it."""
    if account.only_library not in (None, library.id):
        return None
    member = session.get(Member, (library.id, account.id))
    role = cast(Role, member.role) if member else None
    if library.visibility == "private":
        return role if role == "owner" else None
    if role is None and library.visibility == "public":
        return "visitor"
    return role


def require_library(
    session: Session, account: CurrentAccount, library_id: int, action: Action = "library.see"
) -> Library:
    """The library, where the account may do the action in it.

    Raises
    ------
    NotFound
        where there is no such library, or the account may not see it (which looks the same).
    NotAllowed
        where the account's role is not enough, or its token may only read.
    """
    library = session.get(Library, library_id)
    role = role_in(session, account, library) if library is not None else None
    if library is not None and account.only_library not in (None, library_id):
        raise NotAllowed("This token opens another library alone")
    if library is None or role is None:
        raise NotFound(f"There is no library {library_id}")
    if not may(role, action):
        needed = " or ".join(one for one in MEMBER_ROLES if one in PERMISSIONS[action])
        raise NotAllowed(f"This needs the role {needed} in {library.name}; yours is {role}")
    if account.scope != "write" and action not in READING:
        raise NotAllowed("This token is read-only")
    return library


def lock_library(session: Session, library_id: int) -> None:
    """Wait for others who change the members or releases of a library, or import what it
    shall hold once, until the commit.

    To be called first in a transaction: what is read afterwards is then what others left.
    """
    session.execute(select(Library.id).where(Library.id == library_id).with_for_update())


def _visible(account: CurrentAccount) -> object:
    """Condition on libraries joined with the account's own membership."""
    seen = or_(
        Member.role == "owner",
        (Library.visibility == "shared") & Member.role.is_not(None),
        Library.visibility == "public",
    )
    only = account.only_library
    return seen if only is None else seen & (Library.id == only)


def visible_library_ids(session: Session, account: CurrentAccount) -> list[int]:
    """The ids of all libraries that the account may see."""
    own = (Member.library_id == Library.id) & (Member.account_id == account.id)
    query = select(Library.id).outerjoin(Member, own).where(_visible(account))  # type: ignore[arg-type]
    return list(session.scalars(query))


def libraries_of(session: Session, account: CurrentAccount) -> Sequence[tuple[Library, Role, int]]:
    """The libraries that the account may see, by name: library, own role, number of samples."""
    count = (
        select(func.count())
        .where(Sample.library_id == Library.id, Sample.deleted.is_(None))
        .correlate(Library)
        .scalar_subquery()
    )
    own = (Member.library_id == Library.id) & (Member.account_id == account.id)
    query = (
        select(Library, Member.role, count)
        .outerjoin(Member, own)
        .where(_visible(account))  # type: ignore[arg-type]
        .order_by(Library.name, Library.id)
    )
    return [
        (library, cast(Role, role or "visitor"), number)
        for library, role, number in session.execute(query)
    ]


def change_library(
    session: Session,
    account: CurrentAccount,
    library_id: int,
    *,
    name: str | None = None,
    description: str | None = None,
    visibility: Visibility | None = None,
    key: str | None = None,
) -> Library:
    """Another name, description, visibility or key; what is None stays."""
    library = require_library(session, account, library_id, "library.change")
    if name is not None:
        library.name = name.strip()
    if description is not None:
        library.description = description
    if key is not None and key != library.key:
        if not is_key(key):
            raise field_error("key", "use small letters, digits and hyphens, with one letter")
        if key in _Taken(session):
            raise field_error("key", f"another library has the key {key!r}")
        library.key = key
    if visibility is not None:
        if visibility == "private" and library.visibility != "private":
            end_links(session, "the library became private", library_id=library.id)
        library.visibility = visibility
    return library


def members_of(session: Session, account: CurrentAccount, library_id: int) -> Sequence[Member]:
    """The members of a library by name, for its members."""
    library = require_library(session, account, library_id)
    if role_in(session, account, library) == "visitor":
        raise NotAllowed("Only members can see the members")
    query = (
        select(Member).where(Member.library_id == library_id).options(joinedload(Member.account))
    )
    return sorted(session.scalars(query), key=lambda one: (one.account.name, one.account_id))


def set_member(
    session: Session, account: CurrentAccount, library_id: int, *, handle: str, role: str
) -> Member:
    """Give someone a role in a library, or another one."""
    lock_library(session, library_id)
    require_library(session, account, library_id, "members.manage")
    if role not in MEMBER_ROLES:
        raise field_error("role", f"{role!r} is no role; use {', '.join(MEMBER_ROLES)}")
    try:
        other = account_by_handle(session, handle.strip().lower())
    except NotFound as error:
        raise field_error("handle", f"there is no account {handle!r}") from error
    member = session.get(Member, (library_id, other.id), with_for_update=True)
    if member is None:
        member = Member(library_id=library_id, account_id=other.id, role=role)
        session.add(member)
    elif role != "owner":
        _require_other_owner(session, library_id, member)
    member.role = role
    session.flush()
    return member


def remove_member(
    session: Session, account: CurrentAccount, library_id: int, account_id: int
) -> int:
    """Someone is no member any more; everyone may leave. Answers how many of their links end."""
    lock_library(session, library_id)
    require_library(
        session,
        account,
        library_id,
        "library.see" if account_id == account.id else "members.manage",
    )
    if account.scope != "write":
        raise NotAllowed("This token is read-only")
    member = session.get(Member, (library_id, account_id), with_for_update=True)
    if member is None:
        raise NotFound(f"There is no member {account_id}")
    _require_other_owner(session, library_id, member)
    session.delete(member)
    return end_links(
        session,
        f"{member.account.name} is no member any more",
        library_id=library_id,
        created_by_id=account_id,
    )


def _require_other_owner(session: Session, library_id: int, member: Member) -> None:
    query = select(func.count()).where(
        Member.library_id == library_id,
        Member.role == "owner",
        Member.account_id != member.account_id,
    )
    if member.role == "owner" and not session.scalar(query):
        raise NotPossible("A library needs an owner; make someone else an owner first")
