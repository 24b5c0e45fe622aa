"""Demo sounds from bodies, tables and samples, measured: each does what it was built to show."""

from __future__ import annotations

from itertools import pairwise

import numpy as np
import pytest

from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.engine import render, render_with_trace
from nest_crate.core.proposals import distance_between
from nest_crate.core.sound import Sound, load_sound
from nest_crate.core.sound.starters import starters
from tests.core.demo_recordings import demo_settings
from tests.core.test_demo_sounds import RATE, band_db, demo

NAMES = (
    "potting-mallet-triangles",
    "potting-mallet-bar",
    "frost-key-hit",
    "wire-keys-thin",
    "wire-keys-round",
    "wire-keys-wasp",
    "glass-pane-tap",
    "fern-breath-riser",
    "felt-heartbeat",
    "creeping-root-texture",
)


def heard(name: str) -> np.ndarray:
    return render(demo(name), settings=demo_settings()).samples


def changed(sound: Sound, path: str, value: object) -> Sound:
    data = sound.model_dump(mode="json")
    *way, last = path.split(".")
    node = data
    for step in way:
        node = node[int(step)] if step.isdigit() else node[step]
    node[last] = value
    return load_sound(data)


def level_over_time(samples: np.ndarray, step_s: float = 0.01) -> np.ndarray:
    step = round(step_s * RATE)
    mono = samples.mean(axis=0)
    blocks = mono[: mono.size // step * step].reshape(-1, step)
    return 10 * np.log10(np.mean(blocks**2, axis=1) + 1e-12)


@pytest.mark.parametrize("name", NAMES)
def test_no_check_complains(name: str) -> None:
    rendering = render_with_trace(demo(name), settings=demo_settings())
    measures = measure(rendering.audio.samples, RATE)
    remarks = check_sound(demo(name), rendering, measures)
    assert [one.text for one in remarks if one.severity != "good"] == []
    assert rendering.audio.end_reason == "silence"
    assert -9.5 < measures.peak_db < -0.1


def test_the_two_mallets_are_alike_in_level_and_pitch_and_differ_in_colour() -> None:
    """Triangles two octaves apart against a struck bar."""
    bar, triangles = heard("potting-mallet-bar"), heard("potting-mallet-triangles")
    apart = distance_between(bar, triangles, RATE)
    assert apart.level_db < 12.0
    assert apart.pitch_cent is not None
    assert apart.pitch_cent < 5.0
    # The triangles' second layer lies at four times the pitch, the bar's second mode at 2.76.
    fourth, second = (1720.0, 1800.0), (1190.0, 1235.0)
    assert band_db(triangles, *fourth) > band_db(triangles, *second) + 12
    assert band_db(bar, *second) > band_db(bar, *fourth) + 12


def test_the_frost_key_rings_as_a_bar_behind_a_short_knock() -> None:
    sound = demo("frost-key-hit")
    rendering = render_with_trace(sound, settings=demo_settings())
    knock = level_over_time(rendering.layers["knock"])
    assert knock[4] < knock[0] - 30
    key = rendering.layers["key"]
    for ratio in (1.0, 2.756, 5.404):
        mode = band_db(key, 880 * ratio * 0.985, 880 * ratio * 1.015)
        beside = band_db(key, 880 * ratio * 1.1, 880 * ratio * 1.14)
        assert mode > beside + 15


def test_the_wire_keys_are_three_of_one_kind() -> None:
    made = [heard(f"wire-keys-{name}") for name in ("thin", "round", "wasp")]
    for samples in made:
        measures = measure(samples, RATE)
        assert measures.fundamental_hz == pytest.approx(164.81, rel=0.003)
    brightness = [band_db(one, 2000, 9000) - band_db(one, 100, 1000) for one in made]
    assert brightness[1] < brightness[0] - 6
    assert brightness[2] > brightness[1] + 6
    for one, other in pairwise(made):
        assert distance_between(one, other, RATE).bands_mean_db > 3


def test_the_glass_pane_rings_inharmonically_and_its_highs_die_first() -> None:
    samples = heard("glass-pane-tap")
    early, late = samples[:, : RATE // 20], samples[:, RATE // 4 : RATE // 2]
    tilt = lambda one: band_db(one, 5000, 16000) - band_db(one, 500, 1500)  # noqa: E731
    assert tilt(late) < tilt(early) - 15


def test_the_riser_climbs_by_sample_and_is_wide_above_a_mono_low_end() -> None:
    samples = heard("fern-breath-riser")
    levels = level_over_time(samples, 0.25)
    assert levels[9] > levels[1] + 15
    centre = []
    for start in (0.4, 1.4, 2.3):
        part = samples[:, round(start * RATE) :][:, : RATE // 4]
        power = np.abs(np.fft.rfft(part.mean(axis=0))) ** 2
        centre.append(float((power * np.fft.rfftfreq(part.shape[1], 1 / RATE)).sum() / power.sum()))
    assert centre[2] > 1.15 * centre[0]
    side, middle = samples[0] - samples[1], samples[0] + samples[1]
    assert band_db(side[np.newaxis], 400, 4000) > band_db(middle[np.newaxis], 400, 4000) - 20
    one = changed(demo("fern-breath-riser"), "layers.0.source.unison.voices", 1)
    assert not np.array_equal(render(one, settings=demo_settings()).samples, samples)


def test_the_heartbeat_differs_on_each_hit_and_beats_twice() -> None:
    sound = demo("felt-heartbeat")
    hits = [
        render(sound, sound.hit.model_copy(update={"number": n}), demo_settings()).samples[0]
        for n in range(1, 9)
    ]
    for one, other in pairwise(hits):
        count = min(one.size, other.size)
        apart = 10 * np.log10(np.mean((one[:count] - other[:count]) ** 2) / np.mean(one**2))
        assert apart > -10
    levels = level_over_time(hits[0][np.newaxis])
    first, between, second = levels[:10].max(), levels[20:26].min(), levels[26:36].max()
    assert first > between + 15
    assert second > between + 12


def test_the_creeping_texture_is_moved_by_its_macro_and_never_stands_still() -> None:
    sound = demo("creeping-root-texture")
    at = [changed(sound, "movers.0.value", value) for value in (0.0, 1.0)]
    low, high = (render(one, settings=demo_settings()).samples for one in at)
    assert distance_between(low, high, RATE).bands_mean_db > 4
    samples = heard("creeping-root-texture")
    parts = [samples[:, round(s * RATE) :][:, : RATE // 5] for s in (0.5, 0.9, 1.3, 1.7)]
    shapes = [np.array([band_db(one, f, 1.4 * f) for f in (150, 300, 600, 1200)]) for one in parts]
    for one, other in pairwise(shapes):
        assert np.abs((one - one.mean()) - (other - other.mean())).max() > 1.5


@pytest.mark.parametrize("starter", starters(), ids=lambda one: one.category)
def test_every_starter_sounds_and_no_check_complains(starter: object) -> None:
    sound = starter.sound  # type: ignore[attr-defined]
    rendering = render_with_trace(sound)
    measures = measure(rendering.audio.samples, RATE)
    remarks = check_sound(sound, rendering, measures)
    assert [one.text for one in remarks if one.severity != "good"] == []
    assert -12.5 < measures.peak_db < -0.1


@pytest.mark.parametrize("category", ["Kick", "Bass", "Drone"])
def test_what_is_low_starts_in_the_middle(category: str) -> None:
    sound = next(one.sound for one in starters() if one.category == category)
    widths = [part for part in sound.main.chain if part.kind == "width"]
    assert widths
    assert widths[0].mono_below_hz == 120
