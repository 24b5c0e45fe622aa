"""Tables of long work: what someone asked for, in pieces that are done one by one."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, String, UniqueConstraint
from sqlalchemy.dialects.mysql import DATETIME
from sqlalchemy.orm import Mapped, mapped_column

from nest_crate.catalogue.db.models import Base, utc_now

__all__ = ["Job", "JobItem"]

_Digest = String(64, collation="ascii_bin")
_Moment = DATETIME(fsp=6)


class Job(Base):
    """Long work of an account. ``state``: running, then done or stopped; ``wanted`` is what holds
    for each of its pieces."""

    __tablename__ = "jobs"
    id: Mapped[int] = mapped_column(primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"), index=True)
    kind: Mapped[str] = mapped_column(String(20))
    title: Mapped[str] = mapped_column(String(120))
    wanted: Mapped[dict[str, Any]] = mapped_column(JSON)
    state: Mapped[str] = mapped_column(String(10), default="running", index=True)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    ended: Mapped[datetime | None] = mapped_column(_Moment)


class JobItem(Base):
    """One piece of long work. ``state``: waiting, then done, with what came of it in ``result`` and
    perhaps a stored file, or failed, with the reason in ``words``."""

    __tablename__ = "job_items"
    __table_args__ = (
        UniqueConstraint("job_id", "position"),
        Index(None, "job_id", "state", "position"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    job_id: Mapped[int] = mapped_column(ForeignKey("jobs.id"))
    position: Mapped[int]
    wanted: Mapped[dict[str, Any]] = mapped_column(JSON)
    state: Mapped[str] = mapped_column(String(10), default="waiting")
    result: Mapped[dict[str, Any] | None] = mapped_column(JSON)
    file_digest: Mapped[str | None] = mapped_column(_Digest)
    words: Mapped[str] = mapped_column(String(500), default="")
