"""Tasks done by Dask workers, so that auditions too can leave the machine.

Dask's own protocol carries them; a slot here is a thread of the dispatcher that waits for one.
"""

from __future__ import annotations

import json
import secrets
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager, suppress
from functools import lru_cache
from typing import Any

import dask
from distributed import Client, Event
from distributed.client import FutureCancelledError
from distributed.scheduler import KilledWorker

from nest_crate.core.cancellation import Cancel, Cancelled, watching
from nest_crate.core.engine import ENGINE_VERSION
from nest_crate.core.errors import NestCrateError
from nest_crate.jobs.rendering.errors import RenderersAway, packed, unpacked
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks import TASKS
from nest_crate.jobs.rendering.worker import Given, serve_tasks
from nest_crate.jobs.rendering.worker_link import WorkerLink
from nest_crate.jobs.rendering.worker_process import WorkerSettings
from nest_crate.jobs.rendering.workshop import Wanted, Workshop

__all__ = ["DaskSlot", "opened_scheduler", "run_elsewhere", "slots_of"]

_CONNECT_S = 10
_LOOKS_EVERY_S = 0.03
_MOST_SLOTS = 64
# Above long work, whose pieces have 0.
_PRIORITY = 10


def opened_scheduler(address: str) -> Client:
    """A client of the scheduler; ``OSError`` where none answers there."""
    with dask.config.set({"distributed.comm.timeouts.connect": f"{_CONNECT_S}s"}):
        return Client(address, timeout=_CONNECT_S, set_as_default=False)


def slots_of(client: Client) -> int:
    """Tasks at a time: one for each thread of the workers that are there now."""
    threads = sum(int(count) for count in client.nthreads().values())
    return max(1, min(_MOST_SLOTS, threads))


def run_elsewhere(
    engine_version: int, task: str, job: str, body: bytes, limits: tuple[int, int, float], end: str
) -> list[tuple[dict[str, Any], bytes]]:
    """On a Dask worker: the parts of a task's answer, or one with its error."""
    if engine_version != ENGINE_VERSION:
        words = f"A worker has engine {ENGINE_VERSION}, the server {engine_version}"
        return [({"error": packed(RenderersAway(words))}, b"")]
    cancel = Cancel()
    try:
        with _ended_by(end, cancel), watching(cancel):
            wanted = Wanted(job, json.loads(body))
            return [(one.head, one.body) for one in TASKS[task](_workshop(*limits), wanted)]
    except NestCrateError as error:
        return [({"error": packed(error)}, b"")]


@lru_cache(maxsize=1)
def _workshop(memory_mb: int, stage_memory_mb: int, time_s: float) -> Workshop:
    return Workshop.opened(memory_mb=memory_mb, stage_memory_mb=stage_memory_mb, time_s=time_s)


@contextmanager
def _ended_by(name: str, cancel: Cancel) -> Iterator[None]:
    """Within it the event of that name, set anywhere, cancels the work."""
    event, over = Event(name), threading.Event()

    def look() -> None:
        while not over.wait(_LOOKS_EVERY_S):
            with suppress(OSError, TimeoutError):
                if event.is_set():
                    cancel.set()
                    return

    watcher = threading.Thread(target=look, daemon=True)
    watcher.start()
    try:
        yield
    finally:
        over.set()
        watcher.join()


class _Elsewhere:
    """One task at a time on the workers of a scheduler."""

    def __init__(self, client: Client, settings: WorkerSettings, place: str) -> None:
        self._client, self._place = client, place
        self._limits = (settings.memory_mb, settings.stage_memory_mb, settings.time_s)

    def parts(self, given: Given) -> Iterator[Frame]:
        end = f"nest-crate-{secrets.token_hex(8)}"
        event = Event(end, client=self._client)
        future = self._client.submit(
            run_elsewhere,
            ENGINE_VERSION,
            given.task,
            f"{self._place}-{given.wanted.job}",
            json.dumps(given.wanted.given).encode(),
            self._limits,
            end,
            pure=False,
            priority=_PRIORITY,
            workers=self._home(),
            allow_other_workers=True,
        )
        while not future.done():
            if given.cancel.is_set:
                event.set()
                future.cancel()
                raise Cancelled("Nobody waits for this any more")
            time.sleep(0.005)
        try:
            made = future.result()
        except (FutureCancelledError, KilledWorker) as error:
            raise RenderersAway("The workers were lost while they rendered") from error
        for head, body in made:
            if "error" in head:
                raise unpacked(head["error"])
            yield Frame(head, body)

    def _home(self) -> list[str] | None:
        """The worker of this slot, where remembered stages of its sounds are."""
        workers = sorted(self._client.nthreads())
        return [workers[hash(self._place) % len(workers)]] if workers else None

    def wait_s(self) -> float | None:
        return None

    def spare(self) -> None:
        """Dask keeps its workers' memory."""

    def worked(self) -> None:
        """Nothing to prepare."""


class DaskSlot(WorkerLink):
    """A worker whose tasks are done elsewhere: a thread that waits for them."""

    def __init__(self, client: Client, settings: WorkerSettings, place: str) -> None:
        super().__init__()
        doing = _Elsewhere(client, settings, place)
        threading.Thread(target=serve_tasks, args=(self.theirs, doing), daemon=True).start()

    def worked_s(self) -> float:
        """By the clock: how busy the machine over there is cannot be seen from here."""
        return time.monotonic()

    def code(self) -> int | None:
        """A thread ends with nothing."""
        return None

    def kill(self) -> None:
        """A task of Dask cannot be ended from here. It goes on until it looks at its event; the
        asker has its answer."""

    def end(self) -> None:
        self.told.close()
