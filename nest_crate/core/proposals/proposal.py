"""A first sound for a reference: tonal and noise parts as layers, fitted to its bands."""

from __future__ import annotations

from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.optimize import nnls
from scipy.signal import butter, sosfiltfilt

from nest_crate.core.analysis.measures.spectra import band_middles_hz
from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.dsp.util.signals import Signal, peak
from nest_crate.core.engine import StageMemory, render_with_trace
from nest_crate.core.errors import FormatError
from nest_crate.core.proposals.curves import few_points
from nest_crate.core.proposals.distance import (
    BANDS,
    Distance,
    band_levels_db,
    distance_between,
    onset_frame,
)
from nest_crate.core.proposals.tonal import (
    Modes,
    PitchCourse,
    course_level,
    modes_of,
    partials_of,
    pitch_course,
)
from nest_crate.core.sound import Sound, load_sound
from nest_crate.core.units import hz_to_note

__all__ = ["LONGEST_S", "Proposal", "propose_sound"]

Numbers = NDArray[np.float64]

LONGEST_S = 10.0
_RATE = 48000
_MOST_POINTS = 24
_SHORTEST_FRAMES = 2400
# Noise is divided here, so that what is dull may last longer than what is bright.
_EDGES_HZ = (30.0, 300.0, 1500.0, 6000.0, 20000.0)
_NOISE_NAMES = ("Thud", "Knock", "Hiss", "Air")
# A part that adds less than this to every band is left out.
_TOO_SOFT_DB = -30.0
_ROUNDS = 4
# Two equalisers of eight bands each, half an octave apart.
_EQUALISER_HZ = tuple(round(float(hz), 1) for hz in np.geomspace(50.0, 14000.0, 16))
_SEEDS = 6
_MEMORY_BYTES = 80_000_000


@dataclass(frozen=True)
class Proposal:
    """A sound, how near it is to the reference, and in words what was found in it."""

    sound: Sound
    distance: Distance
    found: list[str] = field(default_factory=list)


def propose_sound(samples: Signal, sample_rate: int, *, name: str = "From a file") -> Proposal:
    """A first sound for a reference hit.

    Raises
    ------
    FormatError
        where the reference is silent or longer than ``LONGEST_S``.
    """
    if samples.shape[1] > LONGEST_S * sample_rate:
        raise FormatError(f"A reference hit lasts at most {LONGEST_S:.0f} s; cut it first")
    reference = resample(samples, sample_rate, _RATE)
    if peak(reference) < 1e-5:
        raise FormatError("The reference is silent")
    reference = reference[:, onset_frame(reference) :]
    mono = reference.mean(axis=0)
    if peak(mono[np.newaxis]) < 0.05 * peak(reference):
        mono = reference[0]
    # A click of a few frames is looked at with the silence behind it.
    mono = np.pad(mono, (0, max(0, _SHORTEST_FRAMES - mono.size)))
    found: list[str] = []
    layers = [*_tonal_layers(mono, found), *_noise_layers(mono)]
    if not layers:
        raise FormatError("Nothing in the reference could be turned into a layer")
    note = layers[0].get("note", 48)
    document = _document(name, layers, note, mono.size / _RATE)
    # A short noise is one throw of many: the one whose bands lie nearest is kept.
    memory = StageMemory(_MEMORY_BYTES)
    tried = [_matched({**document, "seed": seed}, mono, memory) for seed in range(1, _SEEDS + 1)]
    sounds = [load_sound(one) for one in tried]
    distances = [distance_between(_rendered(one, memory), reference, _RATE) for one in sounds]
    best = int(np.argmin([one.bands_mean_db for one in distances]))
    sound = sounds[best]
    heard = len(sound.layers)
    found.append(f"{heard} layer{'s' if heard > 1 else ''}, balanced by band")
    return Proposal(sound, distances[best], found)


def _matched(document: dict[str, Any], mono: Numbers, memory: StageMemory) -> dict[str, Any]:
    document = _balanced(document, mono, memory)
    for _ in range(_ROUNDS):
        document = _equalised(document, mono, memory)
    return document


def _rendered(sound: Sound, memory: StageMemory) -> Signal:
    return render_with_trace(sound, memory=memory).audio.samples


def _document(
    name: str, layers: list[dict[str, Any]], note: int, length_s: float
) -> dict[str, Any]:
    plain = [{key: one[key] for key in one if key != "note"} for one in layers]
    bands = [
        {"on": True, "response": "peak", "frequency_hz": hz, "sharpness": 1.6}
        for hz in _EQUALISER_HZ
    ]
    chain = [
        {
            "id": f"match-{half}",
            "kind": "equaliser",
            **{f"band_{n + 1}": bands[8 * half + n] for n in range(8)},
        }
        for half in (0, 1)
    ]
    return {
        "name": name,
        "layers": plain,
        "main": {"chain": chain},
        "hit": {"note": note, "hold_s": round(min(length_s, 10.0), 4)},
    }


