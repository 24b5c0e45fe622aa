"""Who is rendered for next: fair shares, the newest first, and no longer a queue than helps.

Pure decisions about jobs and workers; nothing here knows of processes or sockets.
"""

from __future__ import annotations

import hashlib
from collections import defaultdict
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from typing import Literal

__all__ = ["Admission", "Job", "Lane", "Limits", "Refusal", "Step", "home_of"]

Lane = Literal["quick", "slow"]

# A job whose own worker is busy waits so long for it, for its stages are remembered there.
_WAITS_FOR_HOME_S = 0.03


@dataclass(frozen=True)
class Limits:
    """What may be under way and wait."""

    running: int = 2
    """Of one account at a time."""
    waiting: int = 8
    """Of one account."""
    waiting_in_all: int = 512
    waiting_s: float = 60.0
    """Estimated work of one lane that may wait for each of its workers."""


@dataclass(frozen=True)
class Step:
    """A part of a job: what a worker does without a pause. Lower priorities go first."""

    task: str
    priority: int


@dataclass
class Job:
    """One request, done step by step: the first by a worker of its lane, the others by the same."""

    id: int
    account: str
    sound: str
    """Jobs of one sound go to one worker, if it is free."""
    lane: Lane
    steps: list[Step]
    cost_s: float
    """Estimated seconds of one core."""
    stream: str = ""
    """It takes the place of the account's earlier one of the same stream; of none where empty."""
    asked_at: float = 0.0
    worker: int | None = None
    running: bool = False


@dataclass(frozen=True)
class Refusal:
    """Too much waits; come back after so many seconds."""

    retry_after_s: int


@dataclass
class _Share:
    """What an account got so far, in seconds of a core."""

    served_s: float = 0.0
    running: int = 0
    jobs: set[int] = field(default_factory=set)


def home_of(sound: str, workers: Iterable[int]) -> int:
    """The worker of a sound: the same for as long as it is there (rendezvous hashing, Thaler and
    Ravishankar 1998)."""

    def weight(worker: int) -> bytes:
        return hashlib.blake2b(f"{worker}:{sound}".encode(), digest_size=8).digest()

    return max(workers, key=weight)


def _replaces(job: Job, earlier: Job) -> bool:
    return bool(job.stream) and (earlier.account, earlier.stream) == (job.account, job.stream)


class Admission:
    """The jobs that wait and those under way."""

    def __init__(self, limits: Limits, lanes: dict[Lane, list[int]]) -> None:
        self._limits = limits
        self._lanes = lanes
        self._jobs: dict[int, Job] = {}
        self._shares: defaultdict[str, _Share] = defaultdict(_Share)

    def submit(self, job: Job, now: float) -> list[Job] | Refusal:
        """Let a job wait; answers those that it replaces, which are gone from here."""
        replaced = [one for one in self._jobs.values() if _replaces(job, one)]
        refusal = self._refusal(job, beside=len(replaced))
        if refusal is not None:
            return refusal
        for one in replaced:
            self.remove(one)
        share = self._shares[job.account]
        if not share.jobs:
            # Who was away has saved nothing up.
            others = [one.served_s for one in self._shares.values() if one.jobs]
            share.served_s = max(share.served_s, min(others, default=0.0))
        job.asked_at = now
        self._jobs[job.id] = job
        share.jobs.add(job.id)
        return replaced

    def remove(self, job: Job) -> None:
        """A job is over, however it ended."""
        if self._jobs.pop(job.id, None) is None:
            return
        share = self._shares[job.account]
        share.jobs.discard(job.id)
        if job.running:
            share.running -= 1
            job.running = False
        if not any(one.jobs for one in self._shares.values()):
            # Nobody waits, so nobody is ahead of anybody.
            self._shares.clear()

    def next_for(self, worker: int, lane: Lane, free: set[int], now: float) -> Job | None:
        """The job for a worker that is free, marked as running; None where none should go there."""
        ready = [one for one in self._jobs.values() if self._may_run(one, lane)]
        for job in sorted(ready, key=self._order):
            if self._goes_to(job, worker, lane, free, now):
                job.worker, job.running = worker, True
                share = self._shares[job.account]
                share.running += 1
                share.served_s += job.cost_s / len(job.steps)
                return job
        return None

    def step_done(self, job: Job, now: float) -> bool:
        """A job's first step is done; whether there are more, which wait then."""
        if job.id not in self._jobs:
            return False
        job.steps.pop(0)
        if not job.steps:
            self.remove(job)
            return False
        self._shares[job.account].running -= 1
        job.running, job.asked_at = False, now
        return True

    def waiting(self) -> Iterator[Job]:
        return (one for one in self._jobs.values() if not one.running)

    def _refusal(self, job: Job, beside: int) -> Refusal | None:
        limits = self._limits
        waiting = [one for one in self.waiting() if one.lane == job.lane]
        mine = sum(one.account == job.account for one in waiting)
        seconds = sum(one.cost_s for one in waiting) / max(1, len(self._lanes[job.lane]))
        others = any(one.account != job.account for one in waiting)
        too_many = (
            mine - beside >= limits.waiting
            or len(waiting) - beside >= limits.waiting_in_all
            # Who has nothing waiting yet is let in: others' floods are no reason to refuse.
            or (seconds > limits.waiting_s and (mine > 0 or not others))
        )
        return Refusal(max(1, min(60, round(seconds)))) if too_many else None

    def _may_run(self, job: Job, lane: Lane) -> bool:
        share = self._shares[job.account]
        return job.lane == lane and not job.running and share.running < self._limits.running

    def _order(self, job: Job) -> tuple[int, float, float, int]:
        served = self._shares[job.account].served_s
        return job.steps[0].priority, served, job.asked_at, job.id

    def _goes_to(self, job: Job, worker: int, lane: Lane, free: set[int], now: float) -> bool:
        if job.worker is not None:
            return job.worker == worker
        home = home_of(job.sound, self._lanes[lane])
        return home == worker or (home not in free and now - job.asked_at >= _WAITS_FOR_HOME_S)
