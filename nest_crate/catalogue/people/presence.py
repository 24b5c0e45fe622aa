"""Who looks at the same thing at the same time: a window says where it is every few seconds."""

from __future__ import annotations

import secrets
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import timedelta

from sqlalchemy import delete, select
from sqlalchemy.dialects.mysql import insert
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.models import Account, utc_now
from nest_crate.catalogue.db.shared_models import Presence
from nest_crate.catalogue.people.accounts import CurrentAccount

__all__ = ["Companion", "note_presence"]

# A window that was not heard of for so long is gone; it says where it is three times in between.
_GONE_AFTER = timedelta(seconds=15)
_FORGOTTEN_AFTER = timedelta(hours=1)
_SWEPT_ONCE_IN = 100


@dataclass(frozen=True)
class Companion:
    """Someone who looks at the same thing; ``own`` is another window of one's own."""

    name: str
    own: bool


def note_presence(
    session: Session, account: CurrentAccount, *, window: str, place: str
) -> Sequence[Companion]:
    """Notes where a window is, and answers who else is there, each once, by name."""
    now = utc_now()
    row = {"window_key": window, "account_id": account.id, "place": place, "seen": now}
    noted = insert(Presence).values(row)
    session.execute(noted.on_duplicate_key_update(row))
    if secrets.randbelow(_SWEPT_ONCE_IN) == 0:
        session.execute(delete(Presence).where(Presence.seen < now - _FORGOTTEN_AFTER))
    query = (
        select(Account.id, Account.name)
        .join(Presence, Presence.account_id == Account.id)
        .where(
            Presence.place == place,
            Presence.window_key != window,
            Presence.seen > now - _GONE_AFTER,
        )
        .distinct()
        .order_by(Account.name, Account.id)
    )
    return [Companion(row.name, row.id == account.id) for row in session.execute(query)]
