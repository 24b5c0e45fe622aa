"""Try-outs given away: mix, stems, kit, MIDI, the whole as one file; and brought in; mixes kept."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Annotated, Any, Literal

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag
from pydantic import BaseModel, BeforeValidator, Field

from nest_crate.catalogue.people.libraries import require_library
from nest_crate.catalogue.samples.name_templates import clean_path
from nest_crate.catalogue.samples.takes import require_sample
from nest_crate.catalogue.tryouts.files import import_tryout, tryout_archive
from nest_crate.catalogue.tryouts.mixes import keep_mix, mix_of_sample
from nest_crate.catalogue.tryouts.playing import Played
from nest_crate.catalogue.tryouts.tryouts import require_tryout
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.formats.file_formats import audio_file, ending_of
from nest_crate.core.formats.tagged import SoundFacts
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.tryout import TryOut, load_tryout
from nest_crate.core.tryout.kit import KitSample, keys_of, kit_text
from nest_crate.core.tryout.midi import hits_from_midi, hits_to_midi
from nest_crate.web import bodies
from nest_crate.web.infra.answers import archive, attachment
from nest_crate.web.infra.context import current_account, services
from nest_crate.web.infra.declared_files import FLAC, MIDI, WAV, ZIP, file_answer
from nest_crate.web.infra.forms import Form, LibraryPath, SamplePath
from nest_crate.web.infra.problems import Problem
from nest_crate.web.infra.rendering import ask
from nest_crate.web.infra.uploads import FileForm, make_room, uploaded
from nest_crate.web.samples.samples import sample_body
from nest_crate.web.tryouts.requests import TryOutPath, mix_audio, played_by, render_of

__all__ = ["api"]

api = APIBlueprint("tryout_files", __name__, url_prefix="/api", abp_tags=[Tag(name="try-outs")])
api.before_request(make_room)

SampleRate = Literal[44100, 48000, 88200, 96000, 192000]
# In an address every number is text.
RateInAddress = Annotated[SampleRate, BeforeValidator(int)]


class MixFileQuery(BaseModel):
    """What kind of audio files are wanted."""

    file_format: Literal["wav16", "wav24", "wav32", "flac16", "flac24"] = "wav24"
    sample_rate: RateInAddress = 48000
    dither: bool = True


def encoded(signal: Signal, name: str, query: MixFileQuery) -> tuple[str, bytes]:
    """Audio as the query wants it: the ending, and the bytes."""
    facts = SoundFacts(title=name)
    made = audio_file(signal, query.sample_rate, query.file_format, facts, dither=query.dither)
    return ending_of(query.file_format), made


def _opened(path: TryOutPath) -> tuple[TryOut, Played]:
    account = current_account()
    with services().database.session() as session:
        tryout = load_tryout(require_tryout(session, account, path.tryout_id).draft)
    return tryout, played_by(account, tryout)


@api.get("/tryouts/<int:tryout_id>/mix", responses={200: file_answer(WAV, FLAC), 404: Problem})
def mix_file(path: TryOutPath, query: MixFileQuery) -> Response:
    """The mix as one audio file."""
    tryout, played = _opened(path)
    audio = mix_audio(current_account(), tryout, played, query.sample_rate)
    ending, data = encoded(audio.samples, tryout.name, query)
    response = make_response(data)
    response.headers["Content-Type"] = f"audio/{ending}"
    attachment(response, tryout.name, ending)
    return response


@api.get("/tryouts/<int:tryout_id>/stems.zip", responses={200: file_answer(ZIP), 404: Problem})
def stem_files(path: TryOutPath, query: MixFileQuery) -> Response:
    """The mix, each part by itself, and the hits as MIDI, as one archive."""
    account = current_account()
    tryout, played = _opened(path)
    audio = mix_audio(account, tryout, played, query.sample_rate)
    wanted = render_of(
        account, tryout, played, "tryout_stems", sample_rate=query.sample_rate, behind=True
    )
    names = {part.id: f"{n:02} {part.name}" for n, part in enumerate(tryout.parts, 1)}
    # What refuses the render is answered as a problem, before the archive begins.
    frames = ask(wanted)
    first = next(frames, None)

    def files() -> Iterator[tuple[str, bytes]]:
        ending, data = encoded(audio.samples, tryout.name, query)
        yield f"Mix.{ending}", data
        yield "Hits.mid", hits_to_midi(tryout)
        frame = first
        while frame is not None:
            name = names[frame.head["stem"]]
            ending, data = encoded(decode_wav(frame.body)[0], name, query)
            yield f"Stems/{clean_path(name).replace('/', '_')}.{ending}", data
            frame = next(frames, None)

    return archive(files(), _file_name(tryout.name, "stems"))


def _file_name(name: str, what: str) -> str:
    plain = "".join(one if one.isalnum() and one.isascii() else "-" for one in name.lower())
    return f"{plain.strip('-') or 'try-out'}-{what}"


@api.get("/tryouts/<int:tryout_id>/kit.zip", responses={200: file_answer(ZIP), 404: Problem})
def kit_files(path: TryOutPath, query: MixFileQuery) -> Response:
    """The parts as a kit: an SFZ instrument with its samples, and the hits as MIDI."""
    tryout, played = _opened(path)
    wanted = render_of(
        current_account(), tryout, played, "tryout_kit", sample_rate=query.sample_rate, behind=True
    )
    names = {part.id: f"{n:02}_{part.name}" for n, part in enumerate(tryout.parts, 1)}
    frames = ask(wanted)
    first = next(frames, None)

    def files() -> Iterator[tuple[str, bytes]]:
        samples = []
        frame = first
        while frame is not None:
            head = frame.head
            what = f"v{head['velocity']}" if head["velocity"] else f"{head['variation'] + 1:02}"
            name = clean_path(f"{names[head['of_part']]}_{what}".replace(" ", "_"))
            ending, data = encoded(decode_wav(frame.body)[0], name, query)
            file = f"samples/{name.replace('/', '_')}.{ending}"
            samples.append(KitSample(head["of_part"], file, head["velocity"], head["variation"]))
            yield file, data
            frame = next(frames, None)
        yield f"{_file_name(tryout.name, 'kit')}.sfz", kit_text(tryout, samples).encode()
        yield "Hits.mid", hits_to_midi(_on_keys(tryout))

    return archive(files(), _file_name(tryout.name, "kit"))


def _on_keys(tryout: TryOut) -> TryOut:
    """The hits on the keys of the kit, as what plays the instrument needs them."""
    keys = keys_of(tryout)
    parts = tuple(
        part.model_copy(
            update={
                "hits": tuple(
                    hit.model_copy(update={"notes": (keys[part.id],)}) for hit in part.hits
                )
            }
        )
        for part in tryout.parts
        if part.id in keys
    )
    return tryout.model_copy(update={"parts": parts, "ducks": (), "game": None})


@api.get("/tryouts/<int:tryout_id>/midi", responses={200: file_answer(MIDI), 404: Problem})
def midi_file(path: TryOutPath) -> Response:
    """The hits as a MIDI file, a track for each part."""
    with services().database.session() as session:
        tryout = load_tryout(require_tryout(session, current_account(), path.tryout_id).draft)
    response = make_response(hits_to_midi(tryout))
    response.headers["Content-Type"] = "audio/midi"
    attachment(response, tryout.name, "mid")
    return response


class MidiTrackBody(BaseModel):
    """A track of a MIDI file: its hits as a part has them."""

    name: str
    hits: list[dict[str, Any]]


class MidiTracksBody(BaseModel):
    tracks: list[MidiTrackBody]


class MidiTempoQuery(BaseModel):
    tempo_bpm: float = Field(default=120.0, ge=20.0, le=400.0)


@api.post("/tryouts/midi", responses={200: MidiTracksBody, 422: Problem})
def read_midi(query: MidiTempoQuery, form: FileForm) -> Response:
    """The hits of a MIDI file, track by track, for parts of a try-out."""
    current_account()
    with uploaded(form.file) as (_, file):
        tracks = hits_from_midi(file.read_bytes(), query.tempo_bpm)
    listed = [
        {"name": one.name, "hits": [hit.model_dump(mode="json") for hit in one.hits]}
        for one in tracks
    ]
    return make_response({"tracks": listed})


@api.get("/tryouts/<int:tryout_id>/file", responses={200: file_answer(ZIP), 404: Problem})
def tryout_file(path: TryOutPath) -> Response:
    """The try-out as one file with the sounds and samples that it uses."""
    tryout, played = _opened(path)
    response = Response(
        tryout_archive(services().store, tryout, played), mimetype="application/zip"
    )
    attachment(response, tryout.name, "tryout.zip")
    return response


class ImportedTryOutBody(BaseModel):
    tryout_id: int


@api.post(
    "/libraries/<library:library_id>/tryouts", responses={201: ImportedTryOutBody, 422: Problem}
)
def import_tryout_file(path: LibraryPath, form: FileForm) -> tuple[Response, int]:
    """A try-out from its file; its sounds and samples come into the library."""
    with uploaded(form.file) as (_, file):
        identifier = import_tryout(
            services().database, services().store, current_account(), path.library_id, file
        )
    return make_response({"tryout_id": identifier}), 201


class KeepMixRequest(Form):
    base_version: int
    document: dict[str, Any]
    library_id: int
    name: str = Field(min_length=1, max_length=120)
    sample_rate: SampleRate = 48000


class KeptMixBody(BaseModel):
    sample: bodies.SampleBody
    version: int


@api.post("/tryouts/<int:tryout_id>/mixes", responses={201: KeptMixBody, 409: Problem})
def keep_as_sample(path: TryOutPath, body: KeepMixRequest) -> tuple[Response, int]:
    """Render the mix at final quality and keep it as a sample, with all that made it."""
    account, tryout = current_account(), load_tryout(body.document)
    with services().database.session() as session:
        require_tryout(session, account, path.tryout_id, "tryout.edit")
        require_library(session, account, body.library_id, "sample.add")
    audio = mix_audio(account, tryout, played_by(account, tryout), body.sample_rate)
    sample_id, version = keep_mix(
        services().database,
        services().store,
        account,
        path.tryout_id,
        base_version=body.base_version,
        document=tryout,
        library_id=body.library_id,
        name=body.name,
        audio=audio,
    )
    with services().database.session() as session:
        sample = sample_body(require_sample(session, account, sample_id))
    answer = KeptMixBody(sample=sample, version=version)
    return make_response(answer.model_dump()), 201


class MadeOfBody(BaseModel):
    """What a kept mix was made of; null for other samples."""

    tryout_id: int | None = None
    tryout_name: str = ""
    parts: list[dict[str, Any]] = Field(default_factory=list)


@api.get("/samples/<int:sample_id>/mix", responses={200: MadeOfBody, 404: Problem})
def made_of(path: SamplePath) -> Response:
    """The try-out and the parts that made a sample, where it is a kept mix."""
    with services().database.session() as session:
        mix = mix_of_sample(session, current_account(), path.sample_id)
    if mix is None:
        return make_response(MadeOfBody().model_dump())
    found = MadeOfBody(tryout_id=mix.tryout_id, tryout_name=mix.tryout_name, parts=mix.made_of)
    return make_response(found.model_dump())
