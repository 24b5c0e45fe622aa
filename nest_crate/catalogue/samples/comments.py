"""What people say beside the samples: comments at a time in them, and wishes for sounds."""

from __future__ import annotations

from collections.abc import Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from nest_crate.catalogue.db.errors import NotAllowed, NotFound
from nest_crate.catalogue.db.models import Recording
from nest_crate.catalogue.db.shared_models import Comment, Wish
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.samples.takes import require_sample
from nest_crate.catalogue.sounds.sounds import require_sound

__all__ = [
    "add_comment",
    "answer_wish",
    "close_wish",
    "comments_on",
    "make_wish",
    "remove_comment",
    "wishes_of",
]


def comments_on(session: Session, account: CurrentAccount, sample_id: int) -> Sequence[Comment]:
    """The comments on a sample, by time in it, those on all of it first."""
    require_sample(session, account, sample_id)
    query = select(Comment).where(Comment.sample_id == sample_id)
    found = session.scalars(query.options(joinedload(Comment.account))).all()
    return sorted(found, key=lambda one: (one.at_s is not None, one.at_s or 0.0, one.id))


def add_comment(
    session: Session, account: CurrentAccount, sample_id: int, *, text: str, at_s: float | None
) -> Comment:
    """A comment on a sample, perhaps at a time in it."""
    sample = require_sample(session, account, sample_id, "sample.comment")
    if not text.strip():
        raise field_error("text", "enter a comment")
    if at_s is not None and not 0.0 <= at_s <= sample.length_s:
        raise field_error("at_s", f"lies outside the sample's {1e3 * sample.length_s:.0f} ms")
    comment = Comment(sample_id=sample_id, account_id=account.id, at_s=at_s, text=text.strip())
    session.add(comment)
    session.flush()
    return comment


def remove_comment(session: Session, account: CurrentAccount, comment_id: int) -> None:
    """Take back one's own comment; owners take away any."""
    comment = session.get(Comment, comment_id)
    if comment is None:
        raise NotFound(f"There is no comment {comment_id}")
    sample = require_sample(session, account, comment.sample_id, "sample.comment")
    if comment.account_id != account.id:
        require_library(session, account, sample.library_id, "members.manage")
    session.delete(comment)


def wishes_of(session: Session, account: CurrentAccount, library_id: int) -> Sequence[Wish]:
    """The wishes beside a library: open ones first, then the newest."""
    require_library(session, account, library_id)
    query = select(Wish).where(Wish.library_id == library_id).options(joinedload(Wish.account))
    return sorted(session.scalars(query), key=lambda one: (one.state != "open", -one.id))


def make_wish(
    session: Session,
    account: CurrentAccount,
    library_id: int,
    *,
    title: str,
    text: str = "",
    recording_id: int | None = None,
) -> Wish:
    """A wish for a sound; a recording of one's own may show what is meant."""
    require_library(session, account, library_id, "wish.make")
    if not title.strip():
        raise field_error("title", "enter what is needed")
    digest = None
    if recording_id is not None:
        recording = session.get(Recording, recording_id)
        if recording is None or recording.account_id != account.id:
            raise field_error("recording_id", "there is no such recording")
        digest = recording.digest
    wish = Wish(
        library_id=library_id,
        account_id=account.id,
        title=title.strip(),
        text=text.strip(),
        reference_digest=digest,
    )
    session.add(wish)
    session.flush()
    return wish


def _wish(session: Session, wish_id: int) -> Wish:
    wish = session.get(Wish, wish_id, with_for_update=True)
    if wish is None:
        raise NotFound(f"There is no request {wish_id}")
    return wish


def answer_wish(
    session: Session,
    account: CurrentAccount,
    wish_id: int,
    *,
    sample_id: int | None = None,
    sound_id: int | None = None,
) -> Wish:
    """Point from a wish to the sample or sound that answers it."""
    wish = _wish(session, wish_id)
    require_library(session, account, wish.library_id, "wish.answer")
    if (sample_id is None) == (sound_id is None):
        raise field_error("sample_id", "choose the sample or the sound that answers it")
    if sample_id is not None:
        library_id = require_sample(session, account, sample_id).library_id
    else:
        sound = require_sound(session, account, sound_id or 0)
        library_id = sound.library_id
        # Who may see the wish must be able to see its answer: it is no private draft any more.
        sound.private_to_id = None
    # So the answer is in the wish's own library.
    if library_id != wish.library_id:
        raise field_error("sample_id", "the answer is in another library")
    wish.sample_id, wish.sound_id, wish.state = sample_id, sound_id, "answered"
    return wish


def close_wish(session: Session, account: CurrentAccount, wish_id: int, *, state: str) -> Wish:
    """Close a wish or open it again: who made it, and who may answer."""
    wish = _wish(session, wish_id)
    require_library(session, account, wish.library_id, "wish.make")
    if wish.account_id != account.id:
        require_library(session, account, wish.library_id, "wish.answer")
    if state not in ("open", "closed"):
        raise NotAllowed("A request is open or closed")
    wish.state = state
    return wish
