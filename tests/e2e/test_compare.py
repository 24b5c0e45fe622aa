"""Sounds beside each other: opened from where they are, heard aligned, blind tests."""

import re

import numpy as np
from playwright.sync_api import Page, expect

from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from tests.e2e import bench
from tests.e2e.windows import eventually


def compared(page: Page, address: str) -> None:
    page.goto(address)
    expect(page.get_by_role("img", name="Waveforms of A, B")).to_be_visible()
    expect(page.get_by_role("button", name="Play", exact=True)).to_be_enabled()


def differences(page: Page, letter: str = "B"):
    return page.get_by_role("list", name=f"Differences of {letter} from A").get_by_role("listitem")


def a_kick_and_a_softer_later_one(page: Page) -> tuple[int, int]:
    """Two sounds that differ in level alone, in their numbers by 12 dB."""
    first = bench.new_sound(page, "Compared tone")
    layer = {**bench.TONE, "level_db": -18}
    second = bench.new_sound(page, "Compared tone, softer", layer)
    return first, second


def test_sides_are_heard_aligned_and_as_loud_as_each_other(page: Page) -> None:
    first, second = a_kick_and_a_softer_later_one(page)
    compared(page, f"/compare?side=sound.{first}&side=sound.{second}")
    expect(page.get_by_text("Nothing that is plainly heard.")).to_be_visible()
    page.evaluate("window.heard.length = 0")
    page.get_by_role("button", name="Play", exact=True).click()
    # Both sides and the difference signal begin at once, so that one can go over without a gap.
    eventually(page, lambda: bench.heard_count(page), 3)
    a, b, rest = bench.heard(page)
    assert len(a) == len(b) == len(rest)
    np.testing.assert_allclose(a - b, rest, atol=1e-6)
    loudness = [integrated_loudness_lufs(one[np.newaxis], 48000) for one in (a, b)]
    assert abs(loudness[0] - loudness[1]) < 0.1
    assert np.abs(rest).max() < 1e-3
    sides = page.get_by_role("group", name="Sides")
    page.locator("body").press("2")
    expect(sides.get_by_role("button", name=re.compile("^B Compared"))).to_have_attribute(
        "aria-pressed", "true"
    )
    page.get_by_label("Levels").select_option("off")
    expect(differences(page).first).to_contain_text(re.compile(r"B is 1[12]\.\d dB weaker"))


def test_a_revision_is_compared_with_what_the_sound_is_now(page: Page) -> None:
    sound = bench.new_sound(page, "Compared revisions")
    page.get_by_role("button", name="History").click()
    page.get_by_role("button", name="Keep revision").click()
    expect(page.get_by_role("button", name="Play revision 1")).to_be_visible()
    page.keyboard.press("Escape")
    bench.type_into(page, "Transpose", "-5 st")
    bench.settled(page)
    page.get_by_role("button", name="History").click()
    page.get_by_role("button", name="Compare revision 1 with the sound as it is").click()
    page.wait_for_url(f"**/compare?side=sound.{sound}.1&side=sound.{sound}")
    entry = differences(page).filter(has_text="B lands 5.0 st flat")
    expect(entry).to_be_visible()
    entry.get_by_role("button", name="Play B: B lands 5.0 st flat").click()
    sides = page.get_by_role("group", name="Sides")
    expect(sides.get_by_role("button", name=re.compile("^B Compared"))).to_have_attribute(
        "aria-pressed", "true"
    )


def test_a_stretch_is_left_out_and_counts_again(page: Page) -> None:
    first, second = a_kick_and_a_softer_later_one(page)
    compared(page, f"/compare?side=sound.{first}&side=sound.{second}")
    page.get_by_label("Levels").select_option("off")
    expect(differences(page).first).to_contain_text("weaker")
    waves = page.get_by_role("img", name="Waveforms of A, B").bounding_box()
    assert waves is not None
    y = waves["y"] - 12
    page.mouse.move(waves["x"] + 2, y)
    page.mouse.down()
    page.mouse.move(waves["x"] + waves["width"] - 1, y, steps=4)
    page.mouse.up()
    page.get_by_role("button", name="Not part of it").click()
    expect(page.get_by_text("Nothing that is plainly heard.")).to_be_visible()
    page.get_by_role("button", name="count again").click()
    expect(differences(page).first).to_contain_text("weaker")


def test_a_blind_test_is_counted_and_kept_with_the_library(page: Page) -> None:
    first, second = a_kick_and_a_softer_later_one(page)
    compared(page, f"/compare?side=sound.{first}&side=sound.{second}")
    page.get_by_role("button", name="Blind test…").click()
    page.get_by_role("button", name="8 trials").click()
    page.get_by_role("button", name="Begin").click()
    for trial in range(1, 9):
        expect(page.get_by_text(f"Trial {trial} of 8")).to_be_visible()
        page.get_by_role("button", name="Hear X").click()
        page.get_by_role("button", name="X is A").click()
    expect(page.get_by_text("Kept with the library.")).to_be_visible()
    said = page.get_by_role("dialog").get_by_text(re.compile(r"^\d of 8 right, p = ")).inner_text()
    page.get_by_role("button", name="Close").click()
    results = page.get_by_role("complementary", name="Differences")
    expect(results.get_by_text(re.compile(rf"{said[:12]}.*Wren Halloway"))).to_be_visible()


def test_marked_samples_are_compared_and_a_side_is_added_by_typing(page: Page) -> None:
    page.goto("/libraries")
    rows = page.get_by_role("listbox", name="Samples").get_by_role("option")
    expect(rows.first).to_be_visible()
    rows.first.click()
    page.keyboard.press("x")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("x")
    page.get_by_role("button", name="Compare", exact=True).click()
    expect(page.get_by_role("img", name="Waveforms of A, B")).to_be_visible()
    page.get_by_role("button", name="Side", exact=True).click()
    page.get_by_label("Side C").fill("coal hatch")
    page.get_by_role("list", name="Sounds found").get_by_role("button").first.click()
    expect(page.get_by_role("img", name="Waveforms of A, B, C")).to_be_visible()
    page.get_by_role("button", name="A and C").click()
    expect(differences(page, "C").first).to_be_visible()


def test_a_sound_stands_beside_itself_without_its_effects(page: Page) -> None:
    sound = bench.new_sound(page, "Compared dry")
    bench.add_to_main(page)
    bench.pick_processor(page, "Drive")
    bench.settled(page)
    compared(page, f"/compare?side=sound.{sound}&side=sound.{sound}")
    expect(page.get_by_text("Nothing that is plainly heard.")).to_be_visible()
    page.get_by_role("button", name="Effects of B").click()
    page.wait_for_url(f"**/compare?side=sound.{sound}&side=sound.{sound}.dry")
    expect(page.get_by_text("as it is now, effects off")).to_be_visible()
    expect(differences(page).first).to_be_visible()
