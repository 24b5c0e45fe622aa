"""By what a request is counted, before anything of it is looked at."""

import contextlib
import json
import socket
import threading
import time
import warnings

import pytest

from nest_crate.server import front_door
from nest_crate.server.front_door import Door, door_server


def knows(_headers):
    return False


@pytest.mark.parametrize(
    ("proxies", "noted", "person"),
    [
        (0, "203.0.113.9", "127.0.0.1"),
        (1, "203.0.113.9", "203.0.113.9"),
        # What the client itself wrote stands before what the proxy noted.
        (1, "198.51.100.1, 203.0.113.9", "203.0.113.9"),
        (2, "198.51.100.1, 203.0.113.9, 10.0.0.1", "203.0.113.9"),
        (2, "203.0.113.9", "127.0.0.1"),
        (1, "", "127.0.0.1"),
    ],
)
def test_strangers_are_told_apart_by_what_a_trusted_proxy_notes(proxies, noted, person):
    door = Door(knows, trusted_proxies=proxies)
    headers = {"X_FORWARDED_FOR": noted} if noted else {}
    assert door.person(headers, "127.0.0.1") == person


def test_people_of_one_address_are_told_apart_by_what_they_carry():
    door = Door(knows)
    persons = {
        door.person(headers, "127.0.0.1")
        for headers in ({"COOKIE": "a"}, {"COOKIE": "b"}, {"AUTHORIZATION": "Bearer c"}, {})
    }
    assert len(persons) == 4


class TestRefusals:
    """Who sends a large body that is refused still hears why."""

    @pytest.fixture
    def server(self):
        listening = socket.create_server(("127.0.0.1", 0))
        with warnings.catch_warnings():
            # Of waitress, about a setting that it has no other way for yet.
            warnings.simplefilter("ignore", DeprecationWarning)
            made = door_server(lambda *_: [b""], Door(knows), listening, threads=2)
        running = threading.Thread(target=self.run, args=(made,), daemon=True)
        running.start()
        yield made
        made.close()
        running.join(10)

    @staticmethod
    def run(server):
        # Closed under its feet, its loop ends with an error.
        with contextlib.suppress(OSError, ValueError):
            server.run()

    @pytest.fixture
    def client(self, server):
        with socket.create_connection(("127.0.0.1", server.effective_port), timeout=20) as made:
            length = "Content-Length: 90000000"
            made.sendall(f"POST /api/recordings HTTP/1.1\r\n{length}\r\n\r\n".encode())
            yield made

    def left(self, server):
        """Whether all connections are closed within some seconds."""
        deadline = time.monotonic() + 15
        while server.active_channels and time.monotonic() < deadline:
            time.sleep(0.05)
        return not server.active_channels

    @pytest.mark.parametrize("megabytes", [1, 8])
    def test_the_answer_comes_whole(self, client, megabytes):
        for _ in range(megabytes):
            client.sendall(bytes(1_000_000))
        answer = b"".join(iter(lambda: client.recv(65_536), b""))
        head, _, body = answer.partition(b"\r\n\r\n")
        assert head.startswith(b"HTTP/1.1 401 ")
        assert json.loads(body)["detail"] == "Sign in first"

    def test_a_client_that_stays_is_left_after_a_while(self, server, client, monkeypatch):
        monkeypatch.setattr(front_door, "_LINGERS_S", 0.3)
        assert client.recv(65_536).startswith(b"HTTP/1.1 401 ")
        assert self.left(server)

    def test_a_client_that_sends_without_end_is_left(self, server, client, monkeypatch):
        monkeypatch.setattr(front_door, "_LINGERS_BYTES", 3_000_000)
        with contextlib.suppress(OSError):
            for _ in range(200):
                client.sendall(bytes(1_000_000))
        assert self.left(server)
