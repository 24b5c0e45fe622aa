"""A render worker of this machine as its dispatcher sees it: a process of its own."""

from __future__ import annotations

from contextlib import suppress
from dataclasses import asdict, dataclass

import psutil

from nest_crate.jobs.forking import Forked
from nest_crate.jobs.rendering.admission import Lane
from nest_crate.jobs.rendering.here import WorkerOptions, work_here
from nest_crate.jobs.rendering.worker_link import WorkerLink

__all__ = ["WorkerProcess", "WorkerSettings"]

# Those of the slow lane stand back behind people who listen.
_NICENESS: dict[Lane, int] = {"quick": 0, "slow": 10}


@dataclass(frozen=True)
class WorkerSettings:
    """Limits of a worker: memory in all, of that for remembered stages; seconds of work a task."""

    memory_mb: int
    stage_memory_mb: int
    time_s: float


class WorkerProcess(WorkerLink):
    """A worker of this machine, started at once."""

    def __init__(self, settings: WorkerSettings, lane: Lane) -> None:
        super().__init__()
        options, theirs = WorkerOptions(**asdict(settings), niceness=_NICENESS[lane]), self.theirs
        self._process = Forked(
            f"nest-render {lane}", lambda: work_here(theirs, options), keep=(theirs.fileno(),)
        )
        theirs.close()

    def worked_s(self) -> float:
        """Seconds of processors that it has used."""
        with suppress(psutil.Error):
            times = psutil.Process(self._process.pid).cpu_times()
            return float(times.user + times.system)
        return 0.0

    def code(self) -> int | None:
        """What it ended with."""
        return self._process.wait(1.0)

    def kill(self) -> None:
        self._process.kill()

    def end(self) -> None:
        """Let it go; it ends when its socket closes, or is ended."""
        self.told.close()
        if self._process.wait(0.2) is None:
            self._process.kill()
            self._process.wait(5.0)
