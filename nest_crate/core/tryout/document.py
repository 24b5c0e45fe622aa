"""The try-out: parts that play sounds, samples, groups or a bed at places in time.

Times are in seconds, or in beats that are seconds at the try-out's tempo, as in a sound document.
"""

from __future__ import annotations

from graphlib import CycleError, TopologicalSorter
from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from nest_crate.core.sound.parameters import DocumentModel, Timed, number

__all__ = [
    "MAX_HITS",
    "MAX_PARTS",
    "TRYOUT_VERSION",
    "Duck",
    "GameTest",
    "Part",
    "PlacedHit",
    "Plays",
    "PlaysBed",
    "PlaysGroup",
    "PlaysSample",
    "PlaysSound",
    "TryOut",
]

TRYOUT_VERSION: Literal[1] = 1
MAX_PARTS = 24
# Of one part.
MAX_HITS = 2000
MAX_NOTES = 16
MAX_VARIATIONS = 200

Identifier = Annotated[str, Field(pattern=r"^[a-z0-9-]{1,40}$")]
Key = Annotated[int, Field(ge=1)]
Note = Annotated[int, Field(ge=0, le=127)]


class PlacedHit(Timed):
    """One hit of a part; its first note and those that sound with it are a chord."""

    at_s: float = number(0.0, 0.0, 120.0, label="At", unit="s", scale="time", step=0.01)
    notes: Annotated[tuple[Note, ...], Field(max_length=MAX_NOTES)] = ()
    """Empty: the note that the sound has itself; samples are played as they are."""
    velocity: int = number(100, 1, 127, label="Velocity", step=1, whole=True)
    hold_s: float | None = Field(default=None, ge=0.0, le=60.0, title="Hold")
    """None: as long as the sound's own hit."""
    chance: float = number(1.0, 0.0, 1.0, label="Chance", unit="percent", step=0.05)
    macros: dict[Annotated[str, Field(max_length=40)], Annotated[float, Field(ge=0, le=1)]] = Field(
        default_factory=dict, max_length=8, exclude_if=lambda value: not value
    )
    """Macros of the sound that stand elsewhere in this hit, by id."""


class PlaysSound(DocumentModel):
    """A sound: a fixed revision, or its draft as it is now."""

    kind: Literal["sound"] = "sound"
    sound: Key
    revision: Key | None = None

    @property
    def key(self) -> str:
        """Names what is played: "7" a draft, "7.3" its third revision."""
        return f"{self.sound}" if self.revision is None else f"{self.sound}.{self.revision}"


class PlaysSample(DocumentModel):
    """A sample of a library."""

    kind: Literal["sample"] = "sample"
    sample: Key


class PlaysGroup(DocumentModel):
    """Variations of which each hit plays one."""

    kind: Literal["group"] = "group"
    samples: Annotated[tuple[Key, ...], Field(min_length=1, max_length=MAX_VARIATIONS)]
    choice: Literal["in_turn", "random", "no_repeat", "velocity"] = Field(
        default="no_repeat",
        title="Choice",
        description="In turn, at random, at random without the last ones, or by velocity: "
        "the first variation for the softest.",
    )
    avoid: int = number(
        1, 1, 32, label="Not one of the last", step=1, whole=True, text="Only without repeats."
    )
    seed: int = number(1, 0, 1_000_000, label="Seed", step=1, whole=True)


class PlaysBed(DocumentModel):
    """A loop or an ambience that lies under all else from the start."""

    kind: Literal["bed"] = "bed"
    sample: Key
    tempo_bpm: float = number(
        0.0,
        0.0,
        400.0,
        label="Own tempo",
        unit="bpm",
        step=0.5,
        text="0: it has none, and is played as it is.",
    )
    first_beat_s: float = number(
        0.0, 0.0, 60.0, label="First beat", unit="s", scale="time", step=0.001
    )
    follow: bool = Field(
        default=True,
        title="Follows the tempo",
        description="Stretched to the try-out's tempo at its own pitch.",
    )
    loop: bool = Field(default=True, title="Loop")


Plays = Annotated[PlaysSound | PlaysSample | PlaysGroup | PlaysBed, Field(discriminator="kind")]


class Part(Timed):
    """A lane: what it plays, when, and how it goes into the mix."""

    id: Identifier
    name: str = Field(max_length=120)
    plays: Plays
    hits: Annotated[tuple[PlacedHit, ...], Field(max_length=MAX_HITS)] = ()
    level_db: float = number(0.0, -72.0, 24.0, label="Level", unit="dB", step=0.5)
    pan: float = number(0.0, -1.0, 1.0, label="Pan", unit="percent", step=0.05)
    offset_s: float = number(
        0.0,
        -0.5,
        0.5,
        label="Start offset",
        unit="s",
        scale="linear",
        step=0.001,
        text="All hits of the part are this much later; below 0 earlier.",
    )
    attack_s: float = number(
        0.0,
        0.0,
        0.5,
        label="Attack",
        unit="s",
        scale="time",
        step=0.001,
        text="Each hit rises in so much time.",
    )
    low_cut_hz: float = number(
        20.0, 20.0, 4000.0, label="Low cut", unit="Hz", scale="log", text="20 Hz: off."
    )
    high_cut_hz: float = number(
        20000.0, 200.0, 20000.0, label="High cut", unit="Hz", scale="log", text="20 kHz: off."
    )
    mute: bool = Field(default=False, title="Mute")
    solo: bool = Field(default=False, title="Solo")
    invert: bool = Field(default=False, title="Invert polarity")
    key: Note | None = Field(
        default=None, title="Key", description="The key that plays the part as one of a kit."
    )
    choke: int = number(
        0,
        0,
        8,
        label="Choke group",
        step=1,
        whole=True,
        text="A hit ends those of other hits of its group; 0: none.",
    )
    fade_in_s: float = number(0.0, 0.0, 60.0, label="Fade in", unit="s", scale="time", step=0.01)
    fade_out_s: float = number(0.0, 0.0, 60.0, label="Fade out", unit="s", scale="time", step=0.01)

    @property
    def sample_ids(self) -> tuple[int, ...]:
        """The samples that it may play; a sound has none."""
        if isinstance(self.plays, PlaysSound):
            return ()
        return self.plays.samples if isinstance(self.plays, PlaysGroup) else (self.plays.sample,)


