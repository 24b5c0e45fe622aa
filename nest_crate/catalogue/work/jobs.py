"""Long work as rows: begun, done piece by piece by any free worker, stopped, forgotten.

What is not done yet is in the tables, so that after a restart of everything the work goes on from
there. A piece that is done twice (its worker died after the work) is written once.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass
from datetime import timedelta
from typing import Any

from sqlalchemy import delete, exists, func, select, update
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import NotFound, NotPossible
from nest_crate.catalogue.db.job_models import Job, JobItem
from nest_crate.catalogue.db.models import utc_now
from nest_crate.catalogue.people.accounts import CurrentAccount, account_by_id

__all__ = [
    "FAMILY",
    "JobState",
    "Outcome",
    "Piece",
    "begin_job",
    "end_piece",
    "fail_piece",
    "finished_items",
    "forget_job",
    "forget_old_jobs",
    "item_at",
    "jobs_of",
    "own_job",
    "piece_of",
    "state_of",
    "stop_job",
    "waiting_items",
]

# A round of a batch, which is looked at on its own screen.
FAMILY = "family"
_MOST_JOBS = 20
_MOST_ITEMS = 5000
_MOST_WORDS = 500


@dataclass(frozen=True)
class JobState:
    """A job and how far it is: pieces by what became of them, and seconds since it began, or that
    it took."""

    job: Job
    of: int
    done: int
    failed: int
    seconds: float


@dataclass(frozen=True)
class Piece:
    """One piece of work as its worker needs it."""

    item_id: int
    kind: str
    account: CurrentAccount
    for_all: Mapping[str, Any]
    wanted: Mapping[str, Any]


@dataclass(frozen=True)
class Outcome:
    """What came of a piece, and the digest of a file that was stored for it, if any."""

    result: dict[str, Any]
    file_digest: str | None = None


def begin_job(
    session: Session,
    account: CurrentAccount,
    *,
    kind: str,
    title: str,
    wanted: Mapping[str, Any],
    items: Sequence[Mapping[str, Any]],
) -> Job:
    """Write down what is wanted; workers look for it (``waiting_items``).

    Raises
    ------
    NotPossible
        where it is too much at once, or too much of it was begun before and not looked at.
    """
    if len(items) > _MOST_ITEMS:
        raise NotPossible(f"At most {_MOST_ITEMS} at once")
    kept = select(func.count()).select_from(Job).where(Job.account_id == account.id)
    # Finished rounds of batches wait for nobody: what came of them lies in tables of their own.
    kept = kept.where((Job.kind != FAMILY) | (Job.state == "running"))
    if (session.scalar(kept) or 0) >= _MOST_JOBS:
        raise NotPossible(
            f"{_MOST_JOBS} jobs are waiting for you already; review or discard them first"
        )
    job = Job(account_id=account.id, kind=kind, title=title[:120], wanted=dict(wanted))
    session.add(job)
    session.flush()
    session.add_all(
        JobItem(job_id=job.id, position=position, wanted=dict(one))
        for position, one in enumerate(items)
    )
    session.flush()
    return job


def own_job(session: Session, account: CurrentAccount, job_id: int, *, lock: bool = False) -> Job:
    """An account's own job; ``NotFound`` for everyone else's."""
    job = session.get(Job, job_id, with_for_update=lock)
    if job is None or job.account_id != account.id:
        raise NotFound("This job no longer exists")
    return job


def jobs_of(session: Session, account: CurrentAccount) -> list[JobState]:
    """All work of an account, the newest first."""
    query = select(Job).where(Job.account_id == account.id, Job.kind != FAMILY)
    query = query.order_by(Job.id.desc())
    return _states(session, session.scalars(query).all())


def state_of(session: Session, job: Job) -> JobState:
    """How far a job is."""
    return _states(session, [job])[0]


def _states(session: Session, jobs: Sequence[Job]) -> list[JobState]:
    counts: dict[int, Counter[str]] = {job.id: Counter() for job in jobs}
    query = (
        select(JobItem.job_id, JobItem.state, func.count())
        .where(JobItem.job_id.in_(counts))
        .group_by(JobItem.job_id, JobItem.state)
    )
    for job_id, state, count in session.execute(query):
        counts[job_id][state] = count
    return [
        JobState(
            job=job,
            of=counts[job.id].total(),
            done=counts[job.id]["done"],
            failed=counts[job.id]["failed"],
            seconds=((job.ended or utc_now()) - job.created).total_seconds(),
        )
        for job in jobs
    ]


def finished_items(session: Session, job: Job, *, after: int, limit: int) -> list[JobItem]:
    """Finished pieces behind a position in their order, up to the first that is not finished: asked
    with the last position again and again, each piece comes once."""
    query = select(JobItem).where(JobItem.job_id == job.id, JobItem.position > after)
    found = []
    for item in session.scalars(query.order_by(JobItem.position).limit(limit)):
        if item.state == "waiting":
            break
        found.append(item)
    return found


def item_at(session: Session, job: Job, position: int) -> JobItem:
    """One piece of a job."""
    here = select(JobItem).where(JobItem.job_id == job.id, JobItem.position == position)
    item = session.scalar(here)
    if item is None:
        raise NotFound("This part of the job no longer exists")
    return item


def waiting_items(session: Session, *, beside: Collection[int], count: int) -> list[int]:
    """Pieces to work on next, in turn from every running job, so that a short one does not wait
    for a long one; none of those that are under way (``beside``), which count as a job's turns."""
    turn = (
        func.row_number().over(partition_by=JobItem.job_id, order_by=JobItem.position).label("turn")
    )
    waiting = (
        select(JobItem.id, JobItem.job_id, turn)
        .join(Job, Job.id == JobItem.job_id)
        .where(Job.state == "running", JobItem.state == "waiting")
        .subquery()
    )
    query = select(waiting.c.id).where(waiting.c.id.not_in(beside))
    return list(session.scalars(query.order_by(waiting.c.turn, waiting.c.job_id).limit(count)))


