"""A try-out as audio: the mix of one round, and each part by itself."""

from __future__ import annotations

from collections.abc import Callable
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
from nest_crate.core.tryout.document import Part, PlaysBed, PlaysSound, TryOut
from nest_crate.core.tryout.mixing import (
    CHOKE_S,
    cut,
    duck_points,
    ducked_db,
    faded,
    panned,
    velocity_gain,
)
from nest_crate.core.tryout.placing import Event, placed
from nest_crate.core.units import db_to_gain

__all__ = ["Mix", "Resolver", "event_hit", "render_tryout", "sound_at_tempo"]


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


def render_tryout(
    tryout: TryOut,
    resolve: Resolver,
    settings: RenderSettings | None = None,
    *,
    round_number: int = 0,
    render_hit: Callable[[Sound, Hit, RenderSettings], Audio] = render,
) -> Mix:
    """Render one round of a try-out; the same document and round give the same samples.

    Each different hit is rendered once. What a part rings on after the end of a loop is heard at
    the start of the next round; here it follows the round's end.

    Parameters
    ----------
    render_hit
        makes one hit of a sound, for those who remember hits.
    """
    settings = settings or RenderSettings()
    events = placed(tryout, round_number)
    missing: dict[str, str] = {}
    stems: dict[str, Signal] = {}
    for part in tryout.parts:
        own = [event for event in events if event.part == part.id]
        try:
            stems[part.id] = _stem(tryout, part, own, resolve, settings, render_hit)
        except Cancelled:
            raise
        except NestCrateError as error:
            missing[part.id] = error.message
            stems[part.id] = np.zeros((2, 0))
    for duck in tryout.ducks:
        hits = [event.at_s for event in events if event.part == duck.by]
        if hits:
            signal = stems[duck.part]
            gain_db = ducked_db(duck_points(duck, hits), signal.shape[1], settings.sample_rate)
            stems[duck.part] = signal * 10.0 ** (gain_db / 20.0)
    frames = max(
        [round(tryout.length_s * settings.sample_rate), *(one.shape[1] for one in stems.values())]
    )
    stems = {key: _padded(signal, frames) for key, signal in stems.items()}
    solo = any(part.solo for part in tryout.parts)
    heard = [part.id for part in tryout.parts if (part.solo if solo else not part.mute)]
    mixed = np.zeros((2, frames))
    for key in heard:
        mixed += stems[key]
    return Mix(mixed, settings.sample_rate, stems, tuple(events), missing)


def _padded(signal: Signal, frames: int) -> Signal:
    return np.pad(signal, ((0, 0), (0, frames - signal.shape[1])))


def _stem(
    tryout: TryOut,
    part: Part,
    events: list[Event],
    resolve: Resolver,
    settings: RenderSettings,
    render_hit: Callable[[Sound, Hit, RenderSettings], Audio],
) -> Signal:
    """A part by itself, ducking left out."""
    rate = settings.sample_rate
    if isinstance(part.plays, PlaysBed):
        bed = resolve.sample(part.plays.sample)
        signal = bed_signal(part.plays, bed, tryout.tempo_bpm, tryout.length_s, settings)
        laid = panned(signal, part.pan)
    else:
        laid = _laid(part, events, _hits(tryout, part, events, resolve, settings, render_hit), rate)
    shaped = cut(laid * db_to_gain(part.level_db), part, rate)
    return faded(shaped, part, tryout.length_s, rate)


def _hits(
    tryout: TryOut,
    part: Part,
    events: list[Event],
    resolve: Resolver,
    settings: RenderSettings,
    render_hit: Callable[[Sound, Hit, RenderSettings], Audio],
) -> list[Signal]:
    """The signal of each event; those that are the same are made once."""
    made: dict[object, Signal] = {}
    at_rate: dict[int, Signal] = {}
    plays = part.plays
    sound = None
    if isinstance(plays, PlaysSound):
        sound = sound_at_tempo(resolve.sound(plays), tryout.tempo_bpm)
    found = []
    for event in events:
        key = replace(event, at_s=0.0, hit=0, until_s=None)
        if key not in made:
            if sound is not None:
                made[key] = render_hit(*event_hit(sound, event), settings).samples
            else:
                sample = event.sample if event.sample is not None else plays.sample  # type: ignore[union-attr]
                if sample not in at_rate:
                    audio = resolve.sample(sample)
                    at_rate[sample] = resample(
                        audio.samples, audio.sample_rate, settings.sample_rate
                    )
                made[key] = at_rate[sample] * velocity_gain(event.velocity)
        found.append(made[key])
    return found


def _laid(part: Part, events: list[Event], signals: list[Signal], rate: int) -> Signal:
    """Hits at their places, each on its nearest frame, ended where another chokes it."""
    starts = [round(event.at_s * rate) for event in events]
    ends = [start + one.shape[1] for start, one in zip(starts, signals, strict=True)]
    out = np.zeros((2, max(ends, default=0)))
    for event, start, signal in zip(events, starts, signals, strict=True):
        heard = panned(_choked(event, start, signal, rate), part.pan)
        out[:, start : start + heard.shape[1]] += heard
    return out


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
