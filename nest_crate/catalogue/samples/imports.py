"""Audio files read into a library as samples, with what they and their paths say of them."""

from __future__ import annotations

import re
import secrets
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from pydantic import BaseModel, ConfigDict, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.db.shared_models import Comment
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import lock_library, require_library
from nest_crate.catalogue.people.vocabularies import Vocabularies
from nest_crate.catalogue.people.vocabulary import Vocabulary
from nest_crate.catalogue.samples.edits import record_change, samples_for
from nest_crate.catalogue.samples.fields import MOST_TAGS, tags_among
from nest_crate.catalogue.samples.measurement import measured
from nest_crate.catalogue.samples.name_patterns import name_pattern
from nest_crate.catalogue.samples.name_templates import clean_path
from nest_crate.core.engine import Audio
from nest_crate.core.formats.wav import decode_wav
from nest_crate.storage import AudioStore
from nest_crate.storage.decoder import DecodedFile, decode_file

__all__ = ["ImportRules", "ImportedSample", "import_sample"]

_LONGEST_FOLDER = 255


class ImportRules(BaseModel):
    """How a file's path and words become the fields of a sample."""

    model_config = ConfigDict(extra="forbid", frozen=True)

    once: bool = Field(default=False, description="Not where the library has the same audio")
    merge: bool = Field(
        default=False,
        description="Where the library has the same audio, what that sample lacks is taken over",
    )
    folder: str = Field(
        default="", max_length=_LONGEST_FOLDER, description="Folder that the file lay in"
    )
    template: str = Field(
        default="",
        max_length=200,
        description="How names are read, for example {category}_{name}_{variation}",
    )
    titles: bool = Field(default=False, description="The title in the file becomes the name")
    folder_tags: bool = Field(default=False, description="Names of folders become tags")
    folder_category: bool = Field(
        default=True, description="Names of folders may say the category, where nothing else does"
    )


@dataclass(frozen=True)
class ImportedSample:
    """A sample that holds a file's audio, and whether it was made for it."""

    sample_id: int
    new: bool


def import_sample(
    database: Database,
    store: AudioStore,
    account: CurrentAccount,
    library_id: int,
    *,
    name: str,
    path: Path,
    vocabularies: Vocabularies | None = None,
    rules: ImportRules | None = None,
) -> ImportedSample:
    """Read an audio file into a library as a sample, measured on arrival.

    With ``rules.once``, where the library has a sample with the same audio already, that one is
    answered and nothing is added; with ``rules.merge`` it takes over what it lacks.

    Raises
    ------
    FormatError
        naming what is wrong with the file; nothing is catalogued then.
    DocumentError
        at ``template``, where names cannot be read by it.
    """
    rules = rules or ImportRules()
    if rules.template:
        name_pattern(rules.template)
    once = rules.once or rules.merge
    with database.session() as session:
        require_library(session, account, library_id, "sample.add")
        words = (vocabularies or Vocabularies()).of(session, library_id)
    decoded = decode_file(path)
    digest = store.put(decoded.data)
    values = _values(name, decoded, rules, words)

    def twin(session: Session) -> ImportedSample | None:
        there = _with_audio(session, library_id, digest) if once else None
        if there is None:
            return None
        if rules.merge:
            _merge_words(session, account, there, values)
        return ImportedSample(there, new=False)

    # Looked for before it is measured, which takes its time.
    with database.session() as session:
        there = twin(session)
    if there is not None:
        return there
    sample = measured(Audio(*decode_wav(decoded.data)))
    with database.session() as session:
        if once:
            # And again where nobody else imports it at this moment.
            lock_library(session, library_id)
            there = twin(session)
            if there is not None:
                return there
        require_library(session, account, library_id, "sample.add")
        sample.library_id, sample.file_digest = library_id, digest
        sample.created_by_id = account.id
        sample.details, sample.ixml = decoded.details(), decoded.ixml or None
        for field, value in values.items():
            setattr(sample, field, value)
        session.add(sample)
        session.flush()
        session.add_all(
            Comment(sample_id=sample.id, account_id=account.id, at_s=at_s, text=label)
            for at_s, label in decoded.marks
            if at_s <= sample.length_s
        )
        return ImportedSample(sample.id, new=True)


