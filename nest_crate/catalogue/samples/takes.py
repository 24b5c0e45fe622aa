"""Takes and samples: rendered, stored, then catalogued, in this order."""

from __future__ import annotations

import re
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from pathlib import Path

from sqlalchemy import func, select
from sqlalchemy.orm import Session, defer, joinedload

from nest_crate.catalogue.db.batch_models import BatchMember
from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.job_models import JobItem
from nest_crate.catalogue.db.models import Recording, Sample, Sound, SoundRevision, Take
from nest_crate.catalogue.db.shared_models import ReleaseItem, Wish
from nest_crate.catalogue.db.tryout_models import KeptMix
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import lock_library, require_library
from nest_crate.catalogue.people.permissions import Action
from nest_crate.catalogue.people.vocabulary import Vocabulary, load_vocabulary
from nest_crate.catalogue.samples.fields import tags_among
from nest_crate.catalogue.samples.measurement import heard_audio, measure_into
from nest_crate.catalogue.samples.name_templates import clean_path
from nest_crate.catalogue.sounds.sounds import keep_revision, require_sound, save_draft
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.engine import (
    ENGINE_VERSION,
    Audio,
    RenderSettings,
    cpu_family,
    render,
)
from nest_crate.core.formats.wav import WavFormat, decode_wav, encode_wav
from nest_crate.core.sound import Hit
from nest_crate.core.sound import Sound as SoundDocument
from nest_crate.storage import AudioStore
from nest_crate.storage.decoder import decode_file
from nest_crate.storage.stored_recordings import StoredRecordings

__all__ = [
    "WITHOUT_PICTURES",
    "WITH_LINEAGE",
    "ImportedSample",
    "import_sample",
    "keep_take",
    "keep_takes",
    "require_sample",
    "sample_file",
    "samples_of",
    "sweep_orphans",
]


def keep_take(
    database: Database,
    store: AudioStore,
    account: CurrentAccount,
    sound_id: int,
    *,
    base_version: int,
    document: SoundDocument,
    hit: Hit,
    library_id: int,
    name: str,
    sample_rate: int = 48000,
) -> int:
    """As ``keep_takes`` for one hit; answers the new sample's id."""
    return keep_takes(
        database,
        store,
        account,
        sound_id,
        base_version=base_version,
        document=document,
        hits=[hit],
        library_id=library_id,
        name=name,
        sample_rate=sample_rate,
    )[0]


def keep_takes(
    database: Database,
    store: AudioStore,
    account: CurrentAccount,
    sound_id: int,
    *,
    base_version: int,
    document: SoundDocument,
    hits: Sequence[Hit],
    library_id: int,
    name: str,
    sample_rate: int = 48000,
    rendered: Callable[[Hit], Audio] | None = None,
) -> list[int]:
    """Render hits at final quality, store the files, then save draft, revision, takes and samples
    at once; answers the new samples' ids.

    Several hits are one variation group under the name, numbered from 1. Permission and version
    are asked before the work and again with the rows; where anything fails nothing is catalogued,
    and a file without rows is swept later.

    Parameters
    ----------
    rendered
        renders a hit elsewhere; here where None.
    """
    with database.session() as session:
        require_library(session, account, library_id, "sample.add")
        require_sound(session, account, sound_id, "sound.edit")
    settings = RenderSettings(sample_rate=sample_rate, recordings=StoredRecordings(store))
    stored = []
    for hit in hits:
        audio = rendered(hit) if rendered else render(document, hit, settings)
        # Single precision keeps what is over full scale, and 24 bits exactly.
        data = encode_wav(audio.samples, audio.sample_rate, sample_format="float32")
        stored.append((hit, store.put(data), _measured(audio)))
    with database.session() as session:
        sound = save_draft(session, account, sound_id, base_version=base_version, document=document)
        require_library(session, account, library_id, "sample.add")
        revision = keep_revision(session, account, sound)
        return [
            _catalogue(session, account, sound, revision, library_id, one, name, number, len(hits))
            for number, one in enumerate(stored, 1)
        ]


def _measured(audio: Audio) -> Sample:
    sample = Sample()
    measure_into(sample, audio)
    return sample


