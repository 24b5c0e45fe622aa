"""What a request about a sound asks for."""

from __future__ import annotations

from nest_crate.core.engine import RenderSettings
from nest_crate.core.sound import Hit, Sound, load_hit, load_sound
from nest_crate.web import bodies
from nest_crate.web.infra.context import current_account, render_settings

__all__ = ["asked_sound"]


def asked_sound(body: bodies.AuditionRequest) -> tuple[Sound, Hit, RenderSettings]:
    """The sound, its hit or another, and the settings; ``NotAllowed`` where nobody is signed in."""
    current_account()
    sound = load_sound(body.document)
    hit = sound.hit if body.hit is None else load_hit(body.hit)
    return sound, hit, render_settings(body.sample_rate, body.quality)
