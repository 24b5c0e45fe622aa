"""Gives render jobs to workers: one process, one loop, which renders nothing itself.

A web process connects, says what it wants, and reads the answer from the same connection. The
connection itself is handed to the worker, so that what was rendered passes through nobody else. A
connection that closes is a job that nobody waits for.
"""

from __future__ import annotations

import contextlib
import itertools
import os
import selectors
import signal
import socket
import time
from collections.abc import Callable
from dataclasses import dataclass, replace
from pathlib import Path
from typing import Protocol

import structlog

from nest_crate.jobs.rendering.admission import Admission, Job, Lane, Limits, Refusal
from nest_crate.jobs.rendering.errors import RenderersBusy, Why, ended_early, packed
from nest_crate.jobs.rendering.frames import Frame, FrameReader, send_frame
from nest_crate.jobs.rendering.listening import listening
from nest_crate.jobs.rendering.requests import RenderRequest
from nest_crate.jobs.rendering.worker_process import WorkerProcess, WorkerSettings

__all__ = ["Dispatcher", "PoolSettings", "dispatch"]

# How often waiting jobs and limits of time are looked at.
_TICK_S = 0.01
_IDLE_TICK_S = 0.25
# A worker that was told to stop and goes on for so long is replaced.
_STOPS_WITHIN_S = 2.0
# What a task may take by the clock, as a multiple of its time at work: on a busy machine a worker
# mostly waits for a processor, which is no fault of the sound.
_WAITS_AT_MOST = 5.0
_RECEIVED_AT_ONCE = 1 << 18
_log = structlog.get_logger()


@dataclass(frozen=True)
class PoolSettings:
    """Workers of both lanes, and what they and those who ask may take."""

    quick: int
    slow: int
    worker: WorkerSettings
    limits: Limits
    scheduler: str = ""
    """Of Dask workers that do it instead; ``quick`` and ``slow`` are found from theirs then."""


class Worker(Protocol):
    """A worker, wherever it works."""

    ready: bool
    told: socket.socket

    def give(
        self, job: int, task: str, asker: socket.socket, body: bytes, *, last: bool
    ) -> None: ...
    def cancel(self, job: int, why: Why) -> None: ...
    def heard(self) -> list[Frame] | None: ...
    def worked_s(self) -> float: ...
    def code(self) -> int | None: ...
    def kill(self) -> None: ...
    def end(self) -> None: ...


@dataclass
class _Asker:
    """A connection: its request as far as it came, then its job."""

    connection: socket.socket
    reader: FrameReader
    job: Job | None = None
    body: bytes = b""


@dataclass
class _Slot:
    """A worker's place; the worker there is replaced when it ends."""

    index: int
    lane: Lane
    process: Worker
    job: Job | None = None
    began: float = 0.0
    worked_s: float = 0.0
    """What its worker had worked when the job began."""
    cancelled: float | None = None

    @property
    def free(self) -> bool:
        return self.job is None and self.process.ready


