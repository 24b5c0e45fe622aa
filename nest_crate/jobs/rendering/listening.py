"""The socket at which render workers are asked. Imports nothing heavy: it is opened first."""

from __future__ import annotations

import os
import socket
from pathlib import Path

__all__ = ["listening"]


def listening(path: Path) -> socket.socket:
    """A socket that only this account's processes can open; what connects waits to be accepted."""
    path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
    path.unlink(missing_ok=True)
    listener = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
    before = os.umask(0o177)
    try:
        listener.bind(str(path))
    finally:
        os.umask(before)
    listener.listen(512)
    listener.setblocking(False)
    return listener
