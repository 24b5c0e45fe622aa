"""What a layer starts from."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import DocumentModel, number

__all__ = [
    "MAX_EDITED_PARTIALS",
    "NoiseSource",
    "PartialSet",
    "Source",
    "ToneSource",
    "Unison",
]


MAX_EDITED_PARTIALS = 64


class PartialSet(DocumentModel):
    """Partials drawn by hand: partial k has ``amplitudes[k - 1]`` and ``phases_deg[k - 1]``.

    Partials beyond the end of a list have amplitude 0 and phase 0.
    """

    amplitudes: Annotated[
        tuple[Annotated[float, Field(ge=0.0, le=1.0)], ...],
        Field(max_length=MAX_EDITED_PARTIALS),
    ] = (1.0,)
    phases_deg: Annotated[
        tuple[Annotated[float, Field(ge=0.0, le=360.0)], ...],
        Field(max_length=MAX_EDITED_PARTIALS),
    ] = ()
    tilt_db: float = number(
        0.0, -24.0, 12.0, label="Tilt", unit="dB", step=0.5, text="Per octave above the first."
    )
    odd_even: float = number(
        0.0,
        -1.0,
        1.0,
        label="Odd or even",
        unit="percent",
        text="Below 0 the even partials are lowered, above 0 the odd ones from the third on.",
    )
    comb: int = number(
        0,
        0,
        16,
        label="Remove each",
        step=1,
        whole=True,
        text="Removes each n-th partial; 0 and 1 remove none.",
    )


class Unison(DocumentModel):
    """The same tone several times at once, slightly apart."""

    voices: int = number(1, 1, 16, label="Voices", step=1, whole=True)
    detune_cent: float = number(
        12.0, 0.0, 200.0, label="Detune", unit="cent", step=1.0, text="Of the outermost voices."
    )
    width: float = number(0.5, 0.0, 1.0, label="Stereo width", unit="percent")
    phase_spread: float = number(1.0, 0.0, 1.0, label="Phase spread", unit="percent")
    balance: float = number(
        0.5,
        0.0,
        1.0,
        label="Centre or sides",
        unit="percent",
        text="0 % the innermost voices only, 50 % all alike, 100 % the outermost only.",
    )


class ToneSource(DocumentModel):
    """One band-limited cycle, repeated at a pitch."""

    kind: Literal["tone"] = "tone"
    cycle: Literal["shape", "partials"] = Field(default="shape", title="Cycle from")
    shape: float = number(
        0.0,
        0.0,
        3.0,
        label="Shape",
        text="0 sine, 1 triangle, 2 sawtooth, 3 pulse; between them one turns into the next.",
    )
    width: float = number(
        0.5, 0.01, 0.99, label="Pulse width", unit="percent", text="Only the pulse has a width."
    )
    partials: PartialSet = Field(default_factory=PartialSet)
    skew: float = number(
        0.0, -1.0, 1.0, label="Skew", text="Moves the middle of the cycle later or earlier."
    )
    phase_deg: float = number(0.0, 0.0, 360.0, label="Start phase", unit="deg", step=1.0)
    phase_random: float = number(
        0.0,
        0.0,
        1.0,
        label="Random phase",
        unit="percent",
        text="How far the start phase strays from hit to hit.",
    )
    feedback: float = number(
        0.0,
        0.0,
        1.0,
        label="Feedback",
        unit="percent",
        text="The tone bends its own phase: from pure towards a sawtooth.",
    )
    follows_note: bool = Field(default=True, title="Follows the note")
    fixed_hz: float = number(
        110.0, 1.0, 20000.0, label="Fixed pitch", unit="Hz", scale="log", step=1.0
    )
    ratio: float = number(
        1.0, 0.25, 32.0, label="Ratio", scale="log", step=0.01, text="Times the pitch."
    )
    octave: int = number(0, -4, 4, label="Octave", step=1, whole=True)
    transpose_st: float = number(0.0, -60.0, 60.0, label="Transpose", unit="st", step=1.0)
    fine_cent: float = number(0.0, -100.0, 100.0, label="Fine pitch", unit="cent", step=1.0)
    vibrato_hz: float = number(
        5.0, 0.05, 50.0, label="Vibrato rate", unit="Hz", scale="log", step=0.1
    )
    vibrato_st: float = number(0.0, 0.0, 12.0, label="Vibrato", unit="st", step=0.1)
    unison: Unison = Field(default_factory=Unison)


class NoiseSource(DocumentModel):
    """Noise from the sound's seed."""

    kind: Literal["noise"] = "noise"
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
        text="Starts so far into the noise: another stretch of the same kind.",
    )
    new_each_hit: bool = Field(default=False, title="New each hit")


Source = Annotated[ToneSource | NoiseSource, Field(discriminator="kind")]
