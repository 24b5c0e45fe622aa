"""Families: one member at once, what a plan would come to, which numbers to spread."""

from __future__ import annotations

import time
from collections.abc import Iterator
from dataclasses import replace

import numpy as np
from scipy.spatial.distance import pdist

from nest_crate.core.dsp.util.trim import apply_edits
from nest_crate.core.engine import Audio, render
from nest_crate.core.errors import NestCrateError
from nest_crate.core.families import Family, finishing, load_batch, made_of, render_member
from nest_crate.core.families.suggesting import measured_moves, suggested
from nest_crate.core.sound import load_sound
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks.parts import heard_part, json_part
from nest_crate.jobs.rendering.workshop import Wanted, Workshop

__all__ = ["member", "probe", "suggest"]

_PROBED = 12
# Of dear sounds as many are rendered as this gives time for.
_LONGEST_S = 20.0
_BYTES_A_NUMBER = 4


def _family(wanted: Wanted) -> Family:
    given = wanted.given
    redrawn = {int(number): times for number, times in given.get("redrawn", {}).items()}
    sounds = {key: load_sound(one) for key, one in given["sounds"].items()}
    return Family(load_batch(given["plan"]), sounds, redrawn)


def member(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """One member as it is heard, before its turn in the round has come."""
    family = _family(wanted)
    chosen = family.member(wanted.given["number"])
    audio = render_member(family.sounds, chosen, workshop.settings(wanted), workshop.stages)
    edits = finishing(audio, family.plan.members)
    heard = apply_edits(audio.samples, audio.sample_rate, edits)
    yield heard_part(Audio(heard, audio.sample_rate, audio.end_reason), wanted)


def probe(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """A few members all over the plan: how far apart they are, how long, how large, how long one
    takes."""
    family = _family(wanted)
    count = min(_PROBED, family.count)
    numbers = sorted({int(one) for one in np.linspace(1, family.count, count).round()})
    settings = workshop.settings(wanted)
    vectors, lengths, sizes, problems = [], [], [], []
    began = time.perf_counter()
    tried = 0
    for chosen in family.members(numbers):
        if tried > 1 and time.perf_counter() - began > _LONGEST_S:
            break
        tried += 1
        try:
            audio = render_member(family.sounds, chosen, settings, workshop.stages)
        except NestCrateError as error:
            problems.append({"number": chosen.number, "words": error.message})
            continue
        made = made_of(audio, family.plan.members)
        vectors.append(made.features.vector)
        lengths.append(made.measures.length_s)
        sizes.append(audio.samples.size * _BYTES_A_NUMBER)
    took = (time.perf_counter() - began) / max(1, tried)
    figures = {
        "count": family.count,
        "probed": len(vectors),
        "median_distance": float(np.median(pdist(np.array(vectors)))) if vectors[1:] else None,
        "length_s": float(np.mean(lengths)) if lengths else 0.0,
        "bytes": float(np.mean(sizes)) if sizes else 0.0,
        "member_s": took,
        "problems": problems,
    }
    yield json_part("probe", figures)


def suggest(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """Spreads that change what is wanted most beside what is not, by measurement."""
    sound = load_sound(wanted.given["document"])
    # Steps are large beside what a draft leaves out.
    settings = replace(workshop.settings(wanted), quality="draft")
    # By its own work: on a busy machine it measures as much, only later.
    began = time.process_time()
    moves = []
    for one in measured_moves(sound, lambda it: render(it, None, settings, memory=workshop.stages)):
        moves.append(one)
        if time.process_time() - began > _LONGEST_S:
            break
    spreads = [one.model_dump(mode="json") for one in suggested(moves, wanted.given["aim"])]
    yield json_part("spreads", {"spreads": spreads, "measured": len(moves)})
