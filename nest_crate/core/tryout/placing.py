"""Which hits are heard in one round, when, and until when: swing, chance, choices and chokes.

All of it follows from the document and the number of the round, so that what the page plays and
what is rendered is the same.
"""

from __future__ import annotations

from collections import deque
from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from nest_crate.core.tryout.document import Part, PlacedHit, PlaysGroup, TryOut

__all__ = ["Event", "placed", "swung_s"]


@dataclass(frozen=True)
class Event:
    """A hit as it is heard: seconds from the start of its round.

    ``sample`` is the variation that a group chose. ``until_s`` is where another hit of its choke
    group ends it; None where it is heard to its own end.
    """

    part: str
    hit: int
    at_s: float
    notes: tuple[int, ...]
    velocity: int
    hold_s: float | None
    macros: tuple[tuple[str, float], ...]
    sample: int | None
    until_s: float | None


def swung_s(tryout: TryOut, hit: PlacedHit) -> float:
    """Where a hit lies. One that is kept in beats is swung: of each two steps the second begins at
    ``swing`` of their time, and what lies between them moves along."""
    beats = hit.in_beats.get("at_s")
    if beats is None or tryout.swing == 0.5:
        return hit.at_s
    pair = 2.0 * tryout.swing_beats
    first, within = divmod(beats, pair)
    place = within / pair
    if place < 0.5:
        moved = place * 2.0 * tryout.swing
    else:
        moved = tryout.swing + (place - 0.5) * 2.0 * (1.0 - tryout.swing)
    shift = (first * pair + moved * pair - beats) * 60.0 / tryout.tempo_bpm
    return hit.at_s + shift


def placed(tryout: TryOut, round_number: int = 0) -> list[Event]:
    """All hits of one round in order of time; hits that begin past its end are left out."""
    found = [
        event
        for number, part in enumerate(tryout.parts)
        for event in _of_part(tryout, number, part, round_number)
    ]
    return _choked(tryout, sorted(found, key=lambda one: (one.at_s, one.part, one.hit)))


def _of_part(tryout: TryOut, number: int, part: Part, round_number: int) -> Iterator[Event]:
    chance = np.random.Generator(np.random.PCG64([tryout.seed, number, round_number]))
    # One number for each hit, whether it is wanted or not, so that hits do not hang on each other.
    thrown = chance.random(len(part.hits))
    order = sorted(range(len(part.hits)), key=lambda n: (swung_s(tryout, part.hits[n]), n))
    heard = [n for n in order if thrown[n] < part.hits[n].chance]
    choices = _choices(part, [part.hits[n] for n in heard], round_number)
    for n, sample in zip(heard, choices, strict=True):
        hit = part.hits[n]
        at_s = max(0.0, swung_s(tryout, hit) + part.offset_s)
        if at_s >= tryout.length_s:
            continue
        yield Event(
            part.id,
            n,
            at_s,
            hit.notes,
            hit.velocity,
            hit.hold_s,
            tuple(sorted(hit.macros.items())),
            sample,
            None,
        )


def _choices(part: Part, hits: list[PlacedHit], round_number: int) -> list[int | None]:
    """The variation of each hit, in order of time."""
    plays = part.plays
    if not isinstance(plays, PlaysGroup):
        return [None] * len(hits)
    count = len(plays.samples)
    if plays.choice == "velocity":
        return [plays.samples[min(count - 1, hit.velocity * count // 128)] for hit in hits]
    if plays.choice == "in_turn":
        first = round_number * len(part.hits)
        return [plays.samples[(first + n) % count] for n in range(len(hits))]
    chance = np.random.Generator(np.random.PCG64([plays.seed, round_number]))
    avoid = min(plays.avoid, count - 1) if plays.choice == "no_repeat" else 0
    last: deque[int] = deque(maxlen=max(1, avoid))
    chosen: list[int | None] = []
    for _ in hits:
        free = [n for n in range(count) if avoid == 0 or n not in last]
        index = free[int(chance.integers(len(free)))]
        last.append(index)
        chosen.append(plays.samples[index])
    return chosen


def _choked(tryout: TryOut, events: list[Event]) -> list[Event]:
    """Each hit of a choke group ends those before it, its own part's too."""
    groups = {part.id: part.choke for part in tryout.parts}
    ends: dict[int, float] = {}
    found = []
    for event in reversed(events):
        group = groups[event.part]
        if group and group in ends and ends[group] > event.at_s:
            event = replace(event, until_s=ends[group])
        if group:
            ends[group] = event.at_s
        found.append(event)
    return found[::-1]
