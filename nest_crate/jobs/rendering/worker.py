"""A render worker: one process that does one task at a time and writes to whoever asked.

It is told by its dispatcher over a socket what to do, and is handed the asker's own socket with
it, so that audio goes straight to the process that answers the browser.
"""

from __future__ import annotations

import contextlib
import faulthandler
import json
import os
import queue
import resource
import socket
import threading
import time
from dataclasses import dataclass

import structlog

from nest_crate.core.cancellation import Cancel, Cancelled, watching
from nest_crate.core.errors import NestCrateError
from nest_crate.jobs.rendering.errors import RenderTooLarge, Why, ended_early, packed
from nest_crate.jobs.rendering.frames import Frame, receive_frame, send_frame
from nest_crate.jobs.rendering.tasks import TASKS
from nest_crate.jobs.rendering.workshop import Wanted, Workshop
from nest_crate.warmup import warming

__all__ = ["WorkerOptions", "serve_tasks"]

# After so long without work, free memory goes back to the system.
_IDLE_S = 2.0
# At rest no process shall hold more.
_AT_REST_BYTES = 600_000_000
_log = structlog.get_logger()


@dataclass(frozen=True)
class WorkerOptions:
    """Limits of one worker."""

    memory_mb: int
    stage_memory_mb: int
    time_s: float
    niceness: int


@dataclass
class _Given:
    """A task that was given, with the asker's socket."""

    job: int
    task: str
    last: bool
    wanted: Wanted
    asker: socket.socket
    cancel: Cancel
    why: Why = "left"


class _Inbox(threading.Thread):
    """Takes what the dispatcher says while the worker is at something."""

    def __init__(self, told: socket.socket) -> None:
        super().__init__(name="inbox", daemon=True)
        self.given: queue.Queue[_Given | None] = queue.Queue()
        self._told = told
        self._now: dict[int, _Given] = {}

    def run(self) -> None:
        try:
            while True:
                mark, handles, _, _ = socket.recv_fds(self._told, 1, 1)
                if not mark:
                    break
                frame = receive_frame(self._told)
                if frame is None:
                    break
                self._take(mark, frame, handles)
        finally:
            # The dispatcher is gone; so is everyone who waits for this worker.
            for one in self._now.values():
                one.cancel.set()
            self.given.put(None)

    def _take(self, mark: bytes, frame: Frame, handles: list[int]) -> None:
        job = int(frame.head["job"])
        if mark == b"c":
            found = self._now.get(job)
            if found is not None:
                found.why = frame.head["why"]
                found.cancel.set()
            return
        asker = socket.socket(fileno=handles[0])
        asker.setblocking(True)
        wanted = Wanted(job, json.loads(frame.body))
        head = frame.head
        given = _Given(job, head["do"], head["last"], wanted, asker, Cancel())
        self._now[job] = given
        self.given.put(given)

    def over(self, given: _Given) -> None:
        self._now.pop(given.job, None)


class _SpareTime:
    """What is done between tasks: kernels are read from the disk one by one, so that nobody waits
    for it; later, once there was no work for a while, free memory goes back to the system."""

    def __init__(self, workshop: Workshop) -> None:
        self._workshop = workshop
        self._warming = warming()
        self._rested = False

    @property
    def wait_s(self) -> float | None:
        """For how long to wait for work before it is used; None for ever."""
        if self._warming:
            return 0.001
        return None if self._rested else _IDLE_S

    def use(self) -> None:
        if self._warming:
            self._warming.pop(0)()
            return
        if self._workshop.give_back() > _AT_REST_BYTES:
            self._workshop.forget()
        self._rested = True

    def over(self) -> None:
        """There is work again."""
        self._rested = False


def serve_tasks(told: socket.socket, options: WorkerOptions) -> None:
    """Do what comes over ``told`` until it closes."""
    faulthandler.enable()
    os.nice(options.niceness)
    _limit_memory(options.memory_mb)
    workshop = Workshop.opened(
        memory_mb=options.memory_mb,
        stage_memory_mb=options.stage_memory_mb,
        time_s=options.time_s,
    )
    inbox = _Inbox(told)
    inbox.start()
    send_frame(told, Frame({"said": "ready"}))
    spare = _SpareTime(workshop)
    while True:
        try:
            given = inbox.given.get(timeout=spare.wait_s)
        except queue.Empty:
            spare.use()
            continue
        if given is None:
            return
        spare.over()
        began = time.perf_counter()
        went_on = _do(workshop, given)
        inbox.over(given)
        said = {
            "said": "done",
            "job": given.job,
            "went_on": went_on,
            "seconds": round(time.perf_counter() - began, 4),
        }
        with contextlib.suppress(OSError):
            send_frame(told, Frame(said))


def _do(workshop: Workshop, given: _Given) -> bool:
    """Do one task; whether the asker has all of it and may get more."""
    try:
        with watching(given.cancel):
            for frame in TASKS[given.task](workshop, given.wanted):
                send_frame(given.asker, frame)
        if given.last:
            send_frame(given.asker, Frame({"end": True}))
        return True
    except Cancelled:
        return _refuse(given, packed(ended_early(given.why)))
    except MemoryError:
        workshop.forget()
        words = (
            "The sound needs more memory than a render may have. Shorten it, or use fewer layers."
        )
        return _refuse(given, packed(RenderTooLarge(words)))
    except NestCrateError as error:
        return _refuse(given, packed(error))
    except OSError:
        # The asker left while it was written to.
        return False
    except Exception as error:
        _log.exception("task_failed", task=given.task, error=type(error).__name__)
        message = f"{given.task} failed: {type(error).__name__}"
        return _refuse(given, {"code": "internal", "message": message})
    finally:
        given.asker.close()


def _refuse(given: _Given, error: dict[str, object]) -> bool:
    with contextlib.suppress(OSError):
        send_frame(given.asker, Frame({"error": error}))
    return False


def _limit_memory(memory_mb: int) -> None:
    """Past it, allocations fail in this process, and the machine goes on."""
    limit = memory_mb * 1_000_000
    resource.setrlimit(resource.RLIMIT_DATA, (limit, limit))
    # A worker that dies leaves no picture of its memory behind: it holds people's sounds.
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
