"""The noise."""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import Timed, number
from nest_crate.core.sound.sources.base import WORKING

__all__ = ["NoiseSource"]


class NoiseSource(Timed):
    """Noise from the sound's seed."""

    kind: Literal["noise"] = "noise"
    modulations: ClassVar[tuple[str, ...]] = WORKING
    texture: Literal["even", "crackle", "stepped"] = Field(default="even", title="Texture")
    colour_db: float = number(
        0.0,
        -12.0,
        6.0,
        label="Colour",
        unit="dB",
        step=0.5,
        text="Slope per octave: 0 white, -3 pink, -6 brown, above 0 bright.",
    )
    rate_hz: float = number(
        1000.0,
        1.0,
        20000.0,
        label="Rate",
        unit="Hz",
        scale="log",
        step=10.0,
        text="Impulses of a crackle, or steps of a stepped noise, per second.",
    )
    width: float = number(
        0.0,
        0.0,
        1.0,
        label="Stereo width",
        unit="percent",
        text="0 % the same on both sides, 100 % two noises that share nothing.",
    )
    offset_s: float = number(
        0.0,
        0.0,
        10.0,
        label="Start offset",
        unit="s",
        scale="time",
        step=0.01,
        text="Starts this far into the noise: a different part of it.",
    )
    new_each_hit: bool = Field(default=False, title="New noise each hit")
