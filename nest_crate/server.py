"""gunicorn inside this process's control: one worker, many threads.

One worker, because remembered stages and auditions live in its memory; kernels let go of Python's
lock, so threads render side by side.
"""

from __future__ import annotations

import os
import threading
import time
from collections.abc import Callable
from typing import Any

import structlog
from flask import Flask
from gunicorn.app.base import BaseApplication

from nest_crate.catalogue.db.errors import DatabaseGone
from nest_crate.catalogue.samples.takes import sweep_orphans
from nest_crate.catalogue.work.jobs import forget_old_jobs
from nest_crate.warmup import warm_kernels

__all__ = ["serve"]

_SWEEP_EVERY_S = 6 * 3600.0
_CHECK_EVERY_S = 60.0
_log = structlog.get_logger()


class _Server(BaseApplication):  # type: ignore[misc]
    def __init__(self, make_app: Callable[[], Flask], options: dict[str, Any]) -> None:
        self._make_app = make_app
        self._options = options
        super().__init__()

    def load_config(self) -> None:
        for name, value in self._options.items():
            self.cfg.set(name, value)

    def load(self) -> Flask:
        return self._make_app()


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


def index_keeper(app: Flask) -> Callable[[], object]:
    """Reads all samples the first time, so that the first search finds them there, and looks each
    time whether any was missed."""
    held = app.extensions["nest_crate"]

    def keep_index() -> None:
        with held.database.session() as session:
            held.index.refresh(session)
            held.index.check(session)

    return keep_index


def sweeper(app: Flask) -> Callable[[], object]:
    """Forgets long work that nobody came back to, and removes files that nothing points to."""
    held = app.extensions["nest_crate"]

    def sweep() -> None:
        with held.database.session() as session:
            forget_old_jobs(session)
        removed = sweep_orphans(held.database, held.store)
        if removed:
            _log.info("swept", files=removed)

    return sweep


def serve(make_app: Callable[[], Flask], *, host: str, port: int) -> None:
    """Serve until asked to stop (SIGINT or SIGTERM); returns then."""

    made: list[Flask] = []

    def make() -> Flask:
        made.append(make_app())
        return made[-1]

    def warm(_worker: object) -> None:
        # Compiled kernels are read from the disk at their first use, and samples into the index;
        # not while a user waits.
        threading.Thread(target=warm_kernels, daemon=True).start()
        for work, every_s in (
            (index_keeper(made[-1]), _CHECK_EVERY_S),
            (sweeper(made[-1]), _SWEEP_EVERY_S),
        ):
            threading.Thread(target=repeat, args=(work, every_s), daemon=True).start()
        # Goes on with what was begun before the last end of the program.
        made[-1].extensions["nest_crate"].foreman.wake()

    def end(_arbiter: object, _worker: object) -> None:
        made[-1].extensions["nest_crate"].foreman.close()

    options = {
        "post_worker_init": warm,
        "worker_exit": end,
        "bind": f"{host}:{port}",
        "workers": 1,
        "worker_class": "gthread",
        # A download over a slow line holds one for as long as it takes.
        "threads": 24,
        "timeout": 120,
        "graceful_timeout": 5,
        "loglevel": "warning",
        "keepalive": 30,
    }
    owner = os.getpid()
    try:
        _Server(make, options).run()
    except SystemExit as ended:
        if ended.code not in (0, None):
            raise
    finally:
        # A worker comes through here too, being a fork; what is stopped after serving is not its.
        if os.getpid() != owner:
            os._exit(0)
