"""A render worker as its dispatcher sees it: a process, and the socket that leads to it."""

from __future__ import annotations

import contextlib
import socket
from dataclasses import asdict, dataclass

from nest_crate.jobs.forking import Forked
from nest_crate.jobs.rendering.admission import Lane
from nest_crate.jobs.rendering.errors import Why
from nest_crate.jobs.rendering.frames import Frame, FrameReader, send_frame
from nest_crate.jobs.rendering.here import WorkerOptions, work_here

__all__ = ["WorkerProcess", "WorkerSettings", "tell_cancel", "tell_task"]

# Those of the slow lane stand back behind people who listen.
_NICENESS: dict[Lane, int] = {"quick": 0, "slow": 10}
_RECEIVED_AT_ONCE = 1 << 16
_TAKES_WITHIN_S = 5.0


@dataclass(frozen=True)
class WorkerSettings:
    """Limits of a worker: memory in all, of that for remembered stages, and seconds a task."""

    memory_mb: int
    stage_memory_mb: int
    time_s: float


def tell_task(
    told: socket.socket, job: int, task: str, asker: socket.socket, body: bytes, *, last: bool
) -> None:
    """Say to a worker what to do, and hand it the connection of who asked for it."""
    with contextlib.suppress(OSError):
        socket.send_fds(told, [b"t"], [asker.fileno()])
        send_frame(told, Frame({"do": task, "job": job, "last": last}, body))


def tell_cancel(told: socket.socket, job: int, why: Why) -> None:
    """Say to a worker that a job is over."""
    with contextlib.suppress(OSError):
        told.sendall(b"c")
        send_frame(told, Frame({"job": job, "why": why}))


class WorkerProcess:
    """Started at once; ``ready`` as soon as it said so."""

    def __init__(self, settings: WorkerSettings, lane: Lane) -> None:
        self.ready = False
        self.told, theirs = socket.socketpair()
        # A worker always reads; one that does not is stuck, and must not hold up the others.
        self.told.settimeout(_TAKES_WITHIN_S)
        options = WorkerOptions(**asdict(settings), niceness=_NICENESS[lane])
        self._process = Forked(
            f"nest-render {lane}", lambda: work_here(theirs, options), keep=(theirs.fileno(),)
        )
        theirs.close()
        self._reader = FrameReader()

    def give(self, job: int, task: str, asker: socket.socket, body: bytes, *, last: bool) -> None:
        """Hand over a task with the connection of who asked for it."""
        tell_task(self.told, job, task, asker, body, last=last)

    def cancel(self, job: int, why: Why) -> None:
        tell_cancel(self.told, job, why)

    def heard(self) -> list[Frame] | None:
        """What it said since; None where it ended."""
        try:
            data = self.told.recv(_RECEIVED_AT_ONCE)
        except OSError:
            return None
        if not data:
            return None
        frames = list(self._reader.feed(data))
        self.ready = self.ready or any(frame.head["said"] == "ready" for frame in frames)
        return frames

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
