"""What a worker does of a round: a few members rendered, finished, measured, written down."""

from __future__ import annotations

import contextlib
import threading
import time
from collections.abc import Sequence
from typing import Any

from cachetools import LRUCache
from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.batch_models import Batch, BatchMember, BatchRound
from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import NotPossible
from nest_crate.catalogue.db.models import Sound, SoundRevision
from nest_crate.catalogue.families.rounds import family_of
from nest_crate.catalogue.samples.measurement import values_of
from nest_crate.catalogue.sounds.hearing import Heard, files_of_sound
from nest_crate.catalogue.work.jobs import Outcome, Piece
from nest_crate.core.engine import ENGINE_VERSION, RenderSettings, StageMemory, cpu_family
from nest_crate.core.errors import NestCrateError
from nest_crate.core.families import Family, MadeMember, load_batch, made_of, render_member
from nest_crate.core.families.members import DEFAULT_RATE, Member
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import load_sound
from nest_crate.storage import AudioStore
from nest_crate.storage.stored_recordings import StoredRecordings

__all__ = ["family_piece", "sounds_ready"]

# Members are written down together, but nobody waits longer for one.
_WRITES_EVERY_S = 0.4

_families: LRUCache[tuple[int, str], tuple[Family, dict[str, set[str]]]] = LRUCache(8)
_lock = threading.Lock()


def family_piece(
    database: Database, store: AudioStore, memory: StageMemory, piece: Piece
) -> Outcome:
    """Make some members. One that is there already stays, so that a piece may be done twice.

    Raises
    ------
    NotPossible
        where another version of the program began the round.
    """
    round_id, numbers = piece.for_all["round_id"], piece.wanted["numbers"]
    with database.session() as session:
        made = session.get(BatchRound, round_id)
        if made is None:
            return Outcome({})
        if made.engine_version != ENGINE_VERSION:
            raise NotPossible(
                f"was begun with engine {made.engine_version}, this is {ENGINE_VERSION}; "
                "run the plan again"
            )
        family, heard = _opened(session, made)
        there = _there(session, round_id, numbers)
        compared = bool(made.originals)
    fresh: list[BatchMember] = []
    written = time.monotonic()
    for number in numbers:
        if number in there:
            continue
        fresh.append(_made(store, memory, family, heard, family.member(number), round_id))
        if time.monotonic() - written > _WRITES_EVERY_S:
            _write(database, fresh)
            fresh, written = [], time.monotonic()
    _write(database, fresh)
    # After the first member, which is waited for.
    if not compared and 1 in numbers:
        _write_originals(database, store, memory, round_id, family, heard)
    return Outcome({})


def _opened(session: Session, made: BatchRound) -> tuple[Family, dict[str, set[str]]]:
    """The family, which a worker keeps from piece to piece, and what its sounds may hear."""
    key = (made.id, f"{sorted(made.redrawn.items())}")
    with _lock:
        known = _families.get(key)
    if known is not None:
        return known
    family = family_of(session, made)
    heard = {}
    for name, revision_id in made.revisions.items():
        revision = session.get_one(SoundRevision, revision_id)
        heard[name] = files_of_sound(session, revision.sound_id)
    with _lock:
        _families[key] = family, heard
    return family, heard


def _there(session: Session, round_id: int, numbers: Sequence[int]) -> set[int]:
    query = select(BatchMember.number).where(
        BatchMember.round_id == round_id, BatchMember.number.in_(numbers)
    )
    return set(session.scalars(query))


def _made(
    store: AudioStore,
    memory: StageMemory,
    family: Family,
    heard: dict[str, set[str]],
    member: Member,
    round_id: int,
) -> BatchMember:
    """A member's row; words in it where it could not be made."""
    row = BatchMember(
        round_id=round_id,
        number=member.number,
        times=family.redrawn.get(member.number, 0),
        overrides=member.values,
        hit=member.hit.model_dump(mode="json"),
        sample_rate=member.sample_rate,
        cpu_family=cpu_family(),
    )
    settings = RenderSettings(
        recordings=Heard(StoredRecordings(store), heard[member.sound]),
        sample_rate=member.sample_rate,
    )
    try:
        audio = render_member(family.sounds, member, settings, memory)
        found = made_of(audio, family.plan.members)
    except NestCrateError as error:
        row.words = error.message[:500]
        return row
    data = encode_wav(audio.samples, audio.sample_rate, sample_format="float32")
    row.file_digest = store.put(data)
    _describe(row, found)
    # The sheet is ordered by them too.
    row.figures = {**row.figures, **{f"axis:{key}": one for key, one in member.axes.items()}}
    return row


def _describe(row: BatchMember, found: MadeMember) -> None:
    row.edits = found.edits.as_dict()
    row.flags = " ".join(found.flags)
    row.figures = {key: _short(value) for key, value in found.figures.items()}
    row.vector = found.features.vector.tobytes()
    row.outline, row.strip = found.outline, found.strip
    values = values_of(found.measures, found.features, found.audio.sample_rate)
    row.measured = {name: one for name, one in values.items() if name != "features"}


def _short(value: Any) -> Any:
    return round(value, 5) if isinstance(value, float) else value


def _write(database: Database, rows: Sequence[BatchMember]) -> None:
    """Write members down, but none that was written meanwhile or drawn anew since."""
    if not rows:
        return
    round_id = rows[0].round_id
    with database.session() as session:
        made = session.get(BatchRound, round_id, with_for_update=True)
        if made is None:
            return
        there = _there(session, round_id, [one.number for one in rows])
        for row in rows:
            current = made.redrawn.get(f"{row.number}", 0) == row.times
            if row.number not in there and current:
                session.add(row)


def _write_originals(
    database: Database,
    store: AudioStore,
    memory: StageMemory,
    round_id: int,
    family: Family,
    heard: dict[str, set[str]],
) -> None:
    """Figures and features of each sound as it is, to which members are compared."""
    found = {}
    for planned in family.plan.sounds:
        plain = Member(0, planned.id, family.sounds[planned.id].hit, {}, DEFAULT_RATE, {}, 0)
        recordings = Heard(StoredRecordings(store), heard[planned.id])
        settings = RenderSettings(recordings=recordings)
        try:
            audio = render_member(family.sounds, plain, settings, memory)
            made = made_of(audio, family.plan.members)
        except NestCrateError:
            continue
        found[planned.id] = {
            "figures": {key: _short(value) for key, value in made.figures.items()},
            "vector": made.features.vector.tolist(),
            "note": plain.hit.note,
        }
    with database.session() as session:
        row = session.get(BatchRound, round_id, with_for_update=True)
        if row is not None:
            row.originals = found


def sounds_ready(database: Database, store: AudioStore, memory: StageMemory, batch_id: int) -> None:
    """Render the sounds of a batch once as they are: kernels are loaded, stages remembered."""
    with database.session() as session:
        batch = session.get(Batch, batch_id)
        if batch is None:
            return
        plan = load_batch(batch.draft)
        wanted = [one.sound for one in plan.sounds if one.sound is not None]
        rows = session.scalars(select(Sound).where(Sound.id.in_(wanted))).all()
        given = [(load_sound(one.draft), files_of_sound(session, one.id)) for one in rows]
    for sound, files in given:
        settings = RenderSettings(recordings=Heard(StoredRecordings(store), files))
        plain = Member(0, "a", sound.hit, {}, DEFAULT_RATE, {}, 0)
        with contextlib.suppress(NestCrateError):
            made_of(render_member({"a": sound}, plain, settings, memory), plan.members)