class Dispatcher:
    """Runs until ``stop``; see the module."""

    def __init__(
        self, path: Path, settings: PoolSettings, listener: socket.socket | None = None
    ) -> None:
        self._settings = settings
        self._path, self._listener = path, listener
        self._selector = selectors.DefaultSelector()
        self._numbers = itertools.count(1)
        self._askers: dict[int, _Asker] = {}
        self._stopped = False
        if settings.scheduler:
            self._make, settings = _elsewhere(settings)
        else:
            self._make = _here(settings)
        lanes: dict[Lane, list[int]] = {
            "quick": list(range(settings.quick)),
            "slow": list(range(settings.quick, settings.quick + settings.slow)),
        }
        self._admission = Admission(settings.limits, lanes)
        self._slots = [
            _Slot(index, lane, self._make(index, lane))
            for lane, indices in lanes.items()
            for index in indices
        ]

    def stop(self) -> None:
        self._stopped = True

    def run(self) -> None:
        """Serve; ends its workers when it ends."""
        listener = self._listener or listening(self._path)
        self._selector.register(listener, selectors.EVENT_READ, self._accept)
        for slot in self._slots:
            self._watch(slot)
        # Without the program that started it, it has nobody to work for.
        parent = os.getppid()
        try:
            while not self._stopped and os.getppid() == parent:
                busy = any(True for _ in self._admission.waiting())
                running = any(slot.job is not None for slot in self._slots)
                pause = _TICK_S if busy or running else _IDLE_TICK_S
                for key, _ in self._selector.select(pause):
                    key.data(key.fileobj)
                self._hold_to_time()
                self._assign()
        finally:
            for slot in self._slots:
                slot.process.end()
            self._path.unlink(missing_ok=True)

    def _watch(self, slot: _Slot) -> None:
        def hear(_: socket.socket) -> None:
            self._hear(slot)

        self._selector.register(slot.process.told, selectors.EVENT_READ, hear)

    def _accept(self, listener: socket.socket) -> None:
        with contextlib.suppress(OSError):
            connection, _ = listener.accept()
            asker = _Asker(connection, FrameReader())

            def read(_: socket.socket) -> None:
                self._read(asker)

            self._selector.register(connection, selectors.EVENT_READ, read)

    def _read(self, asker: _Asker) -> None:
        """More of a request, or its end: nobody waits for the answer any more."""
        try:
            # The connection is a worker's too, so it is never made one that does not wait.
            data = asker.connection.recv(_RECEIVED_AT_ONCE, socket.MSG_DONTWAIT)
        except BlockingIOError:
            return
        except OSError:
            data = b""
        if not data:
            self._left(asker)
            return
        if asker.job is not None:
            return
        for frame in asker.reader.feed(data):
            self._admit(asker, frame)
            return

    def _admit(self, asker: _Asker, frame: Frame) -> None:
        job = RenderRequest.job(next(self._numbers), frame)
        asker.job, asker.body = job, frame.body
        answer = self._admission.submit(job, time.monotonic())
        if isinstance(answer, Refusal):
            words = (
                "More is being rendered than this machine can do at once. Try again in a moment."
            )
            details = {"retry_after_s": answer.retry_after_s}
            self._close(asker, packed(RenderersBusy(words, details=details)))
            return
        self._askers[job.id] = asker
        for one in answer:
            self._replace(one)

    def _replace(self, job: Job) -> None:
        """A newer job took its place. A worker that is at it stops and tells the asker."""
        asker = self._askers.pop(job.id, None)
        slot = self._slot_of(job)
        if slot is not None:
            self._cancel(slot, "replaced")
        if asker is not None:
            error = None if slot else packed(ended_early("replaced"))
            self._close(asker, error)

    def _left(self, asker: _Asker) -> None:
        job = asker.job
        if job is not None:
            self._askers.pop(job.id, None)
            slot = self._slot_of(job)
            if slot is not None:
                self._cancel(slot, "left")
            self._admission.remove(job)
        self._close(asker, None)

    def _close(self, asker: _Asker, error: dict[str, object] | None) -> None:
        with contextlib.suppress(KeyError, ValueError):
            self._selector.unregister(asker.connection)
        if error is not None:
            _say(asker.connection, Frame({"error": error}))
        asker.connection.close()

    def _slot_of(self, job: Job) -> _Slot | None:
        return next((slot for slot in self._slots if slot.job is job), None)

    def _cancel(self, slot: _Slot, why: Why) -> None:
        if slot.job is None or slot.cancelled is not None:
            return
        slot.cancelled = time.monotonic()
        slot.process.cancel(slot.job.id, why)

    def _assign(self) -> None:
        now = time.monotonic()
        free = {slot.index for slot in self._slots if slot.free}
        for slot in self._slots:
            if slot.index not in free:
                continue
            job = self._admission.next_for(slot.index, slot.lane, free, now)
            if job is None:
                continue
            free.discard(slot.index)
            asker = self._askers[job.id]
            slot.job, slot.began, slot.cancelled = job, now, None
            slot.worked_s = slot.process.worked_s()
            last = len(job.steps) == 1
            slot.process.give(job.id, job.steps[0].task, asker.connection, asker.body, last=last)

    def _hear(self, slot: _Slot) -> None:
        """What a worker says: it is ready, or done with its task; or it ended."""
        frames = slot.process.heard()
        if frames is None:
            self._renew(slot)
            return
        for frame in frames:
            if frame.head["said"] == "done" and slot.job is not None:
                self._done(slot, slot.job, went_on=bool(frame.head["went_on"]))

    def _done(self, slot: _Slot, job: Job, *, went_on: bool) -> None:
        slot.job, slot.cancelled = None, None
        if went_on and self._admission.step_done(job, time.monotonic()):
            return
        self._admission.remove(job)
        asker = self._askers.pop(job.id, None)
        if asker is not None:
            self._close(asker, None)

    def _renew(self, slot: _Slot) -> None:
        """A worker ended: another one takes its place. Who waited sees the connection close."""
        _log.warning("render_worker_ended", worker=slot.index, code=slot.process.code())
        self._selector.unregister(slot.process.told)
        slot.process.end()
        if slot.job is not None:
            self._done(slot, slot.job, went_on=False)
        slot.process = self._make(slot.index, slot.lane)
        self._watch(slot)

    def _hold_to_time(self) -> None:
        now = time.monotonic()
        for slot in self._slots:
            if slot.job is None:
                continue
            if slot.cancelled is not None:
                if now - slot.cancelled > _STOPS_WITHIN_S:
                    self._end_stuck(slot, slot.job)
            elif self._is_late(slot, now - slot.began):
                self._cancel(slot, "late")

    def _is_late(self, slot: _Slot, passed_s: float) -> bool:
        limit_s = self._settings.worker.time_s
        if passed_s <= limit_s:
            return False
        worked_s = slot.process.worked_s() - slot.worked_s
        return worked_s > limit_s or passed_s > _WAITS_AT_MOST * limit_s

    def _end_stuck(self, slot: _Slot, job: Job) -> None:
        """End a worker that does not stop, and tell the asker, so that it does not ask again."""
        asker = self._askers.pop(job.id, None)
        if asker is not None:
            self._close(asker, packed(ended_early("late")))
        slot.process.kill()


