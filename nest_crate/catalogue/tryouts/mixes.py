"""Mixes of try-outs that are kept as samples, with all that made them."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.database import Database
from nest_crate.catalogue.db.errors import NotAllowed, NotFound
from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.db.tryout_models import KeptMix
from nest_crate.catalogue.people.accounts import CurrentAccount
from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.samples.measurement import measure_into
from nest_crate.catalogue.samples.takes import require_sample
from nest_crate.catalogue.sounds.sounds import keep_revision, require_sound
from nest_crate.catalogue.tryouts.playing import Played, what_is_played
from nest_crate.catalogue.tryouts.tryouts import save_draft
from nest_crate.core.engine import ENGINE_VERSION, Audio, cpu_family
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.tryout import Part, PlaysSound, TryOut, dump_tryout
from nest_crate.storage import AudioStore

__all__ = ["KeptMixOf", "keep_mix", "mix_of_sample"]


@dataclass(frozen=True)
class KeptMixOf:
    """What made a mix: the try-out it was kept of, and what each part played."""

    tryout_id: int
    tryout_name: str
    made_of: list[dict[str, Any]]
    document: dict[str, Any]


def keep_mix(
    database: Database,
    store: AudioStore,
    account: CurrentAccount,
    tryout_id: int,
    *,
    base_version: int,
    document: TryOut,
    library_id: int,
    name: str,
    audio: Audio,
) -> tuple[int, int]:
    """Store a mix, then save draft, lineage and sample at once; answers the sample's id and the
    try-out's version.

    Drafts that the account may edit are kept as revisions; others are written down as they are.
    """
    data = encode_wav(audio.samples, audio.sample_rate, sample_format="float32")
    digest = store.put(data)
    sample = Sample()
    measure_into(sample, audio)
    with database.session() as session:
        tryout = save_draft(
            session, account, tryout_id, base_version=base_version, document=document
        )
        require_library(session, account, library_id, "sample.add")
        played = what_is_played(session, account, document)
        made_of = [_made_of(session, account, part, played) for part in document.parts]
        sample.library_id, sample.file_digest = library_id, digest
        sample.name, sample.author = name.strip(), account.name
        sample.created_by_id = account.id
        sample.tempo_bpm = document.tempo_bpm
        if document.loop:
            sample.loop_start_s, sample.loop_end_s = 0.0, document.length_s
        session.add(sample)
        session.flush()
        mix = KeptMix(
            tryout_id=tryout_id,
            document=dump_tryout(document),
            made_of=made_of,
            engine_version=ENGINE_VERSION,
            cpu_family=cpu_family(),
            sample_rate=audio.sample_rate,
            sample_id=sample.id,
            file_digest=digest,
            created_by_id=account.id,
        )
        session.add(mix)
        return sample.id, tryout.draft_version


def _made_of(
    session: Session, account: CurrentAccount, part: Part, played: Played
) -> dict[str, Any]:
    """What one part played, complete, so that nothing that changes later changes the mix."""
    found: dict[str, Any] = {"part": part.id, "name": part.name}
    if not isinstance(part.plays, PlaysSound):
        heard = [one for one in part.sample_ids if one in played.samples]
        samples = [played.samples[one] for one in heard]
        found["samples"] = [
            {"sample": key, "name": one.name, "digest": one.digest, "edits": one.edits}
            for key, one in zip(heard, samples, strict=True)
        ]
        return found
    sound = played.sounds.get(part.plays.key)
    if sound is None:
        return found
    number = part.plays.revision or _kept_revision(session, account, part.plays.sound)
    return {**found, "sound": part.plays.sound, "revision": number, "document": sound.document}


def _kept_revision(session: Session, account: CurrentAccount, sound_id: int) -> int | None:
    try:
        sound = require_sound(session, account, sound_id, "sound.edit")
    except (NotAllowed, NotFound):
        return None
    return keep_revision(session, account, sound).number


def mix_of_sample(session: Session, account: CurrentAccount, sample_id: int) -> KeptMixOf | None:
    """What made a sample that was kept of a try-out; None where it was not."""
    require_sample(session, account, sample_id)
    mix = session.scalar(select(KeptMix).where(KeptMix.sample_id == sample_id))
    if mix is None:
        return None
    name = str(mix.document["name"])
    # Documents of sounds in libraries that the account may not see are not shown to it.
    made_of = [{key: one[key] for key in one if key != "document"} for one in mix.made_of]
    return KeptMixOf(mix.tryout_id, name, made_of, mix.document)
