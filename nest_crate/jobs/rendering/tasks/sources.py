"""What a layer starts from, and what a recording is compared with."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import asdict
from typing import Any

from numpy.typing import NDArray

from nest_crate.core.analysis.pictures.source_look import SourceLook, look_at_source
from nest_crate.core.engine import render
from nest_crate.core.errors import DocumentError, FieldProblem
from nest_crate.core.proposals import Comparison, Distance, compare, propose_sound
from nest_crate.core.sound import dump_sound
from nest_crate.jobs.rendering.frames import Frame
from nest_crate.jobs.rendering.tasks.parts import base64_of, json_part, outline_of, rounded
from nest_crate.jobs.rendering.workshop import Wanted, Workshop

__all__ = ["beside_reference", "look_at", "propose"]


def look_at(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """A layer's source as its first note finds it: modes, cycles or outline."""
    sound = wanted.sound
    looked = look_at_source(
        sound,
        wanted.hit_of(sound),
        workshop.settings(wanted),
        wanted.given["layer"],
        memory=workshop.stages,
    )
    yield json_part("source", _look(looked))


def propose(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """A first sound for a recording, and how near it is."""
    recording = workshop.settings(wanted).recording(wanted.given["recording"])
    made = propose_sound(recording.samples, recording.sample_rate, name=wanted.given["name"])
    found = {
        "document": dump_sound(made.sound),
        "distance": _distance(made.distance),
        "found": made.found,
    }
    yield json_part("proposal", found)


def beside_reference(workshop: Workshop, wanted: Wanted) -> Iterator[Frame]:
    """The sound beside the reference that it names: aligned, by band, with what stands apart."""
    sound, settings = wanted.sound, workshop.settings(wanted)
    if sound.reference is None:
        raise DocumentError([FieldProblem("reference", "the sound has no reference", "missing")])
    left_out = [(one.start_s, one.end_s) for one in sound.reference.left_out]
    ours = render(sound, wanted.hit_of(sound), settings, memory=workshop.stages)
    found = compare(ours, settings.recording(sound.reference.recording), left_out)
    yield json_part("comparison", _comparison(found))


def _cycles(cycles: NDArray[Any] | None) -> dict[str, Any] | None:
    if cycles is None:
        return None
    return {"frames": cycles.shape[0], "columns": cycles.shape[1], "data": base64_of(cycles)}


def _look(looked: SourceLook) -> dict[str, Any]:
    return {
        "kind": looked.kind,
        "modes": [asdict(one) for one in looked.modes],
        "loop_gain": looked.loop_gain,
        "cycles": _cycles(looked.cycles),
        "places": [] if looked.places is None else rounded(looked.places, 4),
        "places_s": looked.places_s,
        "outline": None if looked.outline is None else outline_of(looked.outline),
        "length_s": looked.length_s,
        "start_s": looked.start_s,
        "end_s": looked.end_s,
        "begins_s": looked.begins_s,
    }


def _distance(distance: Distance) -> dict[str, Any]:
    return {
        "level_db": distance.level_db,
        "pitch_cent": distance.pitch_cent,
        "bands_mean_db": distance.bands_mean_db,
        "bands_hz": rounded(distance.bands_hz, 1),
        "bands_db": rounded(distance.bands_db, 2),
    }


def _comparison(found: Comparison) -> dict[str, Any]:
    standing = found.standing
    bands = [
        {
            "name": one.name,
            "ours_db": rounded(one.ours_db, 1),
            "reference_db": rounded(one.reference_db, 1),
        }
        for one in found.bands
    ]
    return {
        "shift_s": found.shift_s,
        "reference_length_s": found.reference_length_s,
        "outline": outline_of(found.outline),
        "step_s": found.step_s,
        "bands": bands,
        "distance": _distance(found.distance),
        "standing": None
        if standing is None
        else {
            "hz": rounded(standing.hz, 1),
            "outline_db": rounded(standing.outline_db, 2),
            "peaks_hz": standing.peaks_hz,
            "glide_hz": list(standing.glide_hz),
        },
    }
