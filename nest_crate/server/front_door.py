"""What a connection meets before a thread works for it.

waitress reads requests in one loop and gives a thread only to those that have come whole, so a
client that is slow costs a connection and no more. Here is what it leaves open: how long a request
may take to come, how large it may be by its path, and that a large one comes from somebody who is
signed in. All of it is decided on the headers, before any of the body is read.
"""

from __future__ import annotations

import hashlib
import json
import socket
import threading
import time
from collections import Counter, defaultdict, deque
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer
from waitress.task import ThreadedTaskDispatcher

__all__ = ["Door", "Refused", "Turns", "door_server"]

_JSON_BYTES = 4_200_000
_UPLOAD_BYTES = 201_000_000
# What somebody may send who is not known: enough to sign in.
_STRANGERS_BYTES = 16_384
_HEADERS_WITHIN_S = 10.0
_BODY_WITHIN_S = 30.0
# A body may take longer, the larger it is: as long as a slow line needs.
_SLOWEST_BYTES_A_S = 20_000.0
_LOOKS_EVERY_S = 1.0
# After a refusal the rest of the body is read and forgotten for a while: a connection that is
# closed with bytes unread is reset, and the answer is lost on its way (RFC 9112, 9.6).
_LINGERS_S = 5.0
_LINGERS_BYTES = 20_000_000
# A page has a handful under way.
_OF_ONE_PERSON = 12


@dataclass(frozen=True)
class Door:
    """``knows(headers)`` says whether a request carries what only somebody signed in can have.

    Of the addresses that proxies in front note, those of as many as are trusted are believed.
    """

    knows: Callable[[dict[str, str]], bool]
    trusted_proxies: int = 0

    def person(self, headers: dict[str, str], address: str) -> str:
        """Who sends a request, by its headers: by token, by session, else by address."""
        sent = headers.get("AUTHORIZATION") or headers.get("COOKIE")
        if sent:
            return hashlib.sha256(sent.encode()).hexdigest()
        noted = [one.strip() for one in headers.get("X_FORWARDED_FOR", "").split(",")]
        if 0 < self.trusted_proxies <= len(noted):
            return noted[-self.trusted_proxies] or address
        return address

    def refusal(self, command: str, path: str, headers: dict[str, str]) -> Refused | None:
        """Why a request with a body is not taken; None where it is."""
        length = _length_of(headers)
        if length == 0:
            return None
        if not path.startswith("/api/") or command in ("GET", "HEAD", "OPTIONS"):
            return Refused(413, "Payload Too Large", "This address takes no data")
        if not self.knows(headers):
            if length is None or length > _STRANGERS_BYTES:
                return Refused(401, "Unauthorized", "Sign in first")
            return None
        upload = headers.get("CONTENT_TYPE", "").startswith("multipart/form-data")
        most = _UPLOAD_BYTES if upload else _JSON_BYTES
        if length is None and not upload:
            return Refused(411, "Length Required", "Say how long the request is (Content-Length)")
        if length is not None and length > most:
            words = (
                f"The request has {length / 1e6:.1f} MB; at most {most // 1_000_000} MB are taken"
            )
            return Refused(413, "Payload Too Large", words)
        return None


def _too_large(length: int, most: int) -> Refused:
    words = f"The request has {length / 1e6:.1f} MB; at most {most // 1_000_000} MB are taken"
    return Refused(413, "Payload Too Large", words)


def _length_of(headers: dict[str, str]) -> int | None:
    """Bytes of the body; None where they are not said beforehand."""
    if "TRANSFER_ENCODING" in headers:
        return None
    given = headers.get("CONTENT_LENGTH", "0")
    return int(given) if given.isdigit() else 0


class Refused:
    """An answer of the door itself, as a problem (RFC 9457). waitress writes it and closes."""

    def __init__(self, code: int, title: str, detail: str) -> None:
        self.code, self.title, self.detail = code, title, detail

    def to_response(self, ident: str | None = None) -> tuple[str, list[tuple[str, str]], bytes]:
        problem = {
            "type": "about:blank",
            "title": self.title,
            "status": self.code,
            "detail": self.detail,
            "code": self.title.lower().replace(" ", "_"),
            "problems": [],
            "details": {},
        }
        headers = [("Content-Type", "application/problem+json"), ("Cache-Control", "no-store")]
        return f"{self.code} {self.title}", headers, json.dumps(problem).encode()


class _Parser(HTTPRequestParser):
    """Asks the door as soon as the headers are there."""

    door: Door

    def parse_header(self, header_plus: bytes) -> None:
        super().parse_header(header_plus)
        refusal = self.door.refusal(self.command, self.path, self._as_sent())
        if refusal is not None:
            self.error = refusal
            self.completed = True
            # Nothing of the body is waited for, nor invited.
            self.expect_continue = False

    def received(self, data: bytes) -> int:
        """Bytes taken of these; a body that does not say its length is cut off where it is over."""
        taken = super().received(data)
        if self.chunked and self.body_bytes_received > _UPLOAD_BYTES:
            self.error = _too_large(self.body_bytes_received, _UPLOAD_BYTES)
            self.completed = True
        return taken

    def _as_sent(self) -> dict[str, str]:
        # The parser takes this one out once it has read it.
        return {**self.headers, **({"TRANSFER_ENCODING": "chunked"} if self.chunked else {})}


