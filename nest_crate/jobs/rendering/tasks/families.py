"""Families: one member at once, what a plan would come to, which numbers to spread."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np

from nest_crate.core.dsp.util.trim import apply_edits
from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.errors import NestCrateError
from nest_crate.core.families import Family, finishing, load_batch, made_of, render_member
from nest_crate.core.families.judging import neighbours
from nest_crate.core.families.suggesting import measured_moves, suggested
from nest_crate.core.sound import load_sound
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks.parts import audio_part, json_part
from nest_crate.jobs.rendering.workshop import Wanted, Workshop

__all__ = ["member", "probe", "suggest"]

_PROBED = 12
_BYTES_A_NUMBER = 4


def _family(wanted: Wanted) -> Family:
    given = wanted.given
    redrawn = {int(number): times for number, times in given.get("redrawn", {}).items()}
    sounds = {key: load_sound(one) for key, one in given["sounds"].items()}
    return Family(load_batch(given["plan"]), sounds, redrawn)


def _settings(workshop: Workshop, wanted: Wanted) -> RenderSettings:
    return workshop.settings(wanted)


def member(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """One member as it is heard, before its turn in the round has come."""
    family = _family(wanted)
    chosen = family.member(wanted.given["number"])
    audio = render_member(family.sounds, chosen, _settings(workshop, wanted), workshop.stages)
    edits = finishing(audio, family.plan.members)
    heard = apply_edits(audio.samples, audio.sample_rate, edits)
    yield audio_part(Audio(heard, audio.sample_rate, audio.end_reason))


def probe(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """A few members all over the plan: how far apart they are, how long, how large, how long one
    takes."""
    family = _family(wanted)
    count = min(_PROBED, family.count)
    numbers = sorted({int(one) for one in np.linspace(1, family.count, count).round()})
    settings = _settings(workshop, wanted)
    vectors, lengths, sizes, problems = [], [], [], []
    began = time.perf_counter()
    for chosen in family.members(numbers):
        try:
            audio = render_member(family.sounds, chosen, settings, workshop.stages)
        except NestCrateError as error:
            problems.append({"number": chosen.number, "words": error.message})
            continue
        made = made_of(audio, family.plan.members)
        vectors.append(made.features.vector)
        lengths.append(made.measures.length_s)
        sizes.append(audio.samples.size * _BYTES_A_NUMBER)
    took = (time.perf_counter() - began) / max(1, len(numbers))
    found = neighbours(np.array(vectors)) if len(vectors) > 1 else None
    yield json_part("probe", _told(family, vectors, lengths, sizes, took, found, problems))


def _told(
    family: Family,
    vectors: list[Any],
    lengths: list[float],
    sizes: list[int],
    took: float,
    found: Any,
    problems: list[dict[str, Any]],
) -> dict[str, Any]:
    apart = None
    if found is not None:
        points = np.array(vectors, dtype=np.float64)
        table = np.sqrt(((points[:, None] - points[None]) ** 2).sum(axis=2))
        apart = float(np.median(table[np.triu_indices(len(points), 1)]))
    return {
        "count": family.count,
        "probed": len(vectors),
        "median_distance": apart,
        "length_s": float(np.mean(lengths)) if lengths else 0.0,
        "bytes": float(np.mean(sizes)) if sizes else 0.0,
        "member_s": took,
        "problems": problems,
    }


def suggest(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Spreads that change what is wanted most beside what is not, by measurement."""
    sound, settings = load_sound(wanted.given["document"]), _settings(workshop, wanted)
    settings = replace(settings, quality="draft") if sound.layers else settings
    moves = list(
        measured_moves(sound, lambda one: render(one, None, settings, memory=workshop.stages))
    )
    spreads = [one.model_dump(mode="json") for one in suggested(moves, wanted.given["aim"])]
    yield json_part("spreads", {"spreads": spreads, "measured": len(moves)})
