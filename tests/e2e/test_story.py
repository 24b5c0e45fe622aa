"""The story of the first slice: make a kick, hear and see it, keep it, find it, download it."""

import zipfile

import numpy as np
import pytest
from click.testing import CliRunner
from playwright.sync_api import expect

from nest_crate.cli import main
from nest_crate.core.formats.wav import decode_wav
from tests.e2e import bench


def test_space_plays_the_demo_sound_as_it_is_rendered(page):
    sound_id = bench.open_sound(page, "Kiln door kick")
    assert page.evaluate("window.heard.length") == 0, "nothing plays by itself"
    page.keyboard.press("Space")
    played = bench.wait_until_heard(page, 1)
    body = {"document": bench.draft(page, sound_id)}
    audio = page.request.post("/api/playing/hits", data=body).body()
    expected, rate = decode_wav(audio)
    assert rate == page.evaluate("window.heard[0].rate")
    np.testing.assert_array_equal(played, expected[0, :96000])
    # A kick: the first 20 ms fall from high to low, the rest stays at G1.
    crossings = np.flatnonzero(np.diff(np.sign(played[12000:20000])) > 0)
    assert 48000 / np.diff(crossings).mean() == pytest.approx(49.0, abs=0.5)


def test_dragging_a_pitch_point_is_heard_saved_and_undone(page):
    sound_id = bench.open_sound(page, "Wilt thud")
    before = bench.draft(page, sound_id)
    shown = bench.digest(page)
    lane = page.locator("[data-layer=stem]")
    lane.get_by_role("button", name="Pitch").click()
    point = lane.locator("[data-point=points-1]")
    box = point.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for step in range(1, 11):
        page.mouse.move(x + 6 * step, y - 3 * step)
    page.mouse.up()
    bench.wait_for_other(page, shown)
    bench.settled(page)
    moved = bench.draft(page, sound_id)["layers"][0]["pitch"]["points"][1]
    old = before["layers"][0]["pitch"]["points"][1]
    assert moved["time_s"] > old["time_s"]
    assert moved["value"] > old["value"]
    bench.wait_until_heard(page, 1)
    # The whole drag is one named step back.
    page.get_by_role("button", name="Undo").click()
    bench.settled(page)
    assert bench.draft(page, sound_id) == before
    page.get_by_role("button", name="Redo").click()
    bench.settled(page)
    assert bench.draft(page, sound_id)["layers"][0]["pitch"]["points"][1] == moved
    page.keyboard.press("Control+z")
    bench.settled(page)
    assert bench.draft(page, sound_id) == before


def test_typed_units_are_understood(page):
    sound_id = bench.open_sound(page, "Boiler room drone")
    for label, text, path, value in (
        ("Transpose", "-24 st", "transpose_st", -24.0),
        ("Transpose", "1 oct", "transpose_st", 12.0),
        ("Start phase", "90", "phase_deg", 90.0),
        ("Fixed pitch", "A1", "fixed_hz", 55.0),
        ("Fixed pitch", "1.2 kHz", "fixed_hz", 1200.0),
    ):
        page.get_by_label("Key tracking").set_checked(label != "Fixed pitch")
        bench.type_into(page, label, text)
        bench.settled(page)
        source = bench.draft(page, sound_id)["layers"][0]["source"]
        assert source[path] == pytest.approx(value, rel=1e-3), text


def test_wrong_typing_is_told_at_the_field_and_changes_nothing(page):
    sound_id = bench.open_sound(page, "Seed-pod pop")
    before = bench.draft(page, sound_id)
    for text, words in (("loud", "Type a value like"), ("99 st", "−60 st to +60 st")):
        bench.type_into(page, "Transpose", text)
        expect(page.get_by_role("alert").filter(has_text=words)).to_be_visible()
        page.keyboard.press("Escape")
    assert bench.draft(page, sound_id) == before


def test_field_is_dragged_nudged_and_reset(page):
    sound_id = bench.open_sound(page, "Brass gear tick")

    def transpose():
        bench.settled(page)
        return bench.draft(page, sound_id)["layers"][0]["source"]["transpose_st"]

    bar = page.get_by_role("slider", name="Transpose bar")
    bar.press("ArrowUp")
    assert transpose() == 1.0
    bar.press("Shift+ArrowUp")
    assert transpose() == 11.0
    box = bar.bounding_box()
    page.mouse.move(box["x"] + 20, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] - 40, box["y"] + 10, steps=8)
    page.mouse.up()
    assert transpose() < 0
    page.mouse.wheel(0, -100)
    bar.dblclick()
    assert transpose() == 0.0


def test_reload_shows_the_draft_unchanged(page):
    sound_id = bench.open_sound(page, "Lamp zap")
    shown = bench.digest(page)
    bench.type_into(page, "Transpose", "-5 st")
    changed = bench.wait_for_other(page, shown)
    bench.settled(page)
    page.reload()
    page.wait_for_function(
        "digest => document.querySelector('canvas[data-digest]')?.dataset.digest === digest",
        arg=changed,
    )
    expect(page.get_by_label("Transpose", exact=True)).to_have_value("−5 st")
    assert bench.draft(page, sound_id)["layers"][0]["source"]["transpose_st"] == -5


