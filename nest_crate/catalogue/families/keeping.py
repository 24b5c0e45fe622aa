"""What is kept of a round: members as samples of a library, or as a sound of their own."""

from __future__ import annotations

import math
from collections.abc import Sequence

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.batch_models import BatchMember, BatchRound
from nest_crate.catalogue.db.errors import NotPossible
from nest_crate.catalogue.db.models import Sample, Sound, SoundRevision, Take
from nest_crate.catalogue.families.batches import BATCHES
from nest_crate.catalogue.families.rounds import family_of
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.people.libraries import lock_library, require_library
from nest_crate.catalogue.sounds.sounds import create_sound
from nest_crate.core.families import Family, MemberRules, dump_batch, member_name, overridden
from nest_crate.core.sound import dump_sound, load_hit, load_sound

__all__ = ["KEPT_AT_ONCE", "keep_members", "plan_of", "sound_of_member"]

KEPT_AT_ONCE = 5000


def keep_members(
    session: Session,
    account: CurrentAccount,
    made: BatchRound,
    numbers: Sequence[int],
    *,
    library_id: int,
) -> list[int]:
    """Members as samples of one variation group, numbered on where the library has such a group;
    answers their ids in the order of the members. One that is a sample already is left out.

    Raises
    ------
    DocumentError
        at ``numbers`` where one is not rendered, or there are too many.
    """
    if not 1 <= len(set(numbers)) <= KEPT_AT_ONCE:
        raise field_error("numbers", f"choose 1 to {KEPT_AT_ONCE} members")
    # First, so that two who keep at once number on from each other.
    lock_library(session, library_id)
    library = require_library(session, account, library_id, "sample.add")
    query = select(BatchMember).where(
        BatchMember.round_id == made.id, BatchMember.number.in_(set(numbers))
    )
    rows = session.scalars(query.order_by(BatchMember.number).with_for_update()).all()
    if len(rows) < len(set(numbers)) or any(one.file_digest is None for one in rows):
        raise field_error("numbers", "a member is not rendered")
    fresh = [one for one in rows if one.sample_id is None]
    if not fresh:
        raise NotPossible("All of these are samples already")
    family = family_of(session, made)
    rules = family.plan.members
    group = rules.group.strip() or family.plan.name[:80]
    count = session.scalar(
        select(func.max(Sample.variation)).where(
            Sample.library_id == library.id, Sample.variation_group == group
        )
    )
    kept = []
    for place, row in enumerate(fresh, (count or 0) + 1):
        sample = _sample(session, account, made, family, row, place)
        sample.library_id, sample.variation_group = library.id, group
        session.add(sample)
        session.flush()
        row.sample_id, row.verdict = sample.id, "kept"
        kept.append(sample.id)
    return kept


def _sample(
    session: Session,
    account: CurrentAccount,
    made: BatchRound,
    family: Family,
    row: BatchMember,
    place: int,
) -> Sample:
    member = family.member(row.number)
    rules: MemberRules = family.plan.members
    sound = family.sounds[member.sound]
    take = Take(
        revision_id=made.revisions[member.sound],
        hit=row.hit,
        overrides=row.overrides or None,
        engine_version=made.engine_version,
        cpu_family=row.cpu_family,
        sample_rate=row.sample_rate,
        file_digest=row.file_digest,
        created_by_id=account.id,
    )
    session.add(take)
    session.flush()
    source = session.get_one(Sound, session.get_one(SoundRevision, take.revision_id).sound_id)
    name = member_name(rules.name, member, sound=sound.name, family=family.plan.name, number=place)
    sample = Sample(
        take_id=take.id,
        name=name,
        file_digest=row.file_digest,
        edits=row.edits,
        category=rules.category or source.category,
        tags=list(rules.tags) or list(source.tags),
        author=account.name,
        created_by_id=account.id,
        root_note=member.hit.note,
        # Notes of an axis are keys of an instrument.
        follows_key="note" in member.axes,
        variation=place,
        features=row.vector,
        outline=row.outline,
    )
    for column, value in row.measured.items():
        if not (isinstance(value, float) and not math.isfinite(value)):
            setattr(sample, column, value)
    return sample


def sound_of_member(
    session: Session, account: CurrentAccount, made: BatchRound, number: int
) -> Sound:
    """A member as a sound of its own beside its original, in the library of the batch."""
    family = family_of(session, made)
    row = session.scalar(
        select(BatchMember).where(BatchMember.round_id == made.id, BatchMember.number == number)
    )
    if row is None:
        raise NotPossible(f"Member {number} is not rendered yet")
    member = family.member(number)
    document = overridden(family.sounds[member.sound], row.overrides)
    data = dump_sound(document)
    data["name"] = f"{document.name[:105]} member {number}"
    data["hit"] = load_hit(row.hit).model_dump(mode="json")
    batch = BATCHES.require(session, account, made.batch_id)
    return create_sound(session, account, library_id=batch.library_id, document=load_sound(data))


def plan_of(family: Family) -> dict[str, object]:
    """The plan of a round with its sounds in it, so that it can be run anywhere."""
    plan = family.plan
    sounds = tuple(
        one.model_copy(
            update={"sound": None, "revision": None, "document": dump_sound(family.sounds[one.id])}
        )
        for one in plan.sounds
    )
    return dump_batch(plan.model_copy(update={"sounds": sounds}))
