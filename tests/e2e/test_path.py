"""The path: where layers go, what chains do on the way, and what is heard at each step."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from nest_crate.core.units import note_to_hz
from tests.core.spectra import spectrum
from tests.e2e import bench
from tests.e2e.test_accessibility import violations

RATE = 48000


def level_db(samples, hz):
    """Level of a partial in a stretch of the sound, re a sine of amplitude 1."""
    cut = samples[4800:19200]
    found, magnitudes = spectrum(cut, RATE)
    scale = spectrum(np.sin(2 * np.pi * 1000 * np.arange(cut.size) / RATE), RATE)[1].max()
    return 20 * np.log10(magnitudes[np.abs(found - hz) < 15].max() / scale + 1e-9)


def saved(page, sound_id):
    bench.settled(page)
    return bench.draft(page, sound_id)


def test_layers_share_a_split_bus_of_which_only_the_top_is_driven(page):
    """A sub and a top made by hand, sent to a bus by menu and by dragging."""
    sound_id = bench.new_sound(page, "Split body")
    bench.type_into(page, "Note", "A1")
    bench.type_into(page, "Hold", "600 ms")
    page.get_by_role("button", name="tone", exact=True).click()
    page.get_by_role("tab", name="Source").click()
    bench.type_into(page, "Octave", "4")
    bench.take_in_hand(page, "Tone")
    page.get_by_label("Tone goes to Main").click()
    page.get_by_role("menuitem", name="A new bus").click()
    expect(page.get_by_label("Name of the bus")).to_have_value("Bus 1")
    path = page.get_by_role("region", name="Path")
    second = path.get_by_role("button", name="Sine").first
    second.drag_to(page.locator("[data-bus=bus-1]"))
    assert [layer["to"] for layer in saved(page, sound_id)["layers"]] == ["bus-1", "bus-1"]
    page.get_by_label("Split").check()
    bench.type_into(page, "Crossover", "200 Hz")
    high = page.get_by_role("group", name="Chain of Bus 1 high")
    high.get_by_label("Add processor to Bus 1 high").click()
    bench.pick_processor(page, "Drive")
    driven = bench.heard_after(page, lambda: bench.type_into(page, "Drive", "30 dB"))
    assert level_db(driven, 3 * 880) > -30, "the top is driven"
    assert level_db(driven, 3 * 55) < -60, "the sub stays clean"
    assert violations(page) == []
    # The drive is dragged to the main chain, where it meets the sub too.
    whole = bench.heard_after(
        page,
        lambda: high.locator("[data-processor=drive-1]").drag_to(
            path.get_by_role("button", name=re.compile("^Main"))
        ),
    )
    assert level_db(whole, 3 * 55) > -40
    made = saved(page, sound_id)
    assert [part["kind"] for part in made["main"]["chain"]] == ["drive"]
    assert made["buses"][0]["chain"] == []
    # Removed, the bus lets its layers go on where it went; undo brings it back.
    bench.take_in_hand(page, "Bus 1")
    page.get_by_label("Remove Bus 1").click()
    gone = saved(page, sound_id)
    assert ([layer["to"] for layer in gone["layers"]], gone["buses"]) == (["main", "main"], [])
    page.get_by_role("button", name="Undo").click()
    assert saved(page, sound_id) == made


def test_any_step_is_listened_at_and_switched_off_at_equal_level(page):
    bench.open_sound(page, "Brass gear tick")
    page.get_by_role("button", name="Output").filter(has_text="level").click()
    bench.heard_after(page, lambda: bench.type_into(page, "Main level", "-12 dB"))
    bench.add_to_main(page)
    bench.pick_processor(page, "Drive")
    driven = bench.heard_after(page, lambda: bench.type_into(page, "Drive", "24 dB"))
    before = bench.digest(page)
    at_layer = bench.heard_after(
        page, lambda: page.get_by_label("Listen after Drive").first.click()
    )
    above = 20 * np.log10(np.abs(at_layer).max() / np.abs(driven).max())
    assert above == pytest.approx(12.0, abs=0.1), "the main level comes after it"
    expect(page.get_by_role("status").filter(has_text="Main: Drive")).to_be_visible()
    expect(page.get_by_role("region", name="Checks").get_by_role("listitem")).to_have_count(0)
    page.get_by_label("Back to the output").click()
    page.wait_for_function(
        "before => document.querySelector('canvas[data-digest]').dataset.digest === before",
        arg=before,
    )
    page.get_by_role("button", name="Level-matched").click()
    page.get_by_role("button", name="Select Drive").first.click()
    plain = bench.heard_after(page, lambda: page.keyboard.press("b"))
    # 24 dB of drive made it far louder; switched off it is played by as much louder.
    loudness = [integrated_loudness_lufs(one[np.newaxis], RATE) for one in (driven, plain)]
    raised_db = 20 * np.log10(page.evaluate("window.gains.at(-1)"))
    assert loudness[0] - loudness[1] > 8
    assert raised_db == pytest.approx(loudness[0] - loudness[1], abs=0.2)
    bench.heard_after(page, lambda: page.keyboard.press("b"))
    assert page.evaluate("window.gains.at(-1)") == pytest.approx(1.0, abs=0.01)


def test_two_orders_are_heard_and_told_apart(page):
    sound_id = bench.open_sound(page, "Potting-bench snare")
    for kind in ("Drive", "Filter"):
        bench.add_to_main(page)
        bench.pick_processor(page, kind)
    main = page.get_by_role("group", name="Main chain")
    main.get_by_label("Move Filter 2 left").click()
    kinds = [part["kind"] for part in saved(page, sound_id)["main"]["chain"]]
    assert kinds[-2:] == ["filter", "drive"]
    count = bench.heard_count(page)
    main.get_by_role("button", name="hear both orders").click()
    bench.wait_for_count(page, count + 2)
    expect(main.get_by_text("dB apart")).to_be_visible()


def test_what_does_nothing_is_found_and_taken_away(page):
    sound_id = bench.open_sound(page, "Seed-pod pop")
    bench.add_to_main(page)
    bench.pick_processor(page, "Filter")
    page.get_by_label("Response").select_option("peak")
    bench.open_checks(page).get_by_role("button", name="Contributions").click()
    dialog = page.get_by_role("dialog", name="Contribution of each part")
    idle = dialog.get_by_role("row").filter(has_text="Main: Filter")
    expect(idle).to_contain_text("no change")
    assert violations(page) == []
    idle.get_by_role("button", name="Switch off").click()
    expect(dialog).to_be_hidden()
    assert saved(page, sound_id)["main"]["chain"][-1]["on"] is False


def test_a_macro_learns_what_is_moved_and_its_ranges_are_typed(page):
    sound_id = bench.open_sound(page, "Wilt thud")
    page.get_by_label("Add mover").click()
    page.get_by_role("menuitem", name="Macro").click()
    before = saved(page, sound_id)
    page.get_by_label("Teach Macro").click()
    page.get_by_role("button", name="Output", exact=False).filter(has_text="level").click()
    bench.type_into(page, "Main level", "-9 dB")
    expect(page.get_by_text("1 moved")).to_be_visible()
    page.get_by_role("button", name="Done").click()
    made = saved(page, sound_id)
    assert made["main"] == before["main"], "the field stands where it stood"
    level = before["main"]["level_db"]
    (link,) = [one for one in made["links"] if one["target"] == "main.level_db"]
    assert link["amount"] == pytest.approx(-9 - level)
    assert next(one for one in made["movers"] if one["kind"] == "macro")["value"] == 1
    page.get_by_role("button", name="Macro", exact=True).first.click()
    bench.type_into(page, "Main: Main level to", "-3 dB")
    made = saved(page, sound_id)
    (link,) = [one for one in made["links"] if one["target"] == "main.level_db"]
    assert link["amount"] == pytest.approx(-3 - level)
    bench.heard_after(page, lambda: page.get_by_role("button", name="Undo").click())
    count = bench.heard_count(page)
    page.get_by_label("Hear Main: Main level at its minimum, middle and maximum").click()
    bench.wait_for_count(page, count + 3)
    last = [np.abs(one).max() for one in bench.heard(page)[-3:]]
    assert last[0] > last[1] > last[2]


def test_a_chord_and_a_pattern_are_part_of_the_hit(page):
    sound_id = bench.open_sound(page, "Glass-pane bell")
    note = bench.draft(page, sound_id)["hit"]["note"]
    page.get_by_role("button", name="Notes: poly").click()
    chord = bench.heard_after(page, lambda: page.get_by_label("Chord").select_option("octave"))
    assert level_db(chord, note_to_hz(note + 12)) > -40
    bench.type_into(page, "From of note 2", "500 ms")
    assert saved(page, sound_id)["hit"]["further"] == [{"note": note + 12, "at_s": 0.5}]
    page.get_by_label("Remove note 2").click()
    page.get_by_label("Pattern").select_option("up")
    bench.type_into(page, "Octaves", "2")
    bench.type_into(page, "Step length", "1/4 beat")
    made = saved(page, sound_id)
    assert (made["pattern"]["order"], made["pattern"]["octaves"]) == ("up", 2)
    expect(page.get_by_role("button", name="Notes: poly · pattern up")).to_be_visible()
    assert violations(page) == []


def test_keys_in_legato_slide_in_one_voice(page):
    bench.new_sound(page, "Slide")
    page.get_by_role("button", name="Notes: poly").click()
    page.get_by_role("combobox", name="Mode").select_option("legato")
    bench.type_into(page, "Glide", "50 ms")
    bench.settled(page)
    page.get_by_role("heading", name="Notes of a hit").click()
    with page.expect_request("**/api/playing/hits"):
        page.keyboard.down("a")
    page.wait_for_timeout(400)
    with page.expect_request("**/api/playing/hits") as asked:
        page.keyboard.down("g")
    hit = asked.value.post_data_json["hit"]
    assert len(hit["further"]) == 1
    assert hit["further"][0]["note"] == hit["note"] + 7
    assert 0.2 < hit["further"][0]["at_s"] < 1.5
    with page.expect_request("**/api/playing/hits") as back:
        page.keyboard.up("g")
    notes = [one["note"] for one in back.value.post_data_json["hit"]["further"]]
    assert notes == [hit["note"] + 7, hit["note"]]
    page.keyboard.up("a")


def test_a_room_is_added_and_the_sound_goes_on_until_it_has_died_away(page):
    sound_id = bench.open_sound(page, "Watering valve hiss")
    before = bench.draft(page, sound_id)
    dry = bench.heard_after(page, lambda: bench.type_into(page, "Velocity", "99"))

    def add_room():
        bench.add_to_main(page)
        bench.pick_processor(page, "Reverb")

    bench.heard_after(page, add_room)
    expect(page.get_by_role("heading", name="Reverb on main")).to_be_visible()
    wet = bench.heard_after(page, lambda: bench.type_into(page, "Decay", "2.5 s"))
    assert wet.size >= min(96000, 2 * dry.size)
    assert violations(page) == []
    part = saved(page, sound_id)["main"]["chain"][-1]
    assert (part["kind"], part["decay_s"], part["mix"]) == ("room", 2.5, 0.25)
    assert len(saved(page, sound_id)["main"]["chain"]) == len(before["main"]["chain"]) + 1