def _catalogue(
    session: Session,
    account: CurrentAccount,
    sound: Sound,
    revision: SoundRevision,
    library_id: int,
    stored: tuple[Hit, str, Sample],
    name: str,
    number: int,
    count: int,
) -> int:
    """The rows of one take: take and sample."""
    hit, digest, sample = stored
    take = Take(
        revision_id=revision.id,
        hit=hit.model_dump(mode="json"),
        engine_version=ENGINE_VERSION,
        cpu_family=cpu_family(),
        sample_rate=sample.sample_rate,
        file_digest=digest,
        created_by_id=account.id,
    )
    session.add(take)
    session.flush()
    name = name.strip()
    sample.library_id, sample.file_digest, sample.take_id = library_id, digest, take.id
    sample.name = name if count == 1 else f"{name[:115]} {number:02}"
    sample.category, sample.tags = sound.category, list(sound.tags)
    sample.author = account.name
    sample.created_by_id = account.id
    sample.root_note = hit.note
    if hit.loop_s > 0.0:
        sample.loop_start_s, sample.loop_end_s = 0.0, sample.length_s
    if count > 1:
        sample.variation_group, sample.variation = name[:80], number
    session.add(sample)
    session.flush()
    return sample.id


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
    vocabulary: Vocabulary | None = None,
    once: bool = False,
) -> ImportedSample:
    """Read an audio file into a library as a sample, measured on arrival.

    With ``once``, where the library has a sample with the same audio already, that one is answered
    and nothing is added.

    Raises
    ------
    FormatError
        naming what is wrong with the file; nothing is catalogued then.
    """
    with database.session() as session:
        require_library(session, account, library_id, "sample.add")
    decoded = decode_file(path)
    digest = store.put(decoded.data)
    if once:
        # Looked for before it is measured, which takes its time.
        with database.session() as session:
            there = _with_audio(session, library_id, digest)
        if there is not None:
            return ImportedSample(there, new=False)
    sample = _measured(Audio(*decode_wav(decoded.data)))
    with database.session() as session:
        if once:
            # And again where nobody else brings it in at this moment.
            lock_library(session, library_id)
            there = _with_audio(session, library_id, digest)
            if there is not None:
                return ImportedSample(there, new=False)
        require_library(session, account, library_id, "sample.add")
        sample.library_id, sample.file_digest = library_id, digest
        sample.name = _name_of(name, decoded.title)[:120] or "Sample"
        sample.created_by_id = account.id
        sample.details = decoded.details()
        # What the file says of itself is taken over; its kind only in words of the vocabulary.
        sample.description = decoded.comment
        sample.author, sample.licence = decoded.author, decoded.licence
        sample.tags = tags_among(decoded.tags)
        sample.tempo_bpm = decoded.tempo_bpm
        words = vocabulary or load_vocabulary()
        sample.category, sample.subcategory = words.of_genre(decoded.genre) or words.guess(name)
        sample.root_note, sample.follows_key = decoded.root_note, decoded.follows_key
        sample.variation_group, sample.variation = decoded.variation_group, decoded.variation
        sample.loop_start_s, sample.loop_end_s = decoded.loop_start_s, decoded.loop_end_s
        session.add(sample)
        session.flush()
        return ImportedSample(sample.id, new=True)


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


def samples_of(session: Session, account: CurrentAccount, library_id: int) -> Sequence[Sample]:
    """All samples of a library by name, each with its take and revision."""
    require_library(session, account, library_id)
    query = (
        select(Sample)
        .where(Sample.library_id == library_id, Sample.deleted.is_(None))
        .options(*WITH_LINEAGE)
        .order_by(Sample.name, Sample.id)
    )
    return session.scalars(query).all()


# What is shown of a sample is read in one go; the documents of revisions, which are large, are not.
WITH_LINEAGE = (
    joinedload(Sample.take)
    .joinedload(Take.revision)
    .load_only(SoundRevision.sound_id, SoundRevision.number),
    joinedload(Sample.created_by),
    joinedload(Sample.library),
)
# What is only looked at in numbers and words goes without what is drawn or compared.
WITHOUT_PICTURES = (defer(Sample.outline), defer(Sample.features))


def require_sample(
    session: Session,
    account: CurrentAccount,
    sample_id: int,
    action: Action = "library.see",
    *,
    lock: bool = False,
) -> Sample:
    """The sample, where the account may do the action in its library."""
    sample = session.get(Sample, sample_id, with_for_update=lock)
    if sample is None:
        raise NotFound(f"There is no sample {sample_id}")
    require_library(session, account, sample.library_id, action)
    return sample


def sample_file(
    store: AudioStore, sample: Sample, *, sample_rate: int, sample_format: WavFormat
) -> bytes:
    """What is heard of a sample as WAV bytes at a rate and in a number format."""
    heard = heard_audio(store, sample)
    return encode_wav(
        resample(heard.samples, heard.sample_rate, sample_rate),
        sample_rate,
        sample_format=sample_format,
    )


def sweep_orphans(database: Database, store: AudioStore, *, older_than_s: float = 3600.0) -> int:
    """Remove stored files that nothing points to any more; answer how many.

    A file is stored before its rows, so one younger than ``older_than_s`` is let be.
    """
    stored = store.digests(older_than_s=older_than_s)
    with database.session() as session:
        used = set(session.scalars(select(Take.file_digest)))
        used |= set(session.scalars(select(Sample.file_digest)))
        used |= set(session.scalars(select(Recording.digest)))
        used |= set(session.scalars(select(ReleaseItem.file_digest)))
        used |= set(session.scalars(select(KeptMix.file_digest)))
        used |= _used_by_mixes(session)
        used |= {one for one in session.scalars(select(BatchMember.file_digest)) if one is not None}
        used |= {one for one in session.scalars(select(JobItem.file_digest)) if one is not None}
        used |= set(
            session.scalars(select(Wish.reference_digest).where(Wish.reference_digest != ""))
        )
    return sum(store.remove_if_older(digest, older_than_s) for digest in stored - used)


def _used_by_mixes(session: Session) -> set[str]:
    """Files of samples that kept mixes were made of, though a sample may have another by now."""
    return {
        sample["digest"]
        for made_of in session.scalars(select(KeptMix.made_of))
        for part in made_of
        for sample in part.get("samples", ())
    }
