"""Workers to give pieces to: a process beside the server, or those of a scheduler elsewhere."""

from __future__ import annotations

import logging
import os
from collections.abc import Iterator
from contextlib import contextmanager

import dask
from distributed import Client, LocalCluster
from distributed.security import Security

from nest_crate.jobs.pieces import Politely
from nest_crate.jobs.quiet import QUIET
from nest_crate.settings import Settings

__all__ = ["opened_client", "threads_of"]

# Each opening and closing would be logged at length.
logging.getLogger("distributed").setLevel(logging.WARNING)

_CONNECT_S = 10
_CONFIG = {**QUIET, "distributed.comm.timeouts.connect": f"{_CONNECT_S}s"}


def threads_of(settings: Settings) -> int:
    """Pieces at a time in the process beside the server: one processor is left to who listens."""
    return settings.job_threads or max(1, (os.cpu_count() or 2) - 1)


@contextmanager
def opened_client(settings: Settings) -> Iterator[Client]:
    """A client of the scheduler that the settings name, else of a process for as long as this.

    The process is reached by TLS with a certificate of the moment, so that nobody else on the
    machine can give it work. It is replaced where it dies, and ends with this program.
    """
    with dask.config.set(_CONFIG):
        if settings.job_scheduler:
            with Client(settings.job_scheduler, timeout=_CONNECT_S, set_as_default=False) as client:
                client.register_plugin(Politely())
                yield client
            return
        with (
            LocalCluster(
                n_workers=1,
                threads_per_worker=threads_of(settings),
                processes=True,
                host="127.0.0.1",
                dashboard_address="127.0.0.1:0",
                worker_dashboard_address=None,
                memory_limit=f"{settings.job_memory_mb}MB",
                silence_logs=logging.ERROR,
                security=Security.temporary(),
            ) as cluster,
            Client(cluster, set_as_default=False) as client,
        ):
            client.register_plugin(Politely())
            yield client
