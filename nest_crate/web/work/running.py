"""Long work of running requests, by a key that the page chose: watched, and stopped.

A page names its key in the header ``X-Progress`` of a request that may take long, and asks here
how far it is. All of one server's work is in its memory; a request that comes too late gets an
error.
"""

from __future__ import annotations

import re
import threading
import time
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass, field

from flask import Response, make_response, request
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.work.progress import Progress, Stopped, unwatched
from nest_crate.web.infra.context import current_account
from nest_crate.web.infra.problems import Problem

__all__ = ["Works", "api", "watched"]

api = APIBlueprint("works", __name__, url_prefix="/api/progress", abp_tags=[Tag(name="progress")])

_KEY = re.compile(r"^[\w-]{8,64}$", re.ASCII)


@dataclass
class Work:
    """Work of one request of an account."""

    account_id: int
    began: float = field(default_factory=time.monotonic)
    done: int = 0
    of: int = 0
    stopped: bool = False

    def tell(self, done: int, of: int) -> None:
        """Take over how far it is; raises where it was stopped."""
        self.done, self.of = done, of
        if self.stopped:
            raise Stopped("Stopped. Nothing was changed.")


class Works:
    """The work that is under way, by key."""

    def __init__(self) -> None:
        self._works: dict[str, Work] = {}
        self._lock = threading.Lock()

    @contextmanager
    def entered(self, key: str, account_id: int) -> Iterator[Progress]:
        """Work under a key, for as long as it takes."""
        work = Work(account_id)
        with self._lock:
            self._works[key] = work
        try:
            yield work.tell
        finally:
            with self._lock:
                # Someone may have used the same key again.
                if self._works.get(key) is work:
                    del self._works[key]

    def of(self, key: str, account_id: int) -> Work:
        """An account's own work; ``NotFound`` where there is none."""
        with self._lock:
            work = self._works.get(key)
        if work is None or work.account_id != account_id:
            raise NotFound("There is no such work under way")
        return work


WORKS = Works()


@contextmanager
def watched() -> Iterator[Progress]:
    """Progress of this request, under the key that it names; unwatched where it names none."""
    key = request.headers.get("X-Progress", "")
    if not _KEY.match(key):
        yield unwatched
        return
    with WORKS.entered(key, current_account().id) as progress:
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
    work = WORKS.of(path.key, current_account().id)
    seconds = round(time.monotonic() - work.began, 3)
    body = ProgressBody(done=work.done, of=work.of, seconds=seconds)
    return make_response(body.model_dump())


@api.delete("/<string:key>", responses={204: None, 404: Problem})
def stop(path: KeyPath) -> Response:
    """Stop one's own work; its request is answered with 409 and has changed nothing."""
    WORKS.of(path.key, current_account().id).stopped = True
    return make_response("", 204)
