"""No tail is cut while it sounds: natural renders against much longer ones."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from pydantic import BaseModel

from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.kinds import PROCESSOR_KINDS
from nest_crate.core.sound.parameters import declared_parameters
from nest_crate.core.sound.targets import moved_unit

SILENT = 10.0 ** (-90.0 / 20.0)
BURST = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.02, "value": 0}]}

# Where a kind at its defaults does little, so that its tail has something to ring with.
STRONG: dict[str, dict[str, Any]] = {
    "equaliser": {"band_4": {"gain_db": 18.0, "sharpness": 4.0}},
    "drive": {"drive_db": 30.0, "shape": "tube", "asymmetry": 0.4},
    "flanger": {"feedback": 0.6},
    "chorus": {"feedback": 0.6},
    "filter": {"resonance": 6.0, "drive_db": 6.0},
    "delay": {"time_s": 0.1},
}


def movable(kind: str) -> list[str]:
    """Paths of the numbers of a kind that are followed through a hit."""
    model = PROCESSOR_KINDS[kind]
    paths = [one.name for one in declared_parameters(model) if one.followed]
    for name, info in model.model_fields.items():
        inner = info.annotation
        if isinstance(inner, type) and issubclass(inner, BaseModel):
            paths += [f"{name}.{one.name}" for one in declared_parameters(inner) if one.followed]
    return paths


def declared(kind: str, path: str) -> Any:
    model = PROCESSOR_KINDS[kind]
    *inner, name = path.split(".")
    for one in inner:
        model = model.model_fields[one].annotation  # type: ignore[assignment]
    return next(one for one in declared_parameters(model) if one.name == name)


def document(kind: str, strong: bool, path: str | None, up: bool) -> dict[str, Any]:
    part = {"id": "p", "kind": kind, **(STRONG.get(kind, {}) if strong else {})}
    found: dict[str, Any] = {
        "name": "Tail",
        "layers": [{"id": "a", "name": "A", "source": {"kind": "noise"}, "level": BURST}],
        "main": {"chain": [part]},
        "hit": {"hold_s": 0.02},
    }
    if path is not None:
        parameter = declared(kind, path)
        span = 24.0 if moved_unit(parameter) == "octave" else parameter.maximum - parameter.minimum
        amount = min(240.0, span) * (1.0 if up else -1.0)
        found["movers"] = [{"id": "m", "name": "M", "kind": "macro", "value": 1.0}]
        found["links"] = [{"mover": "m", "target": f"p.{path}", "amount": amount}]
    return found


def is_whole(data: dict[str, Any], rate: int) -> None:
    sound = load_sound(data)
    natural = render(sound, settings=RenderSettings(sample_rate=rate))
    end = natural.samples.shape[1]
    longer_s = min(60.0, 1.5 * natural.length_s + 0.5)
    longer = render(sound, settings=RenderSettings(sample_rate=rate, length_s=longer_s)).samples
    assert natural.end_reason == "silence" or natural.length_s > 59.9
    # Both end in a fade over 10 ms; a look at the end of the whole is all that may differ.
    same = end - round(0.011 * rate)
    loudest = max(1.0, float(np.abs(longer).max()))
    np.testing.assert_allclose(natural.samples[:, :same], longer[:, :same], atol=1e-5 * loudest)
    if natural.end_reason == "silence":
        assert np.abs(longer[:, end:]).max(initial=0.0) < SILENT


@pytest.mark.parametrize("kind", sorted(PROCESSOR_KINDS))
def test_every_number_moved_to_either_end_leaves_the_tail_whole(kind: str) -> None:
    rates = (44100, 48000, 96000)
    for n, path in enumerate([None, *movable(kind)]):
        for strong in (False, True) if kind in STRONG else (False,):
            for up in (False, True):
                is_whole(document(kind, strong, path, up), rates[n % 3])


def test_what_is_turned_round_was_heard_to_its_end() -> None:
    data = document("equaliser", True, "band_4.sharpness", True)
    data["links"].append({"mover": "m", "target": "p.band_4.frequency_hz", "amount": -4.0})
    data["main"]["chain"].append({"id": "r", "kind": "reverse"})
    is_whole(data, 48000)


def test_notes_of_a_chord_ring_on_with_what_moves_them() -> None:
    data = document("equaliser", True, "band_4.sharpness", True)
    data["links"].append({"mover": "m", "target": "p.band_4.frequency_hz", "amount": -4.0})
    data["layers"][0]["chain"] = data["main"].pop("chain")
    data["hit"] = {"hold_s": 0.3, "further": [{"note": 64, "at_s": 0.2}]}
    is_whole(data, 48000)
