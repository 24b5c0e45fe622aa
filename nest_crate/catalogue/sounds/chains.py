"""Chains of processors that people keep under a name, to use in any sound."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import SavedChain, utc_now
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.core.sound.processors import Processor

__all__ = ["chains_of", "keep_chain", "remove_chain"]


def chains_of(session: Session, account: CurrentAccount) -> Sequence[SavedChain]:
    """An account's saved chains by name."""
    query = select(SavedChain).where(SavedChain.account_id == account.id).order_by(SavedChain.name)
    return session.scalars(query).all()


def keep_chain(
    session: Session, account: CurrentAccount, *, name: str, chain: tuple[Processor, ...]
) -> SavedChain:
    """Save a chain under a name; an own chain of that name is replaced."""
    mine = SavedChain.account_id == account.id
    saved = session.scalar(select(SavedChain).where(mine, SavedChain.name == name))
    if saved is None:
        saved = SavedChain(account_id=account.id, name=name)
        session.add(saved)
    saved.chain = [part.model_dump(mode="json") for part in chain]
    saved.created = utc_now()
    session.flush()
    return saved


def remove_chain(session: Session, account: CurrentAccount, chain_id: int) -> None:
    """Remove an own chain; ``NotFound`` where it is none of the account's."""
    saved = session.get(SavedChain, chain_id)
    if saved is None or saved.account_id != account.id:
        raise NotFound(f"There is no chain {chain_id}")
    session.delete(saved)
