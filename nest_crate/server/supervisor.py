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
from collections.abc import Callable
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path

import structlog

from nest_crate.jobs.forking import Forked
from nest_crate.jobs.rendering.dispatcher import dispatch
from nest_crate.jobs.rendering.pool import pool_settings
from nest_crate.server.upkeep import keep_up
from nest_crate.server.web_process import serve_web
from nest_crate.settings import Settings

__all__ = ["Supervisor", "SupervisorProcess", "supervise", "taken"]

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
    act: Callable[[], object]
    process: Forked | None = None
    started: float = field(default=0.0)


class Supervisor:
    """Web processes, long work and the dispatcher of render workers, each forked from here; so this
    process has one thread and opens nothing."""

    def __init__(self, settings: Settings, port: socket.socket) -> None:
        self._port = port
        self._ended = False
        socket_path, pool = Path(settings.render_socket), pool_settings(settings)
        self._kept = [
            _Kept("nest-dispatch", lambda: dispatch(socket_path, pool)),
            *(
                _Kept(f"nest-web {number + 1}", lambda: serve_web(port, settings))
                for number in range(settings.web_processes)
            ),
            _Kept("nest-upkeep", lambda: keep_up(settings)),
        ]

    def run(self) -> None:
        """Keep everything running until SIGTERM, or until the program that started it ended; ends
        it all then."""
        signal.signal(signal.SIGTERM, self._end_soon)
        parent = os.getppid()
        self._port.listen(1024)
        self._port.setblocking(False)
        try:
            while not self._ended and os.getppid() == parent:
                for one in self._kept:
                    self._keep(one)
                time.sleep(_LOOKS_EVERY_S)
        finally:
            self._end()

    def _end_soon(self, *_: object) -> None:
        self._ended = True

    def _keep(self, one: _Kept) -> None:
        if one.process is not None and one.process.poll() is None:
            return
        if time.monotonic() - one.started < _STARTS_EVERY_S:
            return
        if one.process is not None:
            _log.warning("process_ended", name=one.name, code=one.process.code)
        one.started = time.monotonic()
        one.process = Forked(one.name, one.act, keep=(self._port.fileno(),))

    def _end(self) -> None:
        running = [one.process for one in self._kept if one.process is not None]
        for process in running:
            process.terminate()
        deadline = time.monotonic() + _ENDS_WITHIN_S
        for process in running:
            if process.wait(max(0.1, deadline - time.monotonic())) is None:
                process.kill()
                process.wait(1.0)


class SupervisorProcess:
    """The supervisor as a child of a program that goes on to have threads: it is forked before
    that, and begins when it gets the settings. Where it dies, another one is started, which has to
    import everything first."""

    def __init__(self, port: socket.socket) -> None:
        self._port = port
        given, self._giving = os.pipe()
        self._process: Forked | subprocess.Popen[bytes] = Forked(
            "nest-supervisor", lambda: supervise(given, port), keep=(given, port.fileno())
        )
        os.close(given)
        self._settings = b""

    def begin(self, settings: Settings) -> None:
        self._settings = settings.model_dump_json().encode()
        with os.fdopen(self._giving, "wb") as giving:
            giving.write(self._settings)

    def keep_until(self, ended: threading.Event) -> None:
        """Start it again where it dies, until then."""
        started = time.monotonic()
        while not ended.wait(_LOOKS_EVERY_S):
            if self._process.poll() is None or time.monotonic() - started < _STARTS_EVERY_S:
                continue
            _log.warning("process_ended", name="nest-supervisor", code=self._process.poll())
            started = time.monotonic()
            self._process = self._another()

    def end(self) -> None:
        self._process.terminate()
        deadline = time.monotonic() + _ENDS_WITHIN_S + 4.0
        while self._process.poll() is None and time.monotonic() < deadline:
            time.sleep(0.02)
        if self._process.poll() is None:
            self._process.kill()

    def _another(self) -> subprocess.Popen[bytes]:
        number = self._port.fileno()
        process = subprocess.Popen(
            [sys.executable, "-m", "nest_crate.server", str(number)],
            stdin=subprocess.PIPE,
            pass_fds=[number],
            start_new_session=True,
        )
        if process.stdin is not None:
            # By a pipe, where nobody else on the machine sees it.
            with process.stdin, suppress(OSError):
                process.stdin.write(self._settings)
        return process


def supervise(given: int, port: socket.socket) -> None:
    """Read the settings from a pipe, and keep everything running."""
    with os.fdopen(given, "rb") as pipe:
        text = pipe.read()
    # Nothing where the program ended before it came so far.
    if text:
        Supervisor(Settings.model_validate_json(text), port).run()
