"""Layers, their sources in full, and the history of a sound."""

import pytest
from playwright.sync_api import expect

from tests.e2e import bench


def layers(page, sound_id):
    bench.settled(page)
    return bench.draft(page, sound_id)["layers"]


def test_layer_is_duplicated_moved_and_removed_with_undo(page):
    sound_id = bench.open_sound(page, "Wilt thud")
    before = layers(page, sound_id)

    def choose(item):
        page.get_by_label("More for Stem", exact=True).click()
        page.get_by_role("menuitem", name=item).first.click()

    choose("Duplicate")
    names = [layer["name"] for layer in layers(page, sound_id)]
    assert names == ["Stem", "Stem copy", "Leaves"]
    choose("Move down")
    assert [layer["name"] for layer in layers(page, sound_id)][:2] == ["Stem copy", "Stem"]
    choose("Remove")
    assert len(layers(page, sound_id)) == 2
    for _ in range(3):
        page.get_by_role("button", name="Undo").click()
    assert layers(page, sound_id) == before


def test_partials_are_drawn_by_dragging_and_by_keys(page):
    sound_id = bench.open_sound(page, "Brass gear tick")
    page.get_by_label("Waveform from").select_option("partials")
    page.get_by_label("Start from a set of partials").select_option("Odd only")
    amplitudes = layers(page, sound_id)[0]["source"]["partials"]["amplitudes"]
    assert amplitudes[:5] == pytest.approx([1, 0, 0.333, 0, 0.2])
    page.get_by_label("Partials seen").select_option("64")
    bars = page.get_by_role("slider", name="Partials")
    bars.scroll_into_view_if_needed()
    box = bars.bounding_box()
    page.mouse.move(box["x"] + 0.26 * box["width"], box["y"] + 0.5 * box["height"])
    page.mouse.down()
    page.mouse.move(box["x"] + 0.74 * box["width"], box["y"] + 0.5 * box["height"], steps=4)
    page.mouse.up()
    drawn = layers(page, sound_id)[0]["source"]["partials"]["amplitudes"]
    assert drawn[20:45] == pytest.approx([0.5] * 25, abs=0.03)
    assert drawn[:5] == amplitudes[:5]
    page.get_by_role("button", name="Undo").click()
    assert layers(page, sound_id)[0]["source"]["partials"]["amplitudes"] == amplitudes
    page.get_by_label("Bars show").select_option("Phases")
    phases = page.get_by_role("slider", name="Phases of the partials")
    phases.focus()
    for key in ["ArrowLeft"] * 64 + ["ArrowRight"] * 20:
        phases.press(key)
    phases.press("Shift+ArrowUp")
    assert layers(page, sound_id)[0]["source"]["partials"]["phases_deg"][20] == 36
    page.get_by_label("Start from a set of partials").select_option("Save this set…")
    page.get_by_role("dialog").get_by_label("Name").fill("Gear teeth")
    page.get_by_role("dialog").get_by_role("button", name="Keep", exact=True).click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    kept = layers(page, sound_id)[0]["source"]["partials"]
    page.get_by_label("Start from a set of partials").select_option("First only")
    page.get_by_label("Start from a set of partials").select_option("Gear teeth")
    assert layers(page, sound_id)[0]["source"]["partials"] == kept
    assert layers(page, sound_id)[0]["source"]["cycle"] == "partials"


def test_voices_and_noise_colour_are_heard_and_saved(page):
    sound_id = bench.open_sound(page, "Lamp zap")
    shown = bench.digest(page)
    bench.type_into(page, "Voices", "7")
    shown = bench.wait_for_other(page, shown)
    assert layers(page, sound_id)[0]["source"]["unison"]["voices"] == 7
    bench.open_sound(page, "Watering valve hiss")
    shown = bench.digest(page)
    page.get_by_label("Texture").select_option("crackle")
    bench.type_into(page, "Colour", "-3 dB")
    bench.wait_for_other(page, shown)


def test_revisions_say_what_changed_and_are_brought_back(page):
    sound_id = bench.open_sound(page, "Seed-pod pop")
    kept = page.request.get(f"/api/sounds/{sound_id}/revisions").json()["revisions"]
    bench.type_into(page, "Transpose", "5 st")
    bench.settled(page)
    page.get_by_role("button", name="History").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Note").fill("higher")
    dialog.get_by_role("button", name="Keep revision").click()
    newest = dialog.get_by_role("listitem").first
    expect(newest).to_contain_text("higher")
    expect(newest).to_contain_text("Pod: Transpose 0 st → +5 st")
    count = bench.heard_count(page)
    dialog.get_by_role("button", name="Play revision 1").click()
    bench.wait_until_heard(page, count + 1)
    dialog.get_by_role("listitem").nth(1).get_by_role("button", name="Restore").click()
    bench.settled(page)
    assert bench.draft(page, sound_id) == kept[-1]["document"]
    page.get_by_role("button", name="Undo").click()
    bench.settled(page)
    assert bench.draft(page, sound_id)["layers"][0]["source"]["transpose_st"] == 5
