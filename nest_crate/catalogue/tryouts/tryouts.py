"""Try-outs of a library: made, listed, saved without overwriting anyone, binned."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any

from sqlalchemy.orm import Session

from nest_crate.catalogue.db.tryout_models import TryOut
from nest_crate.catalogue.drafts.drafts import Drafts
from nest_crate.catalogue.people.accounts import CurrentAccount
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


_DRAFTS: Drafts[TryOut] = Drafts(TryOut, "try-out", "tryout.edit", current_tryout)


def create_tryout(
    session: Session, account: CurrentAccount, *, library_id: int, document: TryOutDocument
) -> TryOut:
    """A new try-out in a library, with its document as the draft."""
    data = dump_tryout(document)
    return _DRAFTS.create(session, account, library_id=library_id, name=document.name, data=data)


def tryouts_of(
    session: Session, account: CurrentAccount, *, binned: bool = False
) -> Sequence[TryOut]:
    """All try-outs in the libraries that the account may see, newest change first; or those in the
    bin."""
    return _DRAFTS.listed(session, account, binned=binned)


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
    return _DRAFTS.require(session, account, tryout_id, action, lock=lock, binned=binned)


def save_draft(
    session: Session,
    account: CurrentAccount,
    tryout_id: int,
    *,
    base_version: int,
    document: TryOutDocument,
) -> TryOut:
    """Save a draft that was started from ``base_version``; ``StaleSave`` where someone saved in
    between."""
    return _DRAFTS.save(
        session,
        account,
        tryout_id,
        base_version=base_version,
        name=document.name,
        data=dump_tryout(document),
    )


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
    return _DRAFTS.move(session, account, tryout_id, library_id)


def bin_tryout(session: Session, account: CurrentAccount, tryout_id: int, *, binned: bool) -> None:
    """Put a try-out into the bin, or take it out."""
    _DRAFTS.bin(session, account, tryout_id, binned=binned)
