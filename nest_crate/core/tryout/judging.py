"""Two parts of a try-out where they meet: overlap, what their sum loses, and offers that help."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np

from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.tryout.document import TryOut
from nest_crate.core.tryout.overlap import Offer, Overlap, Together, offers, overlap, together
from nest_crate.core.tryout.placing import Event

__all__ = ["Meeting", "Tuning", "judge_meeting", "meeting_of", "offered_tuning"]

# The whole hit, but no more than this.
_LONGEST_S = 2.0
_SURE = 0.6
# Octaves and fifths of the other, as ratios within one octave around it.
_CONSONANT = (0.5, 2.0 / 3.0, 0.75, 1.0, 4.0 / 3.0, 1.5, 2.0)
_NEAR_CENT = 20.0


@dataclass(frozen=True)
class Meeting:
    """Where hits of two parts lie nearest to each other in time, in seconds of the round."""

    from_s: float
    first_s: float
    second_s: float
    until_s: float
    """Where the next hit of either begins, or the longest that is looked at."""


@dataclass(frozen=True)
class Tuning:
    """By how many semitones the second would come to the octave or fifth of the first."""

    first_hz: float
    second_hz: float
    semitones: int
    to_hz: float


@dataclass(frozen=True)
class Judged:
    """All that is said of a meeting."""

    meeting: Meeting
    overlap: Overlap
    together: Together
    offers: tuple[Offer, ...]
    tuning: Tuning | None


def meeting_of(tryout: TryOut, events: list[Event], first: str, second: str) -> Meeting | None:
    """The pair of hits that begin nearest to each other; a bed is met wherever the other is hit.
    None where neither is hit."""
    times = {key: [event.at_s for event in events if event.part == key] for key in (first, second)}
    if not times[first] and not times[second]:
        return None
    firsts = times[first] or times[second]
    seconds = times[second] or times[first]
    near = min(((a, b) for a in firsts for b in seconds), key=lambda pair: abs(pair[0] - pair[1]))
    begin = min(near)
    after = [one for one in firsts + seconds if one > max(near) + 1e-6]
    until = min([begin + _LONGEST_S, *after, tryout.length_s + _LONGEST_S])
    return Meeting(begin, *near, until)


def judge_meeting(
    meeting: Meeting,
    stems: Mapping[str, Signal],
    first: str,
    second: str,
    sample_rate: int,
    *,
    seconds: float | None = 0.05,
) -> Judged:
    """Judge two parts where they meet.

    Parameters
    ----------
    stems
        of both parts, a round each.
    seconds
        how much from the earlier hit on; None: until the next hit of either.
    """
    begin = round(meeting.from_s * sample_rate)
    end = round(meeting.until_s * sample_rate)
    a, b = (_window(stems[key], begin, end) for key in (first, second))
    looked = (meeting.until_s - meeting.from_s) if seconds is None else seconds
    return Judged(
        meeting,
        overlap(a, b, sample_rate, looked),
        together(a, b, sample_rate),
        offers(a, b, sample_rate, looked),
        offered_tuning(a, b, sample_rate),
    )


def _window(signal: Signal, begin: int, end: int) -> Signal:
    found = signal[:, begin:end]
    return np.pad(found, ((0, 0), (0, end - begin - found.shape[1])))


def offered_tuning(first: Signal, second: Signal, sample_rate: int) -> Tuning | None:
    """The least change of the second by whole semitones that brings it within 20 cents of the
    octave or fifth of the first; None where one has no sure pitch, or it lies there already."""
    pitches = []
    for one in (first, second):
        found = measure(one, sample_rate)
        if found.fundamental_hz is None or (found.pitch_confidence or 0.0) < _SURE:
            return None
        pitches.append(found.fundamental_hz)
    a, b = pitches
    octave = 2.0 ** round(np.log2(b / a))
    away = [12.0 * np.log2(a * octave * ratio / b) for ratio in _CONSONANT]
    if min(abs(one) for one in away) * 100.0 <= _NEAR_CENT:
        return None
    near = min(away, key=abs)
    semitones = round(near)
    if semitones == 0:
        return None
    return Tuning(a, b, semitones, b * 2.0 ** (semitones / 12.0))