def piece_of(session: Session, item_id: int) -> Piece | None:
    """A piece for its worker; None where it is done, stopped or forgotten meanwhile."""
    item = session.get(JobItem, item_id)
    if item is None or item.state != "waiting":
        return None
    job = session.get_one(Job, item.job_id)
    if job.state != "running":
        return None
    account = account_by_id(session, job.account_id)
    return Piece(item.id, job.kind, account, job.wanted, item.wanted)


def end_piece(database: Database, item_id: int, outcome: Outcome) -> None:
    """Write down what came of a piece, and the end of its job with the last one."""
    _end(
        database,
        item_id,
        {"state": "done", "result": outcome.result, "file_digest": outcome.file_digest},
    )


def fail_piece(database: Database, item_id: int, words: str) -> None:
    """Write down why a piece failed; the others go on."""
    _end(database, item_id, {"state": "failed", "words": words[:_MOST_WORDS]})


def _end(database: Database, item_id: int, values: Mapping[str, Any]) -> None:
    with database.session() as session:
        job_id = session.scalar(select(JobItem.job_id).where(JobItem.id == item_id))
        # One at a time for each job: the last one sees that all others are done.
        if job_id is None or session.get(Job, job_id, with_for_update=True) is None:
            return
        mine = update(JobItem).where(JobItem.id == item_id, JobItem.state == "waiting")
        session.execute(mine.values(**values))
        left = exists().where(JobItem.job_id == job_id, JobItem.state == "waiting")
        last = update(Job).where(Job.id == job_id, Job.state == "running", ~left)
        session.execute(last.values(state="done", ended=utc_now()))


def stop_job(session: Session, account: CurrentAccount, job_id: int) -> None:
    """Begin no more pieces of a job; what is done can be looked at."""
    job = own_job(session, account, job_id, lock=True)
    if job.state != "running":
        return
    job.state, job.ended = "stopped", utc_now()
    session.execute(delete(JobItem).where(JobItem.job_id == job_id, JobItem.state == "waiting"))


def forget_job(session: Session, account: CurrentAccount, job_id: int) -> None:
    """Remove a job with all that came of it; its files are swept later."""
    job = own_job(session, account, job_id, lock=True)
    session.execute(delete(JobItem).where(JobItem.job_id == job_id))
    session.delete(job)


def forget_old_jobs(session: Session, *, days: int = 7) -> int:
    """Remove jobs that ended long ago and that nobody came back to; answers how many."""
    latest = utc_now() - timedelta(days=days)
    old = list(session.scalars(select(Job.id).where(Job.ended < latest)))
    session.execute(delete(JobItem).where(JobItem.job_id.in_(old)))
    session.execute(delete(Job).where(Job.id.in_(old)))
    return len(old)
