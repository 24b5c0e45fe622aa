"""Times in beats, forks, sends and curves as movers, made by hand on the Bench."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.e2e import bench
from tests.e2e.test_accessibility import violations


def document(page, sound_id):
    bench.settled(page)
    return bench.draft(page, sound_id)


def test_twelve_beats_stay_twelve_beats_when_the_tempo_changes(page):
    sound_id = bench.new_sound(page, "Clock riser")
    bench.type_into(page, "Tempo", "60")
    bench.type_into(page, "Hold", "12 beats")
    expect(page.get_by_label("Hold", exact=True)).to_have_value("12 beats")
    page.get_by_role("tab", name="Curve").click()
    bench.type_into(page, "Time of point 2", "6 beats")
    made = document(page, sound_id)
    assert (made["hit"]["hold_s"], made["hit"]["in_beats"]) == (12, {"hold_s": 12})
    assert made["layers"][0]["level"]["points"][1]["time_s"] == 6
    shown = bench.digest(page)
    bench.type_into(page, "Tempo", "120")
    bench.wait_for_other(page, shown)
    made = document(page, sound_id)
    assert (made["hit"]["hold_s"], made["layers"][0]["level"]["points"][1]["time_s"]) == (6, 3)
    # Six seconds and the release of 60 ms.
    expect(page.get_by_text(re.compile(r"^6\.1\d s$"))).to_be_visible()
    # A bare number is one of beats here; seconds are seconds again.
    bench.type_into(page, "Hold", "4")
    expect(page.get_by_label("Hold", exact=True)).to_have_value("4 beats")
    bench.type_into(page, "Hold", "500 ms")
    made = document(page, sound_id)
    assert made["hit"]["hold_s"] == 0.5
    assert not made["hit"].get("in_beats")
    page.get_by_role("button", name="Undo").click()
    assert document(page, sound_id)["hit"]["in_beats"] == {"hold_s": 4}


def test_a_point_that_is_dragged_stays_in_beats(page):
    sound_id = bench.new_sound(page, "Dragged beats")
    page.get_by_role("tab", name="Curve").click()
    bench.type_into(page, "Hold", "1 s")
    bench.type_into(page, "Time of point 2", "1 beat")
    point = page.get_by_role("group", name="Level curve of Tone").get_by_label("Point 2: 500 ms")
    point.focus()
    point.press("ArrowRight")
    made = document(page, sound_id)["layers"][0]["level"]["points"][1]
    assert made["in_beats"]["time_s"] == pytest.approx(2 * made["time_s"], abs=1e-3)
    assert made["time_s"] > 0.5


def test_a_fork_is_built_heard_and_undone(page):
    sound_id = bench.new_sound(page, "Forked")
    shown = bench.digest(page)
    page.get_by_label("Add processor to Tone").click()
    bench.pick_processor(page, "Fork")
    expect(page.get_by_role("heading", name="Fork on Tone")).to_be_visible()
    page.get_by_role("group", name="Branch Wet").get_by_label("Add processor to Tone Wet").click()
    bench.pick_processor(page, "Delay")
    shown = bench.wait_for_other(page, shown)
    expect(page.get_by_role("heading", name="Delay on Tone Wet")).to_be_visible()
    page.get_by_role("group", name="Chain of Tone").get_by_role("button", name="Fork").first.click()
    page.get_by_role("button", name="branch", exact=True).click()
    expect(page.get_by_role("list", name="Branches").get_by_role("listitem")).to_have_count(3)
    level = page.get_by_label("Branch level", exact=True).first
    level.fill("-12 dB")
    level.press("Enter")
    bench.wait_for_other(page, shown)
    (fork,) = document(page, sound_id)["layers"][0]["chain"]
    assert [one["name"] for one in fork["branches"]] == ["Dry", "Wet", "Branch 3"]
    assert [len(one["chain"]) for one in fork["branches"]] == [0, 1, 0]
    assert fork["branches"][0]["level_db"] == -12
    assert violations(page) == []
    page.get_by_label("Remove Fork").click()
    assert document(page, sound_id)["layers"][0]["chain"] == []
    page.get_by_role("button", name="Undo").click()
    assert document(page, sound_id)["layers"][0]["chain"] == [fork]


def test_a_layer_is_sent_to_a_bus_at_its_own_level(page):
    sound_id = bench.new_sound(page, "Sent")
    page.get_by_role("button", name="Play", exact=True).click()
    before = np.abs(bench.heard_last(page)).max()
    shown = bench.digest(page)
    page.get_by_label("Add bus").click()
    page.locator("[data-layer=tone-1]").get_by_role("button", name="Tone", exact=True).click()
    page.get_by_role("tab", name="Output").click()
    page.get_by_label("Send Tone to").select_option("Bus 1")
    shown = bench.wait_for_other(page, shown)
    (send,) = document(page, sound_id)["sends"]
    assert (send["source"], send["level_db"]) == ("tone-1", -6)
    assert np.abs(bench.heard_last(page)).max() / before == pytest.approx(1.501, abs=0.01)
    bench.take_in_hand(page, "Bus 1")
    expect(page.get_by_text("bus of Tone", exact=True)).to_be_visible()
    page.get_by_label("Each note apart").check()
    expect(page.get_by_text("Works on each note by itself")).to_be_visible()
    assert document(page, sound_id)["buses"][0]["each_note"]
    assert violations(page) == []
    # Without the bus there is no send.
    page.get_by_label("Remove Bus 1").click()
    assert document(page, sound_id)["sends"] == []


def test_the_level_curve_moves_the_pitch_and_the_common_pitch_is_moved(page):
    sound_id = bench.new_sound(page, "One curve")
    shown = bench.digest(page)
    page.get_by_role("tab", name="Curve").click()
    bench.link(page, "Tone level curve", "Tone: Pitch")
    shown = bench.wait_for_other(page, shown)
    page.get_by_role("button", name="common pitch", exact=True).click()
    page.get_by_label("What moves Common pitch: Common pitch").click()
    page.get_by_role("menuitem", name="Move by a new LFO").click()
    shown = bench.wait_for_other(page, shown)
    links = document(page, sound_id)["links"]
    assert [(one["mover"], one["target"]) for one in links] == [
        ("tone-1.level", "tone-1.pitch_st"),
        ("lfo-1", "common.pitch_st"),
    ]
    # A level can be moved down to silence.
    page.get_by_role("button", name="Tone", exact=True).first.click()
    page.get_by_role("tab", name="Output").click()
    page.get_by_label("What moves Tone: Level").click()
    page.get_by_role("menuitem", name="Move by LFO").click()
    page.get_by_label("Law of the link to Tone: Level").select_option("as amplitude, to silence")
    bench.wait_for_other(page, shown)
    (link,) = [one for one in document(page, sound_id)["links"] if one["law"] == "amplitude"]
    assert link["amount"] == 1
