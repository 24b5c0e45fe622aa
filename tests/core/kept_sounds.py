"""Fingerprints of many sounds and of their details, to see that nothing changes unnoticed.

They say nothing about whether a sound is right; other tests do that. A document that a user keeps
has to sound the same after every change of the code, unless ``ENGINE_VERSION`` is raised.
"""

from __future__ import annotations

import dataclasses
import itertools
import json
import math
import zlib
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np

from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.checks.register import look_over_keys
from nest_crate.core.analysis.checks.silence import probe_silence
from nest_crate.core.analysis.features.features import features
from nest_crate.core.analysis.features.map import flat_map
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.measures.pitch import claimed_pitch, pitch_track
from nest_crate.core.analysis.measures.repeats import compare_repeats
from nest_crate.core.analysis.measures.stereo import stereo_figures
from nest_crate.core.analysis.pictures.details import details
from nest_crate.core.analysis.pictures.outlines import outline, spectrogram
from nest_crate.core.analysis.pictures.processor_look import look_at_processor
from nest_crate.core.analysis.pictures.source_look import look_at_source
from nest_crate.core.engine import Audio, RenderSettings, render, render_with_trace
from nest_crate.core.engine.render import expected_cost
from nest_crate.core.sound import load_sound, load_sound_text
from nest_crate.core.sound.kinds import PROCESSOR_KINDS, SOURCE_KINDS, choices_of
from nest_crate.core.sound.parameters import Parameter, declared_parameters
from nest_crate.core.sound.sources import Unison
from nest_crate.core.sound.targets import moved_unit, targets_of
from nest_crate.demo.sounds import SOUNDS_FOLDER
from tests.core.random_documents import RECORDING, random_document

FOLDER = Path(__file__).parent / "kept"
_SEGMENTS = 16
_RANDOM_DOCUMENTS = 60
_RATES = (48000, 44100, 96000)

Fingerprint = dict[str, Any]


def _recordings() -> dict[str, Audio]:
    noise = np.random.default_rng(1).normal(size=(2, 6000)) * 0.1
    time_s = np.arange(6000) / 32000
    tone = 0.4 * np.sin(2 * np.pi * 330.0 * time_s) * np.exp(-8.0 * time_s)
    return {RECORDING: Audio(noise + tone, 32000)}


def _settings(rate: int = 48000, length_s: float | None = None) -> RenderSettings:
    return RenderSettings(sample_rate=rate, length_s=length_s, recordings=_recordings())


def _of_signal(samples: Any) -> list[float]:
    """Of each segment its level, and its product with noise: that shows phase and polarity too."""
    found = []
    for number, part in enumerate(np.array_split(samples, _SEGMENTS, axis=1)):
        throw = np.random.default_rng(number).normal(size=part.shape)
        size = math.sqrt(max(1, part.size))
        found += [float(np.linalg.norm(part)) / size, float(np.sum(part * throw)) / size]
    return found


def _hit(**more: Any) -> dict[str, Any]:
    burst = [{"time_s": 0, "value": 1}, {"time_s": 0.15, "value": 0.2, "bend": 2}]
    return {
        "name": "Kept",
        "hit": {"hold_s": 0.15},
        "layers": [
            {
                "id": "a",
                "name": "A",
                "source": {"kind": "tone", "shape": 2.0, "unison": {"voices": 3}},
                "level": {"points": burst, "release": [{"time_s": 0.05, "value": 0}]},
            },
            {
                "id": "n",
                "name": "N",
                "source": {"kind": "noise"},
                "level": {"points": [{"time_s": 0, "value": 0.3}, {"time_s": 0.02, "value": 0}]},
            },
        ],
        **more,
    }


def _moved(data: dict[str, Any], part: str) -> dict[str, Any]:
    """Every number of a part moved by an LFO, by a sixth of its range or half an octave."""
    targets = targets_of(load_sound(data))
    links = []
    for name, parameter in targets.items():
        if not name.startswith(part + "."):
            continue
        octaves = moved_unit(parameter) == "octave"
        amount = 0.5 if octaves else (parameter.maximum - parameter.minimum) / 6.0
        links.append({"mover": "m", "target": name, "amount": min(60.0, amount)})
    lfo = {"id": "m", "name": "M", "kind": "lfo", "rate_hz": 7.0}
    return {**data, "movers": [lfo], "links": links[:64]}


def _variants(model: Any) -> Iterator[tuple[str, dict[str, Any]]]:
    """The defaults, and every other value of every choice."""
    yield "as it comes", {}
    for choice in choices_of(model):
        values = choice["values"] if choice["type"] == "choice" else [False, True]
        for value in values:
            if choice["name"] not in ("mute", "solo", "bypass"):
                yield f"{choice['name']} {value}", {choice["name"]: value}


