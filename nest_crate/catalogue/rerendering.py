"""Lineage at work: samples rendered again from the sound that made them."""

from __future__ import annotations

import secrets
from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.accounts import CurrentAccount
from nest_crate.catalogue.database import Database
from nest_crate.catalogue.editing import record_change
from nest_crate.catalogue.errors import NotPossible
from nest_crate.catalogue.libraries import require_library
from nest_crate.catalogue.measuring import measure_into
from nest_crate.catalogue.models import Sample, SoundRevision, Take
from nest_crate.catalogue.recordings import StoredRecordings
from nest_crate.catalogue.takes import require_sample
from nest_crate.core.analysis.features import feature_distances, features
from nest_crate.core.analysis.measures import Measures, measure
from nest_crate.core.dsp.trimming import SoundEdits, apply_edits
from nest_crate.core.engine import ENGINE_VERSION, Audio, RenderSettings, StageMemory, render
from nest_crate.core.formats.wav import decode_wav, encode_wav
from nest_crate.core.sound import load_hit, load_sound
from nest_crate.storage import AudioStore

__all__ = ["Rerender", "newest_revision", "outdated_in", "replace_by_rerender", "rerender"]


@dataclass(frozen=True)
class Rerender:
    """What a new render of a sample is, beside the present one; nothing is changed by it.

    ``wav`` is what would be heard; ``same`` whether its samples are those of the present file.
    """

    name: str
    revision: SoundRevision
    hit: dict[str, Any]
    audio: Audio
    wav: bytes
    before: Measures
    after: Measures
    likeness: float
    same: bool


def newest_revision(session: Session, sound_id: int) -> SoundRevision | None:
    """The revision of a sound with the highest number."""
    query = select(SoundRevision).where(SoundRevision.sound_id == sound_id)
    return session.scalar(query.order_by(SoundRevision.number.desc()).limit(1))


def outdated_in(session: Session, account: CurrentAccount, library_id: int) -> list[int]:
    """Samples of a library whose sound has a newer revision than the one that made them."""
    require_library(session, account, library_id)
    rows = session.execute(
        select(Sample.id, SoundRevision.sound_id, SoundRevision.number)
        .join(Take, Take.id == Sample.take_id)
        .join(SoundRevision, SoundRevision.id == Take.revision_id)
        .where(Sample.library_id == library_id, Sample.deleted.is_(None))
        .order_by(Sample.name, Sample.id)
    ).all()
    newest = {key: newest_revision(session, key) for key in {row.sound_id for row in rows}}
    return [
        row.id
        for row in rows
        if (last := newest[row.sound_id]) is not None and last.number > row.number
    ]


def rerender(
    session: Session,
    store: AudioStore,
    account: CurrentAccount,
    sample_id: int,
    *,
    sample_rate: int | None,
    newest: bool,
    memory: StageMemory | None = None,
) -> Rerender:
    """Render a sample's hit again: of the same revision or of the newest, at a rate or its own.

    Raises
    ------
    NotPossible
        where no sound made the sample.
    """
    sample = require_sample(session, account, sample_id, "sample.edit")
    take = sample.take
    if take is None:
        raise NotPossible(f"{sample.name!r} was brought in; no sound made it")
    revision = take.revision
    if newest:
        revision = newest_revision(session, revision.sound_id) or revision
    rate = sample_rate or sample.sample_rate
    settings = RenderSettings(sample_rate=rate, recordings=StoredRecordings(store))
    audio = render(load_sound(revision.document), load_hit(take.hit), settings, memory=memory)
    data = encode_wav(audio.samples, rate, sample_format="float32")
    present, present_rate = decode_wav(store.get(sample.file_digest))
    edits = SoundEdits.of(sample.edits)
    heard = apply_edits(present, present_rate, edits)
    wanted = apply_edits(audio.samples, rate, edits)
    far = feature_distances(
        features(wanted, rate).vector[None], features(heard, present_rate).vector
    )
    return Rerender(
        name=sample.name,
        revision=revision,
        hit=take.hit,
        audio=audio,
        wav=data,
        before=measure(heard, present_rate),
        after=measure(wanted, rate),
        likeness=float(far[0]),
        same=data == store.get(sample.file_digest),
    )


def replace_by_rerender(
    database: Database,
    store: AudioStore,
    account: CurrentAccount,
    sample_id: int,
    *,
    sample_rate: int | None,
    newest: bool,
    gesture: str | None = None,
    memory: StageMemory | None = None,
) -> tuple[str, bool]:
    """Put a new render in the place of a sample's audio: file first, then all rows at once.

    Answers the gesture to undo it by, and whether anything differs. The former take is kept.
    """
    with database.session() as session:
        made = rerender(
            session,
            store,
            account,
            sample_id,
            sample_rate=sample_rate,
            newest=newest,
            memory=memory,
        )
        revision_id, number = made.revision.id, made.revision.number
    gesture = gesture or secrets.token_hex(8)
    if made.same:
        return gesture, False
    digest = store.put(made.wav)
    with database.session() as session:
        sample = require_sample(session, account, sample_id, "sample.edit", lock=True)
        take = Take(
            revision_id=revision_id,
            hit=made.hit,
            engine_version=ENGINE_VERSION,
            sample_rate=made.audio.sample_rate,
            file_digest=digest,
            created_by_id=account.id,
        )
        session.add(take)
        session.flush()
        edits = SoundEdits.of(sample.edits)
        heard = apply_edits(made.audio.samples, made.audio.sample_rate, edits)
        values = {"file_digest": digest, "take_id": take.id}
        label = f"Rendered again, revision {number}, {made.audio.sample_rate} Hz"
        record_change(session, account, sample, values, gesture=gesture, label=label)
        measure_into(sample, Audio(heard, made.audio.sample_rate))
    return gesture, True
