"""What runs in a worker: one piece of work, taken from the tables and written back there."""

from __future__ import annotations

import os
from collections.abc import Callable
from functools import lru_cache

import structlog
from distributed import Worker, WorkerPlugin

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import DatabaseBusy, DatabaseGone
from nest_crate.catalogue.families.running import family_piece, sounds_ready
from nest_crate.catalogue.work.jobs import FAMILY, Outcome, Piece, end_piece, fail_piece, piece_of
from nest_crate.catalogue.work.rerender import RERENDER, rerender_piece
from nest_crate.core.engine import ENGINE_VERSION, StageMemory
from nest_crate.core.errors import NestCrateError
from nest_crate.storage import AudioStore

__all__ = ["OtherEngine", "Politely", "get_ready", "work_on"]

_MEMORY_BYTES = 64_000_000
_NICENESS = 10
_log = structlog.get_logger()

# By the kind of a job: what does one of its pieces.
_KINDS: dict[str, Callable[[Database, AudioStore, StageMemory, Piece], Outcome]] = {
    RERENDER: rerender_piece,
    FAMILY: family_piece,
}


class OtherEngine(RuntimeError):
    """The worker has another engine than the server; its samples would be others."""


class Politely(WorkerPlugin):  # type: ignore[misc]
    """Workers stand back behind people who listen on the same machine."""

    name = "politely"

    def setup(self, worker: Worker) -> None:
        os.nice(max(0, _NICENESS - os.nice(0)))


@lru_cache(maxsize=2)
def _opened(database_url: str, audio_url: str) -> tuple[Database, AudioStore, StageMemory]:
    return Database(database_url), AudioStore(audio_url), StageMemory(_MEMORY_BYTES)


def get_ready(database_url: str, audio_url: str, batch_id: int) -> None:
    """Have loaded what the sounds of a batch need, so that the first member is not waited for."""
    database, store, memory = _opened(database_url, audio_url)
    sounds_ready(database, store, memory, batch_id)


def work_on(database_url: str, audio_url: str, engine_version: int, item_id: int) -> None:
    """Do one piece and write down what came of it.

    Raises
    ------
    DatabaseGone, DatabaseBusy, OtherEngine
        where it failed by no fault of the piece: it still waits then.
    """
    if engine_version != ENGINE_VERSION:
        raise OtherEngine(
            f"This worker has engine {ENGINE_VERSION}, the server {engine_version}; "
            "install the same version on both"
        )
    database, store, memory = _opened(database_url, audio_url)
    with database.session() as session:
        piece = piece_of(session, item_id)
    if piece is None:
        return
    try:
        outcome = _KINDS[piece.kind](database, store, memory, piece)
    except (DatabaseGone, DatabaseBusy):
        raise
    except NestCrateError as error:
        fail_piece(database, item_id, error.message)
    except Exception as error:
        # A bug in one piece must not hold up the others; it is logged and reported.
        _log.exception("piece_failed", kind=piece.kind, item=item_id)
        fail_piece(database, item_id, f"failed: {type(error).__name__}")
    else:
        end_piece(database, item_id, outcome)
