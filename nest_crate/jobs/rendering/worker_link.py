"""The socket that leads from the dispatcher to a worker, wherever that works."""

from __future__ import annotations

import contextlib
import socket

from nest_crate.jobs.rendering.errors import Why
from nest_crate.jobs.rendering.frames import Frame, FrameReader, send_frame

__all__ = ["WorkerLink"]

_RECEIVED_AT_ONCE = 1 << 16
# A worker always reads; one that does not is stuck, and must not hold up the others.
_TAKES_WITHIN_S = 5.0


class WorkerLink:
    """The dispatcher's end is ``told``; ``ready`` as soon as the worker said so."""

    def __init__(self) -> None:
        self.ready = False
        self.told, self.theirs = socket.socketpair()
        self.told.settimeout(_TAKES_WITHIN_S)
        self._reader = FrameReader()

    def give(self, job: int, task: str, asker: socket.socket, body: bytes, *, last: bool) -> None:
        """Hand over a task with the connection of who asked for it."""
        with contextlib.suppress(OSError):
            socket.send_fds(self.told, [b"t"], [asker.fileno()])
            send_frame(self.told, Frame({"do": task, "job": job, "last": last}, body))

    def cancel(self, job: int, why: Why) -> None:
        """Say that a job is over."""
        with contextlib.suppress(OSError):
            self.told.sendall(b"c")
            send_frame(self.told, Frame({"job": job, "why": why}))

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
