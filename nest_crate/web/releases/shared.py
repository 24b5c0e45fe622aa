"""What a link opens without an account: a release, a sample with all that made it, or a sound."""

from __future__ import annotations

import base64
from dataclasses import replace
from typing import Any

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from nest_crate.catalogue.db.errors import NotFound
from nest_crate.catalogue.db.models import Library, Sample
from nest_crate.catalogue.db.models import Sound as CataloguedSound
from nest_crate.catalogue.db.shared_models import Release, ShareLink
from nest_crate.catalogue.db.tryout_models import TryOut as CataloguedTryOut
from nest_crate.catalogue.people.accounts import account_by_id
from nest_crate.catalogue.releases.links import open_link
from nest_crate.catalogue.releases.releases import release_holds, release_manifest
from nest_crate.catalogue.samples.takes import sample_file
from nest_crate.catalogue.sounds.files import sound_archive
from nest_crate.catalogue.sounds.hearing import files_of_sound
from nest_crate.catalogue.sounds.sounds import current_document
from nest_crate.catalogue.tryouts.playing import Played, what_is_played
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.pictures.outlines import outline
from nest_crate.core.engine import Audio
from nest_crate.core.engine.settings import missing_recording
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.recipe import recipe
from nest_crate.core.sound.recordings import recordings_in
from nest_crate.core.tryout import TryOut, load_tryout
from nest_crate.web import bodies
from nest_crate.web.infra.answers import attachment, moment
from nest_crate.web.infra.context import services
from nest_crate.web.infra.declared_files import WAV, ZIP, file_answer
from nest_crate.web.infra.guard import limiter
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.rendering import audio_in, audio_of, of_sound
from nest_crate.web.releases.releases import release_archive, with_tag
from nest_crate.web.samples.samples import sample_body
from nest_crate.web.tryouts.requests import mix_audio

__all__ = ["api"]

api = APIBlueprint("shared", __name__, url_prefix="/api/shared", abp_tags=[Tag(name="shared")])

_EACH_MINUTE = "120 per minute"
_OUTLINE_COLUMNS = 800


class SecretPath(BaseModel):
    secret: str = Field(max_length=200)


class SharedFilePath(SecretPath):
    digest: str = Field(pattern=r"^[0-9a-f]{64}$")


class SharedSound(BaseModel):
    """A sound as it is now: heard by one hit, whose outline this is."""

    name: str
    tags: list[str]
    description: str
    length_s: float
    loudness_lufs: float
    note: str | None
    outline: bodies.OutlineBody


class SharedTryOut(BaseModel):
    """A try-out as it is now: heard as its mix."""

    name: str
    tempo_bpm: float
    length_s: float
    parts: list[str]


class SharedBody(BaseModel):
    """What the link opens: the manifest of a release, a sample or sound with its recipe and
    document, or a try-out."""

    kind: str
    library: str
    note: str
    expires: str
    release: dict[str, Any] | None = None
    sample: bodies.SampleBody | None = None
    sound: SharedSound | None = None
    tryout: SharedTryOut | None = None
    recipe: str = ""
    document: dict[str, Any] | None = None


def _kind(link: ShareLink) -> str:
    if link.tryout_id:
        return "tryout"
    return "release" if link.release_id else "sound" if link.sound_id else "sample"


_GONE = "What this link opened is not there any more"


def _sample(session: Session, link: ShareLink) -> Sample:
    sample = session.get(Sample, link.sample_id) if link.sample_id else None
    if sample is None or sample.deleted is not None:
        raise NotFound(_GONE)
    return sample


def _sound(session: Session, link: ShareLink) -> CataloguedSound:
    sound = session.get(CataloguedSound, link.sound_id) if link.sound_id else None
    if sound is None or sound.deleted is not None:
        raise NotFound(_GONE)
    return sound


def _tryout(session: Session, link: ShareLink) -> tuple[TryOut, Played]:
    """The try-out of a link with what its maker may hear of it."""
    row = session.get(CataloguedTryOut, link.tryout_id) if link.tryout_id else None
    if row is None or row.deleted is not None:
        raise NotFound(_GONE)
    maker = account_by_id(session, link.created_by_id)
    tryout = load_tryout(row.draft)
    return tryout, what_is_played(session, maker, tryout)


def _release(session: Session, link: ShareLink) -> Release:
    release = session.get(Release, link.release_id) if link.release_id else None
    if release is None:
        raise NotFound("This link opens no release")
    return release


def _heard_by(session: Session, link: ShareLink) -> set[str]:
    """The recordings that the opener of a link may hear: those of its sound."""
    if link.sound_id:
        return files_of_sound(session, link.sound_id)
    take = _sample(session, link).take
    return set() if take is None else files_of_sound(session, take.revision.sound_id)


def _require_heard(session: Session, link: ShareLink) -> None:
    for digest in recordings_in(_document(session, link)) - _heard_by(session, link):
        raise missing_recording(digest)


def _document(session: Session, link: ShareLink) -> dict[str, Any]:
    """The document of a shared sound, or of the one that made a shared sample, with its hit."""
    if link.sound_id:
        return current_document(_sound(session, link).draft)
    take = _sample(session, link).take
    if take is None:
        raise NotFound("This sample was imported; no sound made it")
    return {**current_document(take.revision.document), "hit": take.hit}


