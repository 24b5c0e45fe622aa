"""Starts the program's processes on one machine, and again what died."""

from __future__ import annotations

import errno
import os
import signal
import socket
import subprocess
import sys
import threading
import time
from dataclasses import dataclass, field

import structlog

from nest_crate.jobs.rendering.pool import RenderPool
from nest_crate.settings import Settings

__all__ = ["Supervisor", "taken"]

_LOOKS_EVERY_S = 0.2
# What dies at once again is not started more often than this.
_STARTS_EVERY_S = 1.0
_ENDS_WITHIN_S = 8.0
_LETS_GO_WITHIN_S = 1.5
_log = structlog.get_logger()


def taken(host: str, port: int) -> socket.socket:
    """The socket that the web processes share; it takes connections once they run.

    Raises
    ------
    OSError
        where the address is taken or is none of this machine's.
    """
    family = socket.AF_INET6 if ":" in host else socket.AF_INET
    bound = socket.socket(family, socket.SOCK_STREAM)
    bound.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    deadline = time.monotonic() + _LETS_GO_WITHIN_S
    while True:
        try:
            bound.bind((host, port))
        except OSError as error:
            # Processes of a program that was killed hold it for another moment.
            if error.errno != errno.EADDRINUSE or time.monotonic() > deadline:
                bound.close()
                raise
            time.sleep(0.1)
        else:
            return bound


@dataclass
class _Kept:
    """A process that shall run."""

    name: str
    command: list[str]
    process: subprocess.Popen[bytes] | None = None
    started: float = field(default=0.0)


class Supervisor:
    """Web processes, long work and render workers, from ``run`` until SIGINT or SIGTERM."""

    def __init__(self, settings: Settings, port: socket.socket) -> None:
        self._settings = settings
        self._port = port
        self._pool = RenderPool(settings)
        self._ended = threading.Event()
        web = [sys.executable, "-m", "nest_crate.server.web_process", str(port.fileno())]
        upkeep = [sys.executable, "-m", "nest_crate.server.upkeep"]
        self._kept = [
            *(_Kept(f"web {n + 1}", web) for n in range(settings.web_processes)),
            _Kept("upkeep", upkeep),
        ]

    def run(self) -> None:
        """Keep everything running; ends it all when it ends."""
        for number in (signal.SIGINT, signal.SIGTERM):
            signal.signal(number, lambda *_: self._ended.set())
        self._port.listen(1024)
        self._port.setblocking(False)
        self._pool.start()
        try:
            while True:
                for one in self._kept:
                    self._keep(one)
                if self._ended.wait(_LOOKS_EVERY_S):
                    return
        finally:
            self._end()

    def _keep(self, one: _Kept) -> None:
        if one.process is not None and one.process.poll() is None:
            return
        if time.monotonic() - one.started < _STARTS_EVERY_S:
            return
        if one.process is not None:
            _log.warning("process_ended", name=one.name, code=one.process.returncode)
        one.started = time.monotonic()
        one.process = subprocess.Popen(
            one.command,
            stdin=subprocess.DEVNULL,
            pass_fds=[self._port.fileno()],
            env={**os.environ, **self._settings.as_environment()},
        )

    def _end(self) -> None:
        running = [one.process for one in self._kept if one.process is not None]
        for process in running:
            process.terminate()
        deadline = time.monotonic() + _ENDS_WITHIN_S
        for process in running:
            try:
                process.wait(timeout=max(0.1, deadline - time.monotonic()))
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()
        self._pool.stop()
