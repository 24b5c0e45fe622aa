"""What moves: made from either end, seen where it acts, and gone with what it needs."""

import numpy as np
from playwright.sync_api import expect

from nest_crate.core.analysis.measures.pitch import pitch_track
from nest_crate.core.units import note_to_hz
from tests.e2e import bench
from tests.e2e.test_accessibility import violations


def document(page, sound_id):
    bench.settled(page)
    return bench.draft(page, sound_id)


def test_pitch_is_moved_from_its_ring_and_heard_and_seen(page):
    sound_id = bench.new_sound(page, "Moth wobble")
    bench.type_into(page, "Note", "A4")
    bench.type_into(page, "Hold", "1 s")
    page.get_by_label("What moves Tone: Pitch").click()
    page.get_by_role("menuitem", name="Move by a new LFO").click()
    bench.type_into(page, "Rate", "1 Hz")
    bench.type_into(page, "Amount on Tone: Pitch", "7 st")
    made = document(page, sound_id)
    assert made["movers"][0]["rate_hz"] == 1
    (link,) = made["links"]
    assert (link["mover"], link["target"], link["amount"]) == ("lfo-1", "tone-1.pitch_st", 7)
    assert (link["bend"], link["scaled_by"], link["law"]) == (0, None, "plain")

    heard = bench.heard_last(page)
    reached = 12 * np.log2(pitch_track(heard[np.newaxis], 48000).pitch_hz / note_to_hz(69))
    assert np.nanmax(reached) > 6.5
    assert np.nanmin(reached) < -6.5
    expect(page.get_by_role("img", name="How LFO moves its first target")).to_be_visible()
    lane = page.get_by_role("group", name="What moves in Tone")
    expect(lane).to_contain_text("Pitch −7 st to +7 st")
    expect(page.get_by_role("list", name="What LFO moves")).to_contain_text("−7 st to +7 st")
    assert violations(page) == []


def test_one_mover_serves_many_and_goes_with_its_links(page):
    sound_id = bench.open_sound(page, "Steam whistle")
    page.get_by_label("Add mover").click()
    page.get_by_role("menuitem", name="Steps").click()
    expect(page.get_by_text("nothing yet")).to_be_visible()
    bench.link(page, "Steps", "Reed: Pan", "Bell mouth: Level")
    steps = page.get_by_role("slider", name="Steps")
    steps.focus()
    steps.press("ArrowRight")
    steps.press("ArrowUp")
    page.get_by_label("Add a step").click()
    made = document(page, sound_id)
    assert made["movers"][0]["values"] == [1, 0.05, 0.5, 0, 0]
    assert [link["amount"] for link in made["links"]] == [0.5, -6]
    page.get_by_label("Remove Steps").click()
    gone = document(page, sound_id)
    assert (gone["movers"], gone["links"]) == ([], [])
    page.get_by_role("button", name="Undo").click()
    assert document(page, sound_id)["links"] == made["links"]


def test_one_mover_for_the_pitch_of_all_layers_and_a_copy_that_is_moved_too(page):
    sound_id = bench.open_sound(page, "Steam whistle")
    layers = document(page, sound_id)["layers"]
    pitched = [one["id"] for one in layers if one["source"]["kind"] != "noise"]
    page.get_by_label("Add mover").click()
    page.get_by_role("menuitem", name="LFO").click()
    # Two gestures: the search, and its first entry.
    page.get_by_label("Link LFO to", exact=True).click()
    page.get_by_role("option", name="All layers: Pitch", exact=True).click()
    assert violations(page) == []
    made = document(page, sound_id)["links"][-len(pitched) :]
    assert [link["target"] for link in made] == [f"{one}.pitch_st" for one in pitched]
    before = len(document(page, sound_id)["links"])
    page.keyboard.press("Escape")
    name = next(one["name"] for one in layers if one["id"] == pitched[0])
    page.get_by_label(f"More for {name}").click()
    page.get_by_role("menuitem", name="Duplicate", exact=False).first.click()
    links = document(page, sound_id)["links"]
    copied = [{**one, "target": made[0]["target"]} for one in links[before:]]
    assert made[0] in copied
    bench.all_rendered(page)


def test_layer_has_a_chain_whose_filter_a_macro_opens(page):
    sound_id = bench.open_sound(page, "Watering valve hiss")
    page.get_by_label("Add processor to Jet").click()
    bench.pick_processor(page, "Filter")
    expect(page.get_by_role("heading", name="Filter on Jet")).to_be_visible()
    page.get_by_label("What moves Filter: Cutoff").click()
    page.get_by_role("menuitem", name="Move by a new Macro").click()
    bench.type_into(page, "Amount on Jet Filter: Cutoff", "3 oct")
    shown = bench.digest(page)
    macro = page.get_by_role("slider", name="Macro Macro")
    macro.focus()
    macro.press("End")
    bench.wait_for_other(page, shown)
    expect(page.get_by_role("list", name="What Macro moves")).to_contain_text("reached: 16.0 kHz")
    made = document(page, sound_id)
    assert made["layers"][0]["chain"][0]["kind"] == "filter"
    assert made["movers"][0]["value"] == 1
    # The filter goes, and the link with it; the macro stays and says that it is idle.
    page.get_by_role("button", name="Jet", exact=False).first.click()
    page.get_by_label("Remove Filter").first.click()
    assert document(page, sound_id)["links"] == []
    expect(page.get_by_title("No links")).to_be_visible()
    count = bench.heard_count(page)
    page.get_by_label("Hear Macro at 0, 50 and 100 %").click()
    page.wait_for_function("count => window.heard.length >= count", arg=count + 3)


def test_a_muted_layer_modulates_another_by_a_moved_amount(page):
    sound_id = bench.open_sound(page, "Fuse zap backwards")
    page.get_by_role("button", name="tone", exact=True).click()
    page.get_by_label("Mute Sine").click()
    page.locator("[data-layer=fuse]").get_by_role("button", name="Fuse", exact=True).click()
    page.get_by_role("tab", name="Source").click()
    expect(page.get_by_label("Name of the layer")).to_have_value("Fuse")
    shown = bench.digest(page)
    page.get_by_label("Add a modulator").select_option("Sine")
    shown = bench.wait_for_other(page, shown)
    page.get_by_role("combobox", name="Type").select_option("ring")
    shown = bench.wait_for_other(page, shown)
    page.get_by_label("What moves Fuse by Sine: Amount").click()
    page.get_by_role("menuitem", name="Move by a new Curve").click()
    bench.wait_for_other(page, shown)
    made = document(page, sound_id)
    (modulator,) = made["layers"][0]["modulators"]
    assert (modulator["by"], modulator["way"], modulator["amount"]) == ("tone-1", "ring", 0.25)
    assert made["links"][0]["target"] == f"{modulator['id']}.amount"
    # The other way round it would be a loop, so it is not offered.
    lane = page.locator("[data-layer=tone-1]")
    lane.get_by_role("button", name="Sine", exact=True).click()
    expect(page.get_by_text("Needs a second layer")).to_be_visible()
    page.get_by_label("More for Sine").click()
    page.get_by_role("menuitem", name="Remove").click()
    assert document(page, sound_id)["layers"][0]["modulators"] == []
