"""Documents of a library: made, listed, saved without overwriting anyone, moved, binned."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any, Generic, TypeVar

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from nest_crate.catalogue.db.batch_models import Batch
from nest_crate.catalogue.db.errors import NotFound, StaleSave
from nest_crate.catalogue.db.models import utc_now
from nest_crate.catalogue.db.tryout_models import TryOut
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library, visible_library_ids
from nest_crate.catalogue.people.permissions import Action

__all__ = ["Drafts"]

Row = TypeVar("Row", TryOut, Batch)


@dataclass(frozen=True)
class Drafts(Generic[Row]):
    """Documents of one kind: their table, what one is called, who may edit, and how a stored one
    becomes what this program writes."""

    model: type[Row]
    called: str
    edit: Action
    current: Callable[[dict[str, Any]], dict[str, Any]]

    def create(
        self,
        session: Session,
        account: CurrentAccount,
        *,
        library_id: int,
        name: str,
        data: dict[str, Any],
    ) -> Row:
        """A new one in a library, with its document as the draft."""
        require_library(session, account, library_id, self.edit)
        made = self.model(library_id=library_id, name=name, draft=data, changed_by_id=account.id)
        session.add(made)
        session.flush()
        return made

    def listed(
        self, session: Session, account: CurrentAccount, *, binned: bool = False
    ) -> Sequence[Row]:
        """All in the libraries that the account may see, newest change first; or those in the
        bin."""
        model = self.model
        query = (
            select(model)
            .where(model.library_id.in_(visible_library_ids(session, account)))
            .where(model.deleted.is_not(None) if binned else model.deleted.is_(None))
            .options(joinedload(model.library))
            .order_by(model.changed.desc(), model.id)
        )
        return session.scalars(query).all()

    def require(
        self,
        session: Session,
        account: CurrentAccount,
        identifier: int,
        action: Action = "library.see",
        *,
        lock: bool = False,
        binned: bool = False,
    ) -> Row:
        """One, where the account may do the action in its library; ``lock`` it until the commit."""
        found = session.get(self.model, identifier, with_for_update=lock)
        if found is None or (found.deleted is not None and not binned):
            raise NotFound(f"There is no {self.called} {identifier}")
        require_library(session, account, found.library_id, action)
        return found

    def save(
        self,
        session: Session,
        account: CurrentAccount,
        identifier: int,
        *,
        base_version: int,
        name: str,
        data: dict[str, Any],
    ) -> Row:
        """Save a draft that was started from ``base_version``.

        Raises
        ------
        StaleSave
            where someone saved in between: details hold ``saved`` and ``yours``, each with its
            version and document. Nothing is changed.
        """
        found = self.require(session, account, identifier, self.edit, lock=True)
        if base_version != found.draft_version:
            saved = self.current(found.draft)
            if data == saved:
                # The same save once more, its answer having been lost on the way.
                return found
            raise StaleSave(
                f"{found.changed_by.name} saved this {self.called} in the meantime",
                details={
                    "saved": {"version": found.draft_version, "document": saved},
                    "yours": {"version": base_version, "document": data},
                },
            )
        if data != found.draft:
            found.draft, found.name = data, name
            found.draft_version += 1
            found.changed, found.changed_by_id = utc_now(), account.id
        return found

    def move(
        self, session: Session, account: CurrentAccount, identifier: int, library_id: int
    ) -> Row:
        """Move one to another library."""
        found = self.require(session, account, identifier, self.edit, lock=True)
        require_library(session, account, library_id, self.edit)
        found.library_id = library_id
        session.flush()
        session.refresh(found, ["library"])
        return found

    def bin(
        self, session: Session, account: CurrentAccount, identifier: int, *, binned: bool
    ) -> None:
        """Put one into the bin, or take it out."""
        found = self.require(session, account, identifier, self.edit, lock=True, binned=True)
        found.deleted = utc_now() if binned else None
