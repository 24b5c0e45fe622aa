"""What stands on a side of a comparison: a sample, a sound, a draft, a recording."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from typing import Any, Literal

from sqlalchemy import select
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import Recording, SoundRevision
from nest_crate.catalogue.people.accounts import CurrentAccount, field_error
from nest_crate.catalogue.samples.takes import require_sample
from nest_crate.catalogue.sounds.hearing import may_hear
from nest_crate.catalogue.sounds.sounds import current_document, require_sound
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.core.sound.recordings import recordings_in

__all__ = ["ChosenSide", "FoundSide", "SideKind", "chosen_side"]

SideKind = Literal["sample", "sound", "draft", "recording"]


@dataclass(frozen=True)
class ChosenSide:
    """What was chosen: a sample or sound by its ``id`` (a sound perhaps as a kept ``revision``), a
    ``document`` that is not saved, a recording by its ``digest``. Without ``effects`` all of a
    sound's processors are off."""

    kind: SideKind
    id: int | None = None
    revision: int | None = None
    document: dict[str, Any] | None = None
    digest: str | None = None
    effects: bool = True


@dataclass(frozen=True)
class FoundSide:
    """What is rendered or read for it. ``key`` names it for results that are kept; it changes where
    another thing would be heard."""

    name: str
    detail: str
    key: str
    library_id: int | None
    given: dict[str, Any] = field(repr=False)
    category: str = ""
    subcategory: str = ""


def chosen_side(session: Session, account: CurrentAccount, side: ChosenSide) -> FoundSide:
    """A side as the account may hear it.

    Raises
    ------
    NotFound
        where it is not there, or the account may not hear it.
    DocumentError
        where a draft does not fit, or what names a side is missing.
    """
    if side.kind == "sample":
        return _sample(session, account, _needed(side.id, "id"))
    if side.kind == "sound":
        return _dry(_sound(session, account, _needed(side.id, "id"), side.revision), side)
    if side.kind == "draft":
        document = dump_sound(load_sound(_needed(side.document, "document")))
        _require_recordings(session, account, document)
        found = FoundSide(document["name"], "draft", "draft", None, {"document": document})
        return _dry(found, side)
    return _recording(session, account, _needed(side.digest, "digest"))


def _dry(found: FoundSide, side: ChosenSide) -> FoundSide:
    """A sound's side as it was chosen: with its processors, or with all of them off."""
    if side.effects:
        return found
    document = dump_sound(load_sound(found.given["document"]))
    chains = [layer["chain"] for layer in document["layers"]]
    chains += [bus[name] for bus in document["buses"] for name in ("chain", "low_chain")]
    for chain in [*chains, document["main"]["chain"]]:
        for processor in chain:
            processor["on"] = False
    return replace(
        found,
        detail=f"{found.detail}, effects off",
        key=f"{found.key} dry",
        given={"document": document},
    )


def _needed(value: Any, name: str) -> Any:
    if value is None:
        raise field_error(name, "is needed for this kind of side")
    return value


def _sample(session: Session, account: CurrentAccount, identifier: int) -> FoundSide:
    sample = require_sample(session, account, identifier)
    if sample.deleted is not None:
        raise NotFound(f"“{sample.name}” is in the bin")
    given = {"digest": sample.file_digest, "edits": dict(sample.edits)}
    edits = "".join(f" {key}={value:g}" for key, value in sorted(sample.edits.items()))
    key = f"sample {sample.id} {sample.file_digest[:12]}{edits}"
    kind = (sample.category, sample.subcategory)
    return FoundSide(sample.name, "sample", key, sample.library_id, given, *kind)


def _sound(
    session: Session, account: CurrentAccount, identifier: int, number: int | None
) -> FoundSide:
    sound = require_sound(session, account, identifier)
    if number is None:
        document, detail = current_document(sound.draft), "as it is now"
        key = f"sound {sound.id} draft {sound.draft_version}"
    else:
        query = select(SoundRevision).where(
            SoundRevision.sound_id == sound.id, SoundRevision.number == number
        )
        revision = session.scalar(query)
        if revision is None:
            raise NotFound(f"“{sound.name}” has no revision {number}")
        document, detail = current_document(revision.document), f"revision {number}"
        key = f"sound {sound.id} revision {number}"
    _require_recordings(session, account, document)
    given = {"document": document}
    return FoundSide(sound.name, detail, key, sound.library_id, given, sound.category)


def _require_recordings(
    session: Session, account: CurrentAccount, document: dict[str, Any]
) -> None:
    wanted = recordings_in(document)
    if wanted - may_hear(session, account, wanted):
        raise NotFound(f"“{document['name']}” uses a recording that you may not hear")


def _recording(session: Session, account: CurrentAccount, digest: str) -> FoundSide:
    if digest not in may_hear(session, account, {digest}):
        raise NotFound("The recording is not there, or you may not hear it")
    query = select(Recording.name).where(
        Recording.digest == digest, Recording.account_id == account.id
    )
    name = session.scalar(query) or "Recording"
    return FoundSide(
        name, "reference", f"recording {digest[:12]}", None, {"digest": digest, "edits": {}}
    )
