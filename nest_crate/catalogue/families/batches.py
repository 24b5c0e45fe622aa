"""Batches of a library as documents."""

from __future__ import annotations

from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.batch_models import Batch
from nest_crate.catalogue.db.models import Sound, SoundRevision
from nest_crate.catalogue.drafts.drafts import Drafts
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import visible_library_ids
from nest_crate.catalogue.sounds.sounds import require_sound
from nest_crate.core.families import BatchPlan, PlannedSound, Spread, dump_batch, load_batch
from nest_crate.core.sound import Sound as SoundDocument
from nest_crate.core.sound import load_sound

__all__ = ["BATCHES", "begin_batch", "create_batch", "current_batch", "documents_of"]


def current_batch(stored: dict[str, Any]) -> dict[str, Any]:
    """A stored plan as this program writes it: upgraded, every field written out."""
    return dump_batch(load_batch(stored))


BATCHES: Drafts[Batch] = Drafts(Batch, "batch", "batch.edit", current_batch)


def create_batch(
    session: Session, account: CurrentAccount, *, library_id: int, plan: BatchPlan
) -> Batch:
    """A new batch in a library."""
    data = dump_batch(plan)
    return BATCHES.create(session, account, library_id=library_id, name=plan.name, data=data)


def begin_batch(
    session: Session,
    account: CurrentAccount,
    sound_id: int,
    *,
    spreads: tuple[Spread, ...] = (),
    draws: int = 64,
) -> Batch:
    """A batch around a sound, in its library."""
    sound = require_sound(session, account, sound_id)
    planned = PlannedSound(id="a", sound=sound.id, spreads=spreads, draws=draws)
    plan = BatchPlan(name=f"{sound.name[:100]} family", seed=1, sounds=(planned,))
    return create_batch(session, account, library_id=sound.library_id, plan=plan)


def documents_of(
    session: Session, account: CurrentAccount, plan: BatchPlan
) -> dict[str, SoundDocument]:
    """The sounds of a plan that are there and that the account may see, by their id in the plan."""
    found: dict[str, SoundDocument] = {}
    seen = visible_library_ids(session, account)
    for planned in plan.sounds:
        if planned.document is not None:
            found[planned.id] = load_sound(planned.document)
            continue
        query = select(Sound).where(Sound.id == planned.sound, Sound.library_id.in_(seen))
        sound = session.scalar(query.where(Sound.deleted.is_(None)))
        if sound is None or sound.private_to_id not in (None, account.id):
            continue
        document = sound.draft
        if planned.revision is not None:
            of_number = select(SoundRevision).where(
                SoundRevision.sound_id == sound.id, SoundRevision.number == planned.revision
            )
            revision = session.scalar(of_number)
            if revision is None:
                continue
            document = revision.document
        found[planned.id] = load_sound(document)
    return found
