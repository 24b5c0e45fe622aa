"""Times that are kept as beats follow the tempo; all else stays in seconds."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import dump_sound, load_hit, load_sound
from nest_crate.core.sound.recipe import recipe


def riser(tempo_bpm: float, **more: Any) -> dict[str, Any]:
    """A tone that rises over twelve beats and is gone 20 ms later."""
    points = [
        {"time_s": 0.0, "value": 0.2},
        {"time_s": 0.0, "value": 1.0, "in_beats": {"time_s": 12.0}},
    ]
    end = {"time_s": 0.02, "value": 0.0}
    return {
        "schema_version": 2,
        "name": "Riser",
        "tempo_bpm": tempo_bpm,
        "hit": {"hold_s": 0.1, "in_beats": {"hold_s": 12.0}},
        "layers": [{"id": "a", "name": "A", "level": {"points": points, "release": [end]}}],
        **more,
    }


@pytest.mark.parametrize(("tempo_bpm", "seconds"), [(60.0, 12.0), (90.0, 8.0), (120.0, 6.0)])
def test_twelve_beats_last_by_the_tempo_alone(tempo_bpm, seconds):
    sound = load_sound(riser(tempo_bpm))
    assert sound.hit.hold_s == seconds
    samples = render(sound).samples[0]
    loud = np.flatnonzero(np.abs(samples) > 1e-4)
    # What follows is the 20 ms of the release, which are in seconds at every tempo.
    assert loud[-1] / 48000 == pytest.approx(seconds + 0.02, abs=0.002)
    level = np.abs(samples).reshape(-1)[: round(seconds * 48000)]
    middle = level[round(0.5 * seconds * 48000) :][:480].max()
    assert middle == pytest.approx(0.6, abs=0.01)


def test_beats_stay_beats_when_written_and_read_again():
    data = dump_sound(load_sound(riser(90.0)))
    point = data["layers"][0]["level"]["points"][1]
    assert point == {"time_s": 8.0, "value": 1.0, "bend": 0.0, "in_beats": {"time_s": 12.0}}
    assert load_sound({**data, "tempo_bpm": 60.0}).layers[0].level.points[1].time_s == 12.0


def test_what_has_no_beats_is_written_as_before():
    data = dump_sound(load_sound({"name": "Plain", "layers": [{"id": "a", "name": "A"}]}))
    assert "in_beats" not in str(data)


PARTS = [
    ({"layers": [{"id": "a", "name": "A", "in_beats": {"delay_s": 2.0}}]}, "layers.0.delay_s"),
    (
        {"movers": [{"id": "m", "name": "M", "kind": "lfo", "in_beats": {"delay_s": 2.0}}]},
        "movers.0.delay_s",
    ),
    (
        {"movers": [{"id": "m", "name": "M", "kind": "lfo", "in_beats": {"fade_s": 2.0}}]},
        "movers.0.fade_s",
    ),
    (
        {"main": {"chain": [{"id": "p", "kind": "fade", "in_beats": {"out_s": 2.0}}]}},
        "main.chain.0.out_s",
    ),
    ({"main": {"in_beats": {"end_by_s": 2.0}}}, "main.end_by_s"),
    ({"playing": {"in_beats": {"glide_s": 2.0}}}, "playing.glide_s"),
    (
        {
            "layers": [
                {"id": "a", "name": "A", "source": {"kind": "sample", "in_beats": {"start_s": 2.0}}}
            ]
        },
        "layers.0.source.start_s",
    ),
]


@pytest.mark.parametrize(("parts", "path"), PARTS, ids=[path for _, path in PARTS])
def test_every_time_of_a_part_can_be_kept_as_beats(parts, path):
    found: Any = dump_sound(load_sound({"name": "S", "tempo_bpm": 150.0, **parts}))
    for name in path.split("."):
        found = found[int(name)] if name.isdigit() else found[name]
    assert found == pytest.approx(0.8)


def test_beats_out_of_range_are_refused_at_their_field_with_beats_and_tempo():
    data = {
        "name": "S",
        "tempo_bpm": 20.0,
        "layers": [{"id": "a", "name": "A", "in_beats": {"delay_s": 12.0}}],
    }
    with pytest.raises(DocumentError) as caught:
        load_sound(data)
    (problem,) = caught.value.problems
    assert problem.path == "layers.0.delay_s"
    assert problem.message == "12 beats are 36 s at 20 bpm: at most 10 s"


@pytest.mark.parametrize("tempo", [0.0, 5000.0, "fast", None])
def test_absurd_tempo_is_refused_at_the_tempo(tempo):
    with pytest.raises(DocumentError) as caught:
        load_sound(riser(tempo))
    assert "tempo_bpm" in [one.path for one in caught.value.problems]


@pytest.mark.parametrize(
    ("in_beats", "words"),
    [
        ({"value": 2.0}, "'value' is no time of this part"),
        ({"time_s": -1.0}, "at least 0"),
        ({"time_s": 1e9}, "at most 400"),
        ({"time_s": "two"}, "number"),
        ([1.0], "dictionary"),
    ],
)
def test_beats_that_make_no_sense_are_refused(in_beats, words):
    data = riser(60.0)
    data["layers"][0]["level"]["points"][1]["in_beats"] = in_beats
    with pytest.raises(DocumentError, match=words):
        load_sound(data)


def test_points_that_a_tempo_turns_round_are_refused():
    data = riser(60.0)
    data["layers"][0]["level"]["points"].append({"time_s": 11.0, "value": 0.5})
    with pytest.raises(DocumentError, match="go back in time"):
        load_sound(data)
    assert load_sound({**data, "tempo_bpm": 120.0}).layers[0].level.points[1].time_s == 6.0


def test_sound_as_text_says_the_beats():
    text = recipe(load_sound(riser(60.0)))
    assert "Hold: 12 beats (12 s)" in text
    assert "  12 beats (12 s): 100 %" in text


def test_render_is_that_of_the_same_seconds():
    in_beats = load_sound(riser(90.0))
    plain = dump_sound(in_beats)
    for part in (plain["hit"], *plain["layers"][0]["level"]["points"]):
        part.pop("in_beats", None)
    settings = RenderSettings(length_s=1.0)
    np.testing.assert_array_equal(
        render(in_beats, settings=settings).samples,
        render(load_sound(plain), settings=settings).samples,
    )


def test_a_time_may_lie_seconds_after_a_beat():
    """Two beats after an attack of 5 ms, whatever the tempo; and what is none is refused."""
    for tempo, wanted in ((60.0, 2.005), (120.0, 1.005)):
        data = riser(tempo)
        point = data["layers"][0]["level"]["points"][1]
        point["in_beats"], point["and_seconds"] = {"time_s": 2.0}, {"time_s": 0.005}
        sound = load_sound(data)
        assert sound.layers[0].level.points[1].time_s == pytest.approx(wanted, abs=1e-12)
        assert dump_sound(load_sound(dump_sound(sound))) == dump_sound(sound)
    point["in_beats"] = {}
    with pytest.raises(DocumentError, match="'time_s' is not kept as beats"):
        load_sound(data)


def test_a_time_that_is_set_in_seconds_is_kept_as_nothing_else():
    """What is left of its beats would be refused where the hit is read again."""
    data = {"in_beats": {"hold_s": 2.0, "loop_s": 4.0}, "and_seconds": {"loop_s": 0.01}}
    hit = load_hit(data).with_seconds(loop_s=0.0)
    assert hit.in_beats == {"hold_s": 2.0}
    assert load_hit(hit.model_dump(mode="json")) == hit