def _tonal_layers(mono: Numbers, found: list[str]) -> list[dict[str, Any]]:
    course, modes = pitch_course(mono, _RATE), modes_of(mono, _RATE)
    if modes is not None and not _harmonic(modes):
        found.append(f"{modes.hz.size} ringing modes from {modes.hz[0]:.0f} Hz on")
        return [_body_layer(modes)]
    if course is None:
        found.append("no pitch")
        return []
    start_hz, landing_hz = float(course.hz[0]), course.landing_hz
    if start_hz > 1.1 * landing_hz:
        found.append(f"a pitch that falls from {start_hz:.0f} to {landing_hz:.1f} Hz")
    else:
        found.append(f"a pitch of {landing_hz:.1f} Hz")
    return [_tone_layer(mono, course)]


def _harmonic(modes: Modes) -> bool:
    """Whether the stronger modes are partials of the lowest of them, or a few loose ones."""
    strong = modes.hz[modes.levels > 0.08 * modes.levels.max()]
    if strong.size < 3:
        return True
    ratios = strong / strong[0]
    off = np.abs(1200.0 * np.log2(ratios / np.round(ratios)))[1:]
    return bool(np.mean(off < 15.0) > 0.7)


def _body_layer(modes: Modes) -> dict[str, Any]:
    note = int(np.clip(round(hz_to_note(float(modes.hz[0]))), 0, 127))
    first_hz = 440.0 * 2.0 ** ((note - 69) / 12.0)
    steps = np.clip(12.0 * np.log2(modes.hz / first_hz), -48.0, 96.0)
    longest = float(modes.decays_s.max())
    levels_db = 20.0 * np.log10(np.maximum(modes.levels / modes.levels.max(), 1e-3))
    changes = [
        {
            "mode": n + 1,
            "level_db": round(float(levels_db[n]), 2),
            "ring": round(float(np.clip(modes.decays_s[n] / longest, 0.05, 20.0)), 3),
        }
        for n in range(modes.hz.size)
    ]
    source = {
        "kind": "struck",
        "body": "set",
        "set_st": [round(float(one), 3) for one in steps],
        "modes": int(modes.hz.size),
        "position": 0.0,
        "decay_s": round(float(np.clip(longest, 0.01, 30.0)), 3),
        "damping": 0.0,
        "hardness": 1.0,
        "changes": changes,
    }
    level = {"points": [{"time_s": 0.0, "value": 1.0}]}
    layer = _layer("tonal", "Modes", "rust", source, level)
    return {**layer, "note": note}


def _tone_layer(mono: Numbers, course: PitchCourse) -> dict[str, Any]:
    note = int(np.clip(round(hz_to_note(course.landing_hz)), 0, 127))
    fine = float(100.0 * (hz_to_note(course.landing_hz) - note))
    steps = 12.0 * np.log2(course.hz / course.landing_hz)
    time_s = np.concatenate([[0.0], course.time_s])
    pitch = few_points(
        time_s, np.concatenate([steps[:1], steps]), tolerance=0.25, most=_MOST_POINTS
    )
    partials = partials_of(mono, course, _RATE)
    plain = partials.size < 2 or partials[1:].max(initial=0.0) < 0.02
    source: dict[str, Any] = {"kind": "tone", "shape": 0.0, "fine_cent": round(fine, 2)}
    if not plain:
        amplitudes = [round(float(one), 4) if one > 0.003 else 0.0 for one in partials]
        source |= {"cycle": "partials", "partials": {"amplitudes": amplitudes}}
    level = _level_curve(course_level(mono, course, _RATE))
    layer = _layer("tonal", "Tone", "rust", source, level)
    curve = [{"time_s": t, "value": round(float(np.clip(v, -120, 120)), 3)} for t, v in pitch]
    return {**layer, "pitch": {"points": curve}, "note": note}


def _noise_layers(mono: Numbers) -> list[dict[str, Any]]:
    """Noises in four bands, each with the level of what the reference has there."""
    layers = []
    for n, (low_hz, high_hz) in enumerate(pairwise(_EDGES_HZ)):
        high = min(high_hz, 0.45 * _RATE)
        part = sosfiltfilt(butter(2, (low_hz, high), "bandpass", fs=_RATE, output="sos"), mono)
        if np.abs(part).max() < 1e-3 * np.abs(mono).max():
            continue
        chain = [
            {"id": f"low-{n}", "kind": "filter", "response": "high_pass", "cutoff_hz": low_hz},
            {"id": f"high-{n}", "kind": "filter", "response": "low_pass", "cutoff_hz": high},
        ]
        # Slow bands are looked at over a longer time, so that no wave is taken for a beat.
        level = _level_curve(_envelope(part, max(0.002, 1.5 / low_hz)))
        pigment = ("teal", "ochre", "plum", "moss")[n]
        source = {"kind": "noise"}
        layers.append(_layer(f"noise-{n}", _NOISE_NAMES[n], pigment, source, level, chain))
    return layers


