"""Links that open a release, a sample, a sound or a try-out without an account for a while."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import timedelta

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import utc_now
from nest_crate.catalogue.db.shared_models import Release, ShareLink
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.people.secrets import new_secret, secret_digest
from nest_crate.catalogue.samples.takes import require_sample
from nest_crate.catalogue.sounds.sounds import require_sound
from nest_crate.catalogue.tryouts.tryouts import require_tryout

__all__ = [
    "keep_link",
    "links_of",
    "open_link",
    "revoke_link",
    "share_release",
    "share_sample",
    "share_sound",
    "share_tryout",
]

_MOST_DAYS = 365


def _new(
    session: Session,
    account: CurrentAccount,
    library_id: int,
    days: int,
    note: str,
    **opens: int,
) -> tuple[ShareLink, str]:
    """A link that opens one thing of a library, and its secret, which is shown only once."""
    if not 1 <= days <= _MOST_DAYS:
        raise field_error("days", f"a link lasts 1 to {_MOST_DAYS} days")
    secret = new_secret("link")
    link = ShareLink(
        token_digest=secret_digest(secret),
        library_id=library_id,
        note=note.strip(),
        expires=utc_now() + timedelta(days=days),
        created_by_id=account.id,
        **opens,
    )
    session.add(link)
    session.flush()
    return link, secret


def share_release(
    session: Session, account: CurrentAccount, release_id: int, *, days: int, note: str = ""
) -> tuple[ShareLink, str]:
    """A link to a release, and its secret."""
    release = session.get(Release, release_id)
    if release is None:
        raise NotFound(f"There is no release {release_id}")
    require_library(session, account, release.library_id, "share.make")
    return _new(session, account, release.library_id, days, note, release_id=release.id)


def share_sample(
    session: Session, account: CurrentAccount, sample_id: int, *, days: int, note: str = ""
) -> tuple[ShareLink, str]:
    """A link to a sample with the sound that made it, and its secret."""
    library_id = require_sample(session, account, sample_id, "share.make").library_id
    return _new(session, account, library_id, days, note, sample_id=sample_id)


def share_sound(
    session: Session, account: CurrentAccount, sound_id: int, *, days: int, note: str = ""
) -> tuple[ShareLink, str]:
    """A link to a sound as it is whenever it is opened, and its secret."""
    sound = require_sound(session, account, sound_id, "share.make")
    # What others are shown is meant to stay.
    sound.private_to_id = None
    return _new(session, account, sound.library_id, days, note, sound_id=sound_id)


def share_tryout(
    session: Session, account: CurrentAccount, tryout_id: int, *, days: int, note: str = ""
) -> tuple[ShareLink, str]:
    """A link that plays a try-out as it is whenever it is opened, and its secret."""
    library_id = require_tryout(session, account, tryout_id, "share.make").library_id
    return _new(session, account, library_id, days, note, tryout_id=tryout_id)


def links_of(session: Session, account: CurrentAccount, library_id: int) -> Sequence[ShareLink]:
    """The links of a library, newest first."""
    require_library(session, account, library_id, "share.make")
    query = select(ShareLink).where(ShareLink.library_id == library_id)
    return session.scalars(query.order_by(ShareLink.id.desc()).limit(200)).all()


def revoke_link(session: Session, account: CurrentAccount, link_id: int) -> None:
    """A link that opens nothing any more."""
    link = session.get(ShareLink, link_id)
    if link is None:
        raise NotFound(f"There is no link {link_id}")
    require_library(session, account, link.library_id, "share.make")
    link.revoked, link.ended_because = True, ""


def keep_link(session: Session, account: CurrentAccount, link_id: int) -> ShareLink:
    """Take over a link that ended because its maker left or the library became private."""
    link = session.get(ShareLink, link_id, with_for_update=True)
    if link is None or not link.ended_because:
        raise NotFound(f"There is no link {link_id} that could be kept")
    require_library(session, account, link.library_id, "members.manage")
    link.revoked, link.ended_because, link.created_by_id = False, "", account.id
    return link


def open_link(session: Session, secret: str) -> ShareLink:
    """The link of a secret; ``NotFound`` where it was revoked, has expired or never was."""
    digest = secret_digest(secret)
    link = session.scalar(select(ShareLink).where(ShareLink.token_digest == digest))
    if link is None or link.revoked or link.expires < utc_now():
        raise NotFound("This link is no longer valid")
    return link
