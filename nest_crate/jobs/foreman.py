"""Who hands out work: looks for pieces that wait, gives a few at a time to workers, and again."""

from __future__ import annotations

import threading
import time
from contextlib import ExitStack
from functools import partial

import structlog
from distributed import Client, Future
from distributed.scheduler import KilledWorker

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.work.jobs import fail_piece, waiting_items
from nest_crate.core.engine import ENGINE_VERSION
from nest_crate.jobs.cluster import opened_client, threads_of
from nest_crate.jobs.pieces import get_ready, work_on
from nest_crate.settings import Settings

__all__ = ["Foreman"]

# Beside pieces under way, so many wait at the workers: none is idle, and new work is soon begun.
_AHEAD = 2
_LOOK_EVERY_S = 15.0
_PAUSE_S = 2.0
# The workers' memory is given back where there was nothing to do for so long.
_IDLE_S = 300.0
_log = structlog.get_logger()


class Foreman:
    """Hands out the work of one server. Nothing is started before there is work (``wake``)."""

    def __init__(self, settings: Settings, database: Database) -> None:
        self._settings = settings
        self._database = database
        self._woken = threading.Event()
        self._closed = threading.Event()
        self._lock = threading.Lock()
        self._thread: threading.Thread | None = None
        self._under_way: dict[int, Future] = {}
        self._clients = ExitStack()
        self._client: Client | None = None
        self._busy_until = time.monotonic()
        self._soon: int | None = None

    def prepare(self, batch_id: int) -> None:
        """A round of a batch will be run soon: start the workers; returns at once."""
        self._soon = batch_id
        self.wake()

    def wake(self) -> None:
        """There may be work; returns at once."""
        with self._lock:
            if self._closed.is_set():
                return
            if self._thread is None or not self._thread.is_alive():
                self._thread = threading.Thread(target=self._run, name="foreman", daemon=True)
                self._thread.start()
        self._woken.set()

    def close(self) -> None:
        """Hand out nothing more and let the workers go; what they were at waits in the tables."""
        self._closed.set()
        self._woken.set()
        if self._thread is not None:
            self._thread.join(timeout=20)

    def _run(self) -> None:
        try:
            while not self._closed.is_set():
                self._woken.wait(_LOOK_EVERY_S)
                self._woken.clear()
                try:
                    self._hand_out()
                except Exception as error:
                    # The database is away, or the workers are: all that waits is tried again.
                    _log.warning("work_put_off", error=repr(error))
                    self._let_go()
                    self._closed.wait(_PAUSE_S)
                    self._woken.set()
        finally:
            self._let_go()

    def _hand_out(self) -> None:
        room = self._threads() + _AHEAD
        under_way = set(self._under_way)
        with self._database.session() as session:
            found = waiting_items(session, beside=under_way, count=room - len(under_way))
        if self._closed.is_set():
            return
        if found or under_way:
            self._busy_until = time.monotonic()
        elif self._soon is not None:
            given = (self._settings.database_url, self._settings.audio_url, self._soon)
            self._soon, self._busy_until = None, time.monotonic()
            self._opened().submit(get_ready, *given, pure=False)
        elif time.monotonic() - self._busy_until > _IDLE_S:
            self._let_go()
        for item_id in found:
            self._give(item_id)

    def _threads(self) -> int:
        """How many pieces can be worked on at a time."""
        if self._client is None or not self._settings.job_scheduler:
            return threads_of(self._settings)
        return sum(self._client.nthreads().values())

    def _give(self, item_id: int) -> None:
        future = self._opened().submit(
            work_on,
            self._settings.database_url,
            self._settings.audio_url,
            ENGINE_VERSION,
            item_id,
            # The same piece may be given again, after its worker could not do it.
            pure=False,
        )
        self._under_way[item_id] = future
        future.add_done_callback(partial(self._ended, item_id))

    def _opened(self) -> Client:
        if self._client is not None and self._client.status not in ("running", "connecting"):
            self._let_go()
        if self._client is None:
            self._client = self._clients.enter_context(opened_client(self._settings))
        return self._client

    def _let_go(self) -> None:
        self._clients.close()
        self._client = None
        self._under_way.clear()

    def _ended(self, item_id: int, future: Future) -> None:
        """A piece came back: done, or to be given again, or its worker died of it each time."""
        self._under_way.pop(item_id, None)
        if future.status == "error":
            error = future.exception()
            if isinstance(error, KilledWorker):
                words = "failed: its worker ended each time"
                fail_piece(self._database, item_id, words)
            else:
                _log.warning("piece_put_off", item=item_id, error=repr(error))
                # Not at once again, while the database is away or a worker is the wrong one.
                time.sleep(_PAUSE_S)
        self._woken.set()