def _here(settings: PoolSettings) -> Callable[[int, Lane], Worker]:
    def make(_: int, lane: Lane) -> Worker:
        return WorkerProcess(settings.worker, lane)

    return make


def _elsewhere(settings: PoolSettings) -> tuple[Callable[[int, Lane], Worker], PoolSettings]:
    # Only where it is wanted: it takes a second to import.
    from nest_crate.jobs.rendering.elsewhere import DaskSlot, opened_scheduler, slots_of

    client = opened_scheduler(settings.scheduler)
    quick = slots_of(client)

    def make(index: int, _: Lane) -> Worker:
        return DaskSlot(client, settings.worker, f"{socket.gethostname()}-{index}")

    return make, replace(settings, quick=quick, slow=max(1, quick // 2))


def dispatch(path: Path, settings: PoolSettings, listener: socket.socket | None = None) -> None:
    """Be the dispatcher until SIGTERM; at a socket that listens already, or at one of its own."""
    dispatcher = Dispatcher(path, settings, listener)
    signal.signal(signal.SIGTERM, lambda *_: dispatcher.stop())
    dispatcher.run()


def _say(connection: socket.socket, frame: Frame) -> None:
    """Send a short message, or nothing where the other side does not read."""
    connection.settimeout(0.0)
    with contextlib.suppress(OSError):
        send_frame(connection, frame)
