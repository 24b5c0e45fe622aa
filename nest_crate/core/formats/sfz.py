"""SFZ: a text by which samplers play a group of samples as one instrument (sfzformat.com)."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

__all__ = ["Region", "sfz_text"]


@dataclass(frozen=True)
class Region:
    """One sample: its file, root note, velocity as recorded (1 to 127), and place in the round."""

    path: str
    root_note: int
    velocity: int | None
    follows_key: bool
    cent: float = 0.0
    loop: tuple[int, int] | None = None


def sfz_text(title: str, regions: Sequence[Region]) -> str:
    """An instrument: key ranges halfway between root notes, velocity layers likewise, and those of
    one note and velocity in turn, hit after hit."""
    lines = [f"// {' '.join(title.split())}", "// made by Nest Crate"]
    notes = sorted({one.root_note for one in regions})
    for note in notes:
        low_key, high_key = _span(note, notes, 0, 127)
        of_note = [one for one in regions if one.root_note == note]
        velocities = sorted({_velocity(one) for one in of_note})
        for velocity in velocities:
            low, high = _span(velocity, velocities, 1, 127)
            turns = [one for one in of_note if _velocity(one) == velocity]
            group = [
                f"<group> lokey={low_key} hikey={high_key} pitch_keycenter={note}",
                f"lovel={low} hivel={high} seq_length={len(turns)}",
            ]
            lines += ["", " ".join(group)]
            lines += [_region(one, position) for position, one in enumerate(turns, 1)]
    return "\n".join(lines) + "\n"


def _velocity(region: Region) -> int:
    return 127 if region.velocity is None else region.velocity


def _span(value: int, values: list[int], lowest: int, highest: int) -> tuple[int, int]:
    """From halfway below to halfway above, to the ends for the first and the last."""
    at = values.index(value)
    low = lowest if at == 0 else (values[at - 1] + value) // 2 + 1
    high = highest if at == len(values) - 1 else (value + values[at + 1]) // 2
    return low, high


def _region(region: Region, position: int) -> str:
    parts = [f"<region> seq_position={position}"]
    if not region.follows_key:
        parts.append("pitch_keytrack=0")
    if round(region.cent):
        parts.append(f"tune={-round(region.cent)}")
    if region.loop:
        parts.append(
            f"loop_mode=loop_sustain loop_start={region.loop[0]} loop_end={region.loop[1] - 1}"
        )
    else:
        parts.append("loop_mode=one_shot")
    # Last, for a file's name may hold spaces and reaches to the end of the line.
    return " ".join([*parts, f"sample={region.path}"])
