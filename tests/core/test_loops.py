"""Drones as loops: whole bars, and no seam where they begin again."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.signal import butter, sosfiltfilt

from nest_crate.core.engine import RenderSettings
from nest_crate.core.engine.loops import render_loop
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import load_sound

HELD = {
    "points": [{"time_s": 0, "value": 0}, {"time_s": 0.3, "value": 1}],
    "release": [{"time_s": 0.1, "value": 0}],
}


def drone(source: dict[str, Any], **more: Any) -> Any:
    layers = [{"id": "a", "name": "A", "source": source, "level": HELD}]
    return load_sound({"name": "Drone", "tempo_bpm": 120.0, "layers": layers, **more})


SWEPT = {
    "movers": [{"id": "l", "name": "L", "kind": "lfo", "rate_hz": 0.31}],
    "links": [{"mover": "l", "target": "a.pitch_st", "amount": 0.4}],
}
DRONES = {
    "sine": drone({"kind": "tone"}),
    "detuned": drone({"kind": "tone", "shape": 2.0, "unison": {"voices": 5, "width": 1.0}}),
    "noise": drone({"kind": "noise", "colour_db": -6.0}),
    "moved": drone({"kind": "tone", "shape": 1.0}, **SWEPT),
}


@pytest.mark.parametrize("name", DRONES)
@pytest.mark.parametrize("rate", [44100, 48000])
def test_length_is_in_bars_and_the_seam_is_none(name, rate):
    sound = DRONES[name]
    made = render_loop(sound, sound.hit, RenderSettings(sample_rate=rate), bars=2)
    # Two bars of four beats at 120 bpm.
    assert made.samples.shape[1] == 4 * rate
    twice = np.concatenate([made.samples, made.samples], axis=1)
    # A step is heard in the highs: there the seam is as loud as anywhere else, or below -50 dB.
    highs = sosfiltfilt(butter(4, 12000.0, "high", fs=rate, output="sos"), twice, axis=1)
    seam = made.samples.shape[1]
    span = rate // 200
    at_seam = np.abs(highs[:, seam - span : seam + span]).max()
    elsewhere = np.abs(highs[:, seam // 4 : seam // 2]).max()
    full = np.abs(made.samples).max()
    assert at_seam < max(1.5 * elsewhere, full * 10.0 ** (-50.0 / 20.0))
    # Nor does its level change there by more than anywhere else.
    levels_db = [
        10.0 * np.log10(np.mean(twice[:, at : at + rate // 5] ** 2))
        for at in range(rate // 2, 2 * seam - rate // 2, rate // 5)
    ]
    near = len(levels_db) // 2 + np.arange(-6, 5)
    elsewhere_db = np.delete(levels_db, near)
    assert min(levels_db) > elsewhere_db.min() - 3.0
    assert max(levels_db) < elsewhere_db.max() + 3.0


def test_a_short_sound_and_a_long_loop_are_refused():
    blow = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.2, "value": 0}]}
    layers = [{"id": "a", "name": "A", "level": blow}]
    short = load_sound({"name": "Hit", "layers": layers})
    with pytest.raises(DocumentError, match="the sound is over after"):
        render_loop(short, short.hit, RenderSettings(), bars=1)
    slow = DRONES["sine"].model_copy(update={"tempo_bpm": 30.0})
    with pytest.raises(DocumentError, match="at most 60 s"):
        render_loop(slow, slow.hit, RenderSettings(), bars=8)
