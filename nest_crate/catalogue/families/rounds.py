"""Rounds of a batch: begun, stopped, gone on with, their members listed and judged."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Any

from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session, load_only

from nest_crate.catalogue.db.batch_models import BatchMember, BatchRound
from nest_crate.catalogue.db.errors import NotFound, NotPossible
from nest_crate.catalogue.db.job_models import Job, JobItem
from nest_crate.catalogue.db.models import SoundRevision
from nest_crate.catalogue.families.batches import BATCHES, documents_of
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.people.libraries import require_library, role_in
from nest_crate.catalogue.people.permissions import Action, may
from nest_crate.catalogue.people.vocabularies import Vocabularies
from nest_crate.catalogue.sounds.sounds import keep_revision, require_sound
from nest_crate.catalogue.work.jobs import FAMILY, begin_job
from nest_crate.core.engine import ENGINE_VERSION
from nest_crate.core.families import BatchPlan, Centre, Family, dump_batch, load_batch
from nest_crate.core.sound import load_sound

__all__ = [
    "SHEET",
    "begin_round",
    "family_of",
    "go_on",
    "members_of_round",
    "redraw",
    "require_round",
    "rounds_of",
    "set_verdicts",
    "stop_round",
]

VERDICTS = ("", "kept", "rejected")
# The first members come one by one, so that something is heard at once; later ones in pieces that
# share what they have in common.
_FIRST_PIECES = (1, 1, 2, 4)
_PIECE = 8
_MOST_ROUNDS = 200
# What a sheet shows of a member.
SHEET = (
    BatchMember.number,
    BatchMember.words,
    BatchMember.verdict,
    BatchMember.starred,
    BatchMember.times,
    BatchMember.flags,
    BatchMember.figures,
    BatchMember.sample_id,
)


def begin_round(
    session: Session,
    account: CurrentAccount,
    batch_id: int,
    *,
    base_version: int,
    plan: BatchPlan,
    parent: int | None = None,
    picked: Sequence[int] = (),
    away: bool = False,
    vocabularies: Vocabularies | None = None,
) -> BatchRound:
    """Save the plan and write down that a round of it shall be run, around or away from members of
    an earlier round that were picked. Sounds that are played as drafts are kept as revisions.

    Raises
    ------
    DocumentError
        where the plan cannot be run; see ``require_runnable``.
    NotPossible
        where the batch has too many rounds.
    """
    data = dump_batch(plan)
    batch = BATCHES.save(
        session, account, batch_id, base_version=base_version, name=plan.name, data=data
    )
    if plan.members.category:
        (vocabularies or Vocabularies()).of(session, batch.library_id).require(
            plan.members.category, ""
        )
    centres = _centres(session, batch.id, parent, picked)
    plan = plan.model_copy(update={"away" if away else "around": centres}) if centres else plan
    # Looked at before anything is kept; what is gone or too much is refused at its field.
    family = Family(plan, documents_of(session, account, plan))
    revisions = {
        one.id: _revision(session, account, one.sound, one.revision)
        for one in plan.sounds
        if one.sound is not None
    }
    if any(one.document is not None for one in plan.sounds):
        raise field_error("document.sounds", "import the plan's sounds into a library first")
    count = session.scalar(
        select(func.count()).select_from(BatchRound).where(BatchRound.batch_id == batch.id)
    )
    if (count or 0) >= _MOST_ROUNDS:
        raise NotPossible(f"This batch has {_MOST_ROUNDS} rounds; copy it to go on")
    made = BatchRound(
        batch_id=batch.id,
        number=(count or 0) + 1,
        parent_id=parent if centres else None,
        picked=list(picked) if centres else [],
        plan=dump_batch(plan),
        revisions=revisions,
        redrawn={},
        originals={},
        count=family.count,
        engine_version=ENGINE_VERSION,
        created_by_id=account.id,
    )
    session.add(made)
    session.flush()
    _hand_in(session, account, made, range(1, family.count + 1))
    return made


def _centres(
    session: Session, batch_id: int, parent: int | None, picked: Sequence[int]
) -> tuple[Centre, ...]:
    if parent is None or not picked:
        return ()
    if len(picked) > 5:
        raise field_error("picked", "pick one to five members")
    rows = session.scalars(
        select(BatchMember)
        .join(BatchRound)
        .where(
            BatchRound.batch_id == batch_id,
            BatchMember.round_id == parent,
            BatchMember.number.in_(picked),
        )
        .order_by(BatchMember.number)
    ).all()
    if len(rows) < len(set(picked)):
        raise field_error("picked", "a picked member is not rendered yet")
    return tuple(Centre(values=one.overrides) for one in rows)


def _revision(session: Session, account: CurrentAccount, sound_id: int, number: int | None) -> int:
    """The kept revision that is rendered, by its id: a draft is kept where the account may do that,
    else its newest revision is taken."""
    sound = require_sound(session, account, sound_id)
    query = select(SoundRevision).where(SoundRevision.sound_id == sound_id)
    if number is None:
        library = require_library(session, account, sound.library_id)
        role = role_in(session, account, library)
        if role is not None and may(role, "sound.edit") and account.scope == "write":
            return keep_revision(session, account, sound).id
        query = query.order_by(SoundRevision.number.desc()).limit(1)
    else:
        query = query.where(SoundRevision.number == number)
    found = session.scalar(query)
    if found is None:
        raise NotPossible(f"{sound.name} has no kept revision, and you may not keep one")
    return found.id


def _hand_in(
    session: Session, account: CurrentAccount, made: BatchRound, numbers: Sequence[int]
) -> None:
    """Pieces of work for members, in the order of the sheet."""
    _forget_work(session, made)
    pieces, at = [], 0
    sizes = iter(_FIRST_PIECES)
    while at < len(numbers):
        size = next(sizes, _PIECE)
        pieces.append({"numbers": list(numbers[at : at + size])})
        at += size
    job = begin_job(
        session,
        account,
        kind=FAMILY,
        title=f"{made.batch.name} round {made.number}",
        wanted={"round_id": made.id},
        items=pieces,
    )
    made.job_id = job.id


def _forget_work(session: Session, made: BatchRound) -> None:
    if made.job_id is None:
        return
    session.execute(delete(JobItem).where(JobItem.job_id == made.job_id))
    session.execute(delete(Job).where(Job.id == made.job_id))
    made.job_id = None


def rounds_of(session: Session, account: CurrentAccount, batch_id: int) -> Sequence[BatchRound]:
    """The rounds of a batch in their order."""
    BATCHES.require(session, account, batch_id)
    query = select(BatchRound).where(BatchRound.batch_id == batch_id)
    return session.scalars(query.order_by(BatchRound.number)).all()


def require_round(
    session: Session,
    account: CurrentAccount,
    round_id: int,
    action: Action = "library.see",
    *,
    lock: bool = False,
) -> BatchRound:
    """A round, where the account may do the action in the library of its batch."""
    found = session.get(BatchRound, round_id, with_for_update=lock)
    if found is None:
        raise NotFound(f"There is no round {round_id}")
    BATCHES.require(session, account, found.batch_id, action)
    return found


def family_of(session: Session, made: BatchRound) -> Family:
    """The family of a round, with the sounds as they were when it was run."""
    rows = session.scalars(
        select(SoundRevision).where(SoundRevision.id.in_(made.revisions.values()))
    )
    documents = {one.id: load_sound(one.document) for one in rows}
    sounds = {key: documents[identifier] for key, identifier in made.revisions.items()}
    redrawn = {int(number): times for number, times in made.redrawn.items()}
    return Family(load_batch(made.plan), sounds, redrawn)


def members_of_round(
    session: Session, made: BatchRound, numbers: Collection[int] | None = None
) -> Sequence[BatchMember]:
    """Members that there are by now, by number, or some of them; documents and pictures are read
    when they are looked at."""
    query = select(BatchMember).where(BatchMember.round_id == made.id)
    if numbers is not None:
        query = query.where(BatchMember.number.in_(numbers))
    query = query.options(load_only(*SHEET, BatchMember.file_digest, BatchMember.vector))
    return session.scalars(query.order_by(BatchMember.number)).all()


def stop_round(session: Session, made: BatchRound) -> None:
    """Begin no more of its members; those that there are stay."""
    _forget_work(session, made)


def go_on(session: Session, account: CurrentAccount, made: BatchRound) -> None:
    """Have the members made that are missing or could not be made."""
    there = set(
        session.scalars(
            select(BatchMember.number).where(
                BatchMember.round_id == made.id, BatchMember.file_digest.is_not(None)
            )
        )
    )
    _delete_failed(session, made)
    missing = [number for number in range(1, made.count + 1) if number not in there]
    if missing:
        _hand_in(session, account, made, missing)


def _delete_failed(session: Session, made: BatchRound) -> None:
    session.execute(
        delete(BatchMember).where(
            BatchMember.round_id == made.id, BatchMember.file_digest.is_(None)
        )
    )


def redraw(
    session: Session, account: CurrentAccount, made: BatchRound, numbers: Collection[int]
) -> None:
    """Have other members made in the place of some; the others stay as they are."""
    wanted = sorted(set(numbers))
    if not wanted or wanted[0] < 1 or wanted[-1] > made.count:
        raise field_error("numbers", f"there are {made.count} members")
    kept = select(BatchMember.number).where(
        BatchMember.round_id == made.id,
        BatchMember.number.in_(wanted),
        BatchMember.sample_id.is_not(None),
    )
    if in_library := session.scalars(kept).all():
        raise NotPossible(f"Member {in_library[0]} is a sample already; it stays as it is")
    times = {**made.redrawn}
    for number in wanted:
        times[f"{number}"] = times.get(f"{number}", 0) + 1
    made.redrawn = times
    session.execute(
        delete(BatchMember).where(BatchMember.round_id == made.id, BatchMember.number.in_(wanted))
    )
    missing = _missing_now(session, made)
    _hand_in(session, account, made, [*wanted, *(one for one in missing if one not in wanted)])


def _missing_now(session: Session, made: BatchRound) -> list[int]:
    """Members that wait still, in case the work is handed in anew."""
    if made.job_id is None:
        return []
    there = set(session.scalars(select(BatchMember.number).where(BatchMember.round_id == made.id)))
    return [number for number in range(1, made.count + 1) if number not in there]


def set_verdicts(
    session: Session, made: BatchRound, changes: Mapping[int, Mapping[str, Any]]
) -> None:
    """Keep, reject or star members, by number; ``verdict`` and ``starred`` where they change.

    Raises
    ------
    DocumentError
        where one of them is not there, or a verdict is none.
    """
    grouped: dict[tuple[tuple[str, Any], ...], list[int]] = {}
    for number, change in changes.items():
        if change.get("verdict", "") not in VERDICTS:
            raise field_error("changes", f"a verdict is one of {', '.join(VERDICTS[1:])}, or empty")
        grouped.setdefault(tuple(sorted(change.items())), []).append(number)
    found = session.scalar(
        select(func.count())
        .select_from(BatchMember)
        .where(BatchMember.round_id == made.id, BatchMember.number.in_(changes))
    )
    if found != len(changes):
        raise field_error("changes", "a member is not rendered yet")
    for values, numbers in grouped.items():
        if values:
            of_these = update(BatchMember).where(
                BatchMember.round_id == made.id, BatchMember.number.in_(numbers)
            )
            session.execute(of_these.values(**dict(values)))
