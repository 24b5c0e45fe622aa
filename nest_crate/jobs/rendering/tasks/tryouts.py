"""Try-outs: single hits and beds for those who play them live, the mix with its figures, stems,
where two parts overlap, matched levels, the files of a kit."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

import numpy as np

from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.pictures.outlines import outline
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.dsp.util.signals import Signal
from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.errors import DocumentError, FieldProblem, NestCrateError
from nest_crate.core.sound import Hit, Sound, load_sound
from nest_crate.core.tryout import (
    Part,
    PlaysBed,
    PlaysSound,
    TryOut,
    load_tryout,
    placed,
)
from nest_crate.core.tryout.beds import bed_reach_s, bed_signal
from nest_crate.core.tryout.judging import Judged, judge_meeting, meeting_of
from nest_crate.core.tryout.kit import VELOCITY_LAYERS, keys_of, matched_levels
from nest_crate.core.tryout.mixing import LONGEST_HIT_S, sample_as_hit
from nest_crate.core.tryout.overlap import bands_hz
from nest_crate.core.tryout.placing import Event
from nest_crate.core.tryout.rendering import (
    event_hit,
    render_tryout,
    shaped_hit,
    sound_at_tempo,
    stems_of,
)
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks.parts import (
    audio_part,
    heard_part,
    json_part,
    outline_of,
    rounded,
    spectrogram_of,
)
from nest_crate.jobs.rendering.tasks.stored import sample_audio
from nest_crate.jobs.rendering.workshop import Wanted, Workshop

__all__ = ["bed", "hit", "kit", "levels", "mix", "overlap", "stems"]

_MIX_COLUMNS = 2048
_SPECTROGRAM = {"rows": 64, "columns": 480}


class _Missing(NestCrateError):
    code = "not_found"
    title = "Not found"


class _Shelf:
    """What the web process found out that parts play, as sounds and audio."""

    def __init__(self, workshop: Workshop, wanted: Wanted, tryout: TryOut) -> None:
        self._given = wanted.given
        self._recordings = workshop.recordings(wanted.given["store"])
        self._reach_s = _reach_s(tryout)
        self._sounds: dict[str, Sound] = {}

    def sound(self, plays: PlaysSound) -> Sound:
        if plays.key not in self._sounds:
            document = self._given["sounds"].get(plays.key)
            if document is None:
                raise _Missing("The sound is in the bin, or you may no longer hear it")
            self._sounds[plays.key] = load_sound(document)
        return self._sounds[plays.key]

    def sample(self, identifier: int) -> Audio:
        found = self._given["samples"].get(f"{identifier}")
        if found is None:
            raise _Missing("The sample is in the bin, or you may no longer hear it")
        return sample_audio(self._recordings, found, self._reach_s[identifier])


def _reach_s(tryout: TryOut) -> dict[int, float]:
    """How much of each sample is heard at the most; a hit plays a minute."""
    found: dict[int, float] = {}
    for part in tryout.parts:
        reach_s = LONGEST_HIT_S + 1.0
        if isinstance(part.plays, PlaysBed):
            reach_s = bed_reach_s(part.plays, tryout.tempo_bpm, tryout.length_s)
        found |= {one: max(reach_s, found.get(one, 0.0)) for one in part.sample_ids}
    return found


class _Hits:
    """Renders hits, and remembers them from one request to the next."""

    def __init__(self, workshop: Workshop) -> None:
        self._workshop = workshop
        self._digests: dict[int, tuple[Sound, str]] = {}

    def __call__(self, sound: Sound, hit: Hit, settings: RenderSettings) -> Audio:
        key = f"{self._digest(sound)} {hit.model_dump_json()} {settings.sample_rate}"
        samples = self._workshop.hits.get(key)
        if samples is None:
            made = render(sound, hit, settings, memory=self._workshop.stages)
            samples = made.samples
            self._workshop.hits.put(key, samples)
        return Audio(samples, settings.sample_rate)

    def _digest(self, sound: Sound) -> str:
        # The sound is kept with its digest, for another one may get the id of one that is gone.
        known = self._digests.get(id(sound))
        if known is None:
            digest = hashlib.sha256(sound.model_dump_json().encode()).hexdigest()
            known = self._digests[id(sound)] = (sound, digest)
        return known[1]


def hit(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """One hit of a sound at the try-out's tempo, or a sample, at the rate that is played."""
    given, settings = wanted.given, workshop.settings(wanted)
    if "sample" in given:
        recordings = workshop.recordings(given["store"])
        audio = sample_audio(recordings, given["sample"], LONGEST_HIT_S + 1.0)
        whole = resample(audio.samples, audio.sample_rate, settings.sample_rate)
        samples = sample_as_hit(whole, settings.sample_rate)
        yield heard_part(Audio(samples, settings.sample_rate), wanted)
        return
    sound = sound_at_tempo(wanted.sound, given["tempo_bpm"])
    audio = _Hits(workshop)(*event_hit(sound, _event(given["event"])), settings)
    yield heard_part(audio, wanted)


