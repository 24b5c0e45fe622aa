"""Samples as files: in open formats, at a rate, under names by template, with lists and sums.

The same export is the same bytes: nothing in it knows the time of day or comes by chance.
"""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from types import MappingProxyType
from typing import Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.db.shared_models import Comment
from nest_crate.catalogue.people.accounts import field_error
from nest_crate.catalogue.releases.manifests import (
    ExportedFile,
    instrument_row,
    manifest_row,
    manifests,
)
from nest_crate.catalogue.samples.measurement import heard_audio
from nest_crate.catalogue.samples.name_templates import clean_path, fill_template
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.formats.file_formats import FileFormat, audio_file, ending_of
from nest_crate.core.formats.sfz import Region, sfz_text
from nest_crate.core.formats.tagged import Mark, SoundFacts
from nest_crate.storage import AudioStore

__all__ = [
    "ExportPlan",
    "FilePlan",
    "SaidBeside",
    "export_files",
    "facts_of",
    "file_of",
    "instruments",
    "paths_of",
    "said_beside",
    "widened",
]

# What every system and archive takes, with room for the folder that it is unpacked into.
_LONGEST_PATH = 200
_LONGEST_LABEL = 250


class FilePlan(BaseModel):
    """What files are wanted. ``template`` may hold slashes, which make folders."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    file_format: FileFormat = "wav24"
    sample_rate: Literal[0, 44100, 48000, 88200, 96000, 192000] = Field(
        default=48000, description="0 keeps each sample's own"
    )
    channels: Literal["as_is", "mono", "stereo"] = "as_is"
    dither: bool = True
    template: str = Field(default="{category}/{name}", min_length=1, max_length=200)
    manifest: Literal["none", "csv", "json", "both"] = "both"
    sfz: bool = Field(default=False, description="An instrument for each variation group")


class ExportPlan(FilePlan):
    """What is wanted of a selection of samples."""

    sample_ids: list[int] = Field(min_length=1, max_length=5000)


@dataclass(frozen=True)
class SaidBeside:
    """What a file says of a sample beside its row: named moments, another program's iXML."""

    marks: tuple[Mark, ...] = ()
    ixml: str = ""


_NOTHING = SaidBeside()
_DAY = re.compile(r"\d{4}-\d\d-\d\d")


def facts_of(sample: Sample, beside: SaidBeside = _NOTHING) -> SoundFacts:
    """What a file of a sample says about it."""
    said = sample.details or {}
    imported = str(said.get("date", ""))
    return SoundFacts(
        title=sample.name,
        description=sample.description,
        author=sample.author,
        licence=sample.licence,
        date=imported if _DAY.fullmatch(imported) else sample.created.date().isoformat(),
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
        follows_key=bool(sample.follows_key),
        reference=f"nest-crate-{sample.id}",
        loudness_lufs=sample.loudness_lufs,
        true_peak_db=sample.true_peak_db,
        key=str(said.get("key", "")),
        source_reference=str(said.get("reference", "")),
        marks=beside.marks,
        ixml=beside.ixml,
    )


def widened(signal: Signal, channels: str) -> Signal:
    """A signal as mono or stereo, or as it is."""
    if channels == "mono" and signal.shape[0] == 2:
        return np.asarray(signal.mean(axis=0, keepdims=True))
    if channels == "stereo" and signal.shape[0] == 1:
        return np.asarray(np.repeat(signal, 2, axis=0))
    return signal


def file_of(
    store: AudioStore, sample: Sample, plan: FilePlan, beside: SaidBeside = _NOTHING
) -> bytes:
    """The bytes of a sample as the plan wants it."""
    heard = heard_audio(store, sample)
    rate = plan.sample_rate or heard.sample_rate
    signal = widened(resample(heard.samples, heard.sample_rate, rate), plan.channels)
    return audio_file(signal, rate, plan.file_format, facts_of(sample, beside), dither=plan.dither)


def paths_of(
    samples: Sequence[Sample], template: str, file_format: FileFormat = "wav24"
) -> dict[int, str]:
    """Where each sample's file lies, by id; no two alike, whatever the system makes of letters.

    Raises
    ------
    DocumentError
        at ``template``: what is wrong with it, or that a path becomes too long.
    """
    ending = ending_of(file_format)
    taken: set[str] = set()
    paths = {}
    for number, sample in enumerate(samples, 1):
        plain = clean_path(fill_template(template, sample, number))
        path, turn = f"{plain}.{ending}", 1
        while path.lower() in taken:
            turn += 1
            path = f"{plain}_{turn}.{ending}"
        if len(path) > _LONGEST_PATH:
            raise field_error(
                "template",
                f"{sample.name!r} would lie under a path of {len(path)} letters; "
                f"{_LONGEST_PATH} at most",
            )
        taken.add(path.lower())
        paths[sample.id] = path
    return paths


def said_beside(session: Session, samples: Sequence[Sample]) -> dict[int, SaidBeside]:
    """What was remarked at moments of samples, which are cue points of their files, and the iXML
    that came with them; by their ids."""
    ids = [one.id for one in samples]
    remarks = (
        select(Comment)
        .where(Comment.sample_id.in_(ids), Comment.at_s.is_not(None))
        .order_by(Comment.at_s, Comment.id)
    )
    marks: dict[int, list[Mark]] = defaultdict(list)
    for one in session.scalars(remarks):
        marks[one.sample_id].append(Mark(one.at_s or 0.0, one.text[:_LONGEST_LABEL]))
    trees = select(Sample.id, Sample.ixml).where(Sample.id.in_(ids), Sample.ixml.is_not(None))
    ixml = {row.id: row.ixml for row in session.execute(trees)}
    return {
        one: SaidBeside(tuple(marks[one]), ixml.get(one, ""))
        for one in ids
        if one in marks or one in ixml
    }


def export_files(
    store: AudioStore,
    samples: Sequence[Sample],
    plan: FilePlan,
    beside: Mapping[int, SaidBeside] = MappingProxyType({}),
) -> Iterator[ExportedFile]:
    """The files of an export, one after the other, lists last.

    The samples are read with their lineage (``samples_for``), so that no connection to the
    database is held while someone's slow line takes the files.
    """
    paths = paths_of(samples, plan.template, plan.file_format)
    rows = []
    for sample in samples:
        data = file_of(store, sample, plan, beside.get(sample.id, _NOTHING))
        made = ExportedFile(paths[sample.id], data, sample)
        rows.append(manifest_row(sample, made.path, made.digest, len(made.data)))
        yield made
    for made in instruments(samples, paths, plan) if plan.sfz else ():
        name = made.path.removesuffix(".sfz")
        rows.append(instrument_row(name, made.path, made.digest, len(made.data)))
        yield made
    yield from manifests(rows, plan.manifest)


def instruments(
    samples: Sequence[Sample], paths: dict[int, str], plan: FilePlan
) -> Iterator[ExportedFile]:
    """An SFZ instrument for each variation group, of files that lie at these paths by id."""
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


def _region(sample: Sample, path: str, plan: FilePlan) -> Region:
    hit = sample.take.hit if sample.take else {}
    rate = plan.sample_rate or sample.sample_rate
    loop = facts_of(sample).loop_frames(rate, round(sample.length_s * rate))
    root = sample.root_note if sample.root_note is not None else hit.get("note", 60)
    return Region(path, int(root), hit.get("velocity"), sample.follows_key, loop=loop)
