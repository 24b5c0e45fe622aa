"""Taking back what was done to samples in one go.

To undo asks for what doing it asked for. And nothing becomes approved by it that nobody has heard:
where the audio is not what it was then, the status stays as it is now.
"""

from __future__ import annotations

import secrets
from typing import Any

from sqlalchemy import select, update
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotFound, NotPossible
from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.db.shared_models import Comment, SampleEdit
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.permissions import Action
from nest_crate.catalogue.samples.edits import (
    HEARD_FIELDS,
    mark_changed,
    record_change,
    require_one,
    samples_for,
)
from nest_crate.catalogue.samples.measurement import heard_audio, measure_into
from nest_crate.catalogue.samples.statuses import action_of_move
from nest_crate.storage import AudioStore

__all__ = ["undo_gesture"]


def undo_gesture(
    session: Session, store: AudioStore, account: CurrentAccount, gesture: str
) -> list[int]:
    """Take back what was changed in one go; answers the ids of the samples.

    Fields that were changed again since stay as they are now. What is heard is measured again.
    """
    done = select(SampleEdit.id, SampleEdit.sample_id).where(SampleEdit.gesture == gesture)
    rows = session.execute(done.where(SampleEdit.undone.is_(False))).all()
    ids = [row.sample_id for row in rows]
    samples = {one.id: one for one in samples_for(session, account, ids, lock=True, binned=True)}
    # Read once the samples are locked, for someone else may have taken it back by then; by their
    # own ids, which locks nothing between them.
    query = select(SampleEdit).where(SampleEdit.id.in_([row.id for row in rows]))
    query = query.where(SampleEdit.undone.is_(False)).order_by(SampleEdit.id.desc())
    edits = session.scalars(query.with_for_update()).all()
    if not edits:
        raise NotFound("There is nothing left to undo")
    own = secrets.token_hex(8)
    for edit in edits:
        sample = samples[edit.sample_id]
        require_one(session, account, sample, _actions_of(edit))
        back = _former_values(session, sample, edit)
        edit.undone = True
        record_change(session, account, sample, back, gesture=own, label=f"Undid: {edit.label}")
        if any(name in back for name in HEARD_FIELDS):
            measure_into(sample, heard_audio(store, sample))
        if "comments" in edit.changes:
            _bring_comments_back(session, edit)
    mark_changed(samples.values())
    return list(samples)


def _actions_of(edit: SampleEdit) -> tuple[Action, ...]:
    """The actions of which one must be allowed to take a change back."""
    if set(edit.changes) == {"rating"}:
        return ("sample.rate",)
    if set(edit.changes) != {"status"}:
        return ("sample.edit",)
    before, after = edit.changes["status"]
    found: list[Action] = []
    # The right to move there is the right to move back; an undo counts as the move it reverted.
    for start, end in ((before, after), (after, before)):
        try:
            found += action_of_move(start, end)
        except NotPossible:
            continue
    return tuple(dict.fromkeys(found))


def _former_values(session: Session, sample: Sample, edit: SampleEdit) -> dict[str, Any]:
    """What the fields were before a change, of those that were not changed again since."""
    back = {
        name: before
        for name, (before, after) in edit.changes.items()
        if name != "comments" and getattr(sample, name) == after
    }
    if back.get("status") != "approved":
        return back
    then = _heard_before(session, sample, edit)
    if any(back.get(name, getattr(sample, name)) != then[name] for name in HEARD_FIELDS):
        del back["status"]
    return back


def _heard_before(session: Session, sample: Sample, edit: SampleEdit) -> dict[str, Any]:
    """What was heard of a sample before a change: its history followed back from now."""
    values = {name: getattr(sample, name) for name in HEARD_FIELDS}
    query = select(SampleEdit.changes).where(
        SampleEdit.sample_id == sample.id, SampleEdit.id >= edit.id
    )
    for changes in session.scalars(query.order_by(SampleEdit.id.desc())):
        values |= {name: changes[name][0] for name in HEARD_FIELDS if name in changes}
    return values


def _bring_comments_back(session: Session, edit: SampleEdit) -> None:
    """Comments that a merge had moved to another sample."""
    ids = edit.changes["comments"][0]
    session.execute(update(Comment).where(Comment.id.in_(ids)).values(sample_id=edit.sample_id))