class Duck(DocumentModel):
    """One part pulled down by each hit of another."""

    part: Identifier
    by: Identifier
    amount_db: float = number(9.0, 0.0, 60.0, label="Gain reduction", unit="dB", step=0.5)
    attack_s: float = number(0.002, 0.0, 1.0, label="Attack", unit="s", scale="time", step=0.001)
    hold_s: float = number(0.04, 0.0, 2.0, label="Hold", unit="s", scale="time", step=0.005)
    release_s: float = number(0.12, 0.001, 4.0, label="Release", unit="s", scale="time", step=0.005)


class GameTest(DocumentModel):
    """How a game triggers a variation group: when, which one, at what pitch, level and distance."""

    part: Identifier
    every_from_s: float = number(
        0.2, 0.03, 20.0, label="Every, from", unit="s", scale="time", step=0.01
    )
    every_to_s: float = number(
        0.4, 0.03, 20.0, label="Every, to", unit="s", scale="time", step=0.01
    )
    pitch_semitones: float = number(
        0.0, 0.0, 12.0, label="Pitch spread", unit="st", step=0.1, text="Up and down, evenly."
    )
    level_db: float = number(
        0.0, 0.0, 24.0, label="Level spread", unit="dB", step=0.5, text="Down from full, evenly."
    )
    distance_m: float = number(1.0, 1.0, 200.0, label="Distance", unit="m", scale="log", step=1.0)
    apart: float = number(
        0.5, 0.0, 3.0, label="Wanted distance", step=0.05, text="Of the features of neighbours."
    )
    bed: Identifier | None = None
    """The part that lies under it."""

    @model_validator(mode="after")
    def _in_order(self) -> Self:
        if self.every_to_s < self.every_from_s:
            raise ValueError("the longest interval must not be shorter than the shortest")
        return self


class TryOut(Timed):
    """A try-out, of ``length_s`` seconds or beats."""

    schema_version: Literal[1] = TRYOUT_VERSION
    name: str = Field(min_length=1, max_length=120)
    tempo_bpm: float = number(120.0, 20.0, 400.0, label="Tempo", unit="bpm", step=1.0)
    beats_a_bar: int = number(4, 1, 16, label="Beats a bar", step=1, whole=True)
    beat_value: Literal[2, 4, 8, 16] = Field(default=4, title="Beat value")
    swing: float = number(
        0.5,
        0.5,
        0.75,
        label="Swing",
        unit="percent",
        text="Where the second of two steps lies between the beats around them; 50 %: straight.",
    )
    swing_beats: float = number(
        0.25, 0.125, 0.5, label="Swung step", unit="beat", text="1/16 of a bar of four: 0.25."
    )
    length_s: float = number(8.0, 0.1, 120.0, label="Length", unit="s", scale="time", step=0.1)
    loop: bool = Field(default=True, title="Loop")
    seed: int = number(1, 0, 1_000_000, label="Seed", step=1, whole=True)
    parts: Annotated[tuple[Part, ...], Field(max_length=MAX_PARTS)] = ()
    ducks: Annotated[tuple[Duck, ...], Field(max_length=MAX_PARTS * 2)] = ()
    game: GameTest | None = None

    @model_validator(mode="after")
    def _fits_together(self) -> Self:
        ids = [part.id for part in self.parts]
        for one in {one for one in ids if ids.count(one) > 1}:
            raise ValueError(f"two parts have the id {one!r}")
        for duck in self.ducks:
            for one in (duck.part, duck.by):
                if one not in ids:
                    raise ValueError(f"there is no part {one!r}")
        for part in (self.game.part, self.game.bed) if self.game else ():
            if part is not None and part not in ids:
                raise ValueError(f"there is no part {part!r} for the game test")
        way = _circle({(duck.by, duck.part) for duck in self.ducks})
        if way:
            names = {part.id: part.name for part in self.parts}
            shown = " ducks ".join(names[one] for one in way)
            raise ValueError(f"parts duck each other in a circle: {shown}")
        return self


def _circle(edges: set[tuple[str, str]]) -> list[str]:
    """A way along edges that comes back to its start; empty where there is none."""
    after: dict[str, set[str]] = {}
    for source, target in edges:
        after.setdefault(target, set()).add(source)
    try:
        TopologicalSorter(after).prepare()
    except CycleError as error:
        # The same circle in the same words, wherever the search came upon it.
        around = list(error.args[1])[:-1]
        first = around.index(min(around))
        turned = around[first:] + around[:first]
        return [*turned, turned[0]]
    return []
