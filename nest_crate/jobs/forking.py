"""Processes that begin where this one is: everything is imported already, and memory is shared
until it is written to. To be used by processes of one thread alone."""

from __future__ import annotations

import ctypes
import gc
import os
import signal
import sys
import time
import traceback
from collections.abc import Callable
from contextlib import suppress

__all__ = ["Forked", "name_process"]

_PR_SET_NAME = 15
_LOOKS_EVERY_S = 0.01


def name_process(name: str) -> None:
    """What ``ps`` and ``top`` show of it, in at most 15 letters."""
    with suppress(OSError, AttributeError):
        ctypes.CDLL(None).prctl(_PR_SET_NAME, name.encode()[:15], 0, 0, 0)


class Forked:
    """A child that does one thing and ends.

    Parameters
    ----------
    keep
        file numbers that stay open in the child, besides the standard ones. All others are closed
        there: a connection ends for the other side only when every process has closed it.
    """

    def __init__(self, name: str, act: Callable[[], object], *, keep: tuple[int, ...] = ()) -> None:
        self.code: int | None = None
        sys.stdout.flush()
        sys.stderr.flush()
        self.pid = os.fork()
        if self.pid == 0:
            _be(name, act, keep)

    def poll(self) -> int | None:
        """What it ended with, negative for a signal; None while it runs."""
        if self.code is None:
            with suppress(ChildProcessError):
                pid, status = os.waitpid(self.pid, os.WNOHANG)
                if pid == self.pid:
                    self.code = os.waitstatus_to_exitcode(status)
        return self.code

    def wait(self, timeout_s: float) -> int | None:
        """As ``poll``, waiting for so long."""
        deadline = time.monotonic() + timeout_s
        while self.poll() is None and time.monotonic() < deadline:
            time.sleep(_LOOKS_EVERY_S)
        return self.code

    def terminate(self) -> None:
        self._signal(signal.SIGTERM)

    def kill(self) -> None:
        self._signal(signal.SIGKILL)

    def _signal(self, number: int) -> None:
        if self.poll() is None:
            with suppress(ProcessLookupError):
                os.kill(self.pid, number)


def _be(name: str, act: Callable[[], object], keep: tuple[int, ...]) -> None:
    """The child's life. It never goes back to what its parent was doing."""
    code = 1
    try:
        # What came from the parent is not looked through for garbage, which would copy its memory.
        gc.freeze()
        # Ctrl-C reaches every process of a terminal; the program ends its own in order.
        signal.signal(signal.SIGINT, signal.SIG_IGN)
        signal.signal(signal.SIGTERM, signal.SIG_DFL)
        _close_others(keep)
        name_process(name)
        act()
        code = 0
    except SystemExit as ended:
        code = ended.code if isinstance(ended.code, int) else 0
    except BaseException:
        traceback.print_exc()
    finally:
        with suppress(OSError, ValueError):
            sys.stdout.flush()
            sys.stderr.flush()
        os._exit(code)


def _close_others(keep: tuple[int, ...]) -> None:
    before = 3
    for number in (*sorted(keep), os.sysconf("SC_OPEN_MAX")):
        os.closerange(before, number)
        before = number + 1
