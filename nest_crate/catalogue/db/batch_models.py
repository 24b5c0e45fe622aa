"""Tables of batches: their plans, the rounds that were run of them, and the members of rounds."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, LargeBinary, String, UniqueConstraint
from sqlalchemy.dialects.mysql import DATETIME
from sqlalchemy.orm import Mapped, mapped_column, relationship

from nest_crate.catalogue.db.models import Account, Base, Library, utc_now

__all__ = ["Batch", "BatchMember", "BatchRound"]

_Digest = String(64, collation="ascii_bin")
_Moment = DATETIME(fsp=6)


class Batch(Base):
    """A batch of a library: its plan, which saves itself as a sound's draft does."""

    __tablename__ = "batches"
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"), index=True)
    name: Mapped[str] = mapped_column(String(120))
    draft: Mapped[dict[str, Any]] = mapped_column(JSON)
    draft_version: Mapped[int] = mapped_column(default=1)
    deleted: Mapped[datetime | None] = mapped_column(_Moment)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    changed: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    changed_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    changed_by: Mapped[Account] = relationship()
    library: Mapped[Library] = relationship()


class BatchRound(Base):
    """One run of a plan: the plan as it was then, with each of its sounds at a kept revision
    (``revisions``, by the id in the plan). ``parent_id`` is the round whose members were picked;
    ``redrawn`` counts by number how often a member was drawn anew."""

    __tablename__ = "batch_rounds"
    __table_args__ = (UniqueConstraint("batch_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    batch_id: Mapped[int] = mapped_column(ForeignKey("batches.id"), index=True)
    number: Mapped[int]
    parent_id: Mapped[int | None]
    picked: Mapped[list[int]] = mapped_column(JSON)
    plan: Mapped[dict[str, Any]] = mapped_column(JSON)
    revisions: Mapped[dict[str, int]] = mapped_column(JSON)
    redrawn: Mapped[dict[str, int]] = mapped_column(JSON, default=dict)
    count: Mapped[int]
    originals: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    job_id: Mapped[int | None]
    engine_version: Mapped[int]
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    batch: Mapped[Batch] = relationship()


class BatchMember(Base):
    """One member that was rendered, or ``words`` why it could not be. ``verdict``: kept, rejected
    or nothing yet. ``measured`` is what a sample made of it gets; ``sample_id`` that sample."""

    __tablename__ = "batch_members"
    __table_args__ = (UniqueConstraint("round_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    round_id: Mapped[int] = mapped_column(ForeignKey("batch_rounds.id"), index=True)
    number: Mapped[int]
    words: Mapped[str] = mapped_column(String(500), default="")
    verdict: Mapped[str] = mapped_column(String(8), default="")
    starred: Mapped[bool] = mapped_column(default=False)
    times: Mapped[int] = mapped_column(default=0)
    overrides: Mapped[dict[str, float]] = mapped_column(JSON, default=dict)
    hit: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    sample_rate: Mapped[int] = mapped_column(default=0)
    file_digest: Mapped[str | None] = mapped_column(_Digest, index=True)
    edits: Mapped[dict[str, float]] = mapped_column(JSON, default=dict)
    flags: Mapped[str] = mapped_column(String(120), default="")
    figures: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    vector: Mapped[bytes] = mapped_column(LargeBinary(256), default=b"")
    outline: Mapped[bytes] = mapped_column(LargeBinary(1024), default=b"")
    strip: Mapped[bytes] = mapped_column(LargeBinary(2048), default=b"")
    measured: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    cpu_family: Mapped[str | None] = mapped_column(String(60))
    sample_id: Mapped[int | None]
