"""Samples as files: in open formats, at a rate, under names by template, with lists and sums.

The same export is the same bytes: nothing in it knows the time of day or comes by chance.
"""

from __future__ import annotations

import csv
import hashlib
import io
import json
import zipfile
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy.orm import Session

from nest_crate.catalogue.accounts import CurrentAccount
from nest_crate.catalogue.editing import samples_for
from nest_crate.catalogue.measuring import heard_audio
from nest_crate.catalogue.models import Sample
from nest_crate.catalogue.templates import clean_path, fill_template
from nest_crate.core.dsp.signals import Signal
from nest_crate.core.formats.aiff import aiff_file
from nest_crate.core.formats.broadcast_wav import broadcast_wav
from nest_crate.core.formats.packed_files import flac_file, ogg_file
from nest_crate.core.formats.sfz import Region, sfz_text
from nest_crate.core.formats.tagged import Mark, SoundFacts
from nest_crate.core.formats.wav import resample
from nest_crate.storage import AudioStore

__all__ = [
    "ExportPlan",
    "ExportedFile",
    "export_files",
    "facts_of",
    "file_of",
    "manifest_row",
    "paths_of",
    "zip_pieces",
]

FileFormat = Literal["wav16", "wav24", "wav32", "flac16", "flac24", "ogg", "aiff16", "aiff24"]
_ENDINGS = {"wav": "wav", "flac": "flac", "ogg": "ogg", "aiff": "aiff"}


class ExportPlan(BaseModel):
    """What is wanted of a selection. ``template`` may hold slashes, which make folders."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    sample_ids: list[int] = Field(min_length=1, max_length=5000)
    file_format: FileFormat = "wav24"
    sample_rate: Literal[0, 44100, 48000, 88200, 96000, 192000] = Field(
        default=48000, description="0 keeps each sample's own"
    )
    channels: Literal["as_is", "mono", "stereo"] = "as_is"
    dither: bool = True
    template: str = Field(default="{category}/{name}", min_length=1, max_length=200)
    manifest: Literal["none", "csv", "json", "both"] = "both"
    sfz: bool = Field(default=False, description="An instrument for each variation group")


@dataclass(frozen=True)
class ExportedFile:
    """A file of an export, and the sample that it is of; None for lists."""

    path: str
    data: bytes
    sample: Sample | None = None

    @property
    def digest(self) -> str:
        return hashlib.sha256(self.data).hexdigest()


def facts_of(sample: Sample, marks: Sequence[Mark] = ()) -> SoundFacts:
    """What a file of a sample says about it."""
    return SoundFacts(
        title=sample.name,
        description=sample.description,
        author=sample.author,
        licence=sample.licence,
        date=sample.created.date().isoformat(),
        library=sample.library.name,
        category=sample.category,
        subcategory=sample.subcategory,
        tags=tuple(sample.tags),
        root_note=sample.root_note,
        tempo_bpm=sample.tempo_bpm,
        loop_start_s=sample.loop_start_s,
        loop_end_s=sample.loop_end_s,
        variation_group=sample.variation_group,
        variation=sample.variation,
        reference=f"nest-crate-{sample.id}",
        loudness_lufs=sample.loudness_lufs,
        true_peak_db=sample.true_peak_db,
        marks=tuple(marks),
    )


def _widened(signal: Signal, channels: str) -> Signal:
    if channels == "mono" and signal.shape[0] == 2:
        return np.asarray(signal.mean(axis=0, keepdims=True))
    if channels == "stereo" and signal.shape[0] == 1:
        return np.asarray(np.repeat(signal, 2, axis=0))
    return signal


def file_of(store: AudioStore, sample: Sample, plan: ExportPlan) -> bytes:
    """The bytes of a sample as the plan wants it."""
    heard = heard_audio(store, sample)
    rate = plan.sample_rate or heard.sample_rate
    signal = _widened(resample(heard.samples, heard.sample_rate, rate), plan.channels)
    facts = facts_of(sample)
    if plan.file_format == "ogg":
        return ogg_file(signal, rate, facts=facts)
    bits: Literal[16, 24] = 16 if plan.file_format.endswith("16") else 24
    # 24 bits lie below the noise of any listening; only 16 need dither.
    dither = plan.dither and bits == 16
    if plan.file_format.startswith("flac"):
        return flac_file(signal, rate, bits=bits, facts=facts, dither=dither)
    if plan.file_format.startswith("aiff"):
        return aiff_file(signal, rate, bits=bits, facts=facts, dither=dither)
    if plan.file_format == "wav32":
        return broadcast_wav(signal, rate, numbers="float32", facts=facts)
    numbers: Literal["pcm16", "pcm24"] = "pcm16" if bits == 16 else "pcm24"
    return broadcast_wav(signal, rate, numbers=numbers, facts=facts, dither=dither)


def paths_of(samples: Sequence[Sample], plan: ExportPlan) -> dict[int, str]:
    """Where each sample's file lies, by id; no two alike, whatever the system makes of letters."""
    ending = _ENDINGS[plan.file_format.rstrip("0123456789")]
    taken: set[str] = set()
    paths = {}
    for number, sample in enumerate(samples, 1):
        plain = clean_path(fill_template(plan.template, sample, number))
        path, turn = f"{plain}.{ending}", 1
        while path.lower() in taken:
            turn += 1
            path = f"{plain}_{turn}.{ending}"
        taken.add(path.lower())
        paths[sample.id] = path
    return paths


