"""The whole program with accounts for many designers, each with a token."""

from __future__ import annotations

import json
import time
import urllib.request
from collections.abc import Iterator
from contextlib import suppress
from dataclasses import dataclass, field
from pathlib import Path
from urllib.parse import urlsplit

import psutil
import pytest

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.people.accounts import create_account
from nest_crate.catalogue.people.keys import make_token
from nest_crate.demo.people import DEMO_PASSWORD
from nest_crate.local_database import LocalDatabase
from tests.load.designers import Designer, HalfOpen
from tests.program import Running, start_program, stop_program

HALF_A_HEAD = b"POST /api/auditions HTTP/1.1\r\nHost: nest\r\nContent-Type: application/json\r\n"


@dataclass
class Loaded:
    """The running program, and a token for each of its designers."""

    running: Running
    tokens: list[str]
    designers: list[Designer] = field(default_factory=list)
    never_finished: HalfOpen | None = None
    held_since: float = 0.0

    @property
    def address(self) -> tuple[str, int]:
        parts = urlsplit(self.running.url)
        return str(parts.hostname), int(parts.port or 80)

    def designer(self, number: int, name: str = "") -> Designer:
        one = Designer(self.address, self.tokens[number], name or f"sound {number}")
        self.designers.append(one)
        return one

    def processes(self, name: str) -> list[psutil.Process]:
        """The program's processes that are called so."""
        children = psutil.Process(self.running.process.pid).children(recursive=True)
        found = []
        for one in children:
            # One that just ended has no name any more.
            with suppress(psutil.Error):
                # One that was killed keeps its name until its parent has taken note.
                if one.name().startswith(name) and one.status() != psutil.STATUS_ZOMBIE:
                    found.append(one)
        return found


def database_url(running: Running) -> str:
    """The address of the program's own database, which its processes keep to themselves."""
    folder = running.data / "database"
    (server,) = (
        one
        for one in psutil.Process(running.process.pid).children(recursive=True)
        if one.name() == "mariadbd"
    )
    port = next(part.split("=")[1] for part in server.cmdline() if part.startswith("--port="))
    return LocalDatabase(folder, port=int(port)).url


def tokens_for(running: Running, count: int) -> list[str]:
    """Tokens of new accounts, made in the program's own database."""
    database = Database(database_url(running))
    tokens = []
    with database.session() as session:
        for number in range(count):
            handle = f"designer{number}"
            account = create_account(
                session, handle=handle, name=f"Designer {number}", password=DEMO_PASSWORD
            )
            _, secret = make_token(session, account, name="load", scope="write", days=1)
            tokens.append(secret)
    database.engine.dispose()
    return tokens


@pytest.fixture(scope="session")
def loaded(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Loaded]:
    data = tmp_path_factory.mktemp("load") / "data"
    running = start_program(Path(data), "--no-demo")
    found = Loaded(running, tokens_for(running, 33))
    # Begun here, so that no test has to wait until their time is over.
    found.never_finished = HalfOpen(found.address, 5, HALF_A_HEAD)
    found.held_since = time.monotonic()
    yield found
    found.never_finished.close()
    for one in found.designers:
        one.close()
    stop_program(running)


def problem_at(url: str, body: bytes, **headers: str) -> tuple[int, dict[str, object]]:
    """What a request that is refused is answered with."""
    request = urllib.request.Request(url, body, headers)
    try:
        with urllib.request.urlopen(request, timeout=20) as answer:
            return answer.status, json.load(answer)
    except urllib.error.HTTPError as error:
        return error.code, json.load(error)
