"""What every processor has: an id, a switch, its mix and level, and the band it works on."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal, NamedTuple

from pydantic import Field

from nest_crate.core.sound.parameters import Timed, number

__all__ = [
    "DISTORTION",
    "DYNAMICS",
    "EQ",
    "MODULATION",
    "ROUTING",
    "SPACE",
    "Identifier",
    "Need",
    "ProcessorBase",
    "ProcessorName",
]

Identifier = Annotated[str, Field(pattern=r"^[a-z0-9][a-z0-9-]{0,31}$")]


class ProcessorName(NamedTuple):
    """What a kind is called on screens, and how menus list it."""

    name: str
    group: str
    words: str
    """Other words that people search for."""


EQ = "EQ and filters"
DISTORTION = "Distortion and shift"
DYNAMICS = "Dynamics and level"
MODULATION = "Modulation and delay"
SPACE = "Space and stereo"
ROUTING = "Routing"

# What a processor may depend on besides its own numbers and what goes into it.
Need = Literal["note", "tempo", "random"]


class ProcessorBase(Timed):
    called: ClassVar[ProcessorName]
    id: Identifier
    on: bool = Field(default=True, title="On")
    mix: float = number(1.0, 0.0, 1.0, label="Mix", unit="percent", followed=True)
    level_db: float = number(
        0.0, -48.0, 24.0, label="Output level", unit="dB", step=0.5, followed=True
    )
    keep_loudness: bool = Field(
        default=False,
        title="Loudness compensation",
        description="The output gets the loudness of the input.",
    )
    band: Literal["all", "above", "below"] = Field(
        default="all",
        title="Frequency range",
        description="The other side of the split stays dry.",
    )
    split_hz: float = number(
        500.0, 20.0, 16000.0, label="Split frequency", unit="Hz", scale="log", step=10.0
    )

    def needs(self, moved: frozenset[str]) -> frozenset[Need]:
        """What its result depends on besides its numbers, its input and what moves it; the engine
        gives it nothing else. ``moved`` are the names of its numbers that links move."""
        return frozenset()

    def hears(self) -> tuple[str, ...]:
        """Ids of the layers that it listens to besides its input."""
        return ()
