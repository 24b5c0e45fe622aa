"""The hit, and how a sound answers to several notes: chords, one at a time, patterns."""

from __future__ import annotations

from typing import Annotated, Literal

from pydantic import Field

from nest_crate.core.sound.parameters import Timed, number

__all__ = ["MAX_FURTHER_NOTES", "FurtherNote", "Hit", "Pattern", "Playing"]

MAX_FURTHER_NOTES = 15


class FurtherNote(Timed):
    """A note beside the hit's own: at once it makes a chord, later it follows."""

    note: int = number(60, 0, 127, label="Note", unit="note", step=1, whole=True)
    at_s: float = number(0.0, 0.0, 60.0, label="From", unit="s", scale="time", step=0.01)


class Hit(Timed):
    """One performance of a sound. All its notes are let go at the end of its hold."""

    note: int = number(60, 0, 127, label="Note", unit="note", step=1, whole=True)
    velocity: int = number(100, 1, 127, label="Velocity", step=1, whole=True)
    hold_s: float = number(0.25, 0.0, 60.0, label="Hold", unit="s", scale="time", step=0.01)
    loop_s: float = number(
        0.0,
        0.0,
        60.0,
        label="Loop",
        unit="s",
        scale="time",
        step=0.01,
        text="Length of a seamless loop of the held sound; 0: the sound is played to its end.",
    )
    number: int = number(1, 1, 1_000_000, label="Hit number", step=1, whole=True)
    further: Annotated[tuple[FurtherNote, ...], Field(max_length=MAX_FURTHER_NOTES)] = ()


class Playing(Timed):
    """How several notes of a sound go together, and between which it is right."""

    good_low: int = number(0, 0, 127, label="Lowest good note", unit="note", step=1, whole=True)
    good_high: int = number(127, 0, 127, label="Highest good note", unit="note", step=1, whole=True)

    way: Literal["poly", "mono", "legato"] = Field(
        default="poly",
        title="Mode",
        description="Poly: all sound. Mono: the newest ends the one before. "
        "Legato: a note played into another goes on with its curves.",
    )
    glide_s: float = number(
        0.0,
        0.0,
        5.0,
        label="Glide",
        unit="s",
        scale="time",
        step=0.01,
        text="Time to slide from one note to the next; mono and legato only.",
    )


class Pattern(Timed):
    """A few notes inside one hit: a roll or a flourish."""

    order: Literal["off", "repeat", "up", "down", "up_down"] = Field(default="off", title="Pattern")
    notes: int = number(
        4,
        0,
        64,
        label="Notes",
        step=1,
        whole=True,
        text="0: as many as fit into the hold.",
    )
    octaves: int = number(
        1, 1, 4, label="Octaves", step=1, whole=True, text="Range of the up and down patterns."
    )
    sync: bool = Field(default=True, title="Tempo sync")
    beats: float = number(
        0.25, 1.0 / 64.0, 16.0, label="Step length", unit="beat", scale="log", step=0.25
    )
    every_s: float = number(0.1, 0.005, 10.0, label="Every", unit="s", scale="time", step=0.005)
    gate: float = number(
        0.8,
        0.02,
        4.0,
        label="Gate",
        unit="percent",
        step=0.05,
        text="Part of the step for which a note is held; above 100 % it overlaps the next.",
    )
    fade_db: float = number(
        0.0,
        -48.0,
        48.0,
        label="Level, first to last",
        unit="dB",
        step=1.0,
        text="Below 0 each note is softer than the one before, above 0 louder; "
        "the loudest is as set.",
    )