def test_a_kick_from_the_empty_sound_to_a_wav(page, tmp_path):
    bench.open_sound(page, "Kiln door kick")
    page.get_by_role("button", name="New sound").click()
    expect(page.get_by_label("Name of the sound")).to_have_value("New sound")
    sound_id = int(page.url.rsplit("/", 1)[-1])
    empty = bench.draft(page, sound_id)
    assert [layer["source"]["kind"] for layer in empty["layers"]] == ["tone"]
    assert empty["main"]["chain"] == []

    bench.type_into(page, "Name of the sound", "Cellar kick")
    bench.type_into(page, "Note", "G2")
    bench.type_into(page, "Transpose", "-12 st")
    # A level curve without sustain: no release, down to nothing by itself.
    page.get_by_role("tab", name="Curve").click()
    page.get_by_role("button", name="Remove release (one-shot)").click()
    page.get_by_role("button", name="point", exact=True).click()
    bench.type_into(page, "Time of point 3", "400 ms")
    bench.type_into(page, "Value of point 3", "0 %")
    bench.type_into(page, "Bend of point 3", "4")
    page.get_by_role("button", name="Pitch", exact=True).click()
    bench.type_into(page, "Value of point 1", "24 st")
    page.get_by_role("button", name="point", exact=True).click()
    bench.type_into(page, "Time of point 2", "28 ms")
    bench.type_into(page, "Value of point 2", "0 st")
    page.get_by_role("button", name="noise", exact=True).click()
    bench.add_to_main(page)
    bench.pick_processor(page, "Drive")
    bench.type_into(page, "Drive", "9 dB")
    bench.settled(page)
    made = bench.draft(page, sound_id)
    assert made["name"] == "Cellar kick"
    assert [p["value"] for p in made["layers"][0]["pitch"]["points"]] == [24, 0]
    assert made["layers"][0]["level"]["points"][2] == {"time_s": 0.4, "value": 0, "bend": 4}
    assert made["main"]["chain"][0]["drive_db"] == 9

    page.get_by_role("button", name="Keep take").click()
    dialog = page.get_by_role("dialog")
    dialog.get_by_label("Name").fill("Cellar kick G1")
    dialog.get_by_role("button", name="Keep take").click()
    dialog.get_by_role("link", name="Show in library").click()

    row = page.get_by_role("option", name="Cellar kick G1")
    expect(row).to_contain_text("G1")
    expect(row).to_contain_text("LUFS")
    row.click()
    files = {}
    row.locator("[data-mark]").click()
    for rate in (44100, 48000):
        page.get_by_role("button", name="Download…").click()
        page.get_by_label("Rate", exact=True).select_option(str(rate))
        with page.expect_download() as download:
            page.get_by_role("button", name="Download", exact=True).click()
        with zipfile.ZipFile(download.value.path()) as archive:
            name = next(one for one in archive.namelist() if one.endswith(".wav"))
            assert name.endswith("Cellar kick G1.wav")
            files[rate], file_rate = decode_wav(archive.read(name))
        assert file_rate == rate

    # The same document on the command line gives the same samples.
    document = tmp_path / "kick.json"
    document.write_text(
        page.request.get(f"/api/sounds/{sound_id}").text().split('"document":', 1)[1][:-2]
    )
    by_hand = tmp_path / "by-hand.wav"
    result = CliRunner().invoke(main, ["render", str(document), "--note", "G2", "-o", str(by_hand)])
    assert result.exit_code == 0, result.output
    np.testing.assert_array_equal(decode_wav(by_hand.read_bytes())[0], files[48000])

    page.get_by_role("link", name="Open its sound").click()
    expect(page.get_by_label("Name of the sound")).to_have_value("Cellar kick")


def test_arrow_keys_move_and_play_in_a_library(page):
    page.goto("/libraries")
    page.get_by_role("listbox", name="Samples").focus()
    options = page.get_by_role("listbox", name="Samples").get_by_role("option")
    expect(options.first).to_have_attribute("aria-selected", "true")
    page.keyboard.press("ArrowDown")
    expect(options.nth(1)).to_have_attribute("aria-selected", "true")
    second = bench.wait_until_heard(page, 1)
    page.keyboard.press("ArrowUp")
    first = bench.wait_until_heard(page, 2)
    assert first.size != second.size or np.abs(first - second).max() > 0.01
    assert np.abs(first).max() > 0.1
    page.keyboard.press("Enter")
    expect(page.get_by_label("Name of the sound")).to_be_visible()


def test_processor_is_switched_moved_and_removed(page):
    sound_id = bench.open_sound(page, "Wilt thud")
    bench.add_to_main(page)
    bench.pick_processor(page, "Drive")

    def chain():
        bench.settled(page)
        return [(part["kind"], part["on"]) for part in bench.draft(page, sound_id)["main"]["chain"]]

    assert chain() == [("filter", True), ("drive", True)]
    page.get_by_role("button", name="Move Drive left").click()
    assert chain() == [("drive", True), ("filter", True)]
    page.locator("body").press("b")
    assert chain() == [("drive", False), ("filter", True)]
    page.get_by_role("button", name="Remove Drive").click()
    assert chain() == [("filter", True)]


def test_level_over_full_scale_is_told_held_back_and_fixed(page):
    bench.open_sound(page, "Steam whistle")
    page.get_by_role("button", name="Output level").click()
    bench.type_into(page, "Main level", "12 dB")
    checks = bench.open_checks(page)
    expect(checks).to_contain_text("over full scale")
    page.keyboard.press("Space")
    expect(page.get_by_text("playback −")).to_be_visible()
    checks.get_by_role("button", name="Trim").click()
    expect(checks).to_contain_text("below full scale")
