"""Changing samples' details: one or many in one go, with history, undo and a bin."""

from __future__ import annotations

import secrets
from collections.abc import Callable, Iterable, Mapping, Sequence
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from nest_crate.catalogue.db.errors import NotAllowed, NotFound, NotPossible, StaleSave
from nest_crate.catalogue.db.models import Sample, utc_now
from nest_crate.catalogue.db.shared_models import SampleEdit
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.people.permissions import Action
from nest_crate.catalogue.people.vocabularies import Vocabularies
from nest_crate.catalogue.people.vocabulary import Vocabulary
from nest_crate.catalogue.samples.fields import FIELDS, MOST_TAGS, SampleChanges
from nest_crate.catalogue.samples.statuses import Status, action_of_move
from nest_crate.catalogue.samples.takes import WITH_LINEAGE, require_sample

__all__ = [
    "HEARD_FIELDS",
    "bin_samples",
    "change_sample",
    "change_samples",
    "edits_of",
    "mark_changed",
    "move_samples",
    "record_change",
    "require_current",
    "require_one",
    "samples_for",
]

_MOST_AT_ONCE = 5000
# A change of what is heard makes again what was approved.
HEARD_FIELDS = ("edits", "file_digest")


def samples_for(
    session: Session,
    account: CurrentAccount,
    sample_ids: Sequence[int],
    action: Any = "library.see",
    *,
    lock: bool = False,
    binned: bool = False,
) -> list[Sample]:
    """The samples with these ids in their order, each asked for; locked in the order of ids."""
    wanted = list(dict.fromkeys(sample_ids))
    if len(wanted) > _MOST_AT_ONCE:
        raise NotPossible(f"At most {_MOST_AT_ONCE} samples at once")
    query = select(Sample).where(Sample.id.in_(wanted)).order_by(Sample.id)
    if lock:
        # Locked alone, without rows of other tables; and read again, for what this transaction read
        # before may have been changed until it had the lock.
        query = query.with_for_update().execution_options(populate_existing=True)
    else:
        query = query.options(*WITH_LINEAGE)
    found = {one.id: one for one in session.scalars(query)}
    for identifier in wanted:
        if identifier not in found or (found[identifier].deleted is not None and not binned):
            raise NotFound(f"There is no sample {identifier}")
    for library_id in {one.library_id for one in found.values()}:
        require_library(session, account, library_id, action)
    return [found[identifier] for identifier in wanted]


def record_change(
    session: Session,
    account: CurrentAccount,
    sample: Sample,
    values: Mapping[str, Any],
    *,
    gesture: str,
    label: str,
    beside: Mapping[str, list[Any]] | None = None,
) -> bool:
    """Write values into a sample with an entry in its history; False where nothing differs.

    ``beside`` is what changed with it that is no field of the sample, as [before, after].
    """
    changes = {
        name: [getattr(sample, name), value]
        for name, value in values.items()
        if getattr(sample, name) != value
    }
    if not changes:
        return False
    heard = any(name in changes for name in HEARD_FIELDS)
    if heard and sample.status == "approved" and "status" not in changes:
        changes["status"] = ["approved", "draft"]
    for name, (_, value) in changes.items():
        setattr(sample, name, value)
    sample.version += 1
    sample.changed = utc_now()
    changes |= beside or {}
    edit = SampleEdit(
        sample_id=sample.id,
        account_id=account.id,
        gesture=gesture,
        label=label[:120],
        changes=changes,
    )
    session.add(edit)
    return True


def change_sample(
    session: Session,
    account: CurrentAccount,
    sample_id: int,
    changes: SampleChanges,
    *,
    base_version: int,
    vocabularies: Vocabularies,
) -> Sample:
    """Change fields of a sample that were read at ``base_version``.

    Raises
    ------
    StaleSave
        where someone changed one of the same fields in between: details hold ``saved`` and
        ``yours`` by field, and the version to name next. Changes of other fields go together.
    """
    values = changes.given()
    # To rate is for more people than to change a sample's details.
    action: Action = "sample.rate" if set(values) == {"rating"} else "sample.edit"
    sample = samples_for(session, account, [sample_id], action, lock=True)[0]
    _require_words(vocabularies.of(session, sample.library_id), sample, values)
    require_current(session, sample, values, base_version)
    label = "Changed " + ", ".join(FIELDS[name] for name in values)
    record_change(session, account, sample, values, gesture=secrets.token_hex(8), label=label)
    return sample


def require_current(
    session: Session, sample: Sample, values: Mapping[str, Any], base_version: int
) -> None:
    """``StaleSave`` where someone changed one of these fields after a version, otherwise than to
    these values; the sample is locked by then."""
    if base_version == sample.version:
        return
    others = _changed_since(session, sample, base_version)
    both = {
        name: [getattr(sample, name), value]
        for name, value in values.items()
        if name in others and getattr(sample, name) != value
    }
    if both:
        raise StaleSave(
            f"{', '.join(FIELDS[name] for name in both)} was changed by someone else",
            details={
                "version": sample.version,
                "saved": {name: pair[0] for name, pair in both.items()},
                "yours": {name: pair[1] for name, pair in both.items()},
            },
        )


