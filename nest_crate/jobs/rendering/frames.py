"""Messages over a local socket: a small JSON head and a body of bytes each.

Only processes of this program speak it, on one machine, through sockets that nobody else can open.
Between machines Dask carries the work.
"""

from __future__ import annotations

import json
import socket
import struct
from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

__all__ = ["Frame", "FrameReader", "receive_frame", "send_frame"]

_LENGTHS = struct.Struct("!IQ")
_RECEIVED_AT_ONCE = 1 << 18


@dataclass(frozen=True)
class Frame:
    """One message."""

    head: dict[str, Any]
    body: bytes = field(default=b"", repr=False)


def send_frame(connection: socket.socket, frame: Frame) -> None:
    """Send a message whole; ``OSError`` where nobody reads any more."""
    head = json.dumps(frame.head, separators=(",", ":"), allow_nan=False).encode()
    connection.sendall(_LENGTHS.pack(len(head), len(frame.body)) + head)
    if frame.body:
        connection.sendall(frame.body)


class FrameReader:
    """Puts messages together from bytes as they come."""

    def __init__(self) -> None:
        self._held = bytearray()

    def feed(self, data: bytes) -> Iterator[Frame]:
        """The messages that are complete with these bytes."""
        self._held += data
        while len(self._held) >= _LENGTHS.size:
            head, body = _LENGTHS.unpack_from(self._held)
            begin, end = _LENGTHS.size + head, _LENGTHS.size + head + body
            if len(self._held) < end:
                return
            yield Frame(
                json.loads(bytes(self._held[_LENGTHS.size : begin])), bytes(self._held[begin:end])
            )
            del self._held[:end]


def receive_frame(connection: socket.socket) -> Frame | None:
    """The next message, waited for; None where the other side has closed."""
    lengths = _exactly(connection, _LENGTHS.size)
    if lengths is None:
        return None
    head, body = _LENGTHS.unpack(lengths)
    given = _exactly(connection, head)
    data = _exactly(connection, body) if given is not None else None
    return None if given is None or data is None else Frame(json.loads(given), data)


def _exactly(connection: socket.socket, count: int) -> bytes | None:
    held = bytearray()
    while len(held) < count:
        data = connection.recv(min(count - len(held), _RECEIVED_AT_ONCE))
        if not data:
            return None
        held += data
    return bytes(held)
