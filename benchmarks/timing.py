"""The clock of the benchmarks."""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

__all__ = ["median_ms"]


def median_ms(work: Callable[[], object], runs: int = 25) -> float:
    """Median of so many runs in milliseconds, after one to warm up."""
    work()
    times = []
    for _ in range(runs):
        began = time.perf_counter()
        work()
        times.append(time.perf_counter() - began)
    return 1e3 * statistics.median(times)