def _changed_since(session: Session, sample: Sample, base_version: int) -> set[str]:
    """Fields that changed after a version; each entry of the history raised it by one."""
    count = sample.version - base_version
    if count < 0:
        return set(FIELDS)
    query = select(SampleEdit.changes).where(SampleEdit.sample_id == sample.id)
    recent = session.scalars(query.order_by(SampleEdit.id.desc()).limit(count)).all()
    # Where the history does not reach back so far, all may have changed.
    return set(FIELDS) if len(recent) < count else {name for one in recent for name in one}


def _require_words(vocabulary: Vocabulary, sample: Sample, values: dict[str, Any]) -> None:
    category = values.get("category", sample.category)
    if "category" in values and "subcategory" not in values and category != sample.category:
        values["subcategory"] = ""
    if "category" in values or "subcategory" in values:
        vocabulary.require(category, values.get("subcategory", sample.subcategory))


def change_samples(
    session: Session,
    account: CurrentAccount,
    sample_ids: Sequence[int],
    changes: SampleChanges,
    *,
    add_tags: Sequence[str] = (),
    remove_tags: Sequence[str] = (),
    vocabularies: Vocabularies,
) -> tuple[str, int]:
    """Change many at once; answers the gesture to undo it by, and how many differ now."""

    def wanted(sample: Sample) -> dict[str, Any]:
        values = changes.given()
        _require_words(vocabularies.of(session, sample.library_id), sample, values)
        if add_tags or remove_tags:
            kept = [one for one in values.get("tags", sample.tags) if one not in set(remove_tags)]
            values["tags"] = [*kept, *(one for one in add_tags if one not in kept)]
            if len(values["tags"]) > MOST_TAGS:
                raise field_error(
                    "add_tags", f"{sample.name!r} would have more than {MOST_TAGS} tags"
                )
        return values

    return change_each(session, account, sample_ids, wanted, label="Changed together")


def change_each(
    session: Session,
    account: CurrentAccount,
    sample_ids: Sequence[int],
    wanted: Callable[[Sample], Mapping[str, Any]],
    *,
    label: str,
    action: Any = "sample.edit",
    as_read: Mapping[int, int] | None = None,
) -> tuple[str, int]:
    """Change each of many samples in its own way, in one go.

    Raises
    ------
    NotPossible
        where a sample is not of the version that ``as_read`` tells by its id: what is wanted of it
        was made from what it was then.
    """
    gesture = secrets.token_hex(8)
    samples = samples_for(session, account, sample_ids, action, lock=True)
    for one in samples:
        if as_read is not None and as_read[one.id] != one.version:
            raise NotPossible(
                f"{one.name!r} has changed in the meantime. Nothing was done; check it again."
            )
    changed = sum(
        record_change(session, account, one, wanted(one), gesture=gesture, label=label)
        for one in samples
    )
    return gesture, changed


def mark_changed(samples: Iterable[Sample]) -> None:
    """Date changes to now, at the end of what took its time: searches for what is new ask by this
    date, soon after it can be seen."""
    now = utc_now()
    for sample in samples:
        sample.changed = now


def edits_of(session: Session, account: CurrentAccount, sample_id: int) -> Sequence[SampleEdit]:
    """The history of a sample, newest first."""
    require_sample(session, account, sample_id)
    query = select(SampleEdit).where(SampleEdit.sample_id == sample_id)
    newest = query.options(joinedload(SampleEdit.account)).order_by(SampleEdit.id.desc())
    return session.scalars(newest.limit(200)).all()


def move_samples(
    session: Session, account: CurrentAccount, sample_ids: Sequence[int], wanted: Status
) -> str:
    """Move samples into another state, all or none; answers the gesture."""
    gesture = secrets.token_hex(8)
    for sample in samples_for(session, account, sample_ids, lock=True):
        if sample.status == wanted:
            continue
        require_one(session, account, sample, action_of_move(sample.status, wanted))
        label = f"Moved to {wanted.replace('_', ' ')}"
        values = {"status": wanted}
        record_change(session, account, sample, values, gesture=gesture, label=label)
    return gesture


def require_one(
    session: Session, account: CurrentAccount, sample: Sample, actions: tuple[Any, ...]
) -> None:
    """Any of the actions is enough; otherwise the error names what the first lacks."""
    for action in actions[1:]:
        try:
            require_library(session, account, sample.library_id, action)
            return
        except NotAllowed:
            continue
    require_library(session, account, sample.library_id, actions[0])


def bin_samples(
    session: Session, account: CurrentAccount, sample_ids: Sequence[int], *, binned: bool
) -> str:
    """Put samples into the bin, or take them out of it; answers the gesture. Releases keep what
    they hold."""
    gesture = secrets.token_hex(8)
    label = "Moved to bin" if binned else "Restored from bin"
    for sample in samples_for(
        session, account, sample_ids, "sample.edit", lock=True, binned=not binned
    ):
        record_change(session, account, sample, {"binned": binned}, gesture=gesture, label=label)
    return gesture
