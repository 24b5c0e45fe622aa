"""A try-out as audio: the mix of one round, and each part by itself."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterator
from dataclasses import dataclass, field, replace
from typing import Protocol

import numpy as np

from nest_crate.core.cancellation import Cancelled
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.errors import NestCrateError
from nest_crate.core.sound import Hit, Sound, dump_sound, load_sound
from nest_crate.core.sound.playing import FurtherNote
from nest_crate.core.tryout.beds import bed_signal
from nest_crate.core.tryout.document import (
    Part,
    PlaysBed,
    PlaysGroup,
    PlaysSample,
    PlaysSound,
    TryOut,
)
from nest_crate.core.tryout.mixing import (
    CHOKE_S,
    cut,
    duck_points,
    ducked_db,
    faded,
    panned,
    sample_as_hit,
    velocity_gain,
)
from nest_crate.core.tryout.placing import Event, placed
from nest_crate.core.units import db_to_gain

__all__ = [
    "Mix",
    "RenderHit",
    "Resolver",
    "Stem",
    "event_hit",
    "heard_parts",
    "render_tryout",
    "shaped_hit",
    "sound_at_tempo",
    "stems_of",
]


class Resolver(Protocol):
    """Where what a part plays comes from; each raises ``NestCrateError`` where it is not there."""

    def sound(self, plays: PlaysSound) -> Sound:
        """A sound, as its revision or draft is."""

    def sample(self, identifier: int) -> Audio:
        """What is heard of a sample."""


@dataclass(frozen=True)
class Mix:
    """One round: two channels each, as long as the round and what rings on after it."""

    samples: Signal
    sample_rate: int
    stems: dict[str, Signal] = field(default_factory=dict)
    """Of each part, before mute and solo are looked at."""
    events: tuple[Event, ...] = ()
    missing: dict[str, str] = field(default_factory=dict)
    """Parts that could not be played, and why."""


def sound_at_tempo(sound: Sound, tempo_bpm: float) -> Sound:
    """A sound whose times in beats are those of another tempo."""
    if sound.tempo_bpm == tempo_bpm:
        return sound
    return load_sound({**dump_sound(sound), "tempo_bpm": tempo_bpm})


def event_hit(sound: Sound, event: Event) -> tuple[Sound, Hit]:
    """What one event plays of a sound: its macros set, and the hit."""
    hit = sound.hit.with_seconds(loop_s=0.0).model_copy(update={"velocity": event.velocity})
    if event.notes:
        further = tuple(FurtherNote(note=note) for note in event.notes[1:])
        hit = hit.model_copy(update={"note": event.notes[0], "further": further})
    if event.hold_s is not None:
        hit = hit.with_seconds(hold_s=event.hold_s)
    wanted = dict(event.macros)
    if not wanted:
        return sound, hit
    movers = tuple(
        mover.model_copy(update={"value": wanted[mover.id]})
        if mover.kind == "macro" and mover.id in wanted
        else mover
        for mover in sound.movers
    )
    return sound.model_copy(update={"movers": movers}), hit


@dataclass(frozen=True)
class Stem:
    """What one part plays in a round, two channels, mute and solo not looked at."""

    part: Part
    samples: Signal
    missing: str = ""
    """Why all or some of it could not be played."""


RenderHit = Callable[[Sound, Hit, RenderSettings], Audio]


def stems_of(
    tryout: TryOut,
    resolve: Resolver,
    settings: RenderSettings | None = None,
    *,
    round_number: int = 0,
    render_hit: RenderHit = render,
    only: Container[str] | None = None,
) -> Iterator[Stem]:
    """Each part of a round by itself, one after the other, so that one is held at a time.

    Parameters
    ----------
    only
        ids of the parts that are wanted; all where None.
    """
    settings = settings or RenderSettings()
    events = placed(tryout, round_number)
    for part in tryout.parts:
        if only is not None and part.id not in only:
            continue
        own = [event for event in events if event.part == part.id]
        try:
            signal, missing = _stem(tryout, part, own, resolve, settings, render_hit)
        except Cancelled:
            raise
        except NestCrateError as error:
            yield Stem(part, np.zeros((2, 0)), error.message)
            continue
        yield Stem(part, _ducked(tryout, part, events, signal, settings.sample_rate), missing)


def heard_parts(tryout: TryOut) -> list[str]:
    """The ids of the parts that mute and solo let through."""
    solo = any(part.solo for part in tryout.parts)
    return [part.id for part in tryout.parts if (part.solo if solo else not part.mute)]


def render_tryout(
    tryout: TryOut,
    resolve: Resolver,
    settings: RenderSettings | None = None,
    *,
    round_number: int = 0,
    render_hit: RenderHit = render,
    keep_stems: bool = True,
) -> Mix:
    """Render one round of a try-out; the same document and round give the same samples.

    Each different hit is rendered once. What a part rings on after the end of a loop is heard at
    the start of the next round; here it follows the round's end.

    Parameters
    ----------
    render_hit
        makes one hit of a sound, for those who remember hits.
    keep_stems
        without them the mix of many long parts takes little memory, and no part is rendered that
        is not heard.
    """
    settings = settings or RenderSettings()
    frames = round(tryout.length_s * settings.sample_rate)
    heard = heard_parts(tryout)
    mixed = np.zeros((2, frames))
    stems: dict[str, Signal] = {}
    missing: dict[str, str] = {}
    wanted = None if keep_stems else heard
    for stem in stems_of(
        tryout, resolve, settings, round_number=round_number, render_hit=render_hit, only=wanted
    ):
        key, signal = stem.part.id, stem.samples
        if stem.missing:
            missing[key] = stem.missing
        if signal.shape[1] > mixed.shape[1]:
            mixed = _padded(mixed, signal.shape[1])
        if key in heard:
            mixed[:, : signal.shape[1]] += signal
        if keep_stems:
            stems[key] = signal
    stems = {key: _padded(signal, mixed.shape[1]) for key, signal in stems.items()}
    events = tuple(placed(tryout, round_number))
    return Mix(mixed, settings.sample_rate, stems, events, missing)


def _ducked(
    tryout: TryOut, part: Part, events: list[Event], signal: Signal, sample_rate: int
) -> Signal:
    for duck in tryout.ducks:
        if duck.part != part.id:
            continue
        hits = [event.at_s for event in events if event.part == duck.by]
        if hits:
            gain_db = ducked_db(duck_points(duck, hits), signal.shape[1], sample_rate)
            signal = signal * 10.0 ** (gain_db / 20.0)
    return signal


def _padded(signal: Signal, frames: int) -> Signal:
    return np.pad(signal, ((0, 0), (0, frames - signal.shape[1])))


def _stem(
    tryout: TryOut,
    part: Part,
    events: list[Event],
    resolve: Resolver,
    settings: RenderSettings,
    render_hit: RenderHit,
) -> tuple[Signal, str]:
    """A part by itself, ducking left out, and what of it could not be played."""
    rate, missing = settings.sample_rate, ""
    if isinstance(part.plays, PlaysBed):
        bed = resolve.sample(part.plays.sample)
        signal = bed_signal(part.plays, bed, tryout.tempo_bpm, tryout.length_s, settings)
        laid = panned(signal, part.pan)
    else:
        signals, missing = _hits(tryout, part, events, resolve, settings, render_hit)
        laid = _laid(part, events, signals, rate)
    gain = -db_to_gain(part.level_db) if part.invert else db_to_gain(part.level_db)
    return faded(cut(laid * gain, part, rate), part, tryout.length_s, rate), missing


def _hits(
    tryout: TryOut,
    part: Part,
    events: list[Event],
    resolve: Resolver,
    settings: RenderSettings,
    render_hit: RenderHit,
) -> tuple[list[Signal], str]:
    """The signal of each event; those that are the same are made once."""
    plays = part.plays
    if not isinstance(plays, PlaysSound):
        return _sampled(plays, events, resolve, settings.sample_rate)
    sound = sound_at_tempo(resolve.sound(plays), tryout.tempo_bpm)
    made: dict[object, Signal] = {}
    found = []
    for event in events:
        key = replace(event, at_s=0.0, hit=0, until_s=None)
        if key not in made:
            made[key] = render_hit(*event_hit(sound, event), settings).samples
        found.append(made[key])
    return found, ""


def _sampled(
    plays: PlaysSample | PlaysGroup | PlaysBed,
    events: list[Event],
    resolve: Resolver,
    sample_rate: int,
) -> tuple[list[Signal], str]:
    """Hits of samples. A variation that is not there is silent, the others are heard."""
    at_rate: dict[int, Signal] = {}
    made: dict[tuple[int, int], Signal] = {}
    missing = ""
    found = []
    for event in events:
        sample = plays.sample if not isinstance(plays, PlaysGroup) else event.sample or 0
        if sample not in at_rate:
            try:
                audio = resolve.sample(sample)
            except NestCrateError as error:
                if not isinstance(plays, PlaysGroup):
                    raise
                missing = missing or error.message
                at_rate[sample] = np.zeros((2, 0))
            else:
                whole = resample(audio.samples, audio.sample_rate, sample_rate)
                at_rate[sample] = sample_as_hit(whole, sample_rate)
        key = (sample, event.velocity)
        if key not in made:
            made[key] = at_rate[sample] * velocity_gain(event.velocity)
        found.append(made[key])
    return found, missing


def _laid(part: Part, events: list[Event], signals: list[Signal], rate: int) -> Signal:
    """Hits at their places, each on its nearest frame, ended where another chokes it."""
    starts = [round(event.at_s * rate) for event in events]
    ends = [start + one.shape[1] for start, one in zip(starts, signals, strict=True)]
    out = np.zeros((2, max(ends, default=0)))
    for event, start, signal in zip(events, starts, signals, strict=True):
        risen = _risen(_choked(event, start, signal, rate), part.attack_s, rate)
        heard = panned(risen, part.pan)
        out[:, start : start + heard.shape[1]] += heard
    return out


def shaped_hit(part: Part, signal: Signal, sample_rate: int) -> Signal:
    """A hit by itself with its part's attack, cuts and polarity; level and pan left out."""
    shaped = cut(_risen(signal, part.attack_s, sample_rate), part, sample_rate)
    return -shaped if part.invert else shaped


def _risen(signal: Signal, attack_s: float, rate: int) -> Signal:
    if attack_s == 0.0:
        return signal
    return signal * np.minimum(1.0, np.arange(signal.shape[1]) / (attack_s * rate))


def _choked(event: Event, start: int, signal: Signal, rate: int) -> Signal:
    if event.until_s is None:
        return signal
    left = max(0, round(event.until_s * rate) - start)
    fade = round(CHOKE_S * rate)
    if left + fade >= signal.shape[1]:
        return signal
    ended = signal[:, : left + fade].copy()
    ended[:, left:] *= 1.0 - np.arange(1, fade + 1) / fade
    return ended
