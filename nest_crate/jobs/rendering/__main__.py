"""The dispatcher as a process: ``python -m nest_crate.jobs.rendering SOCKET SETTINGS``."""

from __future__ import annotations

import json
import signal
import sys
from pathlib import Path

from nest_crate.jobs.parentage import end_with_parent
from nest_crate.jobs.rendering.admission import Limits
from nest_crate.jobs.rendering.dispatcher import Dispatcher, PoolSettings
from nest_crate.jobs.rendering.worker_process import WorkerSettings
from nest_crate.logs import configure_log

__all__ = ["main"]


def main() -> None:
    """Dispatch until SIGTERM."""
    configure_log()
    end_with_parent()
    given = json.loads(sys.argv[2])
    settings = PoolSettings(
        quick=given["quick"],
        slow=given["slow"],
        worker=WorkerSettings(**given["worker"]),
        limits=Limits(**given["limits"]),
    )
    dispatcher = Dispatcher(Path(sys.argv[1]), settings)
    # Ctrl-C reaches every process of a terminal; the program ends its own in order.
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    signal.signal(signal.SIGTERM, lambda *_: dispatcher.stop())
    dispatcher.run()


if __name__ == "__main__":
    main()
