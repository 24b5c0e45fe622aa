"""A try-out as a kit: each part on a key, as an SFZ instrument with its samples.

Choke groups, round robin, random choice and velocity layers are written in the opcodes of SFZ
(sfzformat.com: group, off_by, off_mode, seq_length, seq_position, lorand, hirand, lovel, hivel).
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.tryout.document import Part, PlaysBed, PlaysGroup, PlaysSound, TryOut

__all__ = ["VELOCITY_LAYERS", "KitSample", "keys_of", "kit_text", "matched_levels"]

# Parts without a key of their own lie from here upwards.
_FIRST_KEY = 36
# The velocities at which a sound is rendered for a kit, spread over what a keyboard gives.
VELOCITY_LAYERS = (40, 72, 100, 127)
_PLAIN_VELOCITY = 100
# A sample has its full gain at velocity 127 in SFZ, and here at 100; both fall with the square.
_SAMPLES_LOUDER_DB = 40.0 * np.log10(127.0 / _PLAIN_VELOCITY)
_FLOOR_DB, _TOP_DB = -72.0, 24.0
_SILENT_LUFS = -70.0


@dataclass(frozen=True)
class KitSample:
    """One file of a kit: the part that it belongs to, and what of it. ``velocity`` is the one at
    which a sound was rendered, None for samples; ``variation`` the place in its group."""

    part: str
    path: str
    velocity: int | None = None
    variation: int = 0


def playable(tryout: TryOut) -> list[Part]:
    """Parts that a key can play: all but beds."""
    return [part for part in tryout.parts if not isinstance(part.plays, PlaysBed)]


def keys_of(tryout: TryOut) -> dict[str, int]:
    """The key of each part: its own, or the next free one from 36 on; beds have none."""
    parts = playable(tryout)
    taken = {part.key for part in parts if part.key is not None}
    free = (key for key in range(_FIRST_KEY, 128) if key not in taken)
    return {part.id: part.key if part.key is not None else next(free) for part in parts}


def kit_text(tryout: TryOut, samples: list[KitSample]) -> str:
    """The SFZ instrument over files of the kit; the parts' levels and pans are opcodes."""
    keys = keys_of(tryout)
    lines = [f"// {' '.join(tryout.name.split())}", "// made by Nest Crate"]
    for part in playable(tryout):
        own = [one for one in samples if one.part == part.id]
        if not own:
            continue
        head = [f"<group> key={keys[part.id]}", f"pitch_keycenter={keys[part.id]}"]
        level_db = part.level_db
        if not isinstance(part.plays, PlaysSound):
            level_db += _SAMPLES_LOUDER_DB
        head += ["loop_mode=one_shot", f"volume={level_db:.4g}", f"pan={100 * part.pan:g}"]
        if part.choke:
            head.append(f"group={part.choke} off_by={part.choke} off_mode=fast")
        lines += ["", f"// {' '.join(part.name.split())}", " ".join(head)]
        lines += _regions(part, own)
    return "\n".join(lines) + "\n"


def _regions(part: Part, samples: list[KitSample]) -> list[str]:
    plays = part.plays
    if not isinstance(plays, PlaysGroup):
        edges = _edges([one.velocity or _PLAIN_VELOCITY for one in samples])
        return [
            # What was rendered at its velocity is not made softer once more.
            f"<region> lovel={low} hivel={high} "
            + ("amp_veltrack=0 " if one.velocity is not None else "")
            + f"sample={one.path}"
            for one, (low, high) in zip(samples, edges, strict=True)
        ]
    count = len(samples)
    if plays.choice == "velocity":
        bounds = [(-(-128 * n // count), -(-128 * (n + 1) // count) - 1) for n in range(count)]
        return [
            f"<region> lovel={max(1, low)} hivel={high} sample={one.path}"
            for one, (low, high) in zip(samples, bounds, strict=True)
        ]
    if plays.choice == "random":
        return [
            f"<region> lorand={n / count:.6f} hirand={(n + 1) / count:.6f} sample={one.path}"
            for n, one in enumerate(samples)
        ]
    # No opcode says "at random without the last ones"; in turn comes nearest to it.
    return [
        f"<region> seq_length={count} seq_position={n} sample={one.path}"
        for n, one in enumerate(samples, 1)
    ]


def _edges(velocities: list[int]) -> list[tuple[int, int]]:
    """Velocity layers that meet halfway, from 1 to 127; velocities rise."""
    found = []
    low = 1
    for n, velocity in enumerate(velocities):
        last = n == len(velocities) - 1
        high = 127 if last else (velocity + velocities[n + 1]) // 2
        found.append((low, high))
        low = high + 1
    return found


def matched_levels(
    tryout: TryOut, hits: Mapping[str, Signal], sample_rate: int
) -> dict[str, float]:
    """Levels in dB at which one hit of each part is equally loud, as loud as the middle one is now.

    Parameters
    ----------
    hits
        one hit of each part, its level left out; parts that are silent keep their level.
    """
    now = {part.id: part.level_db for part in tryout.parts}
    loud = {key: measure(hit, sample_rate).loudness_lufs for key, hit in hits.items() if hit.size}
    heard = {key: value for key, value in loud.items() if value > _SILENT_LUFS}
    if not heard:
        return {}
    wanted = float(np.median([value + now[key] for key, value in heard.items()]))
    return {
        key: round(float(np.clip(wanted - value, _FLOOR_DB, _TOP_DB)), 2)
        for key, value in heard.items()
    }
