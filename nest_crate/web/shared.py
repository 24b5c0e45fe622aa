"""What a link opens without an account: a release, or a sample with all that made it."""

from __future__ import annotations

from typing import Any

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, Field
from sqlalchemy.orm import Session

from nest_crate.catalogue.errors import NotFound
from nest_crate.catalogue.models import Library, Sample
from nest_crate.catalogue.releasing import release_manifest
from nest_crate.catalogue.shared_models import Release, ShareLink
from nest_crate.catalogue.sharing import open_link
from nest_crate.catalogue.sounds import current_document
from nest_crate.catalogue.takes import sample_file
from nest_crate.core.engine.phrases import render_phrase
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import load_hit, load_sound
from nest_crate.core.sound.recipe import recipe
from nest_crate.web import bodies
from nest_crate.web.context import render_settings, services
from nest_crate.web.guard import limiter
from nest_crate.web.problems import Problem
from nest_crate.web.releases import release_archive, with_tag
from nest_crate.web.samples import attachment, moment, sample_body

__all__ = ["api"]

api = APIBlueprint("shared", __name__, url_prefix="/api/shared", abp_tags=[Tag(name="shared")])

_EACH_MINUTE = "120 per minute"


class SecretPath(BaseModel):
    secret: str = Field(max_length=200)


class SharedFilePath(SecretPath):
    digest: str = Field(pattern=r"^[0-9a-f]{64}$")


class SharedBody(BaseModel):
    """What the link opens: the manifest of a release, or a sample with its recipe and document."""

    kind: str
    library: str
    note: str
    expires: str
    release: dict[str, Any] | None = None
    sample: bodies.SampleBody | None = None
    recipe: str = ""
    document: dict[str, Any] | None = None


def _sample(session: Session, link: ShareLink) -> Sample:
    sample = session.get(Sample, link.sample_id) if link.sample_id else None
    if sample is None or sample.deleted is not None:
        raise NotFound("What this link opened is not there any more")
    return sample


def _release(session: Session, link: ShareLink) -> Release:
    release = session.get(Release, link.release_id) if link.release_id else None
    if release is None:
        raise NotFound("This link opens no release")
    return release


@api.get("/<string:secret>", responses={200: SharedBody, 404: Problem})
@limiter.limit(_EACH_MINUTE)
def look(path: SecretPath) -> Response:
    """What a link opens."""
    with services().database.session() as session:
        link = open_link(session, path.secret)
        library = session.get_one(Library, link.library_id)
        body = SharedBody(
            kind="release" if link.release_id else "sample",
            library=library.name,
            note=link.note,
            expires=moment(link.expires),
        )
        if link.release_id:
            body.release = release_manifest(_release(session, link), library.name)
        else:
            sample = _sample(session, link)
            body.sample = sample_body(sample)
            if sample.take is not None:
                body.document = current_document(sample.take.revision.document)
                sound = load_sound(body.document)
                sound = sound.model_copy(update={"hit": load_hit(sample.take.hit)})
                body.recipe = recipe(sound)
    return make_response(body.model_dump())


@api.get("/<string:secret>/release.zip", responses={404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_release(path: SecretPath) -> Response:
    """A shared release as one archive."""
    with services().database.session() as session:
        release = _release(session, open_link(session, path.secret))
        library = session.get_one(Library, release.library_id)
        _ = list(release.items)
    return release_archive(release, library.name)


@api.get("/<string:secret>/files/<string:digest>", responses={404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_file(path: SharedFilePath) -> Response:
    """One file of a shared release, for hearing it."""
    with services().database.session() as session:
        release = _release(session, open_link(session, path.secret))
        held = any(item.file_digest == path.digest for item in release.items)
    if not held:
        raise NotFound("There is no such file in this release")
    response = make_response(services().store.get(path.digest))
    response.headers["Content-Type"] = "audio/wav"
    return with_tag(response, path.digest)


@api.get("/<string:secret>/sample.wav", responses={404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_sample(path: SecretPath) -> Response:
    """A shared sample as float WAV at 48 kHz."""
    with services().database.session() as session:
        sample = _sample(session, open_link(session, path.secret))
    data = sample_file(services().store, sample, sample_rate=48000, sample_format="float32")
    response = make_response(data)
    response.headers["Content-Type"] = "audio/wav"
    attachment(response, sample.name, "wav")
    return response


@api.get("/<string:secret>/phrase.wav", responses={404: Problem})
@limiter.limit(_EACH_MINUTE)
def shared_phrase(path: SecretPath) -> Response:
    """The sound of a shared sample in a short test phrase, as float WAV."""
    with services().database.session() as session:
        take = _sample(session, open_link(session, path.secret)).take
        if take is None:
            raise NotFound("This sample was brought in; no sound made it")
        sound = load_sound(take.revision.document)
    sound = sound.model_copy(update={"hit": load_hit(take.hit)})
    audio = render_phrase(sound, "eight_hits", render_settings(), memory=services().stages)
    data = encode_wav(audio.samples, audio.sample_rate, sample_format="float32")
    response = make_response(data)
    response.headers["Content-Type"] = "audio/wav"
    return response
