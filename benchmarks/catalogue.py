"""Prints how a catalogue of a hundred thousand samples answers, over HTTP on loopback.

Run: .venv/bin/python benchmarks/catalogue.py
Starts the program on data of its own and fills it with made-up samples; then asks for first pages
of many kinds of searches, for what is alike, and for a map, one after the other, and reads the
memory of the serving process.
"""

from __future__ import annotations

import json
import random
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Any

import numpy as np

sys.path.insert(0, str(Path(__file__).parent.parent))
from nest_crate.catalogue.db.database import Database
from nest_crate.local_database import LocalDatabase
from nest_crate.storage import AudioStore
from tests.e2e.conftest import start_program, stop_program
from tools.seed_samples import seed

COUNT = 100_000
ASKED = 300


def post(url: str, body: Any) -> tuple[float, Any]:
    """Milliseconds that an answer took, and the answer."""
    request = urllib.request.Request(
        url, data=json.dumps(body).encode(), headers={"Content-Type": "application/json"}
    )
    began = time.perf_counter()
    with urllib.request.urlopen(request) as answer:
        content = json.load(answer)
    return 1e3 * (time.perf_counter() - began), content


def queries(chance: random.Random, ids: list[int]) -> dict[str, Any]:
    """Kinds of searches, each drawn again."""
    words = ["kiln", "brass gear", "lanten", "copper dor bell", "thistle 04", "dry rusty", "wnid"]
    return {
        "all": lambda: {},
        "words": lambda: {"words": chance.choice(words)},
        "facets": lambda: {
            "categories": [chance.choice(["drum", "impact", "tonal"])],
            "statuses": ["approved"],
            "tags": [chance.choice(["dry", "old", "yard"])],
        },
        "ranges": lambda: {
            "ranges": {"length_s": [0.1, chance.uniform(0.2, 5)], "brightness_hz": [None, 2000]}
        },
        "by name": lambda: {"sort": "name", "categories": ["machine"]},
        "alike": lambda: {"like": chance.choice(ids)},
    }


def memory_mb(process_id: int) -> float:
    """Resident memory of the largest process below one, in MB: the worker that serves."""
    largest = 0.0
    for entry in Path("/proc").iterdir():
        if not entry.name.isdigit():
            continue
        try:
            status = (entry / "status").read_text()
            parent = int(status.split("PPid:")[1].split()[0])
            if parent == process_id and "mariadbd" not in status.split("\n")[0]:
                largest = max(largest, int(status.split("VmRSS:")[1].split()[0]) / 1e3)
        except (OSError, IndexError):
            continue
    return largest


def main() -> None:
    chance = random.Random(5)
    with tempfile.TemporaryDirectory() as folder:
        data = Path(folder) / "data"
        running = start_program(data)
        with LocalDatabase(data / "database").running() as url:
            database = Database(url)
            began = time.perf_counter()
            seed(database, AudioStore(f"file://{data / 'audio'}"), COUNT)
            print(f"{COUNT} samples made in {time.perf_counter() - began:.1f} s")
            database.engine.dispose()
        # It reads all samples when it starts; what was put beside it carries an earlier date.
        stop_program(running)
        running = start_program(data)
        search = f"{running.url}/api/samples/search"
        first, answer = post(search, {"query": {}, "limit": 60})
        print(f"First search, which reads them all: {first / 1e3:.1f} s, {answer['total']} found")
        ids = [one["id"] for one in answer["samples"]]
        everything = []
        for name, draw in queries(chance, ids).items():
            took = [post(search, {"query": draw(), "limit": 60})[0] for _ in range(ASKED // 6)]
            everything += took
            print(
                f"  {name:<8} median {np.median(took):6.1f} ms   95 of 100 below "
                f"{np.percentile(took, 95):6.1f} ms"
            )
        print(f"All {len(everything)}: 95 of 100 below {np.percentile(everything, 95):.1f} ms")
        print(f"Memory of the serving process: {memory_mb(running.process.pid):.0f} MB")
        stop_program(running)


if __name__ == "__main__":
    main()