@api.get("/<string:secret>", responses={200: SharedBody, 404: Problem})
@limiter.limit(_EACH_MINUTE)
def look(path: SecretPath) -> Response:
    """What a link opens."""
    with services().database.session() as session:
        link = open_link(session, path.secret)
        library = session.get_one(Library, link.library_id)
        kind = _kind(link)
        body = SharedBody(
            kind=kind, library=library.name, note=link.note, expires=moment(link.expires)
        )
        if link.tryout_id:
            tryout, _ = _tryout(session, link)
            body.tryout = SharedTryOut(
                name=tryout.name,
                tempo_bpm=tryout.tempo_bpm,
                length_s=tryout.length_s,
                parts=[part.name for part in tryout.parts],
            )
        elif link.release_id:
            body.release = release_manifest(_release(session, link), library.name)
        else:
            if link.sample_id:
                body.sample = sample_body(_sample(session, link))
            if link.sound_id or _sample(session, link).take is not None:
                body.document = _document(session, link)
                body.recipe = recipe(load_sound(body.document))
        shown = _sound(session, link) if link.sound_id else None
        if shown is not None:
            _require_heard(session, link)
    if shown is not None:
        body.sound = _shown(shown)
    return make_response(body.model_dump())


def _shown(row: CataloguedSound) -> SharedSound:
    sound = load_sound(row.draft)
    audio = audio_of(sound, sound.hit)
    figures = measure(audio.samples, audio.sample_rate)
    drawn = outline(audio.samples, _OUTLINE_COLUMNS)
    return SharedSound(
        name=row.name,
        tags=row.tags,
        description=row.description,
        length_s=figures.length_s,
        loudness_lufs=figures.loudness_lufs,
        note=figures.note,
        outline=bodies.OutlineBody(
            scale=drawn.scale, data=base64.b64encode(drawn.data.tobytes()).decode()
        ),
    )


@api.get("/<string:secret>/release.zip", responses={200: file_answer(ZIP), 404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_release(path: SecretPath) -> Response:
    """A shared release as one archive."""
    with services().database.session() as session:
        release = _release(session, open_link(session, path.secret))
        library = session.get_one(Library, release.library_id)
        _ = list(release.items)
    return release_archive(release, library.name)


@api.get("/<string:secret>/files/<string:digest>", responses={200: file_answer(WAV), 404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_file(path: SharedFilePath) -> Response:
    """One file of a shared release, for hearing it."""
    with services().database.session() as session:
        release = _release(session, open_link(session, path.secret))
        held = release_holds(session, release, path.digest)
    if not held:
        raise NotFound("There is no such file in this release")
    response = make_response(services().store.get(path.digest))
    response.headers["Content-Type"] = "audio/wav"
    return with_tag(response, path.digest)


@api.get("/<string:secret>/sample.wav", responses={200: file_answer(WAV), 404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_sample(path: SecretPath) -> Response:
    """A shared sample as float WAV at 48 kHz."""
    with services().database.session() as session:
        sample = _sample(session, open_link(session, path.secret))
    data = sample_file(services().store, sample, sample_rate=48000, sample_format="float32")
    return _given(data, sample.name, "wav", "audio/wav")


@api.get("/<string:secret>/sound.wav", responses={200: file_answer(WAV), 404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_sound(path: SecretPath) -> Response:
    """One hit of a shared sound as float WAV at 48 kHz."""
    with services().database.session() as session:
        link = open_link(session, path.secret)
        sound = load_sound(_sound(session, link).draft)
        _require_heard(session, link)
    return _wav(audio_of(sound, sound.hit), sound.name)


@api.get("/<string:secret>/tryout.wav", responses={200: file_answer(WAV), 404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_tryout(path: SecretPath) -> Response:
    """The mix of a shared try-out as float WAV at 48 kHz."""
    with services().database.session() as session:
        tryout, played = _tryout(session, open_link(session, path.secret))
    return _wav(mix_audio(None, tryout, played, 48000), tryout.name)


@api.get("/<string:secret>/sound.zip", responses={200: file_answer(ZIP), 404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_archive(path: SecretPath) -> Response:
    """The sound of a link as a file that can be imported elsewhere, with its recordings."""
    with services().database.session() as session:
        link = open_link(session, path.secret)
        document, heard = _document(session, link), _heard_by(session, link)
    data = sound_archive(services().store, document, heard)
    return _given(data, str(document["name"]), "sound.zip", "application/zip")


@api.get("/<string:secret>/phrase.wav", responses={200: file_answer(WAV), 404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_phrase(path: SecretPath) -> Response:
    """The sound of a link in a short test phrase, as float WAV."""
    with services().database.session() as session:
        link = open_link(session, path.secret)
        sound = load_sound(_document(session, link))
        _require_heard(session, link)
    wanted = of_sound(sound, sound.hit, times=8).step("phrase", phrase="eight_hits")
    return _wav(audio_in(replace(wanted, behind=True)), f"{sound.name}, eight hits")


def _wav(audio: Audio, name: str) -> Response:
    data = encode_wav(audio.samples, audio.sample_rate, sample_format="float32")
    return _given(data, name, "wav", "audio/wav")


def _given(data: bytes, name: str, ending: str, kind: str) -> Response:
    """Bytes under a name, for the opener of a link."""
    response = make_response(data)
    response.headers["Content-Type"] = kind
    attachment(response, name, ending)
    return response
