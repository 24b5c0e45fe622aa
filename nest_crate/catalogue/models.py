"""Tables: accounts with what they keep for themselves, libraries and members, sounds with
revisions, takes, samples."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import (
    JSON,
    ForeignKey,
    Index,
    LargeBinary,
    MetaData,
    String,
    Text,
    UniqueConstraint,
)
from sqlalchemy.dialects.mysql import DATETIME
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

__all__ = [
    "Account",
    "Base",
    "CurveShape",
    "Library",
    "Member",
    "Recording",
    "Sample",
    "SavedChain",
    "Sound",
    "SoundRevision",
    "Take",
    "utc_now",
]

_NAMES = {
    "ix": "ix_%(table_name)s_%(column_0_N_name)s",
    "uq": "uq_%(table_name)s_%(column_0_N_name)s",
    "fk": "fk_%(table_name)s_%(column_0_N_name)s_%(referred_table_name)s",
    "pk": "pk_%(table_name)s",
}
# SHA-256 in hexadecimal.
_Digest = String(64, collation="ascii_bin")
_Moment = DATETIME(fsp=6)


def utc_now() -> datetime:
    """Now in UTC, without a zone, as MariaDB keeps it."""
    return datetime.now(UTC).replace(tzinfo=None)


class Base(DeclarativeBase):
    metadata = MetaData(naming_convention=_NAMES)


class Account(Base):
    """Someone who signs in. ``handle`` is unique and never shown changed."""

    __tablename__ = "accounts"
    id: Mapped[int] = mapped_column(primary_key=True)
    handle: Mapped[str] = mapped_column(String(60), unique=True)
    name: Mapped[str] = mapped_column(String(120))
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class CurveShape(Base):
    """A curve or a set of partials that somebody keeps to use again; ``curve_name`` is its kind."""

    __tablename__ = "curve_shapes"
    __table_args__ = (UniqueConstraint("account_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    name: Mapped[str] = mapped_column(String(60))
    curve_name: Mapped[str] = mapped_column(String(20))
    curve: Mapped[dict[str, Any]] = mapped_column(JSON)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class SavedChain(Base):
    """A chain of processors that somebody keeps under a name."""

    __tablename__ = "saved_chains"
    __table_args__ = (UniqueConstraint("account_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    name: Mapped[str] = mapped_column(String(60))
    chain: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class Recording(Base):
    """An audio file brought in from outside; sounds refer to it by its digest."""

    __tablename__ = "recordings"
    __table_args__ = (UniqueConstraint("account_id", "digest"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    name: Mapped[str] = mapped_column(String(120))
    digest: Mapped[str] = mapped_column(_Digest)
    length_s: Mapped[float]
    channels: Mapped[int]
    sample_rate: Mapped[int]
    details: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class Library(Base):
    """A shared catalogue of samples, and the sounds that are worked on for it."""

    __tablename__ = "libraries"
    id: Mapped[int] = mapped_column(primary_key=True)
    name: Mapped[str] = mapped_column(String(120))
    description: Mapped[str] = mapped_column(Text, default="")
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class Member(Base):
    """An account's role in a library: reader, editor or owner."""

    __tablename__ = "members"
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"), primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"), primary_key=True)
    role: Mapped[str] = mapped_column(String(20))


class Sound(Base):
    """A sound: its draft, which saves itself, and the revisions kept on purpose.

    ``draft_version`` rises with every save; a save names the one it started from.
    """

    __tablename__ = "sounds"
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"))
    name: Mapped[str] = mapped_column(String(120))
    draft: Mapped[dict[str, Any]] = mapped_column(JSON)
    draft_version: Mapped[int] = mapped_column(default=1)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    changed: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    changed_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    revisions: Mapped[list[SoundRevision]] = relationship(
        back_populates="sound", order_by="SoundRevision.number"
    )
    changed_by: Mapped[Account] = relationship()
    library: Mapped[Library] = relationship()


class SoundRevision(Base):
    """One kept state of a sound; never changed afterwards."""

    __tablename__ = "sound_revisions"
    __table_args__ = (UniqueConstraint("sound_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    sound_id: Mapped[int] = mapped_column(ForeignKey("sounds.id"))
    number: Mapped[int]
    document: Mapped[dict[str, Any]] = mapped_column(JSON)
    digest: Mapped[str] = mapped_column(_Digest)
    note: Mapped[str] = mapped_column(String(500), default="")
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    sound: Mapped[Sound] = relationship(back_populates="revisions")
    created_by: Mapped[Account] = relationship()


class Take(Base):
    """One rendered hit: which revision, hit and engine version made which file."""

    __tablename__ = "takes"
    id: Mapped[int] = mapped_column(primary_key=True)
    revision_id: Mapped[int] = mapped_column(ForeignKey("sound_revisions.id"))
    hit: Mapped[dict[str, Any]] = mapped_column(JSON)
    engine_version: Mapped[int]
    sample_rate: Mapped[int]
    file_digest: Mapped[str] = mapped_column(_Digest)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    revision: Mapped[SoundRevision] = relationship()


class Sample(Base):
    """One catalogued audio file. ``take_id`` is its lineage, NULL for an imported one."""

    __tablename__ = "samples"
    __table_args__ = (
        Index(None, "library_id", "name"),
        Index(None, "file_digest"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"))
    take_id: Mapped[int | None] = mapped_column(ForeignKey("takes.id"))
    name: Mapped[str] = mapped_column(String(120))
    file_digest: Mapped[str] = mapped_column(_Digest)
    length_s: Mapped[float]
    channels: Mapped[int]
    sample_rate: Mapped[int]
    peak_db: Mapped[float]
    true_peak_db: Mapped[float]
    loudness_lufs: Mapped[float]
    fundamental_hz: Mapped[float | None]
    note: Mapped[str | None] = mapped_column(String(4))
    cents: Mapped[float | None]
    outline: Mapped[bytes] = mapped_column(LargeBinary(1024))
    details: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    take: Mapped[Take | None] = relationship()
    created_by: Mapped[Account] = relationship()
