"""What a request about a sound asks for."""

from __future__ import annotations

from nest_crate.core.engine import RenderSettings
from nest_crate.core.sound import Hit, Sound, load_hit, load_sound
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, render_settings

__all__ = ["asked_sound"]


def asked_sound(body: bodies.AuditionRequest) -> tuple[Sound, Hit, RenderSettings]:
    """The sound, its hit or another, and the settings; ``NotAllowed`` where nobody is signed in.

    What is measured and drawn is the hit from its start: a loop is made for takes and listening.
    """
    current_account()
    sound = load_sound(body.document)
    hit = sound.hit if body.hit is None else load_hit(body.hit)
    once = hit.model_copy(update={"loop_s": 0.0, "in_beats": _but_the_loop(hit)})
    return sound, once, render_settings(body.sample_rate, body.quality)


def _but_the_loop(hit: Hit) -> dict[str, float]:
    return {name: beats for name, beats in hit.in_beats.items() if name != "loop_s"}
