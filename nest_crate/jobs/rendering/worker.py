"""A render worker: one process that does one task at a time and writes to the asker.

Its dispatcher sends it tasks over a socket, each with the asker's own socket, so that audio goes
straight to the process that answers the browser.
"""

from __future__ import annotations

import contextlib
import json
import queue
import socket
import threading
import time
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Protocol

import structlog

from nest_crate.core.cancellation import Cancel, Cancelled
from nest_crate.core.errors import NestCrateError
from nest_crate.jobs.rendering.errors import RenderTooLarge, Why, ended_early, packed
from nest_crate.jobs.rendering.frames import Frame, receive_frame, send_frame
from nest_crate.jobs.rendering.workshop import Wanted

__all__ = ["Doing", "Given", "serve_tasks"]

_log = structlog.get_logger()


@dataclass
class Given:
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
        self.given: queue.Queue[Given | None] = queue.Queue()
        self._told = told
        self._now: dict[int, Given] = {}

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
        given = Given(job, head["do"], head["last"], wanted, asker, Cancel())
        self._now[job] = given
        self.given.put(given)

    def over(self, given: Given) -> None:
        self._now.pop(given.job, None)


class Doing(Protocol):
    """Where tasks are done: in this process, or elsewhere."""

    def parts(self, given: Given) -> Iterator[Frame]:
        """The parts of a task's answer. Raises what the task raises, and ``MemoryError``."""

    def wait_s(self) -> float | None:
        """For how long to wait for work before ``spare`` is called; None for ever."""

    def spare(self) -> None:
        """There was no work for that long."""

    def worked(self) -> None:
        """There is work again."""


def serve_tasks(told: socket.socket, doing: Doing) -> None:
    """Do what comes over ``told`` until it closes."""
    inbox = _Inbox(told)
    inbox.start()
    send_frame(told, Frame({"said": "ready"}))
    while True:
        try:
            given = inbox.given.get(timeout=doing.wait_s())
        except queue.Empty:
            doing.spare()
            continue
        if given is None:
            return
        doing.worked()
        began = time.perf_counter()
        went_on = _do(doing, given)
        inbox.over(given)
        said = {
            "said": "done",
            "job": given.job,
            "went_on": went_on,
            "seconds": round(time.perf_counter() - began, 4),
        }
        with contextlib.suppress(OSError):
            send_frame(told, Frame(said))


def _do(doing: Doing, given: Given) -> bool:
    """Do one task; whether the asker has all of it and may get more."""
    try:
        for frame in doing.parts(given):
            send_frame(given.asker, frame)
        if given.last:
            send_frame(given.asker, Frame({"end": True}))
        return True
    except Cancelled:
        return _refuse(given, packed(ended_early(given.why)))
    except MemoryError:
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


def _refuse(given: Given, error: dict[str, object]) -> bool:
    with contextlib.suppress(OSError):
        send_frame(given.asker, Frame({"error": error}))
    return False
