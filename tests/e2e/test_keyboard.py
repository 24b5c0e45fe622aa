"""A sound from nothing to its last number without a mouse."""

import re

import pytest
from playwright.sync_api import expect

from tests.e2e import bench

NAME_OF_FOCUS = """() => {
  const one = document.activeElement;
  const label = one.getAttribute("aria-label") ?? one.labels?.[0]?.textContent;
  return (label ?? one.textContent ?? one.tagName).trim();
}"""
MOST_STOPS = 220


def walk_to(page, name, key="Tab"):
    """Press Tab until what has the keyboard is named so; fails where the walk goes in circles."""
    passed = []
    for _ in range(MOST_STOPS):
        page.keyboard.press(key)
        passed.append(page.evaluate(NAME_OF_FOCUS))
        if passed[-1] == name:
            return
    pytest.fail(f"{name!r} was not reached; passed {passed}")


def type_at(page, name, text, key="Tab"):
    walk_to(page, name, key)
    page.keyboard.press("Control+a")
    page.keyboard.type(text)
    page.keyboard.press("Enter")


def test_sub_hit_is_built_from_the_empty_sound_by_keyboard_alone(page):
    page.goto("/bench")
    expect(page.get_by_label("Name of the sound")).to_be_visible()
    before = page.url
    walk_to(page, "New sound")
    page.keyboard.press("Enter")
    page.wait_for_function("before => location.href !== before", arg=before)
    expect(page.get_by_label("Name of the sound")).to_have_value("New sound")
    sound_id = int(page.url.rsplit("/", 1)[-1])

    page.locator("body").press("Home")
    type_at(page, "Name of the sound", "Cistern sub")
    type_at(page, "Note", "A3")
    walk_to(page, "Source")
    type_at(page, "Octave", "-2")
    # The leaves of the inspector go by arrows.
    walk_to(page, "Source", "Shift+Tab")
    page.keyboard.press("ArrowRight")
    walk_to(page, "Remove release (one-shot)")
    page.keyboard.press("Enter")
    walk_to(page, "point")
    page.keyboard.press("Enter")
    type_at(page, "Time of point 3", "900 ms", "Shift+Tab")
    type_at(page, "Value of point 3", "0 %")
    type_at(page, "Bend of point 3", "3.5")
    page.keyboard.press("Escape")
    page.keyboard.press("Shift+P")
    expect(page.get_by_role("table", name="Points of the pitch curve")).to_be_visible()
    walk_to(page, "point")
    page.keyboard.press("Enter")
    type_at(page, "Value of point 1", "20 st", "Shift+Tab")
    type_at(page, "Time of point 2", "90 ms")
    type_at(page, "Value of point 2", "0 st")
    type_at(page, "Bend of point 2", "3")

    layer = bench.layers(page, sound_id)[0]
    assert layer["source"]["octave"] == -2
    assert layer["level"]["release"] == []
    assert layer["level"]["points"][2] == {"time_s": 0.9, "value": 0, "bend": 3.5}
    assert [(p["time_s"], p["value"]) for p in layer["pitch"]["points"]] == [(0, 20), (0.09, 0)]
    page.get_by_role("button", name=re.compile("^Checks: ")).press("Enter")
    checks = page.get_by_role("region", name="Checks")
    expect(checks).to_contain_text("Settles at 55.0 Hz, A1")
    expect(checks.get_by_role("img", name="look")).to_have_count(0)


def test_the_whole_bench_is_passed_through_by_tab(page):
    """No place keeps the keyboard: Tab comes from the first control to the last and leaves."""
    bench.open_sound(page, "Kiln door kick")
    passed = []
    for _ in range(MOST_STOPS):
        page.keyboard.press("Tab")
        passed.append(page.evaluate(NAME_OF_FOCUS))
        if (len(passed) > 1 and passed[-1] == passed[0]) or passed[-1].startswith("BODY"):
            break
    else:
        pytest.fail(f"Tab never came round: {passed}")
    for name in (
        "Note",
        "Ruler",
        "Mute Knock",
        "Snap to",
        "Source",
        "Pin the current sound as state 1",
        "Keys",
        "Add processor",
        "Checks: ",
    ):
        assert any(stop.startswith(name) for stop in passed), (name, passed)
