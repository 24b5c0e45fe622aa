"""A sound over the keyboard: where it is loud, where harsh, where its low end is gone."""

from __future__ import annotations

from dataclasses import dataclass, replace

import numpy as np
from scipy.fft import next_fast_len, rfft

from nest_crate.core.analysis.checks.remarks import Edit, Fix
from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import Hit, Sound
from nest_crate.core.sound.chains import chain_places
from nest_crate.core.sound.processors import MAX_PROCESSORS, FilterProcessor
from nest_crate.core.units import SILENCE_DB, note_to_hz

__all__ = ["Register", "RegisterReading", "look_over_keys"]

_STEP = 6
_LOWEST, _HIGHEST = 24, 96
_LOW_HZ = 120.0
_HARSH_HZ = (2000.0, 6000.0)
# From here up more than this share of a note's power in the harsh band is said to be harsh.
_HARSH_DB = -6.0
_HARSHER_DB = 6.0


@dataclass(frozen=True)
class RegisterReading:
    """``harsh_db`` is what lies from 2 to 6 kHz and ``low_db`` what lies below 120 Hz, re all;
    ``fundamental_db`` what lies within a semitone of the note, None where that is not heard."""

    note: int
    loudness_lufs: float
    harsh_db: float
    low_db: float
    fundamental_db: float | None


@dataclass(frozen=True)
class Register:
    readings: list[RegisterReading]
    fixes: list[Fix]


def look_over_keys(sound: Sound, hit: Hit, settings: RenderSettings) -> Register:
    """Draft renders of every sixth note from C1 to C7, and a tilt by key where it gets harsh."""
    draft = replace(settings, quality="draft")
    readings = []
    for note in range(_LOWEST, _HIGHEST + 1, _STEP):
        played = hit.model_copy(update={"note": note, "further": ()})
        audio = render(sound, played, draft)
        readings.append(_reading(note, audio.samples, audio.sample_rate))
    return Register(readings, _tilted(sound, hit, readings))


def _reading(note: int, samples: Signal, rate: int) -> RegisterReading:
    count = next_fast_len(max(samples.shape[1], rate // 8), real=True)
    spectrum = rfft(samples, count, axis=1)
    power = (spectrum.real**2 + spectrum.imag**2).sum(axis=0)
    hz = np.arange(power.size) * (rate / count)
    whole = float(power.sum())

    def share_db(low_hz: float, high_hz: float) -> float:
        part = float(power[(hz >= low_hz) & (hz < high_hz)].sum())
        return float(10.0 * np.log10(part / whole)) if part > 1e-14 * whole > 0.0 else SILENCE_DB

    semitone = 2.0 ** (1.0 / 12.0)
    own_hz = note_to_hz(float(note))
    own_db = share_db(own_hz / semitone, own_hz * semitone)
    return RegisterReading(
        note,
        integrated_loudness_lufs(samples, rate),
        share_db(*_HARSH_HZ),
        share_db(0.0, _LOW_HZ),
        own_db if own_db > -60.0 else None,
    )


def _tilted(sound: Sound, hit: Hit, readings: list[RegisterReading]) -> list[Fix]:
    """A high shelf that goes down as the notes go up, where the high notes are harsh."""
    heard = [one for one in readings if one.loudness_lufs > -60.0]
    own = next((one for one in heard if abs(one.note - hit.note) <= _STEP // 2), None)
    high = [one for one in heard if one.note > hit.note]
    if own is None or not high or len(sound.main.chain) >= MAX_PROCESSORS:
        return []
    worst = max(high, key=lambda one: one.harsh_db)
    if worst.harsh_db < _HARSH_DB or worst.harsh_db < own.harsh_db + _HARSHER_DB:
        return []
    used = {part.id for place in chain_places(sound) for part in place.chain}
    used |= {one.id for one in (*sound.layers, *sound.buses, *sound.movers)}
    shelf_id, mover_id = (
        next(f"{stem}-{n}" for n in range(1, 999) if f"{stem}-{n}" not in used)
        for stem in ("key-shelf", "key")
    )
    # The mover goes from -1 at the sound's own note to 1 at the worst: from nothing to all of it.
    half_db = -0.5 * round(min(12.0, worst.harsh_db - own.harsh_db), 1)
    shelf = FilterProcessor(
        id=shelf_id,
        response="high_shelf",
        cutoff_hz=_HARSH_HZ[0],
        resonance=0.707,
        gain_db=half_db,
    )
    chain = [part.model_dump(mode="json") for part in (*sound.main.chain, shelf)]
    mover = {
        "id": mover_id,
        "name": "Key",
        "kind": "note",
        "low": hit.note,
        "high": max(hit.note + 1, worst.note),
    }
    link = {
        "mover": mover_id,
        "target": f"{shelf_id}.gain_db",
        "amount": half_db,
    }
    movers = [one.model_dump(mode="json") for one in sound.movers]
    links = [one.model_dump(mode="json") for one in sound.links]
    edits = [
        Edit("main.chain", chain),
        Edit("movers", [*movers, mover]),
        Edit("links", [*links, link]),
    ]
    return [Fix("Less high end for high notes", edits)]
