"""What parts contribute, what movement runs into, and what stays from hit to hit."""

import numpy as np
import pytest

from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.checks.contribution import list_contributions
from nest_crate.core.analysis.measures.difference import difference
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.measures.repeats import compare_repeats
from nest_crate.core.analysis.pictures.details import BAND_EDGES_HZ, band_levels_db, details
from nest_crate.core.engine import Audio, RenderSettings, StageMemory, render, render_with_trace
from nest_crate.core.engine.phrases import render_phrase
from nest_crate.core.sound import dump_sound, load_sound
from tests.core.test_movers import RATE, link, sound_with

SETTINGS = RenderSettings()


def remarks(sound, code):
    rendering = render_with_trace(sound)
    measures = measure(rendering.audio.samples, RATE)
    return [one for one in check_sound(sound, rendering, measures) if one.code == code]


def fixed(sound, fix):
    data = dump_sound(sound)
    for edit in fix.edits:
        node = data
        *way, last = edit.path.split(".")
        for key in way:
            node = node[int(key)] if isinstance(node, list) else node[key]
        node[int(last) if isinstance(node, list) else last] = edit.value
    return load_sound(data)


def test_a_quieter_copy_differs_by_its_gain():
    noise = np.random.default_rng(4).normal(size=(1, RATE)) * 0.1
    found = difference(Audio(noise, RATE), Audio(noise * 10 ** (-6 / 20), RATE))
    assert found.change_db == pytest.approx(6.0, abs=0.05)
    assert found.loudness_db == pytest.approx(6.0, abs=0.05)
    same = difference(Audio(noise, RATE), Audio(noise, RATE))
    assert (same.change_db, same.loudness_db) == (0.0, 0.0)


def test_every_part_is_taken_away_once_and_what_does_nothing_is_seen():
    chain = [
        {"id": "idle", "kind": "filter", "response": "low_pass", "cutoff_hz": 20000},
        {"id": "cut", "kind": "filter", "cutoff_hz": 300},
        {"id": "off", "kind": "drive", "on": False},
    ]
    movers = [{"id": "z", "kind": "macro", "value": 0.0}, {"id": "v", "kind": "velocity"}]
    links = [link("z", "cut.cutoff_hz", 3), link("v", "cut.cutoff_hz", 1)]
    memory = StageMemory()
    sound = sound_with(movers, links, chain=chain)
    parts = {one.id: one for one in list_contributions(sound, sound.hit, SETTINGS, memory=memory)}
    listed = list_contributions(sound, sound.hit, SETTINGS, memory=memory)
    assert [(one.kind, one.id, one.name) for one in listed] == [
        ("layer", "a", "A"),
        ("processor", "idle", "filter"),
        ("processor", "cut", "filter"),
        ("link", "cut.cutoff_hz", "z"),
        ("link", "cut.cutoff_hz", "v"),
    ]
    assert parts["idle"].difference.change_db < 0.1
    assert parts["cut"].difference.change_db > 3.0
    assert parts["cut"].difference.loudness_db < -0.5
    assert parts["a"].difference.loudness_db > 40.0
    assert [one.difference.change_db > 0.1 for one in listed[3:]] == [False, True]
    for one in listed:
        without = fixed(sound, one.fix)
        again = difference(render(sound), render(without))
        assert again == one.difference


def test_a_cutoff_swept_past_its_range_is_said_and_fixed():
    ramp = {"points": [{"time_s": 0, "value": 0}, {"time_s": 1, "value": 1}]}
    sound = sound_with(
        [{"id": "c", "kind": "curve", "curve": ramp}],
        [link("c", "f.cutoff_hz", 6)],
        chain=[{"id": "f", "kind": "filter", "cutoff_hz": 2000}],
    )
    (found,) = remarks(sound, "past_range")
    assert found.text.startswith("Main Filter: Cutoff would pass 20000 Hz and stays there for")
    # 2000 Hz and log2(10) octaves are 20 kHz, which 6 octaves a second reach at 0.554 s.
    assert found.at_s == pytest.approx(np.log2(10) / 6, abs=0.02)
    better = fixed(sound, found.fixes[0])
    assert better.links[0].amount == pytest.approx(np.log2(10), abs=0.002)
    assert remarks(better, "past_range") == []


