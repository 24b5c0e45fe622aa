"""The program as its start command runs it, for tests that use it whole."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.request
from dataclasses import dataclass
from pathlib import Path

from nest_crate.local_database import free_port

PROJECT = Path(__file__).parent.parent


@dataclass(frozen=True)
class Running:
    """The program as its start command runs it."""

    url: str
    data: Path
    process: subprocess.Popen[bytes]


def start_program(data: Path, *arguments: str) -> Running:
    port = free_port()
    command = [sys.executable, "-m", "nest_crate.cli", "start"]
    if "--no-demo" not in arguments and "--people" not in arguments:
        arguments = (*arguments, "--sign-in", "demo")
    arguments = tuple(one for one in arguments if one != "--people")
    arguments = ("--port", str(port), "--data", str(data), *arguments)
    data.parent.mkdir(parents=True, exist_ok=True)
    with (data.parent / "start.log").open("ab") as log:
        process = subprocess.Popen(
            [*command, *arguments], cwd=PROJECT, stdout=log, stderr=subprocess.STDOUT
        )
    url = f"http://127.0.0.1:{port}"
    deadline = time.monotonic() + 300
    while process.poll() is None and time.monotonic() < deadline:
        with contextlib.suppress(OSError):
            urllib.request.urlopen(f"{url}/api/session").close()
            return Running(url, data, process)
        time.sleep(0.1)
    said = (data.parent / "start.log").read_text()[-2000:]
    raise RuntimeError(f"the program did not start, it ended with {process.poll()}: {said}")


def demo_data(folder: Path) -> Path:
    """A copy of the demo's data in a folder. It is built once for one state of the sources, and
    requests that come meanwhile wait."""
    sources = [PROJECT / "nest_crate", PROJECT / "demo"]
    digest = hashlib.sha256()
    for path in sorted(one for source in sources for one in source.rglob("*") if one.is_file()):
        if path.suffix in (".py", ".json", ".csv", ".wav"):
            digest.update(path.read_bytes())
    kept = PROJECT / "var" / "test-demo" / digest.hexdigest()[:16]
    kept.parent.mkdir(parents=True, exist_ok=True)
    with (kept.parent / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not kept.exists():
            for old in kept.parent.iterdir():
                if old.is_dir():
                    shutil.rmtree(old)
            making = kept.with_suffix(".part")
            stop_program(start_program(making / "data"))
            making.rename(kept)
    shutil.copytree(kept / "data", folder, ignore=shutil.ignore_patterns("run"))
    return folder


def stop_program(running: Running) -> int:
    running.process.send_signal(signal.SIGINT)
    return running.process.wait(timeout=60)


def database_process(running: Running) -> int:
    """The process id of the program's MariaDB, found by the folder it works on."""
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                command = (entry / "cmdline").read_bytes()
            except OSError:
                continue
            if f"--datadir={running.data / 'database' / 'data'}".encode() in command:
                return int(entry.name)
    raise LookupError("no MariaDB on this folder")


def end_database(running: Running) -> None:
    os.kill(database_process(running), signal.SIGKILL)
