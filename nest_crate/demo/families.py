"""The demo's batches: a plan each beside a sound of the same name, run and perhaps kept."""

from __future__ import annotations

import json
from pathlib import Path

from sqlalchemy import delete

from nest_crate.catalogue.db.batch_models import BatchRound
from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.job_models import Job, JobItem
from nest_crate.catalogue.families.batches import create_batch
from nest_crate.catalogue.families.judged import thinned
from nest_crate.catalogue.families.keeping import keep_members
from nest_crate.catalogue.families.rounds import begin_round, set_verdicts
from nest_crate.catalogue.families.running import family_piece
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.work.jobs import piece_of, waiting_items
from nest_crate.core.engine import StageMemory
from nest_crate.core.families import load_batch
from nest_crate.storage import AudioStore

__all__ = ["BATCHES_FOLDER", "build_family"]

BATCHES_FOLDER = Path(__file__).parents[2] / "demo" / "batches"


def build_family(
    database: Database,
    store: AudioStore,
    account: CurrentAccount,
    *,
    name: str,
    sound_id: int,
    library_id: int,
) -> bool:
    """Run the batch of a sound, where the demo has one; answers whether samples were kept of it."""
    path = BATCHES_FOLDER / f"{name}.json"
    if not path.exists():
        return False
    given = json.loads(path.read_text())
    given["plan"]["sounds"][0]["sound"] = sound_id
    plan = load_batch(given["plan"])
    with database.session() as session:
        batch = create_batch(session, account, library_id=library_id, plan=plan)
        made = begin_round(session, account, batch.id, base_version=1, plan=plan)
        round_id = made.id
    _run(database, store, round_id)
    count = given.get("thin")
    if count is None:
        return False
    with database.session() as session:
        made = session.get_one(BatchRound, round_id)
        chosen = set(thinned(session, made, count))
        verdicts = {
            number: {"verdict": "kept" if number in chosen else "rejected"}
            for number in range(1, made.count + 1)
        }
        set_verdicts(session, made, verdicts)
        if given.get("keep"):
            keep_members(session, account, made, sorted(chosen), library_id=library_id)
    return bool(given.get("keep"))


def _run(database: Database, store: AudioStore, round_id: int) -> None:
    """Make the members here: no workers run while the demo is built."""
    memory = StageMemory(64_000_000)
    while True:
        with database.session() as session:
            waiting = waiting_items(session, beside=[], count=1)
            piece = piece_of(session, waiting[0]) if waiting else None
        if piece is None:
            break
        family_piece(database, store, memory, piece)
        with database.session() as session:
            session.execute(delete(JobItem).where(JobItem.id == piece.item_id))
    with database.session() as session:
        made = session.get_one(BatchRound, round_id)
        session.execute(delete(Job).where(Job.id == made.job_id))
        made.job_id = None
