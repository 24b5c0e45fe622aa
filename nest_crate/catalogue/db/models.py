"""Tables: accounts with what they keep for themselves, libraries and members, sounds with
revisions, takes, samples. What people say and release lies in ``shared_models``."""

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
from sqlalchemy.dialects.mysql import DATETIME, MEDIUMTEXT
from sqlalchemy.orm import DeclarativeBase, Mapped, mapped_column, relationship

__all__ = [
    "Account",
    "ApiToken",
    "Base",
    "CurveShape",
    "Invitation",
    "Library",
    "Member",
    "Recording",
    "Sample",
    "SavedChain",
    "SavedSearch",
    "SignIn",
    "SignInTries",
    "Sound",
    "SoundFile",
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
    """Someone who signs in. ``handle`` is unique and never shown changed.

    ``password_hash`` is argon2's own text, NULL where nobody can sign in with a password.
    """

    __tablename__ = "accounts"
    id: Mapped[int] = mapped_column(primary_key=True)
    handle: Mapped[str] = mapped_column(String(60), unique=True)
    name: Mapped[str] = mapped_column(String(120))
    password_hash: Mapped[str | None] = mapped_column(String(255))
    administrator: Mapped[bool] = mapped_column(default=False)
    disabled: Mapped[bool] = mapped_column(default=False)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class SignIn(Base):
    """A browser that is signed in, until it signs out, is ended or expires; only the digest of what
    its cookie holds is kept."""

    __tablename__ = "sign_ins"
    id: Mapped[int] = mapped_column(primary_key=True)
    secret_digest: Mapped[str] = mapped_column(_Digest, unique=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"), index=True)
    device: Mapped[str] = mapped_column(String(200), default="")
    address: Mapped[str] = mapped_column(String(45), default="")
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    last_seen: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    expires: Mapped[datetime] = mapped_column(_Moment)


class SignInTries(Base):
    """Tries to sign in that failed in a row, for one name or from one address."""

    __tablename__ = "sign_in_tries"
    about: Mapped[str] = mapped_column(String(120, collation="utf8mb4_bin"), primary_key=True)
    failed: Mapped[int] = mapped_column(default=0)
    last: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class Invitation(Base):
    """A one-time link by which someone gets an account, and perhaps a role in a library; or, where
    ``account_id`` is there from the beginning, a new password for that account."""

    __tablename__ = "invitations"
    id: Mapped[int] = mapped_column(primary_key=True)
    token_digest: Mapped[str] = mapped_column(_Digest, unique=True)
    made_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    library_id: Mapped[int | None] = mapped_column(ForeignKey("libraries.id"))
    role: Mapped[str] = mapped_column(String(20), default="listener")
    note: Mapped[str] = mapped_column(String(200), default="")
    expires: Mapped[datetime] = mapped_column(_Moment)
    used: Mapped[datetime | None] = mapped_column(_Moment)
    account_id: Mapped[int | None] = mapped_column(ForeignKey("accounts.id"))
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class ApiToken(Base):
    """A key for programs; only its digest is kept. ``scope`` is read or write; with a
    ``library_id`` it opens that library alone."""

    __tablename__ = "api_tokens"
    id: Mapped[int] = mapped_column(primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    name: Mapped[str] = mapped_column(String(60))
    token_digest: Mapped[str] = mapped_column(_Digest, unique=True)
    scope: Mapped[str] = mapped_column(String(10))
    library_id: Mapped[int | None] = mapped_column(ForeignKey("libraries.id"))
    expires: Mapped[datetime] = mapped_column(_Moment)
    last_used: Mapped[datetime | None] = mapped_column(_Moment)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class SavedSearch(Base):
    """Words and facets of a search that someone keeps under a name."""

    __tablename__ = "saved_searches"
    __table_args__ = (UniqueConstraint("account_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    name: Mapped[str] = mapped_column(String(60))
    query: Mapped[dict[str, Any]] = mapped_column(JSON)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class CurveShape(Base):
    """A curve or a set of partials that someone keeps to use again; ``curve_name`` is its kind."""

    __tablename__ = "curve_shapes"
    __table_args__ = (UniqueConstraint("account_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    name: Mapped[str] = mapped_column(String(60))
    curve_name: Mapped[str] = mapped_column(String(20))
    curve: Mapped[dict[str, Any]] = mapped_column(JSON)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class SavedChain(Base):
    """A chain of processors that someone keeps under a name."""

    __tablename__ = "saved_chains"
    __table_args__ = (UniqueConstraint("account_id", "name"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    name: Mapped[str] = mapped_column(String(60))
    chain: Mapped[list[dict[str, Any]]] = mapped_column(JSON)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class Recording(Base):
    """An audio file imported; sounds refer to it by its digest."""

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
    """A shared catalogue of samples, and the sounds that are worked on for it.

    ``visibility``: private (its owners), shared (its members), public (everyone who is
    signed in may listen). ``key`` names it in addresses; it stays when the name changes.
    ``vocabulary`` is its own as CSV, NULL where it has the server's.
    """

    __tablename__ = "libraries"
    id: Mapped[int] = mapped_column(primary_key=True)
    key: Mapped[str] = mapped_column(String(60), unique=True)
    name: Mapped[str] = mapped_column(String(120))
    description: Mapped[str] = mapped_column(Text, default="")
    visibility: Mapped[str] = mapped_column(String(10), default="shared")
    vocabulary: Mapped[str | None] = mapped_column(Text)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)


class Member(Base):
    """An account's role in a library: listener, reviewer, editor or owner."""

    __tablename__ = "members"
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"), primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"), primary_key=True)
    role: Mapped[str] = mapped_column(String(20))
    account: Mapped[Account] = relationship()


class Sound(Base):
    """A sound: its draft, which saves itself, and the revisions kept on purpose.

    ``draft_version`` rises with every save; a save names the one it started from.
    ``private_to_id`` is whose private draft it is, NULL once it is named, kept or moved.
    """

    __tablename__ = "sounds"
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"))
    private_to_id: Mapped[int | None] = mapped_column(ForeignKey("accounts.id"))
    name: Mapped[str] = mapped_column(String(120))
    draft: Mapped[dict[str, Any]] = mapped_column(JSON)
    draft_version: Mapped[int] = mapped_column(default=1)
    category: Mapped[str] = mapped_column(String(40), default="")
    tags: Mapped[list[str]] = mapped_column(JSON, default=list)
    description: Mapped[str] = mapped_column(Text, default="")
    deleted: Mapped[datetime | None] = mapped_column(_Moment)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    changed: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    changed_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    revisions: Mapped[list[SoundRevision]] = relationship(
        back_populates="sound", order_by="SoundRevision.number"
    )
    changed_by: Mapped[Account] = relationship(foreign_keys=[changed_by_id])
    library: Mapped[Library] = relationship()


class SoundFile(Base):
    """A recording that a sound uses or used, put there by somebody who may hear it. Everyone who
    may see the sound may hear it."""

    __tablename__ = "sound_files"
    sound_id: Mapped[int] = mapped_column(
        ForeignKey("sounds.id", ondelete="CASCADE"), primary_key=True, autoincrement=False
    )
    digest: Mapped[str] = mapped_column(_Digest, primary_key=True, index=True)


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
    """One rendered hit: which revision, hit and engine version made which file.

    Renders are equal to the bit on one ``cpu_family`` (NULL for takes of earlier versions).
    ``overrides`` are numbers that a member of a family has elsewhere than the revision, by target.
    """

    __tablename__ = "takes"
    id: Mapped[int] = mapped_column(primary_key=True)
    revision_id: Mapped[int] = mapped_column(ForeignKey("sound_revisions.id"))
    hit: Mapped[dict[str, Any]] = mapped_column(JSON)
    overrides: Mapped[dict[str, float] | None] = mapped_column(JSON(none_as_null=True))
    engine_version: Mapped[int]
    cpu_family: Mapped[str | None] = mapped_column(String(60))
    sample_rate: Mapped[int]
    file_digest: Mapped[str] = mapped_column(_Digest)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    revision: Mapped[SoundRevision] = relationship()


class Sample(Base):
    """One catalogued audio file, its figures, and what people say of it.

    ``take_id`` is its lineage, NULL for an imported one. ``edits`` is what is done to the file when
    it is heard or removed (start, end, fades, gain); the file itself is never touched, and the
    figures are those of what is heard. ``pitch_confidence`` is 0 to 1, NULL where an earlier
    version measured the note. ``folder`` is where an imported file lay, ``ixml`` what another
    program wrote into it. ``version`` rises with every change.
    """

    __tablename__ = "samples"
    __table_args__ = (
        Index(None, "library_id", "name"),
        Index(None, "file_digest"),
        Index(None, "changed"),
    )
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"))
    take_id: Mapped[int | None] = mapped_column(ForeignKey("takes.id"))
    name: Mapped[str] = mapped_column(String(120))
    category: Mapped[str] = mapped_column(String(40), default="")
    subcategory: Mapped[str] = mapped_column(String(40), default="")
    tags: Mapped[list[str]] = mapped_column(JSON, default=list)
    description: Mapped[str] = mapped_column(Text, default="")
    licence: Mapped[str] = mapped_column(String(120), default="")
    author: Mapped[str] = mapped_column(String(120), default="")
    rating: Mapped[int] = mapped_column(default=0)
    status: Mapped[str] = mapped_column(String(12), default="draft")
    variation_group: Mapped[str] = mapped_column(String(80), default="")
    variation: Mapped[int | None]
    follows_key: Mapped[bool] = mapped_column(default=False)
    root_note: Mapped[int | None]
    tempo_bpm: Mapped[float | None]
    loop_start_s: Mapped[float | None]
    loop_end_s: Mapped[float | None]
    edits: Mapped[dict[str, float]] = mapped_column(JSON, default=dict)
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
    pitch_confidence: Mapped[float | None]
    several_notes: Mapped[bool] = mapped_column(default=False)
    decay_s: Mapped[float] = mapped_column(default=0.0)
    brightness_hz: Mapped[float] = mapped_column(default=0.0)
    noisiness: Mapped[float] = mapped_column(default=0.0)
    low_share_db: Mapped[float] = mapped_column(default=0.0)
    features: Mapped[bytes] = mapped_column(LargeBinary(256), default=b"")
    outline: Mapped[bytes] = mapped_column(LargeBinary(1024))
    details: Mapped[dict[str, Any]] = mapped_column(JSON, default=dict)
    folder: Mapped[str] = mapped_column(String(255), default="")
    ixml: Mapped[str | None] = mapped_column(MEDIUMTEXT, deferred=True)
    version: Mapped[int] = mapped_column(default=1)
    deleted: Mapped[datetime | None] = mapped_column(_Moment)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    changed: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    take: Mapped[Take | None] = relationship()
    created_by: Mapped[Account] = relationship()
    library: Mapped[Library] = relationship()

    @property
    def binned(self) -> bool:
        """Whether it is in the bin; a plain value, as a history keeps it."""
        return self.deleted is not None

    @binned.setter
    def binned(self, binned: bool) -> None:
        self.deleted = utc_now() if binned else None
