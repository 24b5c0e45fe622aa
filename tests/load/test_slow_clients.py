"""Clients that never finish their request cost others nothing."""

import http.client
import json
import time
import urllib.request
from contextlib import closing

import pytest

from tests.load.conftest import HALF_A_HEAD as HEAD
from tests.load.conftest import database_url, problem_at
from tests.load.designers import HalfOpen, figures


def headers_alone(loaded, path, kind, length, **headers):
    """What is answered before any of a body was sent."""
    with closing(http.client.HTTPConnection(*loaded.address, timeout=10)) as connection:
        connection.putrequest("POST", path)
        for name, value in {"Content-Type": kind, "Content-Length": str(length), **headers}.items():
            connection.putheader(name, value)
        connection.endheaders()
        with closing(connection.getresponse()) as answer:
            return answer.status, json.loads(answer.read())


def changes(designer, count=25):
    for _ in range(3):
        designer.change()
        designer.finish()
    took = []
    for _ in range(count):
        took.append(designer.change())
        designer.finish()
    return took


def test_two_hundred_half_open_connections_do_not_hold_others_up(loaded):
    designer = loaded.designer(0)
    kinds = (HEAD, HEAD + b"Content-Length: 9000\r\n\r\n{", b"", b"GET / HT")
    before = figures(changes(designer))[0]
    held = [HalfOpen(loaded.address, 50, sent) for sent in kinds]
    try:
        meanwhile = figures(changes(designer))[0]
    finally:
        for one in held:
            one.close()
    after = figures(changes(designer))[0]
    assert meanwhile < 1.3 * max(before, after) + 2.0, (before, meanwhile, after)


def test_what_never_comes_is_given_up(loaded):
    time.sleep(max(0.0, loaded.held_since + 12.5 - time.monotonic()))
    assert loaded.never_finished.closed_by_server() == 5


def test_a_stranger_sends_no_large_body(loaded):
    """Refused on its headers, while not a byte of the body was sent."""
    began = time.monotonic()
    kind = "multipart/form-data; boundary=b"
    status, problem = headers_alone(loaded, "/api/recordings", kind, 199_000_000)
    assert (status, problem["detail"]) == (401, "Sign in first")
    assert time.monotonic() - began < 2.0


@pytest.mark.parametrize(
    ("path", "kind", "length", "status"),
    [
        ("/api/auditions", "application/json", 5_000_000, 413),
        ("/api/recordings", "multipart/form-data; boundary=b", 202_000_000, 413),
        ("/bench/1", "application/json", 10, 413),
    ],
)
def test_how_much_is_taken_depends_on_the_address(loaded, path, kind, length, status):
    token = {"Authorization": f"Bearer {loaded.tokens[0]}"}
    answered, problem = headers_alone(loaded, path, kind, length, **token)
    assert answered == status
    assert problem["detail"]


def test_endless_json_is_refused_at_once(loaded):
    url = f"{loaded.running.url}/api/auditions"
    began = time.monotonic()
    for body in (b"[" * 3000, b"[" * 16000, b'{"a":' * 3000):
        status, problem = problem_at(url, body, **{"Content-Type": "application/json"})
        assert status in (400, 401)
        assert problem["detail"]
    assert time.monotonic() - began < 1.0
    log = (loaded.running.data.parent / "start.log").read_text()
    assert "Traceback" not in log


def test_one_web_process_that_dies_is_noticed_by_nobody_else(loaded):
    def served(connection):
        connection.request("GET", "/api/health")
        answer = connection.getresponse()
        answer.read()
        return answer.status

    connections = [http.client.HTTPConnection(*loaded.address, timeout=10) for _ in range(12)]
    assert [served(one) for one in connections] == [200] * 12
    first, second = loaded.processes("nest-web")
    first.kill()
    lost = 0
    for one in connections:
        try:
            assert served(one) == 200
        except (ConnectionError, http.client.HTTPException):
            lost += 1
    # Only those that were open at the one that died; new requests are served.
    assert lost < 12
    for one in connections:
        one.close()
    for _ in range(20):
        with urllib.request.urlopen(f"{loaded.running.url}/api/health", timeout=5) as answer:
            assert answer.status == 200
    deadline = time.monotonic() + 30
    while len(loaded.processes("nest-web")) < 2 and time.monotonic() < deadline:
        time.sleep(0.1)
    assert len(loaded.processes("nest-web")) == 2
    assert second.is_running()


def test_the_log_holds_nobody_s_secrets(loaded):
    """After all that the tests before did to it."""
    log = (loaded.running.data.parent / "start.log").read_text()
    secrets = [*loaded.tokens, (loaded.running.data / "secret-key").read_text().strip()]
    secrets.append(database_url(loaded.running).split(":")[2].split("@")[0])
    assert [one for one in secrets if one in log] == []
    assert loaded.running.data.stat().st_mode & 0o077 == 0
