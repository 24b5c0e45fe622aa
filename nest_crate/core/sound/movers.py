"""Movers: anything that moves a parameter; and links, which say what is moved and how far."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.curve import Curve, CurvePoint
from nest_crate.core.sound.parameters import DocumentModel, Timed, number
from nest_crate.core.sound.processors import Identifier

__all__ = [
    "MAX_LINKS",
    "MAX_MACROS",
    "MAX_MOVERS",
    "MAX_STEPS",
    "CurveMover",
    "FollowerMover",
    "HoldMover",
    "LfoMover",
    "Link",
    "MacroMover",
    "Mover",
    "MoverName",
    "NoteMover",
    "RandomMover",
    "StepsMover",
    "VelocityMover",
    "VoiceMover",
]

MAX_MOVERS = 32
MAX_LINKS = 64
MAX_STEPS = 64
MAX_MACROS = 8


# A mover by its id, or a drawn curve as one: of a layer's level or pitch, or of the common pitch.
MoverName = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,31}(\.(level|pitch))?$")]


class _Mover(Timed):
    id: Identifier
    name: Annotated[str, Field(min_length=1, max_length=60, title="Name")]


def _rise() -> Curve:
    return Curve(points=(CurvePoint(time_s=0.0, value=0.0), CurvePoint(time_s=0.5, value=1.0)))


class CurveMover(_Mover):
    """A further curve, from -1 to 1, from the start of the hit."""

    kind: Literal["curve"] = "curve"
    curve: Curve = Field(default_factory=_rise)


class LfoMover(_Mover):
    """A cycle that goes round at a rate, or in beats."""

    kind: Literal["lfo"] = "lfo"
    shape: Literal[
        "sine", "triangle", "saw_up", "saw_down", "square", "stepped", "smooth", "drawn"
    ] = Field(default="sine", title="Shape")
    sync: bool = Field(default=False, title="Tempo sync")
    rate_hz: float = number(
        2.0,
        0.0,
        50.0,
        label="Rate",
        unit="Hz",
        scale="time",
        step=0.1,
        text="0 Hz stands still until a link moves it.",
        followed=True,
        octaves=True,
    )
    beats: float = number(
        1.0,
        1.0 / 64.0,
        64.0,
        label="Length",
        unit="beat",
        scale="log",
        step=0.25,
        followed=True,
    )
    width: float = number(
        0.5,
        0.01,
        0.99,
        label="Width",
        unit="percent",
        text="Of the square's upper part.",
        followed=True,
    )
    phase_deg: float = number(
        0.0, 0.0, 360.0, label="Start phase", unit="deg", step=1.0, followed=True
    )
    delay_s: float = number(0.0, 0.0, 20.0, label="Delay", unit="s", scale="time", step=0.01)
    fade_s: float = number(0.0, 0.0, 20.0, label="Fade-in", unit="s", scale="time", step=0.01)
    once: bool = Field(default=False, title="One-shot")
    one_sided: bool = Field(default=False, title="Unipolar")
    free: bool = Field(
        default=False,
        title="Free-running",
        description="Each hit starts at another place in the cycle.",
    )
    drawn: Curve = Field(default_factory=_rise)


class StepsMover(_Mover):
    """Values one after the other, round and round."""

    kind: Literal["steps"] = "steps"
    values: Annotated[
        tuple[Annotated[float, Field(ge=-1.0, le=1.0)], ...],
        Field(min_length=1, max_length=MAX_STEPS),
    ] = (1.0, 0.0, 0.5, 0.0)
    skipped: Annotated[tuple[bool, ...], Field(max_length=MAX_STEPS)] = ()
    sync: bool = Field(default=True, title="Tempo sync")
    beats: float = number(
        0.25, 1.0 / 64.0, 16.0, label="Step", unit="beat", scale="log", step=0.25, followed=True
    )
    rate_hz: float = number(
        8.0, 0.005, 50.0, label="Rate", unit="Hz", scale="log", step=0.1, followed=True
    )
    glide: float = number(
        0.0,
        0.0,
        1.0,
        label="Glide",
        unit="percent",
        text="Share of a step spent gliding to it.",
        followed=True,
    )


class RandomMover(_Mover):
    """Another value each hit; with a rate, wandering within the hit."""

    kind: Literal["random"] = "random"
    spread: Literal["uniform", "normal"] = Field(default="uniform", title="Distribution")
    rate_hz: float = number(
        0.0,
        0.0,
        50.0,
        label="Rate",
        unit="Hz",
        step=0.5,
        text="0 Hz: one value for the whole hit; otherwise new values at this rate, smoothed.",
        followed=True,
    )
    each_note: bool = Field(
        default=False,
        title="New for each note",
        description="Numbers that are set once a hit get another value for each note too.",
    )


class NoteMover(_Mover):
    """-1 at the lowest key of its range, 1 at the highest."""

    kind: Literal["note"] = "note"
    low: int = number(24, 0, 127, label="Lowest", unit="note", step=1, whole=True)
    high: int = number(96, 0, 127, label="Highest", unit="note", step=1, whole=True)


class VelocityMover(_Mover):
    """0 at the softest, 1 at the hardest hit."""

    kind: Literal["velocity"] = "velocity"


class HoldMover(_Mover):
    """0 for a tap, 1 from a hold of ``longest_s`` on."""

    kind: Literal["hold"] = "hold"
    longest_s: float = number(
        1.0, 0.01, 60.0, label="Longest hold", unit="s", scale="time", step=0.1
    )


class FollowerMover(_Mover):
    """The level of a layer, 0 in silence, 1 at full scale; or of a pulse pattern in beats."""

    kind: Literal["follower"] = "follower"
    layer: Identifier | None = None
    pulses: Annotated[
        tuple[Annotated[float, Field(ge=0.0, le=1.0)], ...],
        Field(min_length=1, max_length=MAX_STEPS),
    ] = (1.0, 0.0, 0.0, 0.0)
    """Levels of the pulses that it follows where it follows no layer."""
    beats: float = number(
        0.25, 1.0 / 64.0, 16.0, label="Pulse every", unit="beat", scale="log", step=0.25
    )
    pulse_s: float = number(
        0.03, 0.001, 2.0, label="Pulse length", unit="s", scale="time", step=0.005
    )
    attack_s: float = number(0.005, 0.0001, 2.0, label="Attack", unit="s", scale="time", step=0.001)
    release_s: float = number(0.1, 0.001, 5.0, label="Release", unit="s", scale="time", step=0.01)


class VoiceMover(_Mover):
    """-1 for the lowest, 1 for the highest voice of a unison: the voices differ in what it moves.

    It moves numbers of a tone and its pitch.
    """

    kind: Literal["voice"] = "voice"


class MacroMover(_Mover):
    """One value from 0 to 1 that drives whatever is linked to it."""

    kind: Literal["macro"] = "macro"
    value: float = number(0.0, 0.0, 1.0, label="Value", unit="percent", followed=True)


Mover = Annotated[
    CurveMover
    | LfoMover
    | StepsMover
    | RandomMover
    | NoteMover
    | VelocityMover
    | HoldMover
    | FollowerMover
    | VoiceMover
    | MacroMover,
    Field(discriminator="kind"),
]


class Link(DocumentModel):
    """A mover moves a parameter: ``target`` is the part's id and the parameter's path in it."""

    mover: MoverName
    target: Annotated[str, Field(pattern=r"^[a-z0-9-]{1,32}\.[a-z0-9_.]{1,60}$")]
    amount: float = Field(
        ge=-240.0, le=240.0, description="In the unit in which the target is moved."
    )
    bend: float = number(0.0, -10.0, 10.0, label="Bend", step=0.1)
    scaled_by: MoverName | None = None
    law: Literal["plain", "linear", "amplitude"] = Field(
        default="plain",
        title="Law",
        description="Plain: frequencies in octaves, all else in its own unit. Linear: frequencies "
        "in Hz. Amplitude: a level from silence at 0 to as it is set at 1.",
    )
