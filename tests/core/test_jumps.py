"""Where a mover jumps, level and pitch jump on that very frame, at every rate."""

from __future__ import annotations

import numpy as np
import pytest

from nest_crate.core.engine import RenderSettings, render
from tests.core.test_movers import link, sound_with

RATES = [44100, 48000, 96000]
ON = {"points": [{"time_s": 0, "value": 1}], "release": [{"time_s": 0.01, "value": 0}]}
TONE = {"source": {"kind": "tone"}, "level": ON}
SQUARE = {"id": "m", "kind": "lfo", "shape": "square", "rate_hz": 13.7, "width": 0.37}
STEPS = {
    "id": "m",
    "kind": "steps",
    "sync": False,
    "rate_hz": 41.3,
    "values": [1.0, -1.0, 0.4, -0.2],
}
CURVE = {
    "id": "m",
    "kind": "curve",
    "curve": {
        "points": [
            {"time_s": 0.0, "value": -1.0},
            {"time_s": 0.1003, "value": -1.0},
            {"time_s": 0.1003, "value": 1.0},
            {"time_s": 0.2, "value": 1.0},
        ]
    },
}


def expected(kind: str, time_s: np.ndarray) -> np.ndarray:
    """The mover's value, from its definition."""
    # What is on its instant but for rounding has been reached.
    time_s = time_s + 1e-9
    match kind:
        case "lfo":
            return np.where(time_s * 13.7 % 1.0 < 0.37, 1.0, -1.0)
        case "steps":
            return np.array(STEPS["values"])[np.floor(time_s * 41.3).astype(int) % 4]
    return np.where(time_s < 0.1003, -1.0, 1.0)


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("mover", [SQUARE, STEPS, CURVE], ids=["lfo", "steps", "curve"])
@pytest.mark.parametrize("target", ["a.level_db", "main.level_db"])
def test_level_jumps_on_its_frame(mover: dict, target: str, rate: int) -> None:
    changes = {"main": {"level_db": -12.0}} if target == "main.level_db" else {}
    base = {**TONE, "level_db": -12.0}
    links = [link("m", target, 12.0)]
    sound, plain = (
        sound_with([mover], given, layer=base, hit={"hold_s": 0.4}, **changes)
        for given in (links, [])
    )
    settings = RenderSettings(sample_rate=rate, length_s=0.3)
    moved, still = (render(one, settings=settings).samples[0] for one in (sound, plain))
    size = np.abs(still)
    places = np.flatnonzero(size > 0.05 * size.max())
    # The closing fade is the render's own.
    places = places[places < 0.28 * rate]
    gain_db = 20 * np.log10(np.abs(moved[places]) / size[places])
    np.testing.assert_allclose(gain_db, 12.0 * expected(mover["kind"], places / rate), atol=1e-3)


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("mover", [SQUARE, STEPS], ids=["lfo", "steps"])
def test_pitch_jumps_on_its_frame(mover: dict, rate: int) -> None:
    """A sine's phase, counted up frame by frame from its definition, gives the very samples."""
    sound = sound_with([mover], [link("m", "a.pitch_st", 7.0)], layer=TONE)
    made = render(sound, settings=RenderSettings(sample_rate=rate, length_s=0.3)).samples[0]
    count = round(0.28 * rate)
    hz = 440.0 * 2.0 ** (7.0 / 12.0 * expected(mover["kind"], np.arange(count) / rate))
    gone = np.concatenate([[0.0], np.cumsum(hz[:-1])]) / rate
    wanted = np.sin(2.0 * np.pi * gone)
    shown = made[:count] / np.abs(made[:count]).max()
    assert np.abs(shown - wanted).max() < 2e-3


@pytest.mark.parametrize("rate", RATES)
def test_a_macro_passes_jumps_on(rate: int) -> None:
    macro = {"id": "k", "kind": "macro", "value": 0.5}
    direct = sound_with([SQUARE], [link("m", "a.pitch_st", 3.0)], layer=TONE)
    links = [link("m", "k.value", 0.25), link("k", "a.pitch_st", 12.0)]
    lower = {**TONE, "source": {"kind": "tone", "transpose_st": -6}}
    passed = sound_with([SQUARE, macro], links, layer=lower)
    settings = RenderSettings(sample_rate=rate, length_s=0.3)
    first, second = (render(one, settings=settings).samples for one in (direct, passed))
    np.testing.assert_allclose(first, second, atol=1e-6)
