"""Says from one process to another on this machine that there is long work."""

from __future__ import annotations

import os
import socket
import threading
from collections.abc import Callable
from contextlib import suppress
from pathlib import Path

__all__ = ["heed", "wake"]

_NAME = "work.sock"
_LOOKS_EVERY_S = 0.5


def heed(folder: Path, act: Callable[[], object], ended: threading.Event) -> None:
    """Do something at each call until ``ended`` is set. Nothing is lost with a call that is not
    heard: work lies in the tables, and is looked for now and then anyway."""
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
                heard.recv(16)
                act()
    path.unlink(missing_ok=True)


def wake(folder: Path) -> None:
    """There is work. Where nobody hears it, it is found a little later."""
    with socket.socket(socket.AF_UNIX, socket.SOCK_DGRAM) as calling, suppress(OSError):
        calling.sendto(b"work", socket.MSG_DONTWAIT, str(folder / _NAME))
