"""People who change sounds and wait to hear them, and people who mean no good; all on loopback."""

from __future__ import annotations

import http.client
import json
import socket
import threading
import time
from collections.abc import Callable
from contextlib import suppress
from typing import Any

import numpy as np

from nest_crate.core.sound import dump_sound, load_sound

__all__ = [
    "Designer",
    "HalfOpen",
    "dearest",
    "figures",
    "half_second",
    "in_threads",
]


def half_second(name: str = "Three layers") -> dict[str, Any]:
    """Three layers, one of seven voices, a moved filter, three processors; half a second."""
    fall = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.4, "value": 0, "bend": 3}]}
    chain = [
        {"id": "eq", "kind": "equaliser"},
        {"id": "squeeze", "kind": "compressor"},
        {"id": "limit", "kind": "ceiling"},
    ]
    layers = [
        {"id": "body", "name": "Body", "source": {"kind": "tone", "unison": {"voices": 7}}},
        {"id": "top", "name": "Top", "source": {"kind": "noise"}},
        {
            "id": "ring",
            "name": "Ring",
            "source": {"kind": "tone"},
            "chain": [{"id": "filter", "kind": "filter"}],
        },
    ]
    document = {
        "name": name,
        "layers": [{**layer, "level": fall} for layer in layers],
        "main": {"chain": chain},
        "movers": [{"id": "m", "name": "M", "kind": "lfo"}],
        "links": [{"mover": "m", "target": "filter.cutoff_hz", "amount": 1}],
        "hit": {"hold_s": 0.1},
    }
    return dump_sound(load_sound(document))


def dearest(seconds: float = 8.0) -> dict[str, Any]:
    """Legal, and very dear to render."""
    layers = [
        {
            "id": f"l{n}",
            "name": f"L{n}",
            "source": {"kind": "tone", "feedback": 0.4, "unison": {"voices": 16}},
        }
        for n in range(8)
    ]
    return dump_sound(load_sound({"name": "Dear", "layers": layers, "hit": {"hold_s": seconds}}))


class Designer:
    """One connection of one account, with a sound of its own that it changes."""

    def __init__(self, address: tuple[str, int], token: str, name: str = "sound") -> None:
        self._address = address
        self._headers = {
            "Authorization": f"Bearer {token}",
            "Content-Type": "application/json",
            "Accept": "multipart/mixed",
        }
        self._connection = http.client.HTTPConnection(*address, timeout=120)
        self._document = half_second(name)
        self._changes = 0
        self.stream = name

    def change(self) -> float:
        """Change the level of a layer, and wait for the audio; seconds until it is in hand. The
        pictures that follow are read too."""
        self._changes += 1
        layer = self._document["layers"][self._changes % 3]
        layer["level_db"] = -6.0 - (self._changes % 50) / 10
        body = {"document": self._document, "stream": self.stream, "details": True}
        began = time.perf_counter()
        self._connection.request("POST", "/api/auditions", json.dumps(body), self._headers)
        # The connection lets go of it where the server closes after its answer.
        self._socket = self._connection.sock
        answer = self._connection.getresponse()
        if answer.status != 200:
            raise AssertionError(f"{answer.status}: {answer.read()[:300]!r}")
        head = b""
        while b"\r\n\r\n" not in head:
            head += answer.readline()
        length = int(head.lower().split(b"content-length: ")[1].split(b"\r\n")[0])
        audio = answer.read(length)
        took = time.perf_counter() - began
        if not audio.startswith(b"RIFF"):
            raise AssertionError("audio does not come first")
        self._rest = threading.Thread(target=self._read, args=(answer,))
        self._rest.start()
        return took

    def _read(self, answer: http.client.HTTPResponse) -> None:
        with suppress(OSError, http.client.HTTPException, ValueError):
            answer.read()

    def finish(self, within_s: float | None = None) -> bool:
        """Wait for the rest; where it does not come in time, leave, as a page does that changed
        the sound again. The next change opens another connection then."""
        self._rest.join(within_s)
        if not self._rest.is_alive():
            return True
        with suppress(OSError):
            self._socket.shutdown(socket.SHUT_RDWR)
        self._rest.join()
        self._connection.close()
        self._connection = http.client.HTTPConnection(*self._address, timeout=120)
        return False

    def close(self) -> None:
        self._connection.close()

    def ask(self, document: dict[str, Any], path: str = "/api/playing/hits") -> int:
        """Have a document rendered; the status of the answer."""
        connection = http.client.HTTPConnection(*self._address, timeout=120)
        try:
            headers = {**self._headers, "Accept": "*/*"}
            connection.request("POST", path, json.dumps({"document": document}), headers)
            answer = connection.getresponse()
            answer.read()
            return answer.status
        finally:
            connection.close()


class HalfOpen:
    """Connections that send half of a request and then nothing, for as long as they are held."""

    def __init__(self, address: tuple[str, int], count: int, sent: bytes) -> None:
        self._sockets = []
        for _ in range(count):
            one = socket.create_connection(address, timeout=10)
            one.sendall(sent)
            self._sockets.append(one)

    def closed_by_server(self) -> int:
        """How many the server has closed since."""
        count = 0
        for one in self._sockets:
            one.settimeout(0.0)
            with suppress(BlockingIOError, ConnectionError):
                count += one.recv(4096) == b"" or self._ended(one)
        return count

    def _ended(self, one: socket.socket) -> bool:
        with suppress(BlockingIOError):
            return one.recv(4096) == b""
        return False

    def close(self) -> None:
        for one in self._sockets:
            one.close()


def in_threads(count: int, act: Callable[[int], object]) -> list[threading.Thread]:
    """Begun, not waited for."""
    threads = [threading.Thread(target=act, args=(n,), daemon=True) for n in range(count)]
    for thread in threads:
        thread.start()
    return threads


def figures(seconds: list[float]) -> tuple[float, float]:
    """Median and 95th percentile, in ms."""
    return tuple(1e3 * float(np.percentile(seconds, part)) for part in (50, 95))
