"""What comparing takes: two sides of 2 s to all figures and pictures, and its parts.

.venv/bin/python -m benchmarks.comparing
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable

import numpy as np

from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.comparing import compare_sides
from nest_crate.core.comparing.grid import grid_levels_db
from nest_crate.core.engine import Audio

RATE = 48000
TIMES = 15


def sides(seconds: float, count: int) -> list[Audio]:
    """Kicks with a little noise, each a little longer than the one before."""
    time_s = np.arange(round(seconds * RATE)) / RATE
    found = []
    for n in range(count):
        phase = 2 * np.pi * np.cumsum(50 + 200 * np.exp(-time_s / 0.03)) / RATE
        noise = np.random.default_rng(n).normal(size=time_s.size) * np.exp(-time_s / 0.05)
        body = np.sin(phase) * np.exp(-time_s / (0.2 + 0.1 * n))
        found.append(Audio(np.array([0.5 * body + 0.1 * noise] * 2), RATE))
    return found


def median_ms(act: Callable[[], object]) -> float:
    """The median of many, the first left out, which loads kernels."""
    act()
    took = []
    for _ in range(TIMES):
        began = time.perf_counter()
        act()
        took.append(1000.0 * (time.perf_counter() - began))
    return statistics.median(took)


def main() -> None:
    """Print the table."""
    two = sides(2.0, 2)
    print(f"{'two sides of 2 s, stereo':<40}{median_ms(lambda: compare_sides(two)):>8.1f} ms")
    four = sides(2.0, 4)
    print(f"{'four sides of 2 s':<40}{median_ms(lambda: compare_sides(four)):>8.1f} ms")
    one = two[0].samples
    parts: dict[str, Callable[[], object]] = {
        "figures of one side": lambda: measure(one, RATE),
        "levels by band of one side": lambda: grid_levels_db(one, RATE),
    }
    for name, act in parts.items():
        print(f"{name:<40}{median_ms(act):>8.1f} ms")


if __name__ == "__main__":
    main()