def _event(given: dict[str, Any]) -> Event:
    return Event(
        part="",
        hit=0,
        at_s=0.0,
        notes=tuple(given["notes"]),
        velocity=given["velocity"],
        hold_s=given["hold_s"],
        macros=tuple(sorted(given["macros"].items())),
        sample=None,
        until_s=None,
    )


def bed(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """A bed as long as a round, stretched where it follows the tempo."""
    given, settings = wanted.given, workshop.settings(wanted)
    plays = PlaysBed.model_validate(given["bed"])
    reach_s = bed_reach_s(plays, given["tempo_bpm"], given["length_s"])
    audio = sample_audio(workshop.recordings(given["store"]), given["sample"], reach_s)
    samples = bed_signal(plays, audio, given["tempo_bpm"], given["length_s"], settings)
    yield heard_part(Audio(samples, settings.sample_rate), wanted)


def mix(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """The mix of one round: its audio where that is wanted, its figures, its picture."""
    given, settings = wanted.given, workshop.settings(wanted)
    tryout = load_tryout(given["tryout"])
    made = render_tryout(
        tryout,
        _Shelf(workshop, wanted, tryout),
        settings,
        round_number=given.get("round", 0),
        render_hit=_Hits(workshop),
        keep_stems=False,
    )
    if given.get("audio"):
        yield audio_part(Audio(made.samples, made.sample_rate))
    if given.get("figures", True):
        silent = made.samples.shape[1] == 0
        measures = None if silent else measure(made.samples, made.sample_rate).as_dict()
        whole = outline_of(outline(made.samples, _MIX_COLUMNS))
        found = {"measures": measures, "outline": whole, "missing": made.missing}
        audio = Audio(made.samples, made.sample_rate)
        picture = spectrogram_of(audio, **_SPECTROGRAM)
        length_s = made.samples.shape[1] / made.sample_rate
        yield json_part("figures", {**found, "length_s": length_s, "spectrogram": picture})


def stems(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Each part by itself, as audio named after the part."""
    tryout = load_tryout(wanted.given["tryout"])
    settings = workshop.settings(wanted)
    frames = round(tryout.length_s * settings.sample_rate)
    made = stems_of(tryout, _Shelf(workshop, wanted, tryout), settings, render_hit=_Hits(workshop))
    for stem in made:
        more = max(0, frames - stem.samples.shape[1])
        samples = np.pad(stem.samples, ((0, 0), (0, more)))
        part = audio_part(Audio(samples, settings.sample_rate))
        yield Frame({**part.head, "stem": stem.part.id}, part.body)


def _two_stems(workshop: Workshop, wanted: Wanted, tryout: TryOut) -> dict[str, Any]:
    only = {wanted.given["first"], wanted.given["second"]}
    made = stems_of(
        # What is judged is how they meet without ducking; that is offered.
        tryout.model_copy(update={"ducks": ()}) if wanted.given["plain"] else tryout,
        _Shelf(workshop, wanted, tryout),
        workshop.settings(wanted),
        render_hit=_Hits(workshop),
        only=only,
    )
    return {stem.part.id: stem.samples for stem in made}


def overlap(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Where two parts meet: overlap over time and frequency, their sum, offers."""
    given = wanted.given
    first, second = given["first"], given["second"]
    tryout = load_tryout(given["tryout"])
    known = {part.id for part in tryout.parts}
    for name in ("first", "second"):
        if given[name] not in known:
            words = f"there is no part {given[name]!r}"
            raise DocumentError([FieldProblem(name, words, "part")])
    meeting = meeting_of(tryout, placed(tryout), first, second)
    found = _two_stems(workshop, wanted, tryout)
    if meeting is None or any(not np.any(one) for one in found.values()):
        yield json_part("overlap", {"judged": None})
        return
    rate = workshop.settings(wanted).sample_rate
    judged = judge_meeting(meeting, found, first, second, rate, seconds=given["seconds"])
    yield json_part("overlap", {"judged": _judged(judged)})


def _judged(judged: Judged) -> dict[str, Any]:
    laid = judged.overlap
    return {
        "meeting": asdict(judged.meeting),
        "bands_hz": rounded(bands_hz(), 1),
        "first_db": rounded(laid.first_db, 1),
        "second_db": rounded(laid.second_db, 1),
        "covered": laid.covered.astype(int).tolist(),
        "amount_db": laid.amount_db,
        "hidden_db": laid.hidden_db,
        "stretches": [asdict(one) for one in laid.stretches],
        "together": asdict(judged.together),
        "offers": [asdict(one) for one in judged.offers],
        "tuning": None if judged.tuning is None else asdict(judged.tuning),
    }


def _one_hit(workshop: Workshop, wanted: Wanted, tryout: TryOut) -> dict[str, Any]:
    """One hit of each part that has keys, with pan but without level."""
    shelf, settings, hits = (
        _Shelf(workshop, wanted, tryout),
        workshop.settings(wanted),
        _Hits(workshop),
    )
    found = {}
    for part in tryout.parts:
        if part.id not in keys_of(tryout):
            continue
        first = part.hits[0].model_copy(update={"at_s": 0.0, "in_beats": {}, "chance": 1.0})
        alone = part.model_copy(update={"hits": (first,), "level_db": 0.0, "offset_s": 0.0})
        own = tryout.model_copy(update={"parts": (alone,), "ducks": (), "game": None})
        (stem,) = stems_of(own, shelf, settings, render_hit=hits)
        found[part.id] = stem.samples
    return found


def levels(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Levels at which all parts are equally loud."""
    given = wanted.given
    tryout = load_tryout(given["tryout"])
    with_hits = tuple(part for part in tryout.parts if part.hits)
    heard = tryout.model_copy(update={"parts": with_hits, "ducks": (), "game": None})
    found = matched_levels(
        heard, _one_hit(workshop, wanted, heard), workshop.settings(wanted).sample_rate
    )
    yield json_part("levels", {"levels": found})


def kit(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """The files of a kit: each part's sound at its velocities, its sample, or its variations."""
    tryout = load_tryout(wanted.given["tryout"])
    shelf, settings, hits = (
        _Shelf(workshop, wanted, tryout),
        workshop.settings(wanted),
        _Hits(workshop),
    )
    keys = keys_of(tryout)
    for part in tryout.parts:
        if part.id not in keys:
            continue
        plays = part.plays
        try:
            if isinstance(plays, PlaysSound):
                sound = sound_at_tempo(shelf.sound(plays), tryout.tempo_bpm)
                for velocity in VELOCITY_LAYERS:
                    event = _event(
                        {
                            "notes": part.hits[0].notes if part.hits else (),
                            "velocity": velocity,
                            "hold_s": part.hits[0].hold_s if part.hits else None,
                            "macros": part.hits[0].macros if part.hits else {},
                        }
                    )
                    made = hits(*event_hit(sound, event), settings)
                    yield _kit_part(part, made.samples, settings, velocity, 0)
                continue
            for number, identifier in enumerate(part.sample_ids):
                audio = shelf.sample(identifier)
                whole = resample(audio.samples, audio.sample_rate, settings.sample_rate)
                samples = sample_as_hit(whole, settings.sample_rate)
                yield _kit_part(part, samples, settings, None, number)
        except _Missing:
            continue


def _kit_part(
    part: Part, samples: Signal, settings: RenderSettings, velocity: int | None, variation: int
) -> Frame:
    shaped = shaped_hit(part, samples, settings.sample_rate)
    made = audio_part(Audio(shaped, settings.sample_rate))
    more = {"of_part": part.id, "velocity": velocity, "variation": variation}
    return Frame({**made.head, **more}, made.body)