def _envelope(signal: Numbers, window_s: float) -> Numbers:
    """The root of the mean square over a window around each frame."""
    width = max(4, round(window_s * _RATE))
    window = np.hanning(width + 2)[1:-1]
    return np.sqrt(np.convolve(signal**2, window / window.sum(), mode="same"))


def _level_curve(level: Numbers) -> dict[str, Any]:
    """A one-shot level curve with points closer together at the start."""
    size = level / max(float(level.max()), 1e-9)
    length_s = size.size / _RATE
    count = 160
    time_s = np.unique(
        np.round(np.concatenate([[0.0], np.geomspace(0.0005, max(length_s, 0.001), count)]), 5)
    )
    read = np.interp(time_s, np.arange(size.size) / _RATE, size)
    values = few_points(time_s, read, tolerance=0.6, most=_MOST_POINTS, heard=_floored_db)
    values.append((values[-1][0] + 0.02, 0.0))
    return {
        "points": [
            {"time_s": round(t, 5), "value": round(float(np.clip(v, 0, 1)), 4)} for t, v in values
        ]
    }


def _floored_db(amplitude: Numbers) -> Numbers:
    """An amplitude as it is heard, down to -50 dB."""
    return np.asarray(20.0 * np.log10(np.maximum(amplitude, 10.0 ** (-50.0 / 20.0))))


def _layer(
    identifier: str,
    name: str,
    pigment: str,
    source: dict[str, Any],
    level: dict[str, Any],
    chain: list[dict[str, Any]] | None = None,
) -> dict[str, Any]:
    return {
        "id": identifier,
        "name": name,
        "pigment": pigment,
        "source": source,
        "level": level,
        "velocity_sense": 0.0,
        "chain": chain or [],
    }


def _balanced(document: dict[str, Any], mono: Numbers, memory: StageMemory) -> dict[str, Any]:
    """Levels of the layers so that their energies together meet the reference's in every band.

    The tonal part first, where most of its own energy lies; then the noises, by non-negative least
    squares (Lawson and Hanson 1974), over what is left. What adds nothing is left out.
    """
    rendering = render_with_trace(load_sound(document), memory=memory)
    wanted = 10.0 ** (band_levels_db(mono[np.newaxis], _RATE) / 10.0)
    parts = {
        one["id"]: 10.0 ** (band_levels_db(rendering.layers[one["id"]], _RATE) / 10.0)
        for one in document["layers"]
    }
    floor = wanted.max() * 1e-6
    shares: dict[str, float] = {}
    left = wanted.copy()
    if "tonal" in parts:
        own = parts["tonal"]
        inside = own > 0.1 * own.max()
        # What both have in the tone's own bands, as energies; noise there is the smaller part.
        shares["tonal"] = float(wanted[inside].sum() / max(own[inside].sum(), 1e-12))
        left = np.maximum(wanted - shares["tonal"] * own, 0.02 * wanted)
        left[inside] = np.minimum(left[inside], 0.02 * wanted[inside])
    noises = [key for key in parts if key != "tonal"]
    if noises:
        weight = 1.0 / np.sqrt(left**2 + (0.05 * wanted) ** 2 + floor**2)
        matrix = np.stack([parts[key] for key in noises], axis=1)
        found, _ = nnls(matrix * weight[:, np.newaxis], left * weight)
        shares |= dict(zip(noises, (float(one) for one in found), strict=True))
    kept = []
    for layer in document["layers"]:
        share = shares[layer["id"]]
        adds = float(np.max(share * parts[layer["id"]] / np.maximum(wanted, floor)))
        if adds > 10.0 ** (_TOO_SOFT_DB / 10.0):
            level_db = float(np.clip(10.0 * np.log10(max(share, 1e-9)), -72.0, 12.0))
            kept.append({**layer, "level_db": round(level_db, 2)})
    return {**document, "layers": kept or document["layers"]}


def _equalised(document: dict[str, Any], mono: Numbers, memory: StageMemory) -> dict[str, Any]:
    """The matching equaliser's bands moved by what is still missing around each of them."""
    sound = load_sound(document)
    made = band_levels_db(render_with_trace(sound, memory=memory).audio.samples, _RATE)
    wanted = band_levels_db(mono[np.newaxis], _RATE)
    heard = wanted > wanted.max() - 60.0
    missing = np.where(heard, np.clip(wanted - made, -24.0, 24.0), 0.0)
    octaves = np.log2(band_middles_hz(_RATE, bands=BANDS))
    chain = [dict(one) for one in document["main"]["chain"]]
    for n, hz in enumerate(_EQUALISER_HZ):
        near = np.exp(-(((octaves - np.log2(hz)) / 0.35) ** 2)) * heard
        if near.sum() < 0.05:
            continue
        part, band = chain[n // 8], f"band_{n % 8 + 1}"
        now = part[band]
        gain = now.get("gain_db", 0.0) + 0.6 * float(np.sum(near * missing) / near.sum())
        part[band] = {**now, "gain_db": round(float(np.clip(gain, -24, 24)), 2)}
    return {**document, "main": {"chain": chain}}