def test_a_rate_moved_below_its_range_is_said_and_stays_at_the_lowest():
    sound = sound_with(
        [{"id": "l", "kind": "lfo", "rate_hz": 1.0}, {"id": "z", "kind": "macro", "value": 1.0}],
        [link("l", "a.level_db", -6), {**link("z", "l.rate_hz", -2), "law": "linear"}],
    )
    (found,) = remarks(sound, "past_range")
    assert "l: Rate would pass 0 Hz" in found.text
    assert np.all(np.isfinite(render(sound).samples))


def test_movement_within_its_range_is_not_remarked():
    sound = sound_with(
        [{"id": "l", "kind": "lfo"}],
        [link("l", "a.pan", 1.0)],
    )
    assert remarks(sound, "past_range") == []


def test_a_fall_that_ends_sharp_is_said_and_fixed():
    fall = {"points": [{"time_s": 0, "value": 24}, {"time_s": 0.1, "value": 2}]}
    sound = sound_with([], [], layer={"pitch": fall})
    (found,) = remarks(sound, "stays_sharp")
    assert found.text.startswith("stays +2.0 st above its note while held")
    assert remarks(fixed(sound, found.fixes[0]), "stays_sharp") == []
    rise = {"points": [{"time_s": 0, "value": 0}, {"time_s": 0.1, "value": 12}]}
    assert remarks(sound_with([], [], layer={"pitch": rise}), "stays_sharp") == []


def test_details_tell_where_a_held_note_stands():
    fall = {"points": [{"time_s": 0, "value": 24}, {"time_s": 0.1, "value": 2}]}
    sound = sound_with(
        [{"id": "z", "kind": "macro", "value": 1.0}],
        [link("z", "f.cutoff_hz", -2)],
        layer={"pitch": fall},
        chain=[{"id": "f", "kind": "filter", "cutoff_hz": 2000}],
    )
    looked = details(sound, sound.hit, SETTINGS)
    assert looked.layers["a"].held_st == pytest.approx(2.0, abs=1e-6)
    assert looked.held["f.cutoff_hz"] == pytest.approx(500.0)


def test_band_levels_put_a_tone_into_its_band():
    for band, hz in enumerate((50.0, 250.0, 1000.0, 8000.0)):
        tone = np.sin(2 * np.pi * hz * np.arange(RATE) / RATE)[np.newaxis]
        levels = band_levels_db(tone, RATE)[:, 10:-2]
        assert levels.shape[0] == len(BAND_EDGES_HZ) + 1
        assert int(np.argmax(levels.mean(axis=1))) == band
        assert levels[band].min() > -1.5


def test_a_sub_that_comes_and_goes_from_hit_to_hit_is_measured():
    low = {"source": {"kind": "tone", "follows_note": False, "fixed_hz": 50}}
    movers = [{"id": "r", "kind": "random"}]
    wild = sound_with(movers, [link("r", "a.level_db", 12)], layer=low, hit={"hold_s": 0.2})
    tame = sound_with([], [], layer=low, hit={"hold_s": 0.2})
    found = compare_repeats(wild, SETTINGS)
    assert found.low_spread_db == pytest.approx(found.peak_spread_db, abs=0.3)
    assert found.low_spread_db > 6.0
    assert compare_repeats(tame, SETTINGS).low_spread_db == 0.0


def test_in_mono_a_phrase_ends_each_hit_where_the_next_begins():
    long = {"points": [{"time_s": 0, "value": 1}], "release": [{"time_s": 2.0, "value": 0}]}
    sound = sound_with([], [], layer={"level": long}, hit={"hold_s": 0.1})
    mono = load_sound({**dump_sound(sound), "playing": {"way": "mono"}})
    alone = render(sound).samples
    several, one = (render_phrase(each, "eight_hits", SETTINGS).samples for each in (sound, mono))
    beat = RATE // 2
    assert np.abs(several[:, beat + 4800 : 2 * beat]).max() > 1.2 * np.abs(alone).max()
    np.testing.assert_allclose(
        one[:, beat + 300 : 2 * beat - 10], alone[:, 300 : beat - 10], atol=1e-9
    )


def test_only_what_comes_after_a_change_is_made_anew():
    chain = [{"id": n, "kind": "filter"} for n in ("one", "two", "three")]
    sound = sound_with([], [], chain=chain)
    memory = StageMemory()
    render(sound, memory=memory)
    data = dump_sound(sound)
    data["main"]["chain"][2]["cutoff_hz"] = 500
    seconds = render_with_trace(load_sound(data), memory=memory).stage_seconds
    made = {name for name, took in seconds.items() if took > 0.0}
    assert made == {"three filter", "main level"}
