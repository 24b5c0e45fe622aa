"""Stock patterns: a try-out begun around one sound, with hits where such a sound is used.

The sound's own part is called "sound"; the others are found by kind in what the library holds.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from nest_crate.core.tryout.document import Part, PlacedHit, Plays, TryOut

__all__ = ["PATTERNS", "Pattern", "begin_tryout"]

_SOUND = "sound"


@dataclass(frozen=True)
class _Line:
    """Hits of one part in beats, with velocities; ``kind`` says what of a library plays it."""

    kind: str
    beats: tuple[float, ...]
    velocity: int = 100
    softer: tuple[float, ...] = ()
    """Beats at which it is hit more softly."""


@dataclass(frozen=True)
class Pattern:
    """What a stock pattern is: its tempo, its length, and where each kind is hit."""

    label: str
    tempo_bpm: float
    beats: float
    sound: tuple[float, ...]
    lines: tuple[_Line, ...] = ()
    swing: float = 0.5


def _each(step: float, beats: float, start: float = 0.0) -> tuple[float, ...]:
    return tuple(start + step * n for n in range(round((beats - start) / step + 0.49)))


PATTERNS: Mapping[str, Pattern] = {
    "four_on_the_floor": Pattern(
        "Four on the floor",
        124.0,
        16.0,
        _each(1.0, 16.0),
        (
            _Line("snare", _each(2.0, 16.0, 1.0)),
            _Line("tick", _each(0.5, 16.0), 84, _each(1.0, 16.0, 0.5)),
            _Line("bass", (0.5, 2.5, 3.5, 4.5, 6.5, 8.5, 10.5, 11.5, 12.5, 14.5), 96),
        ),
    ),
    "half_time": Pattern(
        "Half time",
        140.0,
        16.0,
        (0.0, 1.5, 8.0, 9.75, 10.5),
        (
            _Line("snare", (4.0, 12.0)),
            _Line("tick", _each(0.5, 16.0), 76, _each(2.0, 16.0, 1.0)),
            _Line("bass", (0.0, 2.5, 8.0, 11.0), 100),
        ),
    ),
    "broken": Pattern(
        "Broken",
        96.0,
        16.0,
        (0.0, 2.5, 4.0, 5.75, 8.0, 10.5, 12.0, 13.25, 14.5),
        (
            _Line("snare", (1.0, 3.0, 5.0, 7.0, 9.0, 11.0, 13.0, 15.0), 104),
            _Line("tick", _each(0.5, 16.0), 80, _each(1.0, 16.0, 0.5)),
            _Line("bass", (0.5, 3.0, 4.5, 6.5, 8.5, 11.0, 12.5, 14.0), 96),
        ),
        swing=0.56,
    ),
    "slow_pulse": Pattern(
        "Slow pulse",
        60.0,
        8.0,
        (0.0, 4.0),
        (_Line("tick", (1.0, 2.0, 3.0, 5.0, 6.0, 7.0), 70),),
    ),
    "bed_with_hits": Pattern(
        "Long bed with hits",
        60.0,
        20.0,
        (2.0, 7.0, 11.0, 16.0),
        (_Line("drone", (0.0,), 90), _Line("snare", (5.0, 14.0), 80)),
    ),
}


def begin_tryout(
    pattern: str,
    sound: tuple[str, Plays],
    found: Mapping[str, tuple[str, Plays]],
    name: str,
) -> TryOut:
    """A try-out of a stock pattern.

    Parameters
    ----------
    sound
        name and what the sound's own part plays.
    found
        by kind of a pattern's lines, a part's name and what it plays; a line without one is left
        out.
    """
    wanted = PATTERNS[pattern]
    beat_s = 60.0 / wanted.tempo_bpm
    parts = [_part(_SOUND, *sound, _hits(wanted.sound, (), 110, beat_s))]
    for line in wanted.lines:
        if line.kind in found:
            hits = _hits(line.beats, line.softer, line.velocity, beat_s)
            parts.append(_part(line.kind, *found[line.kind], hits))
    return TryOut(
        name=name,
        tempo_bpm=wanted.tempo_bpm,
        swing=wanted.swing,
        length_s=wanted.beats * beat_s,
        in_beats={"length_s": wanted.beats},
        parts=tuple(parts),
    )


def _part(identifier: str, name: str, plays: Plays, hits: Sequence[PlacedHit]) -> Part:
    level = 0.0 if identifier == _SOUND else -6.0
    return Part(id=identifier, name=name, plays=plays, hits=tuple(hits), level_db=level)


def _hits(
    beats: Sequence[float], softer: Sequence[float], velocity: int, beat_s: float
) -> list[PlacedHit]:
    return [
        PlacedHit(
            at_s=at * beat_s,
            in_beats={"at_s": at},
            velocity=velocity * 3 // 4 if at in softer else velocity,
        )
        for at in beats
    ]