def _values(
    name: str, decoded: DecodedFile, rules: ImportRules, words: Vocabulary
) -> dict[str, Any]:
    """The fields of a sample: what the file says, and what its path does by the rules. What a
    template reads comes before what the file says; kinds only in words of the vocabulary."""
    folder = clean_path(rules.folder) if rules.folder.strip("/ ") else ""
    below = f"{folder}/{name}" if folder else name
    read = (name_pattern(rules.template).read(below) if rules.template else None) or {}
    titled = decoded.title if rules.titles else ""
    given = read.get("name") or titled or _name_of(name, decoded.title)
    kind = _kind(read, words) or words.of_genre(decoded.genre) or words.guess(name)
    if not kind[0] and rules.folder_category:
        kind = words.guess(folder.replace("/", " "))
    tags = [*read.get("tags", ()), *decoded.tags]
    if rules.folder_tags:
        tags += [one for one in folder.split("/") if one]
    return {
        "name": given[:120].strip() or "Sample",
        "description": decoded.comment,
        "author": (read.get("author") or decoded.author)[:120],
        "licence": decoded.licence,
        "tags": tags_among(tags),
        "tempo_bpm": _tempo(read) or decoded.tempo_bpm,
        "category": kind[0],
        "subcategory": kind[1],
        "root_note": read.get("root_note") or decoded.root_note,
        "follows_key": decoded.follows_key,
        "variation_group": (read.get("variation_group") or decoded.variation_group)[:80],
        "variation": read.get("variation") or decoded.variation,
        "loop_start_s": decoded.loop_start_s,
        "loop_end_s": decoded.loop_end_s,
        "folder": folder[:_LONGEST_FOLDER],
    }


def _kind(read: Mapping[str, Any], words: Vocabulary) -> tuple[str, str] | None:
    """Category and subcategory as a name says them, in words of the vocabulary or their hints."""
    if "category" not in read:
        return None
    said = f"{read['category']} / {read.get('subcategory', '')}"
    known = words.of_genre(said)
    if known is None:
        known = words.guess(read["category"])
    return known if known[0] else None


def _tempo(read: Mapping[str, Any]) -> float | None:
    tempo = read.get("tempo_bpm")
    return tempo if tempo is not None and 20.0 <= tempo <= 400.0 else None


def _merge_words(
    session: Session, account: CurrentAccount, sample_id: int, values: Mapping[str, Any]
) -> None:
    """A sample takes over from another file of its audio what it lacks, and its tags."""
    sample = samples_for(session, account, [sample_id], "sample.edit", lock=True)[0]
    lacking = {
        field: value
        for field, value in values.items()
        if field not in ("name", "tags", "subcategory") and not getattr(sample, field) and value
    }
    if lacking.get("category"):
        lacking["subcategory"] = values["subcategory"]
    lacking["tags"] = list(dict.fromkeys([*sample.tags, *values["tags"]]))[:MOST_TAGS]
    label = f"Took over words of {values['name']}"
    record_change(session, account, sample, lacking, gesture=secrets.token_hex(8), label=label)


def _with_audio(session: Session, library_id: int, digest: str) -> int | None:
    """The first sample of a library with this audio that does not lie in the bin."""
    same = (Sample.library_id == library_id, Sample.file_digest == digest)
    return session.scalar(select(func.min(Sample.id)).where(*same, Sample.deleted.is_(None)))


def _name_of(file_name: str, title: str) -> str:
    """A file's name, or its title where the name was made from it: then the title is complete."""
    stem = re.escape(clean_path(title).rsplit("/", 1)[-1])
    # An export numbers names that would be the same.
    made = title and re.fullmatch(rf"{stem}(_\d+)?", file_name.strip(), re.IGNORECASE)
    return title if made else file_name.strip()
