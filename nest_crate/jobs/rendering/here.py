"""Tasks done in a worker process of this machine, within its limits."""

from __future__ import annotations

import faulthandler
import os
import resource
import socket
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from nest_crate.core.cancellation import watching
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks import TASKS
from nest_crate.jobs.rendering.worker import Given, serve_tasks
from nest_crate.jobs.rendering.workshop import Workshop
from nest_crate.warmup import warming

__all__ = ["WorkerOptions", "machine_has_room", "work_here"]

# After so long without work, free memory goes back to the system.
_IDLE_S = 2.0
# How soon a busy machine is looked at again.
_CROWDED_S = 0.3
# At rest no process shall hold more.
_AT_REST_BYTES = 600_000_000


@dataclass(frozen=True)
class WorkerOptions:
    """Limits of one worker: memory in all, of that for remembered stages, seconds, niceness."""

    memory_mb: int
    stage_memory_mb: int
    time_s: float
    niceness: int


def work_here(told: socket.socket, options: WorkerOptions) -> None:
    """Be a worker until ``told`` closes."""
    faulthandler.enable()
    os.nice(options.niceness)
    _limit_memory(options.memory_mb)
    workshop = Workshop.opened(
        memory_mb=options.memory_mb,
        stage_memory_mb=options.stage_memory_mb,
        time_s=options.time_s,
    )
    serve_tasks(told, _Here(workshop))


def machine_has_room(load: Path = Path("/proc/loadavg")) -> bool:
    """Whether no more wants to run at this moment than there are processors; this process counts.

    The fourth field says so: "2/715" (proc(5)). Where there is none, there is room.
    """
    try:
        running = int(load.read_text().split()[3].split("/")[0])
    except (OSError, IndexError, ValueError):
        return True
    return running <= (os.cpu_count() or 1)


class _Here:
    """Between tasks kernels are read from the disk one by one, so that nobody waits for it, and not
    where something else wants the processors; later, once there was no work for a while, free
    memory goes back to the system."""

    def __init__(self, workshop: Workshop) -> None:
        self._workshop = workshop
        self._warming = warming()
        self._rested = False
        self._crowded = False

    def parts(self, given: Given) -> Iterator[Frame]:
        try:
            with watching(given.cancel):
                yield from TASKS[given.task](self._workshop, given.wanted)
        except MemoryError:
            self._workshop.forget()
            raise

    def wait_s(self) -> float | None:
        if self._warming:
            return _CROWDED_S if self._crowded else 0.001
        return None if self._rested else _IDLE_S

    def spare(self) -> None:
        if self._warming:
            self._crowded = not machine_has_room()
            if not self._crowded:
                self._warming.pop(0)()
            return
        if self._workshop.give_back() > _AT_REST_BYTES:
            self._workshop.forget()
        self._rested = True

    def worked(self) -> None:
        self._rested = False


def _limit_memory(memory_mb: int) -> None:
    """Past it, allocations fail in this process, and the machine goes on."""
    limit = memory_mb * 1_000_000
    resource.setrlimit(resource.RLIMIT_DATA, (limit, limit))
    # A worker that dies leaves no picture of its memory behind: it holds people's sounds.
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
