"""Hits and test phrases to be played at once: no measures, no pictures, just the audio."""

from __future__ import annotations

from flask import Response, make_response
from flask_openapi3 import APIBlueprint, Tag

from nest_crate.core.engine import Audio, render
from nest_crate.core.engine.phrases import PHRASES, render_phrase
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import load_hit, load_sound
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, render_settings, services

__all__ = ["api"]

api = APIBlueprint("playing", __name__, url_prefix="/api/playing", abp_tags=[Tag(name="bench")])


_REMEMBERED_HOLD_S = 4.0


def _wav(audio: Audio) -> Response:
    response = make_response(encode_wav(audio.samples, audio.sample_rate, sample_format="float32"))
    response.headers["Content-Type"] = "audio/wav"
    return response


@api.post("/hits")
def play_hit(body: bodies.AuditionRequest) -> Response:
    """One hit as float WAV, for keys that are played."""
    current_account()
    sound = load_sound(body.document)
    hit = sound.hit if body.hit is None else load_hit(body.hit)
    settings = render_settings(body.sample_rate, body.quality)
    # A key that is held for long is not rendered again; it would push out what is.
    memory = services().stages if hit.hold_s <= _REMEMBERED_HOLD_S else None
    return _wav(render(sound, hit, settings, memory=memory))


@api.get("/phrases", responses={200: bodies.PhrasesBody})
def phrases() -> Response:
    """The built-in test phrases."""
    current_account()
    listed = [{"name": name, "label": phrase.label} for name, phrase in PHRASES.items()]
    return make_response({"phrases": listed})


@api.post("/phrases")
def play_phrase(body: bodies.PhraseRequest) -> Response:
    """A test phrase played with the sound, as float WAV."""
    current_account()
    settings = render_settings(body.sample_rate)
    sound = load_sound(body.document)
    return _wav(render_phrase(sound, body.phrase, settings, memory=services().stages))
