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
import urllib.request
import zipfile
from collections.abc import Callable, Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from http.client import HTTPException
from io import BytesIO
from pathlib import Path
from typing import Any

import pytest

from nest_crate.core.formats.wav import decode_wav
from tests.program import Running, end_database, start_program, stop_program
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
    except (OSError, ValueError, HTTPException):
        return None


class Worker(threading.Thread):
    """Keeps, brings in, approves, releases and downloads until it is asked to stop; remembers what
    was acknowledged, and looks at each download that came to its end."""

    def __init__(self, url: str, seed: int, round_number: int) -> None:
        super().__init__(daemon=True)
        self.url, self.chance, self.round = url, random.Random(seed), round_number
        self.stopping = threading.Event()
        self.samples: list[int] = []
        self.releases: list[str] = []
        self.downloads = 0
        self.spoilt: list[str] = []

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
            step = self.chance.choice(("keep", "bring", "release", "download"))
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
            elif step == "download" and self.samples:
                self.download(self.samples[-4:])
            elif step == "release" and self.samples:
                ids = self.samples[-4:]
                for status in ("in_review", "approved"):
                    asked(self.url, "/api/samples/move", {"ids": ids, "status": status})
                patch += 1
                number = f"{self.round}.0.{patch}"
                path = f"/api/libraries/{library}/releases"
                if asked(self.url, path, {"number": number, "sample_ids": ids}):
                    self.releases.append(number)

    def download(self, ids: list[int]) -> None:
        """An archive whose end was sent is whole, whatever happened meanwhile."""
        planned = asked(self.url, "/api/exports", {"sample_ids": ids, "file_format": "flac24"})
        data = asked(self.url, planned["path"]) if planned else None
        if data is None:
            return
        self.downloads += 1
        try:
            with zipfile.ZipFile(BytesIO(data)) as archive:
                spoilt = archive.testzip()
                missing = set(planned["names"]) - set(archive.namelist())
        except zipfile.BadZipFile as error:
            spoilt, missing = repr(error), set()
        self.spoilt += [spoilt] if spoilt else sorted(missing)


def started(url: str, seed: int, round_number: int) -> list[Worker]:
    """Two at work at once."""
    workers = [Worker(url, seed + n, round_number) for n in range(2)]
    for worker in workers:
        worker.start()
    return workers


def collect(workers: list[Worker], kept: Kept) -> None:
    """Stop them, and add what was acknowledged to what was before."""
    for worker in workers:
        worker.stopping.set()
        worker.join(timeout=40)
        assert worker.spoilt == []
        kept.samples |= set(worker.samples)
        kept.releases |= set(worker.releases)
        kept.downloads += worker.downloads


def check(url: str, samples: set[int], releases: set[str], seen: set[int]) -> None:
    """All that was acknowledged is there, and all that is there is whole; files that were ``seen``
    whole before are not fetched again."""
    library = asked(url, "/api/libraries")["libraries"][0]["id"]
    body = {"query": {"libraries": [library], "sort": "name"}}
    listed = asked(url, "/api/samples/ids", body)["ids"]
    assert samples <= set(listed)
    for identifier in set(listed) - seen:
        facts = asked(url, f"/api/samples/{identifier}")
        data = asked(url, f"/api/samples/{identifier}/file?sample_format=float32")
        signal_read, rate = decode_wav(data)
        assert signal_read.shape[1] / rate == pytest.approx(facts["length_s"], abs=1e-6)
        seen.add(identifier)
    made = asked(url, f"/api/libraries/{library}/releases")["releases"]
    assert releases <= {one["number"] for one in made}
    for one in made:
        base = f"/api/libraries/{library}/releases/{one['number']}"
        rows = asked(url, base)["files"]
        assert len(rows) == one["files"] > 0
        for row in rows:
            data = asked(url, f"{base}/files/{row['sha256']}")
            assert hashlib.sha256(data).hexdigest() == row["sha256"]


def processes_of(running: Running) -> list[int]:
    """The program and its workers, without its MariaDB; the program itself is the first."""
    group = [running.process.pid]
    for entry in sorted(Path("/proc").iterdir()):
        if entry.name.isdigit():
            try:
                fields = (entry / "stat").read_text().rsplit(")", 1)[1].split()
                command = (entry / "cmdline").read_bytes()
            except OSError:
                continue
            if int(fields[1]) in group and b"mariadbd" not in command:
                group.append(int(entry.name))
    return group


def end_at_once(processes: list[int]) -> None:
    """Without a word; what reads a file may have ended by itself meanwhile."""
    for process in processes:
        with suppress(ProcessLookupError):
            os.kill(process, signal.SIGKILL)


def end_workers(running: Running) -> None:
    """Those that serve; the program puts others in their place."""
    end_at_once(processes_of(running)[1:])


def end_all(running: Running) -> None:
    """The program with all its workers; MariaDB is left."""
    end_at_once(processes_of(running))
    running.process.wait(timeout=30)


def work_until_acknowledged(workers: list[Worker], count: int, chance: random.Random) -> None:
    """Wait until so many samples were acknowledged, and then for a moment that nobody chose."""
    deadline = time.monotonic() + 60
    while sum(len(worker.samples) for worker in workers) < count:
        assert time.monotonic() < deadline, "nothing was acknowledged for a minute"
        time.sleep(0.02)
    time.sleep(chance.uniform(0, 0.6))


def wait_until_it_answers(running: Running) -> None:
    deadline = time.monotonic() + 60
    while asked(running.url, "/api/libraries") is None:
        assert time.monotonic() < deadline, "the program did not answer again"
        time.sleep(0.1)


