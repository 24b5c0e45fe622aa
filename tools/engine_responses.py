"""Responses as the engine has them, over a grid of settings, for the pictures of the Bench.

    .venv/bin/python -m tools.engine_responses

The front end draws filters, equalisers and drives by formulas of its own, at once, while a number
is dragged. Its tests hold them against these figures, which are measured on impulses.
"""

from __future__ import annotations

import itertools
import json
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from nest_crate.core.dsp.distortion.transfer import transfer_values
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.engine.settings import RenderSettings
from nest_crate.core.sound import load_sound

FILE = Path(__file__).parents[1] / "frontend/src/bench/path/picture/engineResponses.json"
_RATE = 96000
_FRAMES = 1 << 15
_HZ = np.array([40.0, 110.0, 300.0, 700.0, 1000.0, 1900.0, 4000.0, 9000.0, 16000.0])
_MULTIPLES = np.array([0.5, 0.75, 1.0, 1.1, 1.5, 1.9, 2.0, 2.5])
_LEVELS = np.linspace(-1.0, 1.0, 17)
_NO_CURVE = np.zeros((2, 2049))


def _processor(kind: str, **numbers: Any) -> Any:
    chain = [{"id": "p", "kind": kind, **numbers}]
    return load_sound({"name": "Response", "main": {"chain": chain}}).main.chain[0]


def _response_db(part: Any, hz: NDArray[np.float64] = _HZ) -> list[float]:
    """Magnitude at frequencies, of the answer to a step up and down in the middle of a silence.

    The probe has no offset, which some processors would take away.
    """
    probe = np.zeros((1, _FRAMES))
    probe[0, _FRAMES // 4 : _FRAMES // 4 + 2] = 1.0, -1.0
    answer = process(probe, part, ProcessContext(RenderSettings(sample_rate=_RATE)))[0]
    turns = np.exp(-2j * np.pi * np.outer(hz / _RATE, np.arange(answer.size)))
    gain = np.abs(turns @ answer) / (2.0 * np.sin(np.pi * hz / _RATE))
    return _rounded(20.0 * np.log10(np.maximum(gain, 1e-6)))


def _rounded(values: NDArray[np.float64]) -> list[float]:
    return [round(float(one), 3) for one in values]


def _filters() -> list[dict[str, Any]]:
    responses = ("low_pass", "high_pass", "band_pass", "notch", "peak", "low_shelf", "high_shelf")
    grid = itertools.product(responses, (6, 12, 24, 36), (200.0, 3000.0), (0.7, 4.0))
    return [
        {"response": response, "slope_db": slope, "cutoff_hz": hz, "resonance": q, "gain_db": 9.0}
        for response, slope, hz, q in grid
    ]


def _bands() -> list[dict[str, Any]]:
    responses = ("peak", "low_shelf", "high_shelf", "low_cut", "high_cut", "notch")
    grid = itertools.product(responses, (150.0, 2500.0), (0.7, 3.0), (-12.0, 6.0))
    return [
        {"response": response, "frequency_hz": hz, "sharpness": q, "gain_db": gain, "on": True}
        for response, hz, q, gain in grid
    ]


def _formants() -> list[dict[str, Any]]:
    grid = itertools.product((300.0, 700.0), (1200.0, 2600.0), (2.0, 10.0), (0.0, 5.0))
    return [
        {"first_hz": first, "second_hz": second, "sharpness": q, "second_db": -6.0, "shift_st": st}
        for first, second, q, st in grid
    ]


def _combs() -> list[dict[str, Any]]:
    grid = itertools.product((110.0, 440.0), (-0.7, 0.0, 0.5, 0.7), (-1.0, 0.0, 0.6))
    return [
        {"frequency_hz": hz, "feedback": back, "forward": forward, "damping_hz": 20000.0}
        for hz, back, forward in grid
    ]


def _drives() -> list[dict[str, Any]]:
    shapes = ("soft", "tube", "hard", "fold", "sine_fold", "rectify")
    grid = itertools.product(shapes, (0.0, 12.0, 30.0), (0.0, 0.4))
    return [{"shape": shape, "drive_db": db, "asymmetry": bias} for shape, db, bias in grid]


def _transfer(drive: dict[str, Any]) -> list[float]:
    bias = 0.9 * drive["asymmetry"]
    driven = 10.0 ** (drive["drive_db"] / 20.0) * _LEVELS + bias
    values = transfer_values(drive["shape"], driven, _NO_CURVE)
    return _rounded(values - transfer_values(drive["shape"], np.array([bias]), _NO_CURVE))


def responses() -> dict[str, Any]:
    """All figures of the file."""
    off = {f"band_{n}": {"on": False} for n in range(2, 9)}
    return {
        "hz": _HZ.tolist(),
        "multiples": _MULTIPLES.tolist(),
        "levels": _LEVELS.tolist(),
        "filter": [
            {"part": one, "db": _response_db(_processor("filter", **one))} for one in _filters()
        ],
        "formant": [
            {"part": one, "db": _response_db(_processor("formant", **one))} for one in _formants()
        ],
        "equaliser": [
            {"band": one, "db": _response_db(_processor("equaliser", band_1=one, **off))}
            for one in _bands()
        ],
        "comb": [
            {
                "part": one,
                "db": _response_db(_processor("comb", **one), _MULTIPLES * one["frequency_hz"]),
            }
            for one in _combs()
        ],
        "drive": [{"part": one, "out": _transfer(one)} for one in _drives()],
    }


if __name__ == "__main__":
    FILE.write_text(json.dumps(responses(), indent=None, separators=(",", ":")) + "\n")
