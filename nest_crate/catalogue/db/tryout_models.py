"""Tables of try-outs and of the mixes that were kept of them."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, String
from sqlalchemy.dialects.mysql import DATETIME
from sqlalchemy.orm import Mapped, mapped_column, relationship

from nest_crate.catalogue.db.models import Account, Base, Library, utc_now

__all__ = ["KeptMix", "TryOut"]

_Digest = String(64, collation="ascii_bin")
_Moment = DATETIME(fsp=6)


class TryOut(Base):
    """A try-out of a library: its document, which saves itself as a sound's draft does."""

    __tablename__ = "tryouts"
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


class KeptMix(Base):
    """A mix that was kept as a sample: the document with every sound at a kept revision, and the
    files of the samples, so that the same mix can be made again."""

    __tablename__ = "kept_mixes"
    id: Mapped[int] = mapped_column(primary_key=True)
    tryout_id: Mapped[int] = mapped_column(ForeignKey("tryouts.id"), index=True)
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    made_of: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    engine_version: Mapped[int]
    cpu_family: Mapped[str | None] = mapped_column(String(60))
    sample_rate: Mapped[int]
    sample_id: Mapped[int] = mapped_column(ForeignKey("samples.id"), index=True)
    file_digest: Mapped[str] = mapped_column(_Digest)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
