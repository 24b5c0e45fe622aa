"""Played by keys, by hand and by MIDI; judged beside other states of the same sound."""

import time

import numpy as np
import pytest
from playwright.sync_api import expect

from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.units import hz_to_note, note_to_hz
from tests.e2e import bench
from tests.e2e.windows import eventually


def pitch_of(samples):
    return measure(samples[np.newaxis], 48000).fundamental_hz


def hold_key(page, key, ms):
    page.keyboard.down(key)
    page.wait_for_timeout(ms)
    page.keyboard.up(key)


def hold_and_let_go_within_a_render(page):
    """Hold Space until a longer render sounds, then let go; gives the seconds of the hold.

    Where that render was late and is just ending, letting go asks for no other: then once more.
    """
    for _ in range(20):
        page.evaluate("window.heard.length = 0")
        pressed = time.monotonic()
        page.keyboard.down(" ")
        bench.wait_for_count(page, 2)
        page.wait_for_timeout(400)
        page.keyboard.up(" ")
        held_s = time.monotonic() - pressed
        page.wait_for_timeout(2000)
        if bench.heard_count(page) == 3:
            return held_s
    raise AssertionError("letting go was never heard")


@pytest.fixture
def tone(page):
    """A held sine with a short release, whose hits are easily measured."""
    sound_id = bench.new_sound(page, "Key tone")
    bench.type_into(page, "Note", "C3")
    bench.settled(page)
    page.get_by_role("heading", name="Result").click()
    bench.all_rendered(page)
    page.evaluate("window.heard.length = 0")
    return sound_id


def test_letters_play_notes_and_chords_as_long_as_they_are_held(page, tone):
    pressed = time.monotonic()
    page.keyboard.down("a")
    page.keyboard.down("d")
    bench.wait_for_count(page, 2)
    page.wait_for_timeout(150)
    page.keyboard.up("a")
    page.keyboard.up("d")
    held_s = time.monotonic() - pressed
    bench.wait_for_count(page, 4)
    pitches = sorted(round(pitch_of(one)) for one in bench.heard(page)[:2])
    assert pitches == [round(note_to_hz(48)), round(note_to_hz(52))]
    # What the release went over to is held about as long as the key was.
    lengths = [np.flatnonzero(np.abs(one) > 1e-4)[-1] / 48000 for one in bench.heard(page)[2:4]]
    assert all(0.15 < length < held_s + 1.0 for length in lengths), (held_s, lengths)


def test_space_plays_a_tap_as_set_and_goes_on_while_it_is_held(page, tone):
    hold_key(page, " ", 40)
    bench.wait_for_count(page, 1)
    page.wait_for_timeout(600)
    assert bench.heard_count(page) == 1
    held_s = hold_and_let_go_within_a_render(page)
    last = bench.heard(page)[-1]
    sounding = np.flatnonzero(np.abs(last) > 1e-3)[-1] / 48000
    assert 0.4 < sounding < held_s + 0.7
    # The longer renders begin exactly like the first, so that going over leaves no seam.
    first, second = bench.heard(page)[:2]
    shared = round(0.24 * 48000)
    np.testing.assert_array_equal(first[:shared], second[:shared])


def wait_for_notes(page, notes):
    """Until these notes were heard: how often and in what order hangs on how fast each renders."""

    def missing():
        return notes - {round(float(hz_to_note(pitch_of(one)))) for one in bench.heard(page)}

    eventually(page, missing, set())


def test_keys_on_screen_play_and_move_by_octaves(page, tone):
    page.get_by_role("button", name="Keys", exact=True).click()
    keys = page.get_by_role("group", name="Keys", exact=True)
    key = keys.get_by_role("button", name="G3", exact=True)
    key.click()
    assert pitch_of(bench.wait_until_heard(page, 1)) == pytest.approx(note_to_hz(55), rel=5e-3)
    page.get_by_title("Octave up").click()
    expect(keys.get_by_role("button", name="C3", exact=True)).to_have_count(0)
    keys.get_by_role("button", name="C4", exact=True).focus()
    hold_key(page, "Enter", 120)
    wait_for_notes(page, {60})


def test_simulated_midi_device_plays(page, tone):
    page.get_by_role("button", name="MIDI").click()
    page.get_by_role("menuitem", name="Use the simulated keyboard").click()
    expect(page.get_by_role("button", name="MIDI: Simulated keyboard")).to_be_visible()
    # Its own demonstration first: a chord and a line.
    wait_for_notes(page, {48, 55, 60, 62, 64})
    page.evaluate(
        "dispatchEvent(new CustomEvent('nest-crate:simulated-midi', {detail: [[57, 64, 0, 400]]}))"
    )
    wait_for_notes(page, {57})


def test_phrases_are_played_with_the_present_sound(page, tone):
    page.get_by_role("combobox", name="Phrase").select_option("scale")
    scale = bench.wait_until_heard(page, 1)
    half = round(0.25 * 48000)
    assert pitch_of(scale[: half - 4000]) == pytest.approx(note_to_hz(48), rel=5e-3)
    assert pitch_of(scale[2 * half : 3 * half - 4000]) == pytest.approx(note_to_hz(52), rel=5e-3)
    page.get_by_role("button", name="Play the phrase").click()
    bench.wait_until_heard(page, 2)


