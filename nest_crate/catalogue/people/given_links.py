"""Links end with what allowed them: their maker's membership or account, the library's openness."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.models import utc_now
from nest_crate.catalogue.db.shared_models import ShareLink

__all__ = ["end_links"]


def end_links(session: Session, because: str, **of: Any) -> int:
    """End the links with these values that still open something; answers how many. An owner sees
    why, and may keep one."""
    still_open = (ShareLink.revoked.is_(False), ShareLink.expires >= utc_now())
    found = session.scalars(select(ShareLink).where(*still_open).filter_by(**of)).all()
    for link in found:
        link.revoked, link.ended_because = True, because[:80]
    return len(found)