_STRONG: dict[str, dict[str, Any]] = {
    "equaliser": {"band_1": {"gain_db": 6.0}, "band_4": {"gain_db": -9.0, "sharpness": 3.0}},
    "drive": {"drive_db": 18.0, "asymmetry": 0.3},
    "filter": {"cutoff_hz": 900.0, "resonance": 4.0, "drive_db": 6.0},
    "delay": {"time_s": 0.05},
    "compressor": {"threshold_db": -30.0},
    "gate": {"threshold_db": -20.0},
    "ceiling": {"ceiling_db": -12.0},
}


def _at(parameter: Parameter, share: float) -> float:
    """A place between both ends of a number, in the scale in which it is set."""
    low, high = parameter.minimum, parameter.maximum
    if parameter.scale == "log" and low > 0.0:
        value = low * (high / low) ** share
    else:
        value = low + (high - low) * (share**3 if parameter.scale == "time" else share)
    return round(value) if parameter.whole else value


def _corners(model: Any) -> Iterator[tuple[str, dict[str, Any]]]:
    """All numbers away from their defaults: near one end, near the other, and thrown."""
    dice = np.random.default_rng(5)
    declared = declared_parameters(model)
    for name, share in (("low", 0.08), ("lower", 0.25), ("high", 0.8)):
        yield f"all {name}", {one.name: _at(one, share) for one in declared}
    for number in range(3):
        thrown = {one.name: _at(one, float(dice.random())) for one in declared}
        choices = {
            choice["name"]: choice["values"][int(dice.integers(len(choice["values"])))]
            for choice in choices_of(model)
            if choice["type"] == "choice"
        }
        yield f"thrown {number}", {**thrown, **choices}


def _documents() -> Iterator[tuple[str, dict[str, Any]]]:
    for kind, model in PROCESSOR_KINDS.items():
        for name, choices in _variants(model):
            part = {"id": "p", "kind": kind, **_STRONG.get(kind, {}), **choices}
            yield f"{kind}: {name}", _hit(main={"chain": [part]})
        for name, numbers in _corners(model):
            part = {"id": "p", "kind": kind, **numbers}
            yield f"{kind}: {name}", _hit(main={"chain": [part]})
        chain = [{"id": "p", "kind": kind, **_STRONG.get(kind, {})}]
        yield f"{kind}: moved", _moved(_hit(main={"chain": chain}), "p")
    for kind, model in SOURCE_KINDS.items():
        for name, choices in _variants(model):
            source = {"kind": kind, **choices}
            if kind == "sample":
                source["recording"] = RECORDING
            layer = {**_hit()["layers"][0], "source": source}
            yield f"{kind} source: {name}", _hit(layers=[layer])
        for name, numbers in _corners(model):
            numbers = {k: v for k, v in numbers.items() if k not in ("start_s", "end_s")}
            yield (
                f"{kind} source: {name}",
                _hit(layers=[{**layer, "source": {**source, **numbers}}]),
            )
        yield f"{kind} source: moved", _moved(_hit(layers=[layer]), "a")
    for name, numbers in _corners(Unison):
        data = _hit()
        data["layers"][0]["source"]["unison"] = {**numbers, "voices": 5}
        yield f"unison: {name}", data
    for cents in (0.5, 2.0):
        data = _hit()
        data["layers"][0]["source"]["unison"] = {"voices": 4, "detune_cent": cents}
        yield f"unison: {cents} cents", data
    for way, amount in itertools.product(
        ("phase", "frequency", "ring", "amplitude", "sync"), (0.2, 2)
    ):
        layers = _hit()["layers"]
        layers[0]["modulation"] = {"by": "n", "way": way, "amount": amount}
        layers[1]["source"] = {"kind": "tone", "transpose_st": 7.0}
        yield f"{way} by {amount}", _hit(layers=layers)


def _sounds() -> Iterator[tuple[str, Callable[[], Fingerprint]]]:
    def signal(data: dict[str, Any], rate: int, length_s: float) -> Fingerprint:
        sound = load_sound(data)
        audio = render(sound, settings=_settings(rate, length_s))
        # Of the whole hit, which has its tail in it; of the signal half a second is enough.
        cost = expected_cost(sound, sound.hit, _settings(rate))
        return {
            "signal": _of_signal(audio.samples),
            "cost": _plain(cost),
        }

    for name, data in _documents():
        # Of each its own, whatever stands before it.
        rate = _RATES[zlib.crc32(name.encode()) % len(_RATES)]
        yield name, lambda data=data, rate=rate: signal(data, rate, 0.4)  # type: ignore[misc]
    for seed in range(1, _RANDOM_DOCUMENTS + 1):
        data = random_document(seed)
        rate = _RATES[seed % len(_RATES)]
        yield f"random {seed}", lambda data=data, rate=rate: signal(data, rate, 0.4)  # type: ignore[misc]


