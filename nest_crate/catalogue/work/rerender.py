"""Lineage at work: samples rendered again from the sound that made them.

First everything is rendered, stored and measured beside what is there (a job, one piece a sample);
then what was heard, and nothing else, is put in its place.
"""

from __future__ import annotations

import base64
import secrets
from collections.abc import Collection, Sequence
from dataclasses import asdict, dataclass
from typing import Any

import numpy as np
from sqlalchemy import delete, exists, select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import NotFound, NotPossible
from nest_crate.catalogue.db.job_models import Job, JobItem
from nest_crate.catalogue.db.models import Sample, SoundRevision, Take
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.samples.edits import mark_changed, record_change, samples_for
from nest_crate.catalogue.samples.measurement import measured_values
from nest_crate.catalogue.samples.takes import require_sample
from nest_crate.catalogue.sounds.hearing import Heard, files_of_sound
from nest_crate.catalogue.work.jobs import Outcome, Piece, begin_job, item_at, own_job
from nest_crate.core.analysis.features.features import feature_distances, features
from nest_crate.core.analysis.measures.figures import Measures, measure
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.dsp.util.trim import SoundEdits, apply_edits
from nest_crate.core.engine import (
    ENGINE_VERSION,
    SAMPLE_RATES,
    Audio,
    RenderSettings,
    StageMemory,
    cpu_family,
    render,
)
from nest_crate.core.families import overridden
from nest_crate.core.formats.wav import decode_wav, encode_wav
from nest_crate.core.sound import load_hit, load_sound
from nest_crate.storage import AudioStore
from nest_crate.storage.stored_recordings import StoredRecordings

__all__ = [
    "RERENDER",
    "Replaced",
    "begin_rerender",
    "heard_render",
    "newest_revision",
    "outdated_in",
    "replace_by_rerender",
    "rerender_piece",
]

RERENDER = "rerender"
# What the present audio of a sample is made of; a new render was compared with this.
_HEARD = ("file_digest", "edits")
# What is reported of either side.
_FIGURES = ("length_s", "peak_db", "loudness_lufs", "note", "cents")


@dataclass(frozen=True)
class Replaced:
    """What became of new renders: how many took their places, under which gesture, and samples
    that stayed as they were, each with the reason."""

    gesture: str | None
    count: int
    stayed: list[tuple[int, str]]


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


def begin_rerender(
    session: Session,
    account: CurrentAccount,
    sample_ids: Sequence[int],
    *,
    sample_rate: int | None,
    newest: bool,
) -> Job:
    """Write down that samples shall be rendered again: of the revision that made them or of the
    newest, at a rate or at their own."""
    if sample_rate is not None and sample_rate not in SAMPLE_RATES:
        rates = ", ".join(str(rate) for rate in SAMPLE_RATES)
        raise field_error("sample_rate", f"{sample_rate} is none of {rates}")
    samples = samples_for(session, account, sample_ids, "sample.edit")
    count = f"{len(samples)} samples" if len(samples) != 1 else repr(samples[0].name)
    at = "" if sample_rate is None else f" at {sample_rate / 1000:g} kHz"
    return begin_job(
        session,
        account,
        kind=RERENDER,
        title=f"Render {count} again{at}",
        wanted={"sample_rate": sample_rate, "newest": newest},
        items=[{"sample_id": one.id, "name": one.name} for one in samples],
    )


def rerender_piece(
    database: Database, store: AudioStore, memory: StageMemory, piece: Piece
) -> Outcome:
    """Render, store and measure one sample again; nothing of the sample is changed.

    Raises
    ------
    NotPossible
        where no sound made the sample.
    """
    with database.session() as session:
        sample = require_sample(session, piece.account, piece.wanted["sample_id"], "sample.edit")
        take = sample.take
        if take is None:
            raise NotPossible("was imported; no sound made it")
        revision = take.revision
        if piece.for_all["newest"]:
            revision = newest_revision(session, revision.sound_id) or revision
        heard = files_of_sound(session, revision.sound_id)
    rate = piece.for_all["sample_rate"] or sample.sample_rate
    settings = RenderSettings(sample_rate=rate, recordings=Heard(StoredRecordings(store), heard))
    # Numbers that a member of a family has elsewhere; what the sound has no more is left out.
    sound = overridden(load_sound(revision.document), take.overrides or {})
    audio = render(sound, load_hit(take.hit), settings, memory=memory)
    # Single precision keeps what is over full scale, and 24 bits exactly.
    data = encode_wav(audio.samples, rate, sample_format="float32")
    kept = store.get(sample.file_digest)
    edits = SoundEdits.of(sample.edits)
    present, present_rate = decode_wav(kept)
    before = Audio(apply_edits(present, present_rate, edits), present_rate)
    after = Audio(apply_edits(audio.samples, rate, edits), rate)
    digest = store.put(data)
    return Outcome(
        result={
            "heard": {name: getattr(sample, name) for name in _HEARD},
            "revision_id": revision.id,
            "revision": revision.number,
            "hit": take.hit,
            "overrides": take.overrides,
            "engine_version": ENGINE_VERSION,
            "cpu_family": cpu_family(),
            "sample_rate": rate,
            "same": data == kept or _same_but_for_rounding(present, audio.samples),
            "likeness": _far(before, after),
            "before": _figures(before),
            "after": _figures(after),
            "measured": _written(measured_values(after)),
        },
        file_digest=digest,
    )