def test_states_are_pinned_switched_mixed_and_kept_for_the_next_visit(page):
    sound_id = bench.open_sound(page, "Fuse zap")
    page.get_by_label("Pin the current sound as state 1").click()
    bench.type_into(page, "Transpose", "-12 st")
    page.get_by_label("Pin the current sound as state 2").click()
    page.get_by_label("Go to state 1").click()
    assert bench.layers(page, sound_id)[0]["source"]["transpose_st"] == 0
    mix = page.get_by_role("slider", name="Mix of two states")
    mix.focus()
    mix.press("ArrowRight")
    assert bench.layers(page, sound_id)[0]["source"]["transpose_st"] == pytest.approx(-6.12)
    page.get_by_role("button", name="Undo").click()
    assert bench.layers(page, sound_id)[0]["source"]["transpose_st"] == 0
    page.reload()
    expect(page.get_by_label("Go to state 2")).to_be_visible()
    page.locator("body").press("Shift+Digit2")
    expect(page.get_by_label("Transpose", exact=True)).to_have_value("−12 st")
    page.get_by_label("More for state 2").click()
    page.get_by_role("menuitem", name="Clear").click()
    expect(page.get_by_label("Pin the current sound as state 2")).to_be_visible()


def test_steps_of_the_session_are_played_pinned_and_brought_back(page):
    sound_id = bench.open_sound(page, "Fuse zap backwards")
    bench.type_into(page, "Transpose", "7 st")
    bench.type_into(page, "Transpose", "-5 st")
    page.get_by_role("button", name="History").click()
    page.get_by_role("tab", name="This session").click()
    steps = page.get_by_role("list", name="Steps of this session").get_by_role("listitem")
    expect(steps.first).to_contain_text("Fuse: Transpose +7 st → −5 st")
    count = bench.heard_count(page)
    page.get_by_role("button", name="Play step 1").click()
    bench.wait_until_heard(page, count + 1)
    page.get_by_role("button", name="Pin step 1").click()
    steps.nth(1).get_by_role("button", name="Restore").click()
    page.keyboard.press("Escape")
    assert bench.layers(page, sound_id)[0]["source"]["transpose_st"] == 7
    expect(page.get_by_label("Go to state 1")).to_be_visible()


def test_silence_is_explained_and_fixed(page):
    bench.open_sound(page, "Wilt thud")
    page.get_by_label("Mute Stem").click()
    page.get_by_role("tab", name="Output").click()
    page.locator("[data-layer]").nth(1).get_by_role(
        "button", name="Leaves", exact=False
    ).first.click()
    page.get_by_label("Mute Leaves").click()
    checks = bench.open_checks(page)
    expect(checks).to_contain_text("Silent")
    checks.get_by_role("button", name="Why?").first.click()
    dialog = page.get_by_role("dialog")
    expect(dialog).to_contain_text("The layer is muted")
    for _ in range(2):
        dialog.get_by_role("button", name="Unmute").first.click()
    expect(dialog).to_contain_text("Every step passes the sound.")
    dialog.get_by_role("button", name="Close").click()
    expect(checks).not_to_contain_text("Silent")


def test_remark_is_fixed_or_dismissed_and_hits_are_compared(page):
    bench.open_sound(page, "Undergrowth bass hit")
    bench.type_into(page, "Fine pitch", "31 ct")
    checks = bench.open_checks(page)
    expect(checks).to_contain_text("Off pitch")
    checks.get_by_role("button", name="Dismiss: Off pitch").click()
    expect(checks).not_to_contain_text("Off pitch")
    checks.get_by_role("button", name="1 dismissed: show").click()
    checks.get_by_role("button", name="Retune").click()
    expect(checks).to_contain_text("Settles at 55.0 Hz, A1")
    checks.get_by_role("button", name="Compare 8 hits").click()
    expect(checks.get_by_role("status")).to_have_text("8 hits: all the same")
    checks.get_by_role("button", name="Close checks").click()
    bench.type_into(page, "Random phase", "100 %")
    checks = bench.open_checks(page)
    checks.get_by_role("button", name="Compare 8 hits").click()
    expect(checks.get_by_role("status")).to_contain_text("8 hits differ")


def test_sound_is_copied_as_a_list(page):
    bench.open_sound(page, "Sluice sub hit")
    page.context.grant_permissions(["clipboard-read", "clipboard-write"])
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("menuitem", name="Sound as text").click()
    text = page.get_by_label("Every value with its unit")
    assert "Octave: -2" in text.input_value()
    page.get_by_role("dialog").get_by_role("button", name="Copy").click()
    expect(page.get_by_role("button", name="Copied")).to_be_visible()
    assert page.evaluate("navigator.clipboard.readText()") == text.input_value()
