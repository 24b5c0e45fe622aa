"""The dispatcher by itself: ``python -m nest_crate.jobs.rendering SOCKET SETTINGS``."""

from __future__ import annotations

import json
import signal
import sys
from pathlib import Path

from nest_crate.jobs.rendering.listening import listening
from nest_crate.logs import configure_log

__all__ = ["main"]


def main() -> None:
    """Dispatch until SIGTERM."""
    configure_log()
    signal.signal(signal.SIGINT, signal.SIG_IGN)
    path, given = Path(sys.argv[1]), json.loads(sys.argv[2])
    # Who asks early waits here, and is not refused: the engine takes seconds to import. Workers
    # elsewhere are reached before anybody may ask, for that can fail.
    listener = None if given["scheduler"] else listening(path)
    from nest_crate.jobs.rendering.admission import Limits
    from nest_crate.jobs.rendering.dispatcher import PoolSettings, dispatch
    from nest_crate.jobs.rendering.worker_process import WorkerSettings

    settings = PoolSettings(
        quick=given["quick"],
        slow=given["slow"],
        worker=WorkerSettings(**given["worker"]),
        limits=Limits(**given["limits"]),
        scheduler=given["scheduler"],
    )
    dispatch(path, settings, listener)


if __name__ == "__main__":
    main()
