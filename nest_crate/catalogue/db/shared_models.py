"""Tables of what people say of samples and give away: comments, edits, wishes, releases, links."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from sqlalchemy import JSON, ForeignKey, Index, String, Text, UniqueConstraint
from sqlalchemy.dialects.mysql import DATETIME
from sqlalchemy.orm import Mapped, mapped_column, relationship

from nest_crate.catalogue.db.models import Account, Base, utc_now

__all__ = ["BlindTest", "Comment", "Release", "ReleaseItem", "SampleEdit", "ShareLink", "Wish"]

_Digest = String(64, collation="ascii_bin")
_Moment = DATETIME(fsp=6)


class Comment(Base):
    """A remark on a sample, perhaps at a time in it."""

    __tablename__ = "comments"
    id: Mapped[int] = mapped_column(primary_key=True)
    sample_id: Mapped[int] = mapped_column(ForeignKey("samples.id"), index=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    at_s: Mapped[float | None]
    text: Mapped[str] = mapped_column(Text)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    account: Mapped[Account] = relationship()


class SampleEdit(Base):
    """One change of a sample: of each field what it was and what it became.

    Changes that were made in one go share their ``gesture``, and are undone in one go.
    """

    __tablename__ = "sample_edits"
    __table_args__ = (Index(None, "gesture"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    sample_id: Mapped[int] = mapped_column(ForeignKey("samples.id"), index=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    gesture: Mapped[str] = mapped_column(String(32))
    label: Mapped[str] = mapped_column(String(120))
    changes: Mapped[dict[str, list[Any]]] = mapped_column(JSON)
    undone: Mapped[bool] = mapped_column(default=False)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    account: Mapped[Account] = relationship()


class BlindTest(Base):
    """What somebody heard in a blind test of sides, which ``key`` names.

    ``kind`` "abx": of ``trials`` so many were ``correct``. "ranking": ``ranking`` has the places of
    the sides, the best first.
    """

    __tablename__ = "blind_tests"
    __table_args__ = (Index(None, "library_id", "key"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"))
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    key: Mapped[str] = mapped_column(_Digest)
    names: Mapped[list[str]] = mapped_column(JSON)
    kind: Mapped[str] = mapped_column(String(8))
    trials: Mapped[int] = mapped_column(default=0)
    correct: Mapped[int] = mapped_column(default=0)
    ranking: Mapped[list[int]] = mapped_column(JSON, default=list)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    account: Mapped[Account] = relationship()


class Wish(Base):
    """A request for a sound beside a library, and the sample or sound that answers it."""

    __tablename__ = "wishes"
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"), index=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    title: Mapped[str] = mapped_column(String(120))
    text: Mapped[str] = mapped_column(Text, default="")
    reference_digest: Mapped[str | None] = mapped_column(_Digest)
    state: Mapped[str] = mapped_column(String(12), default="open")
    sample_id: Mapped[int | None] = mapped_column(ForeignKey("samples.id"))
    sound_id: Mapped[int | None] = mapped_column(ForeignKey("sounds.id"))
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    account: Mapped[Account] = relationship()


class Release(Base):
    """An immutable, numbered version of a library; ``manifest_digest`` is over its manifest."""

    __tablename__ = "releases"
    __table_args__ = (UniqueConstraint("library_id", "number"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"))
    number: Mapped[str] = mapped_column(String(20))
    note: Mapped[str] = mapped_column(Text, default="")
    manifest_digest: Mapped[str] = mapped_column(_Digest)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    created_by: Mapped[Account] = relationship()
    items: Mapped[list[ReleaseItem]] = relationship(order_by="ReleaseItem.position")


class ReleaseItem(Base):
    """One file of a release: where it lies in it, its bytes by digest, its facts as they were."""

    __tablename__ = "release_items"
    release_id: Mapped[int] = mapped_column(ForeignKey("releases.id"), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    sample_id: Mapped[int] = mapped_column(index=True)
    path: Mapped[str] = mapped_column(String(255))
    file_digest: Mapped[str] = mapped_column(_Digest)
    size_bytes: Mapped[int]
    facts: Mapped[dict[str, Any]] = mapped_column(JSON)


class Presence(Base):
    """Where a window of someone is, and when it said so last."""

    __tablename__ = "presences"
    window_key: Mapped[str] = mapped_column(String(32, collation="ascii_bin"), primary_key=True)
    account_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    place: Mapped[str] = mapped_column(String(40), index=True)
    seen: Mapped[datetime] = mapped_column(_Moment, index=True)


class ReleaseFormat(Base):
    """A release in another format than it was made in, by the digest of the plan for it."""

    __tablename__ = "release_formats"
    __table_args__ = (UniqueConstraint("release_id", "plan_digest"),)
    id: Mapped[int] = mapped_column(primary_key=True)
    release_id: Mapped[int] = mapped_column(ForeignKey("releases.id"))
    plan_digest: Mapped[str] = mapped_column(_Digest)
    plan: Mapped[dict[str, Any]] = mapped_column(JSON)
    manifest_digest: Mapped[str] = mapped_column(_Digest)
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
    items: Mapped[list[ReleaseFormatItem]] = relationship(order_by="ReleaseFormatItem.position")


class ReleaseFormatItem(Base):
    """One file of a release in a format, as an item of the release itself."""

    __tablename__ = "release_format_items"
    format_id: Mapped[int] = mapped_column(ForeignKey("release_formats.id"), primary_key=True)
    position: Mapped[int] = mapped_column(primary_key=True, autoincrement=False)
    path: Mapped[str] = mapped_column(String(255))
    file_digest: Mapped[str] = mapped_column(_Digest)
    size_bytes: Mapped[int]
    facts: Mapped[dict[str, Any]] = mapped_column(JSON)


class ShareLink(Base):
    """A link that opens a release, a sample, a sound or a try-out without an account, until it
    expires."""

    __tablename__ = "share_links"
    id: Mapped[int] = mapped_column(primary_key=True)
    token_digest: Mapped[str] = mapped_column(_Digest, unique=True)
    library_id: Mapped[int] = mapped_column(ForeignKey("libraries.id"))
    release_id: Mapped[int | None] = mapped_column(ForeignKey("releases.id"))
    sample_id: Mapped[int | None] = mapped_column(ForeignKey("samples.id"))
    sound_id: Mapped[int | None] = mapped_column(ForeignKey("sounds.id"))
    tryout_id: Mapped[int | None] = mapped_column(ForeignKey("tryouts.id"))
    note: Mapped[str] = mapped_column(String(500), default="")
    expires: Mapped[datetime] = mapped_column(_Moment)
    revoked: Mapped[bool] = mapped_column(default=False)
    ended_because: Mapped[str] = mapped_column(String(80), default="")
    created: Mapped[datetime] = mapped_column(_Moment, default=utc_now)
    created_by_id: Mapped[int] = mapped_column(ForeignKey("accounts.id"))