class _Channel(HTTPChannel):
    """A connection that knows since when its present request has been coming."""

    coming_since: float
    will_close: bool

    def __init__(self, *given: Any, **options: Any) -> None:
        super().__init__(*given, **options)
        self.coming_since = time.monotonic()
        self._body_unread = False
        self._lingers_since: float | None = None
        self._forgotten_bytes = 0

    def handle_close(self) -> None:
        """Close; where the client is still sending what was refused, only this side for now."""
        if self.will_close and self._body_unread and self._lingers_since is None:
            self._lingers_since = time.monotonic()
            try:
                self.socket.shutdown(socket.SHUT_WR)
            except OSError:
                pass
            else:
                self.will_close = False
                return
        super().handle_close()

    def readable(self) -> bool:
        return self._lingers_since is not None or bool(super().readable())

    def received(self, data: bytes) -> bool:
        if self._lingers_since is not None:
            self._forgotten_bytes += len(data)
            if self._forgotten_bytes > _LINGERS_BYTES:
                self.handle_close()
            return False
        before = self.request
        if before is None:
            self.coming_since = time.monotonic()
        return bool(super().received(data))

    def person(self) -> str:
        door = self.parser_class.door
        self._who = door.person(self.requests[0].headers, str(self.addr[0]))
        return self._who

    def service(self) -> None:
        """In a thread: answers the request, whose turn is over then."""
        who = self._who
        self._body_unread = isinstance(self.requests[0].error, Refused)
        try:
            super().service()
        finally:
            self.server.turn_over(who)

    def cancel(self) -> None:
        who = self._who
        super().cancel()
        self.server.turn_over(who)

    def is_late(self, now: float) -> bool:
        """Whether its request has taken longer to come than it may."""
        if self._lingers_since is not None:
            return now - self._lingers_since > _LINGERS_S
        coming = self.request
        if self.requests or self.total_outbufs_len:
            return False
        waited = now - self.coming_since
        if coming is None:
            # Between two requests: as long as the idle limit says.
            return False
        if not coming.headers_finished:
            return waited > _HEADERS_WITHIN_S
        return waited > _BODY_WITHIN_S + coming.content_length / _SLOWEST_BYTES_A_S


class Turns:
    """Requests of one person that are worked on at a time; more of them wait without a thread.

    Without it, one who sends very many at once would take all threads, whatever they are for.
    """

    def __init__(self, most: int) -> None:
        self._most = most
        self._lock = threading.Lock()
        self._under_way: Counter[str] = Counter()
        self._waiting: defaultdict[str, deque[Any]] = defaultdict(deque)

    def may_begin(self, who: str, work: Any) -> bool:
        """Whether its turn is now; else it is given out by ``done`` later."""
        with self._lock:
            if self._under_way[who] >= self._most:
                self._waiting[who].append(work)
                return False
            self._under_way[who] += 1
            return True

    def done(self, who: str) -> Any:
        """What comes next of the same person; None where nothing waits."""
        with self._lock:
            if self._waiting[who]:
                return self._waiting[who].popleft()
            del self._waiting[who]
            self._under_way[who] -= 1
            if not self._under_way[who]:
                del self._under_way[who]
            return None


class _Server(TcpWSGIServer):
    channel_class = _Channel
    turns: Turns

    def add_task(self, channel: _Channel) -> None:
        """Called with a connection whose request has come whole, and again for its next one."""
        if self.turns.may_begin(channel.person(), channel):
            super().add_task(channel)

    def turn_over(self, who: str) -> None:
        following = self.turns.done(who)
        if following is not None:
            super().add_task(following)

    def maintenance(self, now: float) -> None:
        super().maintenance(now)
        for channel in self.active_channels.values():
            if channel.is_late(time.monotonic()):
                channel.will_close = True


def door_server(app: Any, door: Door, port: Any, *, threads: int) -> _Server:
    """A server of an application that takes connections from a listening socket."""
    parser = type("Parser", (_Parser,), {"door": door})
    adjustments = Adjustments(
        sockets=[port],
        threads=threads,
        connection_limit=2000,
        channel_timeout=60,
        cleanup_interval=_LOOKS_EVERY_S,
        # A client that leaves is noticed while a thread works for it.
        channel_request_lookahead=1,
        # Each part of an answer goes as soon as it is there.
        send_bytes=1,
        # What a slow client has not taken yet lies in memory up to here, then in a file; no thread
        # waits for it.
        outbuf_overflow=2_000_000,
        outbuf_high_watermark=2_000_000_000,
        inbuf_overflow=1_000_000,
        max_request_header_size=32_768,
        # The door says how much is taken.
        max_request_body_size=1 << 50,
        asyncore_use_poll=True,
        backlog=1024,
        ident=None,
        # The application decides by its own setting whether a proxy in front is believed.
        clear_untrusted_proxy_headers=False,
    )
    dispatcher = ThreadedTaskDispatcher()
    dispatcher.set_thread_count(threads)
    listening = (port.family, port.type, port.proto, port.getsockname())
    channel = type("Channel", (_Channel,), {"parser_class": parser})
    kind = type("Server", (_Server,), {"channel_class": channel, "turns": Turns(_OF_ONE_PERSON)})
    return kind(
        app,
        dispatcher=dispatcher,
        adj=adjustments,
        sockinfo=listening,
        _sock=port,
        bind_socket=False,
    )
