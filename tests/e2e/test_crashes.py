"""The program and its MariaDB ended at any moment: nothing half-made is seen, nothing that was
acknowledged is missing."""

from __future__ import annotations

import hashlib
import itertools
import json
import os
import random
import signal
import threading
import time
import urllib.error
import urllib.request
from pathlib import Path
from typing import Any

import pytest

from nest_crate.core.formats.wav import decode_wav
from tests.e2e.conftest import Running, end_database, start_program, stop_program
from tests.web.samples import wav

NOT_DEMO = ("--no-demo", "--sign-in", "admin")
_count = itertools.count(1)


def asked(url: str, path: str, body: Any = None, files: bytes | None = None) -> Any:
    """The answer to a request, or None where the server did not say that it was done."""
    headers = {}
    data = None
    if files is not None:
        edge = "edge-of-a-form"
        name = f"Sample {next(_count)}.wav"
        head = (
            f'--{edge}\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n'
            "Content-Type: audio/wav\r\n\r\n"
        )
        data = head.encode() + files + f"\r\n--{edge}--\r\n".encode()
        headers["Content-Type"] = f"multipart/form-data; boundary={edge}"
    elif body is not None:
        data = json.dumps(body).encode()
        headers["Content-Type"] = "application/json"
    try:
        with urllib.request.urlopen(
            urllib.request.Request(url + path, data=data, headers=headers), timeout=30
        ) as answer:
            content = answer.read()
            kind = answer.headers["Content-Type"]
            return json.loads(content) if "json" in kind else content
    except (OSError, ValueError, urllib.error.HTTPError):
        return None


class Worker(threading.Thread):
    """Keeps, brings in, approves and releases until it is told to stop; remembers what was
    acknowledged."""

    def __init__(self, url: str, seed: int, round_number: int) -> None:
        super().__init__(daemon=True)
        self.url, self.chance, self.round = url, random.Random(seed), round_number
        self.stopping = threading.Event()
        self.samples: list[int] = []
        self.releases: list[str] = []

    def run(self) -> None:
        libraries = asked(self.url, "/api/libraries")
        if libraries is None:
            return
        library = libraries["libraries"][0]["id"]
        fall = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.1, "value": 0}]}
        layer = {"id": "a", "name": "A", "level": fall}
        document = {"name": "Tick", "layers": [layer], "hit": {"hold_s": 0.05}}
        sound = asked(self.url, "/api/sounds", {"library_id": library, "document": document})
        patch = 0
        while not self.stopping.is_set() and sound is not None:
            step = self.chance.choice(("keep", "bring", "release"))
            if step == "keep":
                body = {
                    "base_version": sound["version"],
                    "document": sound["document"],
                    "hit": {**sound["document"]["hit"], "number": self.chance.randint(1, 999)},
                    "library_id": library,
                    "name": f"Tick {next(_count)}",
                    "count": 3,
                }
                kept = asked(self.url, f"/api/sounds/{sound['id']}/takes", body)
                self.samples += kept["ids"] if kept else []
            elif step == "bring":
                seed = self.chance.randint(1, 10**6)
                path = f"/api/libraries/{library}/samples"
                made = asked(self.url, path, files=wav(seed=seed))
                self.samples += [made["id"]] if made else []
            elif self.samples:
                ids = self.samples[-4:]
                for status in ("in_review", "approved"):
                    asked(self.url, "/api/samples/move", {"ids": ids, "status": status})
                patch += 1
                number = f"{self.round}.0.{patch}"
                path = f"/api/libraries/{library}/releases"
                if asked(self.url, path, {"number": number, "sample_ids": ids}):
                    self.releases.append(number)


def started(url: str, seed: int, round_number: int) -> list[Worker]:
    """Two at work at once."""
    workers = [Worker(url, seed + n, round_number) for n in range(2)]
    for worker in workers:
        worker.start()
    return workers


def collect(workers: list[Worker], samples: set[int], releases: set[str]) -> None:
    """Stop them, and add what was acknowledged to what was before."""
    for worker in workers:
        worker.stopping.set()
        worker.join(timeout=40)
        samples |= set(worker.samples)
        releases |= set(worker.releases)


def check(url: str, samples: set[int], releases: set[str]) -> None:
    """All that was acknowledged is there, and all that is there is whole."""
    library = asked(url, "/api/libraries")["libraries"][0]["id"]
    body = {"query": {"libraries": [library], "sort": "name"}}
    listed = asked(url, "/api/samples/ids", body)["ids"]
    assert samples <= set(listed)
    for identifier in listed:
        facts = asked(url, f"/api/samples/{identifier}")
        data = asked(url, f"/api/samples/{identifier}/file?sample_format=float32")
        signal_read, rate = decode_wav(data)
        assert signal_read.shape[1] / rate == pytest.approx(facts["length_s"], abs=1e-6)
    made = asked(url, f"/api/libraries/{library}/releases")["releases"]
    assert releases <= {one["number"] for one in made}
    for one in made:
        base = f"/api/libraries/{library}/releases/{one['number']}"
        rows = asked(url, base)["files"]
        assert len(rows) == one["files"] > 0
        for row in rows:
            data = asked(url, f"{base}/files/{row['sha256']}")
            assert hashlib.sha256(data).hexdigest() == row["sha256"]


def end_all(running: Running) -> None:
    """The program with all its workers, at once and without a word; MariaDB is left."""
    group = [running.process.pid]
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                fields = (entry / "stat").read_text().rsplit(")", 1)[1].split()
            except OSError:
                continue
            command = (entry / "cmdline").read_bytes()
            if int(fields[1]) in group and b"mariadbd" not in command:
                group.append(int(entry.name))
    for process in group:
        os.kill(process, signal.SIGKILL)
    running.process.wait(timeout=30)


def test_the_program_ended_at_any_moment(tmp_path: Path) -> None:
    samples: set[int] = set()
    releases: set[str] = set()
    chance = random.Random(7)
    running = start_program(tmp_path / "data", *NOT_DEMO)
    for number in range(1, 6):
        workers = started(running.url, 10 * number, number)
        time.sleep(chance.uniform(0.8, 3.0))
        end_all(running)
        collect(workers, samples, releases)
        running = start_program(tmp_path / "data", *NOT_DEMO)
        check(running.url, samples, releases)
    assert len(samples) > 20
    assert releases
    assert stop_program(running) == 0


def test_mariadb_ended_at_any_moment(tmp_path: Path) -> None:
    samples: set[int] = set()
    releases: set[str] = set()
    chance = random.Random(8)
    running = start_program(tmp_path / "data", *NOT_DEMO)
    for number in range(1, 3):
        workers = started(running.url, 20 * number, number)
        time.sleep(chance.uniform(0.8, 2.5))
        end_database(running)
        collect(workers, samples, releases)
        deadline = time.monotonic() + 30
        while asked(running.url, "/api/libraries") is None:
            assert time.monotonic() < deadline, "MariaDB was not started again"
            time.sleep(0.2)
        check(running.url, samples, releases)
    assert len(samples) > 6
    assert stop_program(running) == 0