# What is only said of sounds may be said better.
_WORDS = ("label", "reason", "where", "text", "title")


def _plain(value: Any) -> Any:
    """What JSON can hold, with arrays shortened to what tells them from others."""
    if dataclasses.is_dataclass(value) and not isinstance(value, type):
        names = [one.name for one in dataclasses.fields(value) if one.name not in _WORDS]
        return {name: _plain(getattr(value, name)) for name in names}
    if isinstance(value, np.ndarray):
        flat = np.nan_to_num(np.asarray(value, dtype=np.float64).ravel(), neginf=-400.0)
        return _of_signal(flat[np.newaxis]) if flat.size > 40 else _plain(flat.tolist())
    if isinstance(value, dict):
        return {str(key): _plain(one) for key, one in value.items()}
    if isinstance(value, (list, tuple)):
        return [_plain(one) for one in value]
    if isinstance(value, (float, np.floating)):
        return float(value) if math.isfinite(value) else None
    if isinstance(value, np.integer):
        return int(value)
    return value if isinstance(value, (str, int, type(None))) else str(value)


def _said(name: str) -> Fingerprint:
    """What is measured, checked and drawn of a demo sound."""
    sound = load_sound_text((SOUNDS_FOLDER / f"{name}.json").read_bytes())
    settings = RenderSettings()
    rendering = render_with_trace(sound, settings=settings)
    samples, rate = rendering.audio.samples, rendering.audio.sample_rate
    found = measure(samples, rate)
    return {
        "signal": _of_signal(samples),
        "measures": _plain(found.as_dict()),
        "claim": _plain(claimed_pitch(samples, rate)),
        "pitch": _plain(pitch_track(samples, rate)),
        "features": _plain(features(samples, rate)),
        "stereo": _plain(stereo_figures(samples, rate)),
        "outline": _plain(outline(samples, 40)),
        "spectrogram": _plain(spectrogram(samples, rate, rows=96, columns=120)),
        "details": _plain(details(sound, sound.hit, settings)),
        "path": _plain(probe_silence(sound, sound.hit, settings)),
        "repeats": _plain(compare_repeats(sound, settings, hits=3)),
        "remarks": [
            [one.severity, one.code, len(one.fixes)] for one in check_sound(sound, rendering, found)
        ],
    }


SAID = (
    "fuse-zap",
    "glass-pane-bell",
    "kiln-door-kick",
    "lift-riser",
    "pendulum-heartbeat",
    "sluice-sub-hit",
    "undergrowth-bass-hit",
    "boiler-room-drone",
    "foundry-tail-horn",
    "glass-pane-tap",
    "potting-bench-snare",
    "steam-whistle",
    "trellis-pluck-bass",
    "watering-valve-hiss",
    "wilt-thud",
)


def _looks() -> Iterator[tuple[str, Callable[[], Fingerprint]]]:
    for kind in PROCESSOR_KINDS:
        chain = [{"id": "p", "kind": kind, **_STRONG.get(kind, {})}]
        sound = load_sound(_hit(main={"chain": chain}))

        def look(sound: Any = sound) -> Fingerprint:
            return dict(_plain(look_at_processor(sound, sound.hit, _settings(length_s=0.4), "p")))

        yield f"a look at {kind}", look
    for kind in SOURCE_KINDS:
        data = _hit()
        data["layers"][0]["source"] = {"kind": kind}
        if kind == "sample":
            data["layers"][0]["source"]["recording"] = RECORDING
        sound = load_sound(data)
        yield (
            f"a look at {kind} source",
            lambda sound=sound: dict(  # type: ignore[misc]
                _plain(look_at_source(sound, sound.hit, _settings(), "a"))
            ),
        )
    tone = load_sound(_hit())
    yield "over the keys", lambda: dict(_plain(look_over_keys(tone, tone.hit, _settings())))
    points = np.random.default_rng(3).normal(size=(30, 5)).astype(np.float32)
    yield "a map", lambda: {"places": _plain(flat_map(points))}


def cases() -> dict[str, Callable[[], Fingerprint]]:
    """By name, what makes a fingerprint."""
    said = ((f"said of {name}", lambda name=name: _said(name)) for name in SAID)  # type: ignore[misc]
    return dict(itertools.chain(_sounds(), said, _looks()))


def kept() -> dict[str, Any]:
    return dict(json.loads((FOLDER / "fingerprints.json").read_text()))
