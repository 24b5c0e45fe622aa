"""What an exported file says about its sound, the same for every format."""

from __future__ import annotations

from dataclasses import dataclass, field

__all__ = ["OWN_ORIGINATOR", "Mark", "SoundFacts"]

OWN_ORIGINATOR = "Nest Crate"


@dataclass(frozen=True)
class Mark:
    """A named moment of the sound."""

    at_s: float
    label: str


@dataclass(frozen=True)
class SoundFacts:
    """Texts may be empty and numbers None where they are not known.

    ``root_cent`` is how far the sound lies above its root note; loops are in seconds, the end not
    included; ``date`` is the day it was made, as 2026-11-27. ``source_reference`` and ``ixml`` are
    what the file said that a sample was imported from.
    """

    title: str = ""
    description: str = ""
    author: str = ""
    licence: str = ""
    date: str = ""
    library: str = ""
    category: str = ""
    subcategory: str = ""
    tags: tuple[str, ...] = ()
    root_note: int | None = None
    root_cent: float = 0.0
    tempo_bpm: float | None = None
    loop_start_s: float | None = None
    loop_end_s: float | None = None
    variation_group: str = ""
    variation: int | None = None
    follows_key: bool = False
    key: str = ""
    reference: str = ""
    source_reference: str = ""
    ixml: str = ""
    loudness_lufs: float | None = None
    true_peak_db: float | None = None
    marks: tuple[Mark, ...] = field(default=())

    @property
    def genre(self) -> str:
        """Category and subcategory in one."""
        return " / ".join(one for one in (self.category, self.subcategory) if one)

    @property
    def further(self) -> dict[str, str]:
        """What no format has a field of its own for, by the names under which it is written."""
        texts = {
            "VARIATION_GROUP": self.variation_group,
            "VARIATION": "" if self.variation is None else str(self.variation),
            "FOLLOWS_KEY": "yes" if self.follows_key else "",
            "KEY": self.key,
        }
        return {name: text for name, text in texts.items() if text}

    def loop_frames(self, sample_rate: int, frames: int) -> tuple[int, int] | None:
        """First frame of the loop and the one behind its last; None where there is none."""
        if self.loop_start_s is None or self.loop_end_s is None:
            return None
        start = round(self.loop_start_s * sample_rate)
        end = min(frames, round(self.loop_end_s * sample_rate))
        return (start, end) if 0 <= start < end else None
