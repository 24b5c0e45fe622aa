"""What Dask's processes leave out here: pages and statistics about the work."""

from __future__ import annotations

__all__ = ["QUIET"]

QUIET: dict[str, object] = {
    # No pages about the work: everyone who reaches the port could open them.
    "distributed.scheduler.http.routes": [],
    "distributed.worker.http.routes": [],
    # A record of what each thread was at, a hundred times a second. Nobody reads it, it is kept
    # for an hour, and it grows by a third of a megabyte a second.
    "distributed.worker.profile.enabled": False,
    # How often a worker's memory is looked at: ten times a second took 4 % of a processor.
    "distributed.worker.memory.monitor-interval": "300ms",
}
