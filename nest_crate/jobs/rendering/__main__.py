"""The dispatcher by itself: ``python -m nest_crate.jobs.rendering SOCKET SETTINGS``."""

from __future__ import annotations

import json
import signal
import sys
from pathlib import Path

from nest_crate.jobs.rendering.admission import Limits
from nest_crate.jobs.rendering.dispatcher import PoolSettings, dispatch
from nest_crate.jobs.rendering.worker_process import WorkerSettings
from nest_crate.logs import configure_log

__all__ = ["main"]


def main() -> None:
    """Dispatch until SIGTERM."""
    configure_log()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    given = json.loads(sys.argv[2])
    settings = PoolSettings(
        quick=given["quick"],
        slow=given["slow"],
        worker=WorkerSettings(**given["worker"]),
        limits=Limits(**given["limits"]),
        scheduler=given["scheduler"],
    )
    dispatch(Path(sys.argv[1]), settings)


if __name__ == "__main__":
    main()
