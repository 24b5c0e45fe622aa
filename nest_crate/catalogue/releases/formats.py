"""A release in another format than it was made in: made once, kept, the same bytes for all."""

from __future__ import annotations

import dataclasses
import hashlib
import io
import json
from collections.abc import Sequence
from typing import Any

import numpy as np
from pydantic import Field
from sqlalchemy import func, select
from sqlalchemy.exc import IntegrityError
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import NotFound, NotPossible
from nest_crate.catalogue.db.models import Library, Sample
from nest_crate.catalogue.db.shared_models import Release, ReleaseFormat, ReleaseFormatItem
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.releases.exports import FilePlan, instruments, paths_of, widened
from nest_crate.catalogue.releases.manifests import instrument_row
from nest_crate.catalogue.releases.releases import release_by_number, release_manifest
from nest_crate.catalogue.work.progress import Progress, counted, unwatched
from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs, true_peak_db
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.formats.copied_facts import copied_facts
from nest_crate.core.formats.file_formats import audio_file
from nest_crate.core.formats.metadata import read_facts
from nest_crate.core.formats.wav import decode_wav
from nest_crate.storage import AudioStore

__all__ = ["FormatPlan", "format_by_digest", "format_manifest", "make_format"]

_MOST_FORMATS = 20
_AS_RELEASED = ""


class FormatPlan(FilePlan):
    """In what format a release is wanted. Without a template its folders and names stay."""

    template: str = Field(default=_AS_RELEASED, max_length=200)
    loudness_lufs: float | None = Field(
        default=None, ge=-60.0, le=0.0, description="All files are brought to this loudness"
    )
    ceiling_dbtp: float = Field(
        default=-1.0, ge=-20.0, le=0.0, description="True peak that loudness stops at"
    )

    @property
    def digest(self) -> str:
        text = json.dumps(self.model_dump(exclude={"manifest"}), sort_keys=True)
        return hashlib.sha256(text.encode()).hexdigest()


def make_format(
    database: Database,
    store: AudioStore,
    account: CurrentAccount,
    library_id: int,
    number: str,
    plan: FormatPlan,
    *,
    progress: Progress = unwatched,
) -> tuple[str, bool]:
    """A release in a format: the digest it is asked for by, and whether it was made now."""
    with database.session() as session:
        release = release_by_number(session, account, library_id, number)
        if _kept(session, release.id, plan.digest) is not None:
            return plan.digest, False
        count = select(func.count()).where(ReleaseFormat.release_id == release.id)
        if (session.scalar(count) or 0) >= _MOST_FORMATS:
            raise NotPossible(
                f"Release {release.number} is kept in {_MOST_FORMATS} formats already, the most"
            )
        release_id, rows = release.id, [item.facts for item in release.items]
        library = session.get_one(Library, library_id)
        session.expunge(library)
    samples = [_sample_of(row, library) for row in rows]
    paths = _paths(samples, rows, plan)
    made = []
    for row, path in counted(list(zip(rows, paths, strict=True)), progress):
        data, changed = _converted(store.get(row["sha256"]), row, library.name, plan)
        digest = store.put(data)
        facts = {**row, **changed, "path": path, "sha256": digest, "bytes": len(data)}
        made.append(facts)
    if plan.sfz:
        by_id = {row["id"]: path for row, path in zip(rows, paths, strict=True)}
        played = [one for one in samples if one.id > 0]
        for file in instruments(played, by_id, plan):
            digest = store.put(file.data)
            name = file.path.removesuffix(".sfz")
            made.append(instrument_row(name, file.path, digest, len(file.data)))
    _keep(database, account, release_id, plan, made)
    return plan.digest, True


def _keep(
    database: Database,
    account: CurrentAccount,
    release_id: int,
    plan: FormatPlan,
    rows: Sequence[dict[str, Any]],
) -> None:
    text = json.dumps([plan.digest, list(rows)], sort_keys=True, separators=(",", ":"))
    try:
        with database.session() as session:
            kept = ReleaseFormat(
                release_id=release_id,
                plan_digest=plan.digest,
                plan=plan.model_dump(mode="json", exclude={"manifest"}),
                manifest_digest=hashlib.sha256(text.encode()).hexdigest(),
                created_by_id=account.id,
            )
            session.add(kept)
            session.flush()
            session.add_all(
                ReleaseFormatItem(
                    format_id=kept.id,
                    position=position,
                    path=row["path"],
                    file_digest=row["sha256"],
                    size_bytes=row["bytes"],
                    facts=row,
                )
                for position, row in enumerate(rows)
            )
    except IntegrityError:
        # Someone else asked for the same at the same time; the bytes are the same.
        with database.session() as session:
            if _kept(session, release_id, plan.digest) is None:
                raise