def export_files(
    session: Session, store: AudioStore, account: CurrentAccount, plan: ExportPlan
) -> Iterator[ExportedFile]:
    """The files of an export, one after the other, lists last."""
    samples = samples_for(session, account, plan.sample_ids)
    paths = paths_of(samples, plan)
    rows = []
    for sample in samples:
        made = ExportedFile(paths[sample.id], file_of(store, sample, plan), sample)
        rows.append(manifest_row(sample, made.path, made.digest, len(made.data)))
        yield made
    if plan.sfz:
        yield from _instruments(samples, paths, plan)
    yield from manifests(rows, plan.manifest)


def manifest_row(sample: Sample, path: str, digest: str, size: int) -> dict[str, Any]:
    """One file of a manifest: path, sum, and what is said of the sample."""
    take = sample.take
    return {
        "path": path,
        "sha256": digest,
        "bytes": size,
        "id": sample.id,
        "name": sample.name,
        "category": sample.category,
        "subcategory": sample.subcategory,
        "tags": list(sample.tags),
        "description": sample.description,
        "author": sample.author,
        "licence": sample.licence,
        "length_s": round(sample.length_s, 6),
        "note": sample.note,
        "root_note": sample.root_note,
        "tempo_bpm": sample.tempo_bpm,
        "loudness_lufs": round(sample.loudness_lufs, 2),
        "true_peak_db": round(sample.true_peak_db, 2),
        "variation_group": sample.variation_group,
        "variation": sample.variation,
        "loop_start_s": sample.loop_start_s,
        "loop_end_s": sample.loop_end_s,
        "sound_id": take.revision.sound_id if take else None,
        "sound_revision": take.revision.number if take else None,
        # What is heard, however it is written: the stored file with its edits.
        "audio": f"{sample.file_digest[:32]}{_edits_key(sample)}",
    }


def _edits_key(sample: Sample) -> str:
    """Nothing where a sample has no edits, else a digest of them."""
    if not sample.edits:
        return ""
    text = json.dumps(sample.edits, sort_keys=True)
    return f"-{hashlib.sha256(text.encode()).hexdigest()[:16]}"


def manifests(rows: list[dict[str, Any]], wanted: str) -> Iterator[ExportedFile]:
    """A list of all files as CSV, as JSON, or both."""
    if wanted in ("json", "both"):
        text = json.dumps({"files": rows}, indent=1, ensure_ascii=False)
        yield ExportedFile("manifest.json", f"{text}\n".encode())
    if wanted in ("csv", "both") and rows:
        out = io.StringIO()
        table = csv.writer(out, lineterminator="\n")
        table.writerow(rows[0])
        for row in rows:
            table.writerow([_cell(value) for value in row.values()])
        yield ExportedFile("manifest.csv", out.getvalue().encode())


def _cell(value: Any) -> Any:
    if isinstance(value, list):
        value = "; ".join(value)
    # A table program takes what begins so for a formula; an apostrophe keeps it a text.
    if isinstance(value, str) and value.startswith(("=", "+", "-", "@", "\t", "\r")):
        return f"'{value}"
    return value


def _instruments(
    samples: Sequence[Sample], paths: dict[int, str], plan: ExportPlan
) -> Iterator[ExportedFile]:
    groups: dict[str, list[Sample]] = defaultdict(list)
    for sample in samples:
        groups[sample.variation_group or sample.name].append(sample)
    taken: set[str] = set()
    for title, members in groups.items():
        name = clean_path(title).replace("/", "_")
        while name.lower() in taken:
            name += "_"
        taken.add(name.lower())
        regions = [_region(one, paths[one.id], plan) for one in members]
        yield ExportedFile(f"{name}.sfz", sfz_text(title, regions).encode())


def _region(sample: Sample, path: str, plan: ExportPlan) -> Region:
    hit = sample.take.hit if sample.take else {}
    rate = plan.sample_rate or sample.sample_rate
    loop = facts_of(sample).loop_frames(rate, round(sample.length_s * rate))
    root = sample.root_note if sample.root_note is not None else hit.get("note", 60)
    return Region(path, int(root), hit.get("velocity"), sample.follows_key, loop=loop)


class _Pieces(io.RawIOBase):
    """What an archive writes, to be handed on piece by piece."""

    def __init__(self) -> None:
        self._pieces: list[bytes] = []

    def writable(self) -> bool:
        return True

    def write(self, data: Any) -> int:
        self._pieces.append(bytes(data))
        return len(data)

    def taken(self) -> bytes:
        made = b"".join(self._pieces)
        self._pieces.clear()
        return made


def zip_pieces(files: Iterator[tuple[str, bytes]]) -> Iterator[bytes]:
    """An archive of files as pieces to be sent while it is made; one file is held at a time."""
    out = _Pieces()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_STORED) as archive:
        for path, data in files:
            # The earliest time that the format can tell, whatever the day.
            entry = zipfile.ZipInfo(path, date_time=(1980, 1, 1, 0, 0, 0))
            entry.external_attr = 0o644 << 16
            entry.create_system = 3
            if not path.endswith((".flac", ".ogg", ".wav", ".aiff")):
                entry.compress_type = zipfile.ZIP_DEFLATED
            archive.writestr(entry, data)
            yield out.taken()
    yield out.taken()
