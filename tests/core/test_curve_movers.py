"""Drawn curves as movers, the common pitch as a target, levels moved as amplitude."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.signal import hilbert

from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.engine.traces import traces
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import load_sound

RATE = 48000
FLAT = {"points": [{"time_s": 0.0, "value": 1.0}], "release": [{"time_s": 0.0, "value": 0.0}]}
RISE = {
    "points": [{"time_s": 0.0, "value": 0.0}, {"time_s": 1.0, "value": 1.0, "bend": 2.0}],
    "release": [{"time_s": 0.1, "value": 0.0}],
}


def layer(identifier: str, hz: float = 1000.0, **more: Any) -> dict[str, Any]:
    source = {"kind": "tone", "follows_note": False, "fixed_hz": hz}
    return {"id": identifier, "name": identifier.upper(), "source": source, "level": FLAT, **more}


def sound(layers: list[Any], links: list[Any], **more: Any) -> Any:
    hit = {"hold_s": 1.0}
    return load_sound({"name": "S", "hit": hit, "layers": layers, "links": links, **more})


def link(mover: str, target: str, amount: float, **more: Any) -> dict[str, Any]:
    return {"mover": mover, "target": target, "amount": amount, **more}


def pitch_hz(samples: np.ndarray) -> np.ndarray:
    phase = np.unwrap(np.angle(hilbert(samples)))
    return np.diff(phase) * RATE / (2.0 * np.pi)


def bent(way: np.ndarray, bend: float = 2.0) -> np.ndarray:
    """The curve's own formula: what ``RISE`` is at each share of its second."""
    return np.asarray(np.expm1(-bend * way) / np.expm1(-bend))


def test_one_curve_is_the_same_shape_in_level_cutoff_and_pitch():
    made = sound(
        [layer("a", level=RISE), layer("b", 500.0)],
        [
            link("a.level", "b.pitch_st", 24.0),
            link("a.level", "b.level_db", 1.0, law="amplitude"),
            link("a.level", "f.cutoff_hz", 3.0),
        ],
        main={"chain": [{"id": "f", "kind": "filter", "cutoff_hz": 200.0, "mix": 0.0}]},
    )
    at = np.arange(round(0.1 * RATE), round(0.9 * RATE), 480)
    wanted = bent(at / RATE)
    solo = {
        one.id: made.model_copy(
            update={
                "layers": tuple(
                    other.model_copy(update={"solo": other.id == one.id}) for other in made.layers
                )
            }
        )
        for one in made.layers
    }
    own = render(solo["a"], settings=RenderSettings(length_s=1.0)).samples[0]
    moved = render(solo["b"], settings=RenderSettings(length_s=1.0)).samples[0]
    for samples in (own, moved):
        level = np.abs(hilbert(samples))[at]
        np.testing.assert_allclose(20.0 * np.log10(level / wanted), 0.0, atol=0.1)
    cents = 1200.0 * np.log2(pitch_hz(moved)[at] / (500.0 * 2.0 ** (2.0 * wanted)))
    assert np.abs(cents).max() < 2.0
    trace = traces(made, made.hit, RenderSettings())["f.cutoff_hz"]
    held = (trace[:, 0] > 0.1) & (trace[:, 0] < 0.9)
    octaves = np.log2(trace[held, 1] / 200.0)
    np.testing.assert_allclose(octaves, 3.0 * bent(trace[held, 0]), atol=0.002)


def test_pitch_curve_as_a_mover_is_in_octaves():
    fall = {"points": [{"time_s": 0.0, "value": 24.0}, {"time_s": 0.5, "value": -12.0}]}
    made = sound(
        [layer("a", pitch=fall), layer("b", 500.0)],
        [link("a.pitch", "b.pitch_st", 12.0), link("a.pitch", "f.cutoff_hz", 1.0)],
        main={"chain": [{"id": "f", "kind": "filter", "cutoff_hz": 1000.0}]},
    )
    found = traces(made, made.hit, RenderSettings())
    for target, at_s, wanted in (
        ("b.pitch_st", 0.0, 24.0),
        ("b.pitch_st", 0.8, -12.0),
        ("f.cutoff_hz", 0.0, 4000.0),
        ("f.cutoff_hz", 0.8, 500.0),
    ):
        time_s, values = found[target].T
        assert np.interp(at_s, time_s, values) == pytest.approx(wanted, rel=1e-3)


def test_a_curve_begins_with_its_layer_and_holds_its_first_value_before():
    late = {**RISE, "points": [{"time_s": 0.0, "value": 0.5}, {"time_s": 0.2, "value": 1.0}]}
    made = sound(
        [layer("a", level=late, delay_s=0.3), layer("b")],
        [link("a.level", "b.pitch_st", 12.0)],
    )
    time_s, values = traces(made, made.hit, RenderSettings())["b.pitch_st"].T
    assert np.interp([0.0, 0.29, 0.4, 0.6], time_s, values) == pytest.approx(
        [6.0, 6.0, 9.0, 12.0], abs=0.05
    )


