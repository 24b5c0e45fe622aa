"""Long work of running requests, by a key that the page chose: watched, and stopped.

A page names its key in the header ``X-Progress`` of a request that may take long, and asks here
how far it is. Any web process may be asked, so what is known of the work lies in files that they
share; a request that comes too late gets an error.
"""

from __future__ import annotations

import json
import re
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import asdict, dataclass

from flask import Response, make_response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.work.progress import Progress, Stopped, unwatched
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.shared_files import SharedFiles

__all__ = ["Work", "Works", "api", "watched"]

api = APIBlueprint("works", __name__, url_prefix="/api/progress", abp_tags=[Tag(name="progress")])

_KEY = re.compile(r"^[\w-]{8,64}$", re.ASCII)


@dataclass(frozen=True)
class Work:
    """How far the work of one request is; times by the clock."""

    began: float
    done: int = 0
    of: int = 0


class _Watched:
    """Work that is under way here."""

    def __init__(self, shared: SharedFiles, name: str) -> None:
        self._shared, self._name = shared, name
        self._began = time.time()
        self._write(0, 0)

    def tell(self, done: int, of: int) -> None:
        """Write down how far it is; raises where it was stopped."""
        if self._shared.get(f"{self._name}.stop") is not None:
            raise Stopped("Stopped. Nothing was changed.")
        self._write(done, of)

    def _write(self, done: int, of: int) -> None:
        data = json.dumps(asdict(Work(self._began, done, of))).encode()
        self._shared.put(f"{self._name}.work", data)

    def end(self) -> None:
        self._shared.remove(f"{self._name}.work")
        self._shared.remove(f"{self._name}.stop")


class Works:
    """The work that is under way, by key and account: one's own alone is seen."""

    def __init__(self, shared: SharedFiles) -> None:
        self._shared = shared

    @contextmanager
    def entered(self, key: str, account_id: int) -> Iterator[Progress]:
        """Work under a key, for as long as it takes."""
        work = _Watched(self._shared, _name(key, account_id))
        try:
            yield work.tell
        finally:
            work.end()

    def of(self, key: str, account_id: int) -> Work:
        """An account's own work; ``NotFound`` where there is none."""
        kept = self._shared.get(f"{_name(key, account_id)}.work")
        if kept is None:
            raise NotFound("There is no such work under way")
        return Work(**json.loads(kept))

    def stop(self, key: str, account_id: int) -> None:
        """Have it stop the next time it looks."""
        self.of(key, account_id)
        self._shared.put(f"{_name(key, account_id)}.stop", b"")


def _name(key: str, account_id: int) -> str:
    return f"{account_id}-{key}"


def _works() -> Works:
    return Works(services().shared)


@contextmanager
def watched() -> Iterator[Progress]:
    """Progress of this request, under the key that it names; unwatched where it names none."""
    key = request.headers.get("X-Progress", "")
    if not _KEY.match(key):
        yield unwatched
        return
    with _works().entered(key, current_account().id) as progress:
        yield progress


class KeyPath(BaseModel):
    key: str = Field(pattern=r"^[A-Za-z0-9_-]{8,64}$")


class ProgressBody(BaseModel):
    """How many are done, of how many (0 where that is not known yet), after so many seconds."""

    done: int
    of: int
    seconds: float


@api.get("/<string:key>", responses={200: ProgressBody, 404: Problem})
def look(path: KeyPath) -> Response:
    """How far one's own work is; 404 where it is done, or has not begun."""
    work = _works().of(path.key, current_account().id)
    seconds = round(max(0.0, time.time() - work.began), 3)
    body = ProgressBody(done=work.done, of=work.of, seconds=seconds)
    return make_response(body.model_dump())


@api.delete("/<string:key>", responses={204: None, 404: Problem})
def stop(path: KeyPath) -> Response:
    """Stop one's own work; its request is answered with 409 and has changed nothing."""
    _works().stop(path.key, current_account().id)
    return make_response("", 204)
