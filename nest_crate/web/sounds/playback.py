"""Hits and test phrases to be played at once: no measures, no pictures, just the audio."""

from __future__ import annotations

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from nest_crate.core.engine.phrases import PHRASES
from nest_crate.core.sound import load_sound
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account
from nest_crate.web.infra.declared_files import FLAC, WAV, file_answer
from nest_crate.web.infra.rendering import HEARD, asked, heard_of, of_sound, require_heard

__all__ = ["api"]

api = APIBlueprint("playing", __name__, url_prefix="/api/playing", abp_tags=[Tag(name="bench")])

_HITS_OF_A_PHRASE = 8


@api.post("/hits", responses={200: file_answer(WAV, FLAC)})
def play_hit(body: bodies.AuditionRequest) -> Response:
    """One hit as float WAV, for keys that are played; as FLAC where ``Accept`` says audio/flac."""
    return heard_of(asked(body, looped=True).step("play", HEARD))


@api.get("/phrases", responses={200: bodies.PhrasesBody})
def phrases() -> Response:
    """The built-in test phrases."""
    current_account()
    listed = [{"name": name, "label": phrase.label} for name, phrase in PHRASES.items()]
    return make_response({"phrases": listed})


@api.post("/phrases", responses={200: file_answer(WAV, FLAC)})
def play_phrase(body: bodies.PhraseRequest) -> Response:
    """A test phrase played with the sound, as float WAV or FLAC."""
    require_heard(current_account(), body.document)
    sound = load_sound(body.document)
    given = of_sound(sound, sound.hit, sample_rate=body.sample_rate, times=_HITS_OF_A_PHRASE)
    return heard_of(given.step("phrase", HEARD, phrase=body.phrase))