def _kept(session: Session, release_id: int, digest: str) -> ReleaseFormat | None:
    query = select(ReleaseFormat).where(
        ReleaseFormat.release_id == release_id, ReleaseFormat.plan_digest == digest
    )
    return session.scalar(query)


def _sample_of(row: dict[str, Any], library: Library) -> Sample:
    """A sample as it was released, for templates and instruments; in no session."""
    return Sample(
        id=row["id"],
        name=row["name"],
        category=row["category"],
        subcategory=row["subcategory"],
        variation_group=row["variation_group"],
        variation=row["variation"],
        author=row["author"],
        root_note=row["root_note"],
        tempo_bpm=row["tempo_bpm"],
        length_s=row["length_s"] or 0.0,
        loop_start_s=row["loop_start_s"],
        loop_end_s=row["loop_end_s"],
        follows_key=bool(row.get("follows_key")),
        sample_rate=0,
        loudness_lufs=0.0,
        true_peak_db=0.0,
        description="",
        licence="",
        tags=[],
        details={},
        created=library.created,
        fundamental_hz=None,
        library=library,
    )


def _paths(
    samples: Sequence[Sample], rows: Sequence[dict[str, Any]], plan: FormatPlan
) -> list[str]:
    if plan.template != _AS_RELEASED:
        by_id = paths_of(samples, plan.template, plan.file_format)
        return [by_id[one.id] for one in samples]
    ending = plan.file_format.rstrip("0123456789")
    return [f"{row['path'].rsplit('.', 1)[0]}.{ending}" for row in rows]


def _converted(
    data: bytes, row: dict[str, Any], library: str, plan: FormatPlan
) -> tuple[bytes, dict[str, Any]]:
    """A released file in the wanted format, and what of its row is different then."""
    signal, rate = decode_wav(data)
    found = read_facts(io.BytesIO(data), signal.shape[1], rate)
    to = plan.sample_rate or rate
    signal = widened(resample(signal, rate, to), plan.channels)
    loudness, peak = row["loudness_lufs"], row["true_peak_db"]
    changed: dict[str, Any] = {}
    if plan.loudness_lufs is not None and np.any(signal):
        loudness, peak = integrated_loudness_lufs(signal, to), true_peak_db(signal)
        gain_db = min(plan.loudness_lufs - loudness, plan.ceiling_dbtp - peak)
        signal = signal * 10.0 ** (gain_db / 20.0)
        loudness, peak = round(loudness + gain_db, 2), round(peak + gain_db, 2)
        changed = {"loudness_lufs": loudness, "true_peak_db": peak}
    facts = dataclasses.replace(
        copied_facts(found, rate),
        library=library,
        reference=f"nest-crate-{row['id']}" if row["id"] > 0 else "",
        loudness_lufs=loudness,
        true_peak_db=peak,
    )
    return audio_file(signal, to, plan.file_format, facts, dither=plan.dither), changed


def format_by_digest(
    session: Session, account: CurrentAccount, library_id: int, number: str, digest: str
) -> tuple[Release, ReleaseFormat]:
    """A release and one of the formats that it is kept in."""
    release = release_by_number(session, account, library_id, number)
    kept = _kept(session, release.id, digest)
    if kept is None:
        raise NotFound(f"Release {release.number} is not kept in this format; ask for it first")
    return release, kept


def format_manifest(release: Release, kept: ReleaseFormat, library_name: str) -> dict[str, Any]:
    """As the manifest of the release, with the files and sums of this format, and the plan."""
    return {
        **release_manifest(release, library_name),
        "digest": kept.manifest_digest,
        "plan": kept.plan,
        "files": [item.facts for item in kept.items],
    }
