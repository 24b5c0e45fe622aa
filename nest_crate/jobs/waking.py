"""Says from one process to another on this machine that there is long work."""

from __future__ import annotations

import os
import socket
import threading
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

__all__ = ["heed", "wake", "work_soon"]

_NAME = "work.sock"
_LOOKS_EVERY_S = 0.5
_WORK, _SOON = b"work", b"soon"


def heed(
    folder: Path,
    act: Callable[[], object],
    ended: threading.Event,
    prepare: Callable[[int], object] | None = None,
) -> None:
    """Do something at each call until ``ended`` is set; ``prepare`` where there will be work soon.
    Nothing is lost with a call that is not heard: work lies in the tables, and is looked for now
    and then anyway."""
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    path = folder / _NAME
    path.unlink(missing_ok=True)
    with socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM) as heard:
        before = os.umask(0o177)
        try:
            heard.bind(str(path))
        finally:
            os.umask(before)
        heard.settimeout(_LOOKS_EVERY_S)
        while not ended.is_set():
            with suppress(TimeoutError):
                word, _, number = heard.recv(32).partition(b" ")
                if word == _SOON and prepare is not None:
                    prepare(int(number))
                else:
                    act()
    path.unlink(missing_ok=True)


def wake(folder: Path) -> None:
    """There is work. Where nobody hears it, it is found a little later."""
    _call(folder, _WORK)


def work_soon(folder: Path, batch_id: int) -> None:
    """A round of a batch will be run soon: workers may be started, which takes a few seconds."""
    _call(folder, _SOON + b" %d" % batch_id)


def _call(folder: Path, word: bytes) -> None:
    with socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM) as calling, suppress(OSError):
        calling.sendto(word, socket.MSG_DONTWAIT, str(folder / _NAME))
