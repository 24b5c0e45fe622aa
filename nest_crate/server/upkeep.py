"""Long work handed out, and what nobody points to any more swept: one process beside the web."""

from __future__ import annotations

import signal
import threading
import time
from collections.abc import Callable
from pathlib import Path

import structlog

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import DatabaseGone
from nest_crate.catalogue.samples.takes import sweep_orphans
from nest_crate.catalogue.work.jobs import forget_old_jobs
from nest_crate.jobs.foreman import Foreman
from nest_crate.jobs.parentage import end_with_parent
from nest_crate.jobs.waking import heed
from nest_crate.settings import Settings
from nest_crate.storage import AudioStore

__all__ = ["keep_up", "repeat", "sweeper"]

_SWEEP_EVERY_S = 6 * 3600.0
_log = structlog.get_logger()


def repeat(
    work: Callable[[], object], every_s: float, *, sleep: Callable[[float], None] = time.sleep
) -> None:
    """Do something at once and again after each pause, for as long as the program runs.

    Where the database is away or a disk fails, the next time will do.
    """
    while True:
        try:
            work()
        except (DatabaseGone, OSError) as error:
            _log.warning("put_off", work=getattr(work, "__name__", ""), error=repr(error))
        sleep(every_s)


def sweeper(database: Database, store: AudioStore) -> Callable[[], object]:
    """Forgets long work that nobody came back to, and removes files that nothing points to."""

    def sweep() -> None:
        with database.session() as session:
            forget_old_jobs(session)
        removed = sweep_orphans(database, store)
        if removed:
            _log.info("swept", files=removed)

    return sweep


def keep_up(settings: Settings) -> None:
    """Until SIGTERM."""
    end_with_parent()
    database, store = Database(settings.database_url), AudioStore(settings.audio_url)
    foreman = Foreman(settings, database)
    ended = threading.Event()
    signal.signal(signal.SIGTERM, lambda *_: ended.set())
    sweep = sweeper(database, store)
    threading.Thread(target=repeat, args=(sweep, _SWEEP_EVERY_S), daemon=True).start()
    # Goes on with what was begun before the last end of the program.
    foreman.wake()
    heed(Path(settings.run_folder), foreman.wake, ended, foreman.prepare)
    foreman.close()