@dataclass
class Kept:
    """A program that is ended again and again, and what it acknowledged so far."""

    running: Running
    samples: set[int] = field(default_factory=set)
    releases: set[str] = field(default_factory=set)
    seen: set[int] = field(default_factory=set)
    downloads: int = 0


@pytest.fixture(scope="module")
def kept(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Kept]:
    kept = Kept(start_program(tmp_path_factory.mktemp("kept") / "data", *NOT_DEMO))
    yield kept
    stop_program(kept.running)


def work_and_end(kept: Kept, number: int, seed: int, end: Callable[[Running], None]) -> None:
    """Let two work, end something meanwhile, and see that all is there when it answers again."""
    before = len(kept.samples)
    workers = started(kept.running.url, seed, number)
    work_until_acknowledged(workers, 4, random.Random(seed))
    end(kept.running)
    collect(workers, kept)
    if kept.running.process.poll() is not None:
        kept.running = start_program(kept.running.data, *NOT_DEMO)
    wait_until_it_answers(kept.running)
    check(kept.running.url, kept.samples, kept.releases, kept.seen)
    assert len(kept.samples) >= before + 4


@pytest.mark.parametrize("number", range(1, 3))
def test_mariadb_ended_at_any_moment(kept: Kept, number: int) -> None:
    work_and_end(kept, number, 20 * number, end_database)


@pytest.mark.parametrize("number", range(3, 6))
def test_workers_ended_at_any_moment(kept: Kept, number: int) -> None:
    work_and_end(kept, number, 10 * number, end_workers)


def test_the_whole_program_ended_at_any_moment(kept: Kept) -> None:
    work_and_end(kept, 6, 7, end_all)
    assert kept.releases
    assert kept.downloads


def test_long_work_goes_on_after_the_whole_program_ended(kept: Kept) -> None:
    # Some were imported, which cannot be rendered; and that is reported.
    ids = sorted(kept.samples)[:16]
    body = {"ids": ids, "sample_rate": 96000}
    job = asked(kept.running.url, "/api/samples/rerender", body)
    assert job is not None
    path = f"/api/jobs/{job['id']}"

    def wait_for(ended: Callable[[dict[str, Any]], bool]) -> dict[str, Any]:
        # It stands back behind all else, other tests among it.
        deadline = time.monotonic() + 300
        while (state := asked(kept.running.url, path)) is None or not ended(state):
            assert time.monotonic() < deadline, f"long work is still {state}"
            time.sleep(0.1)
        return state

    wait_for(lambda state: state["done"] + state["failed"] >= 2)
    end_all(kept.running)
    kept.running = start_program(kept.running.data, *NOT_DEMO)
    state = wait_for(lambda state: state["state"] == "done")
    assert state["done"] + state["failed"] == state["of"] == len(ids)
    assert state["done"] > 0


def made_members(url: str, round_id: int) -> list[int]:
    """Numbers of the members that are there, as they are listed; none while nobody answers."""
    listed = asked(url, f"/api/rounds/{round_id}/members")
    return [row["number"] for row in listed["rows"]] if listed else []


def wait_for_members(running: Running, round_id: int, count: int) -> list[int]:
    deadline = time.monotonic() + 300
    while len(there := made_members(running.url, round_id)) < count:
        assert time.monotonic() < deadline, f"only {len(there)} of {count} were made"
        time.sleep(0.1)
    return there


def test_a_round_of_variations_goes_on_whatever_is_ended(kept: Kept) -> None:
    url = kept.running.url
    library = asked(url, "/api/libraries")["libraries"][0]["id"]
    fall = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.2, "value": 0}]}
    layer = {"id": "a", "name": "A", "level": fall}
    document = {"name": "Varied", "layers": [layer], "hit": {"hold_s": 0.1}}
    sound = asked(url, "/api/sounds", {"library_id": library, "document": document})
    spreads = [{"target": "a.source.transpose_st", "low": -5.0, "high": 5.0}]
    planned = {"id": "s", "sound": sound["id"], "spreads": spreads, "draws": 400}
    plan = {"name": "Varied", "sounds": [planned]}
    batch = asked(url, "/api/batches", {"library_id": library, "document": plan})
    body = {"base_version": batch["version"], "document": batch["document"]}
    made = asked(url, f"/api/batches/{batch['id']}/rounds", body)["id"]

    before = set(wait_for_members(kept.running, made, 12))
    end_database(kept.running)
    wait_until_it_answers(kept.running)
    before |= set(wait_for_members(kept.running, made, len(before) + 12))
    assert len(before) < 400, "it was over before anything was ended"
    end_all(kept.running)
    kept.running = start_program(kept.running.data, *NOT_DEMO)
    wait_until_it_answers(kept.running)
    assert before <= set(made_members(kept.running.url, made))
    there = wait_for_members(kept.running, made, 400)
    assert sorted(there) == list(range(1, 401))
    state = asked(kept.running.url, f"/api/rounds/{made}")
    assert (state["done"], state["failed"]) == (400, 0)
    # Each sounds, and no two are the same.
    files = {asked(kept.running.url, f"/api/rounds/{made}/members/{n}/audio") for n in there[::40]}
    assert len(files) == 10
    assert None not in files


def test_second_start_is_quick_and_keeps_all_data(kept: Kept) -> None:
    log = kept.running.data.parent / "start.log"
    assert stop_program(kept.running) == 0
    assert log.read_text().count("Stopped.") == 1, "only the program itself stops what it started"
    began = time.monotonic()
    kept.running = start_program(kept.running.data, *NOT_DEMO)
    assert time.monotonic() - began < 100
    # Every fourth file is fetched once more.
    check(kept.running.url, kept.samples, kept.releases, {one for one in kept.seen if one % 4})
