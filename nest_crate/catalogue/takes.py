"""Takes and samples: rendered, stored, then catalogued, in this order."""

from __future__ import annotations

from collections.abc import Sequence
from pathlib import Path

from sqlalchemy import select
from sqlalchemy.orm import Session, joinedload

from nest_crate.catalogue.accounts import CurrentAccount
from nest_crate.catalogue.database import Database
from nest_crate.catalogue.errors import NotFound
from nest_crate.catalogue.libraries import require_library
from nest_crate.catalogue.models import Recording, Sample, Take
from nest_crate.catalogue.recordings import StoredRecordings
from nest_crate.catalogue.sounds import keep_revision, require_sound, save_draft
from nest_crate.core.analysis.drawing import outline
from nest_crate.core.analysis.measures import measure
from nest_crate.core.engine import ENGINE_VERSION, Audio, RenderSettings, StageMemory, render
from nest_crate.core.formats.wav import WavFormat, decode_wav, encode_wav, resample
from nest_crate.core.sound import Hit
from nest_crate.core.sound import Sound as SoundDocument
from nest_crate.storage import AudioStore
from nest_crate.storage.decoding import decode_file

__all__ = [
    "import_sample",
    "keep_take",
    "require_sample",
    "sample_file",
    "samples_of",
    "sweep_orphans",
]

# Columns of the waveform kept with a sample, for lists.
OUTLINE_COLUMNS = 160


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
    memory: StageMemory | None = None,
) -> int:
    """Render at final quality, store the file, then save draft, revision, take and sample at once.

    Returns the new sample's id. Permission and version are asked before the work and again with
    the rows; where anything fails nothing is catalogued, and a file without rows is swept later.
    """
    with database.session() as session:
        require_library(session, account, library_id, "editor")
        require_sound(session, account, sound_id, "editor")
    settings = RenderSettings(recordings=StoredRecordings(store))
    audio = render(document, hit, settings, memory=memory)
    # Single precision keeps what is over full scale, and 24 bits exactly.
    digest = store.put(encode_wav(audio.samples, audio.sample_rate, sample_format="float32"))
    with database.session() as session:
        sound = save_draft(session, account, sound_id, base_version=base_version, document=document)
        require_library(session, account, library_id, "editor")
        revision = keep_revision(session, account, sound)
        take = Take(
            revision_id=revision.id,
            hit=hit.model_dump(mode="json"),
            engine_version=ENGINE_VERSION,
            sample_rate=audio.sample_rate,
            file_digest=digest,
            created_by_id=account.id,
        )
        session.add(take)
        session.flush()
        sample = _sample(audio, digest, library_id, name, account)
        sample.take_id = take.id
        session.add(sample)
        session.flush()
        return sample.id


def import_sample(
    database: Database,
    store: AudioStore,
    account: CurrentAccount,
    library_id: int,
    *,
    name: str,
    path: Path,
) -> int:
    """Read an audio file into a library as a sample, measured on arrival; answers its id.

    Raises
    ------
    FormatError
        naming what is wrong with the file; nothing is catalogued then.
    """
    with database.session() as session:
        require_library(session, account, library_id, "editor")
    decoded = decode_file(path)
    audio = Audio(*decode_wav(decoded.data))
    digest = store.put(decoded.data)
    with database.session() as session:
        require_library(session, account, library_id, "editor")
        sample = _sample(audio, digest, library_id, name[:120] or "Sample", account)
        sample.details = decoded.details()
        session.add(sample)
        session.flush()
        return sample.id


def _sample(
    audio: Audio, digest: str, library_id: int, name: str, account: CurrentAccount
) -> Sample:
    measures = measure(audio.samples, audio.sample_rate)
    return Sample(
        library_id=library_id,
        name=name.strip(),
        file_digest=digest,
        length_s=measures.length_s,
        channels=measures.channels,
        sample_rate=audio.sample_rate,
        peak_db=measures.peak_db,
        true_peak_db=measures.true_peak_db,
        loudness_lufs=measures.loudness_lufs,
        fundamental_hz=measures.fundamental_hz,
        note=measures.note,
        cents=measures.cents,
        outline=outline(audio.samples, OUTLINE_COLUMNS).data.tobytes(),
        created_by_id=account.id,
    )


def samples_of(session: Session, account: CurrentAccount, library_id: int) -> Sequence[Sample]:
    """All samples of a library by name, each with its take and revision."""
    require_library(session, account, library_id)
    query = (
        select(Sample)
        .where(Sample.library_id == library_id)
        .options(joinedload(Sample.take).joinedload(Take.revision), joinedload(Sample.created_by))
        .order_by(Sample.name, Sample.id)
    )
    return session.scalars(query).all()


def require_sample(session: Session, account: CurrentAccount, sample_id: int) -> Sample:
    """The sample, where the account is a member of its library."""
    sample = session.get(Sample, sample_id)
    if sample is None:
        raise NotFound(f"There is no sample {sample_id}")
    require_library(session, account, sample.library_id)
    return sample


def sample_file(
    store: AudioStore, sample: Sample, *, sample_rate: int, sample_format: WavFormat
) -> bytes:
    """A sample as WAV bytes at a rate and in a number format."""
    signal, stored_rate = decode_wav(store.get(sample.file_digest))
    return encode_wav(
        resample(signal, stored_rate, sample_rate), sample_rate, sample_format=sample_format
    )


def sweep_orphans(database: Database, store: AudioStore, *, older_than_s: float = 3600.0) -> int:
    """Remove stored files that no take, sample or recording points to; answer how many.

    A file is stored before its rows, so one younger than ``older_than_s`` is let be.
    """
    stored = store.digests(older_than_s=older_than_s)
    with database.session() as session:
        used = set(session.scalars(select(Take.file_digest)))
        used |= set(session.scalars(select(Sample.file_digest)))
        used |= set(session.scalars(select(Recording.digest)))
    orphans = stored - used
    for digest in orphans:
        store.remove(digest)
    return len(orphans)