@pytest.mark.parametrize("mover", ["m", "common.pitch"])
def test_common_pitch_is_moved_for_all_that_follow_it(mover):
    steps = {"points": [{"time_s": 0.0, "value": 1.0}]}
    made = sound(
        [layer("a", 400.0), layer("b", 900.0, follows_pitch=False)],
        [link("m", "common.pitch_st", 7.0)],
        movers=[{"id": "m", "name": "M", "kind": "curve", "curve": steps}],
        pitch={"points": [{"time_s": 0.0, "value": -12.0 if mover == "common.pitch" else 0.0}]},
    )
    base_hz = 400.0 if mover == "m" else 200.0
    for one, wanted_hz in (("a", base_hz * 2.0 ** (7.0 / 12.0)), ("b", 900.0)):
        alone = made.model_copy(
            update={
                "layers": tuple(
                    other.model_copy(update={"solo": other.id == one}) for other in made.layers
                )
            }
        )
        samples = render(alone).samples[0, 4800:24000]
        assert np.median(pitch_hz(samples)) == pytest.approx(wanted_hz, rel=1e-4)


class TestAmplitude:
    def level(self, amount: float, values: list[float], **more: Any) -> np.ndarray:
        points = [{"time_s": 0.25 * n, "value": value} for n, value in enumerate(values)]
        mover = {"id": "m", "name": "M", "kind": "curve", "curve": {"points": points}}
        made = sound(
            [layer("a", level_db=-6.0)],
            [link("m", more.get("target", "a.level_db"), amount, law="amplitude")],
            movers=[mover],
            buses=[{"id": "bus", "name": "Bus"}],
        )
        samples = render(made, settings=RenderSettings(length_s=1.0)).samples[0]
        return np.asarray(np.abs(hilbert(samples)))

    def test_goes_down_to_true_silence(self):
        level = self.level(1.0, [1.0, 0.0, 0.0, 1.0])
        assert level[round(0.3 * RATE) : round(0.45 * RATE)].max() < 1e-3
        plain = 10.0 ** (-6.0 / 20.0)
        assert level[round(0.125 * RATE)] == pytest.approx(0.5 * plain, rel=0.01)

    def test_half_the_amount_leaves_half_of_the_level(self):
        level = self.level(0.5, [0.0, 0.0])
        assert level[RATE // 2] == pytest.approx(0.5 * 10.0 ** (-6.0 / 20.0), rel=0.01)

    def test_below_0_it_ducks(self):
        level = self.level(-1.0, [1.0, 1.0, 0.0, 0.0])
        assert level[round(0.1 * RATE)] < 1e-3
        assert level[round(0.7 * RATE)] == pytest.approx(10.0 ** (-6.0 / 20.0), rel=0.01)

    def test_samples_are_exactly_0_where_nothing_is_left(self):
        mover = {"id": "m", "name": "M", "kind": "macro", "value": 0.0}
        made = sound([layer("a")], [link("m", "a.level_db", 1.0, law="amplitude")], movers=[mover])
        assert not render(made, settings=RenderSettings(length_s=0.5)).samples.any()

    @pytest.mark.parametrize(
        "target", ["bus.level_db", "main.level_db", "g.level_db", "s.level_db"]
    )
    def test_every_level_can_be_silenced(self, target):
        made = sound(
            [layer("a", to="bus")],
            [link("m", target, 1.0, law="amplitude")],
            movers=[{"id": "m", "name": "M", "kind": "macro", "value": 0.0}],
            buses=[{"id": "bus", "name": "B", "to": "none" if target == "s.level_db" else "main"}],
            sends=[{"id": "s", "source": "bus", "to": "main", "on": target == "s.level_db"}],
            main={"chain": [{"id": "g", "kind": "gain"}]},
        )
        assert not render(made, settings=RenderSettings(length_s=0.2)).samples.any()


def test_linear_law_moves_frequencies_in_hz_from_0_on():
    made = sound(
        [layer("a")],
        [link("l", "a.pitch_st", 1.0), link("m", "l.rate_hz", 8.0, law="linear")],
        movers=[
            {"id": "l", "name": "L", "kind": "lfo", "rate_hz": 0.0},
            {"id": "m", "name": "M", "kind": "macro", "value": 0.5},
        ],
    )
    _, hz = traces(made, made.hit, RenderSettings())["l.rate_hz"].T
    assert hz == pytest.approx(4.0)
    _, semitones = traces(made, made.hit, RenderSettings(), points=2000)["a.pitch_st"].T
    rising = (semitones[:-1] < 0.0) & (semitones[1:] >= 0.0)
    assert rising.sum() in (3, 4)


BAD = [
    ([link("a.level", "a.level_db", 1.0)], "cannot move its own level_db"),
    ([link("a.pitch", "a.pitch_st", 1.0)], "cannot move its own pitch_st"),
    ([link("common.pitch", "common.pitch_st", 1.0)], "cannot move its own pitch_st"),
    ([link("a.level", "a.delay_s", 1.0)], "cannot move its own delay_s"),
    ([link("z.level", "a.level_db", 1.0)], "there is no mover 'z.level'"),
    ([link("a.chain", "a.level_db", 1.0)], "pattern"),
    ([link("m", "a.pan", 1.0, law="amplitude")], "only a level can be moved as amplitude"),
    ([link("m", "f.gain_db", 1.0, law="amplitude")], "only a level can be moved as amplitude"),
    ([link("m", "a.level_db", 6.0, law="amplitude")], "from -1 to 1"),
    ([link("w", "common.pitch_st", 1.0)], "links go round"),
]


@pytest.mark.parametrize(("links", "words"), BAD)
def test_links_that_cannot_be_are_refused(links, words):
    with pytest.raises(DocumentError, match=words):
        sound(
            [layer("a")],
            links,
            movers=[
                {"id": "m", "name": "M", "kind": "macro"},
                {"id": "w", "name": "W", "kind": "follower", "layer": "a"},
            ],
            main={"chain": [{"id": "f", "kind": "filter"}]},
        )
