"""Try-outs of a library: made, listed, saved without overwriting anyone, binned."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from nest_crate.catalogue.db.errors import NotFound, StaleSave
from nest_crate.catalogue.db.models import utc_now
from nest_crate.catalogue.db.tryout_models import TryOut
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library, visible_library_ids
from nest_crate.catalogue.people.permissions import Action
from nest_crate.core.tryout import TryOut as TryOutDocument
from nest_crate.core.tryout import dump_tryout, load_tryout

__all__ = [
    "bin_tryout",
    "create_tryout",
    "current_tryout",
    "duplicate_tryout",
    "move_tryout",
    "require_tryout",
    "save_draft",
    "tryouts_of",
]


def current_tryout(stored: dict[str, Any]) -> dict[str, Any]:
    """A stored document as this program writes it: upgraded, every field written out."""
    return dump_tryout(load_tryout(stored))


def create_tryout(
    session: Session, account: CurrentAccount, *, library_id: int, document: TryOutDocument
) -> TryOut:
    """A new try-out in a library, with its document as the draft."""
    require_library(session, account, library_id, "tryout.edit")
    tryout = TryOut(
        library_id=library_id,
        name=document.name,
        draft=dump_tryout(document),
        changed_by_id=account.id,
    )
    session.add(tryout)
    session.flush()
    return tryout


def tryouts_of(
    session: Session, account: CurrentAccount, *, binned: bool = False
) -> Sequence[TryOut]:
    """All try-outs in the libraries that the account may see, newest change first; or those in the
    bin."""
    query = (
        select(TryOut)
        .where(TryOut.library_id.in_(visible_library_ids(session, account)))
        .where(TryOut.deleted.is_not(None) if binned else TryOut.deleted.is_(None))
        .options(joinedload(TryOut.library))
        .order_by(TryOut.changed.desc(), TryOut.id)
    )
    return session.scalars(query).all()


def require_tryout(
    session: Session,
    account: CurrentAccount,
    tryout_id: int,
    action: Action = "library.see",
    *,
    lock: bool = False,
    binned: bool = False,
) -> TryOut:
    """The try-out, where the account may do the action in its library; ``lock`` it until the
    commit."""
    tryout = session.get(TryOut, tryout_id, with_for_update=lock)
    if tryout is None or (tryout.deleted is not None and not binned):
        raise NotFound(f"There is no try-out {tryout_id}")
    require_library(session, account, tryout.library_id, action)
    return tryout


def save_draft(
    session: Session,
    account: CurrentAccount,
    tryout_id: int,
    *,
    base_version: int,
    document: TryOutDocument,
) -> TryOut:
    """Save a draft that was started from ``base_version``.

    Raises
    ------
    StaleSave
        where someone saved in between: details hold ``saved`` and ``yours``, each with its
        version and document. Nothing is changed.
    """
    tryout = require_tryout(session, account, tryout_id, "tryout.edit", lock=True)
    data = dump_tryout(document)
    if base_version != tryout.draft_version:
        saved = current_tryout(tryout.draft)
        if data == saved:
            # The same save once more, its answer having been lost on the way.
            return tryout
        raise StaleSave(
            f"{tryout.changed_by.name} saved this try-out in the meantime",
            details={
                "saved": {"version": tryout.draft_version, "document": saved},
                "yours": {"version": base_version, "document": data},
            },
        )
    if data != tryout.draft:
        tryout.draft, tryout.name = data, document.name
        tryout.draft_version += 1
        tryout.changed, tryout.changed_by_id = utc_now(), account.id
    return tryout


def duplicate_tryout(session: Session, account: CurrentAccount, tryout_id: int) -> TryOut:
    """A copy of a try-out beside it."""
    tryout = require_tryout(session, account, tryout_id)
    document = load_tryout(tryout.draft)
    copy = document.model_copy(update={"name": f"{document.name[:115]} copy"})
    return create_tryout(session, account, library_id=tryout.library_id, document=copy)


def move_tryout(
    session: Session, account: CurrentAccount, tryout_id: int, library_id: int
) -> TryOut:
    """Move a try-out to another library. What its members may not hear stays silent for them."""
    tryout = require_tryout(session, account, tryout_id, "tryout.edit", lock=True)
    require_library(session, account, library_id, "tryout.edit")
    tryout.library_id = library_id
    session.flush()
    session.refresh(tryout, ["library"])
    return tryout


def bin_tryout(session: Session, account: CurrentAccount, tryout_id: int, *, binned: bool) -> None:
    """Put a try-out into the bin, or take it out."""
    tryout = require_tryout(session, account, tryout_id, "tryout.edit", lock=True, binned=True)
    tryout.deleted = utc_now() if binned else None
