"""Drones as loops: whole bars, and no seam where they begin again."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.signal import butter, sosfiltfilt

from nest_crate.core.engine import RenderSettings, render, render_with_trace
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


def looped(sound: Any, loop_s: float) -> Any:
    return sound.hit.model_copy(update={"loop_s": loop_s})


@pytest.mark.parametrize("name", DRONES)
@pytest.mark.parametrize("rate", [44100, 48000])
def test_a_loop_has_its_length_and_no_seam(name, rate):
    sound = DRONES[name]
    made = render(sound, looped(sound, 4.0), RenderSettings(sample_rate=rate))
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
        render(short, looped(short, 2.0))
    with pytest.raises(DocumentError, match="at most 60 s"):
        render(DRONES["sine"], looped(DRONES["sine"], 59.0))


def test_a_trace_of_a_loop_is_as_long_as_the_loop_and_sounds_the_same():
    sound = DRONES["moved"]
    hit = looped(sound, 0.5)
    traced = render_with_trace(sound, hit)
    np.testing.assert_array_equal(traced.audio.samples, render(sound, hit).samples)
    assert traced.layers["a"].shape[1] == traced.audio.samples.shape[1] == 24000


def test_a_loop_in_beats_follows_the_tempo():
    document = DRONES["sine"].model_dump(mode="json")
    document["hit"] |= {"loop_s": 1.0, "in_beats": {"loop_s": 8.0}}
    for bpm, frames in ((60.0, 8 * 48000), (120.0, 4 * 48000)):
        sound = load_sound({**document, "tempo_bpm": bpm})
        assert render(sound).samples.shape[1] == frames