# -120 dBFS: what another kind of processor may make of the same sums.
_ROUNDING = 1e-6


def _same_but_for_rounding(first: Signal, other: Signal) -> bool:
    """Whether two renders are the same: to the bit on one kind of processor, and within -120 dBFS
    between kinds."""
    return first.shape == other.shape and bool(np.abs(first - other).max(initial=0.0) < _ROUNDING)


def _far(before: Audio, after: Audio) -> float:
    """Distance in features, 0 where there is no difference."""
    first, other = (features(one.samples, one.sample_rate).vector for one in (before, after))
    return float(feature_distances(other[None], first)[0])


def _figures(audio: Audio) -> dict[str, Any]:
    found: Measures = measure(audio.samples, audio.sample_rate)
    return {name: value for name, value in asdict(found).items() if name in _FIGURES}


def _written(values: dict[str, Any]) -> dict[str, Any]:
    """Measured values as JSON has them."""
    return {
        name: base64.b64encode(value).decode() if isinstance(value, bytes) else value
        for name, value in values.items()
    }


def _read(values: dict[str, Any]) -> dict[str, Any]:
    return {
        name: base64.b64decode(value) if name in ("features", "outline") else value
        for name, value in values.items()
    }


def heard_render(
    session: Session, store: AudioStore, account: CurrentAccount, job_id: int, position: int
) -> bytes:
    """A new render as WAV bytes, with the edits of its sample: what one would hear of it."""
    item = item_at(session, own_job(session, account, job_id), position)
    if item.file_digest is None or item.result is None:
        raise NotFound("Nothing was rendered here")
    signal, rate = decode_wav(store.get(item.file_digest))
    heard = apply_edits(signal, rate, SoundEdits.of(item.result["heard"]["edits"]))
    return encode_wav(heard, rate, sample_format="float32")


def replace_by_rerender(
    session: Session, account: CurrentAccount, job_id: int, sample_ids: Collection[int]
) -> Replaced:
    """Put new renders in the place of samples' audio, in one go that can be undone.

    What is put there is what was rendered before, with its revision, whatever was kept since. A
    sample whose audio was changed meanwhile stays as it is. Renders that took their places, or
    differ in nothing, leave the job; the former takes are kept.
    """
    job = own_job(session, account, job_id, lock=True)
    query = select(JobItem).where(JobItem.job_id == job.id, JobItem.state == "done")
    wanted = {
        item.wanted["sample_id"]: item
        for item in session.scalars(query.order_by(JobItem.position))
        if item.wanted["sample_id"] in sample_ids
    }
    there = select(Sample.id).where(Sample.id.in_(wanted), Sample.deleted.is_(None))
    found = samples_for(session, account, session.scalars(there).all(), "sample.edit", lock=True)
    samples = {one.id: one for one in found}
    gesture = secrets.token_hex(8)
    changed, stayed, over = [], [], []
    for sample_id, item in wanted.items():
        sample, made = samples.get(sample_id), item.result or {}
        if sample is None:
            stayed.append((sample_id, "is in the bin"))
        elif any(getattr(sample, name) != made["heard"][name] for name in _HEARD):
            stayed.append((sample_id, "has changed since it was rendered; render it again"))
        else:
            over.append(item.id)
            if not made["same"]:
                _replace(session, account, sample, item, gesture)
                changed.append(sample)
    mark_changed(changed)
    session.execute(delete(JobItem).where(JobItem.id.in_(over)))
    if not session.scalar(select(exists().where(JobItem.job_id == job.id))):
        session.delete(job)
    return Replaced(gesture if changed else None, len(changed), stayed)


def _replace(
    session: Session, account: CurrentAccount, sample: Sample, item: JobItem, gesture: str
) -> None:
    made = item.result or {}
    take = Take(
        revision_id=made["revision_id"],
        hit=made["hit"],
        overrides=made.get("overrides"),
        engine_version=made["engine_version"],
        # Work that an earlier version began does not have it.
        cpu_family=made.get("cpu_family"),
        sample_rate=made["sample_rate"],
        file_digest=item.file_digest,
        created_by_id=account.id,
    )
    session.add(take)
    session.flush()
    label = f"Rendered again, revision {made['revision']}, {made['sample_rate']} Hz"
    values = {"file_digest": item.file_digest, "take_id": take.id}
    record_change(session, account, sample, values, gesture=gesture, label=label)
    for name, value in _read(made["measured"]).items():
        setattr(sample, name, value)
