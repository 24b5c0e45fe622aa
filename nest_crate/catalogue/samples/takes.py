"""Takes and samples: rendered, stored, then catalogued, in this order."""

from __future__ import annotations

from collections.abc import Callable, Sequence

from sqlalchemy import select
from sqlalchemy.orm import Session, defer, joinedload

from nest_crate.catalogue.db.batch_models import BatchMember
from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.job_models import JobItem
from nest_crate.catalogue.db.models import Recording, Sample, Sound, SoundRevision, Take
from nest_crate.catalogue.db.shared_models import ReleaseFormatItem, ReleaseItem, Wish
from nest_crate.catalogue.db.tryout_models import KeptMix
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.people.permissions import Action
from nest_crate.catalogue.samples.measurement import heard_audio, measured
from nest_crate.catalogue.sounds.sounds import keep_revision, require_sound, save_draft
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.engine import (
    ENGINE_VERSION,
    Audio,
    RenderSettings,
    cpu_family,
    render,
)
from nest_crate.core.formats.wav import WavFormat, encode_wav
from nest_crate.core.sound import Hit
from nest_crate.core.sound import Sound as SoundDocument
from nest_crate.storage import AudioStore
from nest_crate.storage.stored_recordings import StoredRecordings

__all__ = [
    "WITHOUT_PICTURES",
    "WITH_LINEAGE",
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
        stored.append((hit, store.put(data), measured(audio)))
    with database.session() as session:
        sound = save_draft(session, account, sound_id, base_version=base_version, document=document)
        require_library(session, account, library_id, "sample.add")
        revision = keep_revision(session, account, sound)
        return [
            _catalogue(session, account, sound, revision, library_id, one, name, number, len(hits))
            for number, one in enumerate(stored, 1)
        ]


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
        used |= set(session.scalars(select(ReleaseFormatItem.file_digest)))
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
