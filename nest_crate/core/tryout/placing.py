"""Which hits are heard in one round, when, and until when: swing, chance, choices and chokes.

All of it follows from the document and the number of the round, so that what the page plays and
what is rendered is the same.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

import numpy as np

from nest_crate.core.tryout.document import Part, PlacedHit, PlaysGroup, TryOut
from nest_crate.core.tryout.picking import by_velocity, picked

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
    places = [max(0.0, swung_s(tryout, hit) + part.offset_s) for hit in part.hits]
    order = sorted(range(len(places)), key=lambda n: (places[n], n))
    within = [n for n in order if places[n] < tryout.length_s]
    heard = _heard(tryout, number, part, within, round_number)
    choices = _choices(tryout, number, part, within, heard, round_number)
    for n, sample in zip(heard, choices, strict=True):
        hit = part.hits[n]
        yield Event(
            part.id,
            n,
            places[n],
            hit.notes,
            hit.velocity,
            hit.hold_s,
            tuple(sorted(hit.macros.items())),
            sample,
            None,
        )


def _heard(
    tryout: TryOut, number: int, part: Part, within: list[int], round_number: int
) -> list[int]:
    """Those hits that chance lets through in a round."""
    if all(part.hits[n].chance >= 1.0 for n in within):
        return within
    chance = np.random.Generator(np.random.PCG64([tryout.seed, number, round_number]))
    # One number for each hit, whether it is wanted or not, so that hits do not hang on each other.
    thrown = chance.random(len(part.hits))
    return [n for n in within if thrown[n] < part.hits[n].chance]


def _choices(
    tryout: TryOut,
    number: int,
    part: Part,
    within: list[int],
    heard: list[int],
    round_number: int,
) -> list[int | None]:
    """The variation of each hit, in order of time. What the rounds before have played counts."""
    plays = part.plays
    if not isinstance(plays, PlaysGroup):
        return [None] * len(heard)
    if plays.choice == "velocity":
        velocities = [part.hits[n].velocity for n in heard]
        return [plays.samples[index] for index in by_velocity(plays, velocities)]
    if len(heard) == len(within) and all(part.hits[n].chance >= 1.0 for n in within):
        before = round_number * len(within)
    else:
        rounds = range(round_number)
        before = sum(len(_heard(tryout, number, part, within, one)) for one in rounds)
    return [plays.samples[index] for index in picked(plays, before, len(heard))]


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
