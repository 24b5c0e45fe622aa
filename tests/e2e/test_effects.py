"""Effects by hand: found by typing, tried, dragged, cut, copied, saved, switched off together."""

import io

import numpy as np
import pytest
import soundfile
from playwright.sync_api import expect

from tests.e2e import bench
from tests.e2e.test_accessibility import violations
from tests.e2e.test_path import saved

RATE = 48000


@pytest.fixture
def hiss(page):
    """A sound of one short noise."""
    return bench.new_sound(page, "Valve test", bench.NOISE)


def band_db(samples, low_hz, high_hz):
    power = np.abs(np.fft.rfft(samples[:9600], 9600)) ** 2
    hz = np.fft.rfftfreq(9600, 1 / RATE)
    return 10 * np.log10(power[(hz >= low_hz) & (hz < high_hz)].sum() + 1e-12)


def select_output(page):
    page.get_by_role("region", name="Path").get_by_role("button", name="Output").click()


def test_a_processor_is_found_by_what_it_does_and_heard_before_it_is_taken(page, hiss):
    select_output(page)
    bench.all_rendered(page)
    count = bench.heard_count(page)
    page.keyboard.press("/")
    finder = bench.finding(page, "reverb tail")
    expect(finder.get_by_role("option").first).to_contain_text("Reverb")
    expect(page.get_by_text("Heard with Reverb")).to_be_visible()
    tried = bench.wait_until_heard(page, count + 1)
    assert np.abs(tried[14400:]).max() > 1e-3, "the tail is heard"
    page.keyboard.press("Escape")
    assert saved(page, hiss)["main"]["chain"] == []
    page.keyboard.press("/")
    bench.pick_processor(page, "Reverb")
    assert [part["kind"] for part in saved(page, hiss)["main"]["chain"]] == ["room"]
    expect(page.get_by_role("heading", name="Reverb on main")).to_be_visible()


def test_anything_is_found_from_anywhere(page, hiss):
    page.keyboard.press("Control+k")
    found = bench.finding(page, "main level")
    found.get_by_role("option", name="Main: Main level").click()
    expect(page.get_by_role("heading", name="Main output")).to_be_visible()
    page.keyboard.press("Control+k")
    found = bench.finding(page, "open lamp")
    found.get_by_role("option", name="Open Lamp zap").click()
    expect(page.get_by_label("Name of the sound")).to_have_value("Lamp zap")
    page.keyboard.press("Control+k")
    assert violations(page) == []


def test_an_equaliser_band_is_dragged_on_the_response(page, hiss):
    select_output(page)
    page.keyboard.press("/")
    bench.pick_processor(page, "Equaliser")
    handle = page.get_by_role("slider", name="Equaliser band 6")
    before = bench.heard_after(page, lambda: bench.type_into(page, "Output level", "-1 dB"))
    handle.scroll_into_view_if_needed()
    box = handle.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2

    def drag():
        page.mouse.move(x, y)
        page.mouse.down()
        page.mouse.move(x, y - 20, steps=4)
        page.mouse.move(x, y - 45, steps=4)
        page.mouse.up()

    # Drafts are heard while the hand moves; the last is the final one.
    after = bench.heard_after(page, drag)
    raised = band_db(after, 3500, 5500) - band_db(before, 3500, 5500)
    assert 8 < raised < 18
    assert abs(band_db(after, 100, 400) - band_db(before, 100, 400)) < 1
    band = saved(page, hiss)["main"]["chain"][0]["band_6"]
    assert 10 < band["gain_db"] < 18
    handle.focus()
    page.keyboard.press("ArrowDown")
    assert saved(page, hiss)["main"]["chain"][0]["band_6"]["gain_db"] == band["gain_db"] - 0.5
    page.keyboard.press("Delete")
    assert saved(page, hiss)["main"]["chain"][0]["band_6"]["gain_db"] == 0
    assert violations(page) == []


def test_a_resonance_is_listed_with_a_cut(page, hiss):
    select_output(page)
    page.keyboard.press("/")
    bench.pick_processor(page, "Filter")
    page.get_by_label("Response").select_option("peak")
    for label, value in (("Cutoff", "1800"), ("Resonance", "40"), ("Gain", "36 dB")):
        bench.type_into(page, label, value)
    expect(bench.worst_check(page, "A resonance at")).to_be_visible()
    page.keyboard.press("/")
    bench.pick_processor(page, "Equaliser")
    page.get_by_role("button", name="Cut at 1.80 kHz").click()
    chain = saved(page, hiss)["main"]["chain"]
    cuts = [value for value in chain[1].values() if isinstance(value, dict) and value["gain_db"]]
    assert len(cuts) == 1
    assert cuts[0]["frequency_hz"] == pytest.approx(1800, rel=0.03)
    assert cuts[0]["gain_db"] < -8


def test_levels_before_and_after_and_the_loudness_restored(page, hiss):
    select_output(page)
    page.keyboard.press("/")
    bench.pick_processor(page, "Drive")
    bench.type_into(page, "Drive", "30 dB")
    levels = page.get_by_role("table", name="Levels before and after")
    expect(levels.get_by_role("row", name="Loudness")).to_be_visible()
    restore = page.get_by_role("button", name="Restore loudness")
    restore.click()
    expect(restore).to_have_count(0)
    row = levels.get_by_role("row", name="Loudness").get_by_role("cell").all_inner_texts()
    given, made = (float(text.split()[0]) for text in row)
    assert made == pytest.approx(given, abs=0.2)


def test_gain_reduction_is_drawn_under_the_ruler_and_an_idle_compressor_said_to_be_idle(page, hiss):
    select_output(page)
    page.keyboard.press("/")
    bench.pick_processor(page, "Compressor")
    bench.type_into(page, "Threshold", "0 dB")
    expect(page.get_by_text("No effect at these settings.")).to_be_visible()
    expect(bench.worst_check(page, "Main compressor has no effect")).to_be_visible()
    bench.type_into(page, "Threshold", "-40 dB")
    expect(page.get_by_role("img", name="Main: Compressor: gain down to")).to_be_visible()
    expect(bench.worst_check(page, "Main compressor has no effect")).to_have_count(0)


def test_all_effects_are_off_and_on_with_one_key(page, hiss):
    select_output(page)
    page.keyboard.press("/")
    bench.pick_processor(page, "Drive")
    driven = bench.heard_after(page, lambda: bench.type_into(page, "Drive", "40 dB"))
    document = saved(page, hiss)
    dry = bench.heard_after(page, lambda: page.keyboard.press("Shift+B"))
    expect(page.get_by_role("status").filter(has_text="Effects bypassed")).to_be_visible()
    assert np.abs(dry).max() < np.abs(driven).max() - 0.2
    assert saved(page, hiss) == document, "the sound itself stays as it is"
    again = bench.heard_after(page, lambda: page.keyboard.press("Shift+B"))
    np.testing.assert_array_equal(again, driven)


def test_a_processor_is_copied_and_replaced_in_its_place(page, hiss):
    select_output(page)
    page.keyboard.press("/")
    bench.pick_processor(page, "Drive")
    bench.type_into(page, "Drive", "20 dB")
    bench.type_into(page, "Output level", "-9 dB")
    page.keyboard.press("Control+c")
    page.keyboard.press("Control+v")
    chain = saved(page, hiss)["main"]["chain"]
    assert [part["drive_db"] for part in chain] == [20, 20]
    assert chain[0]["id"] != chain[1]["id"]
    page.get_by_role("button", name="More for Drive").click()
    page.get_by_role("menuitem", name="Replace").click()
    bench.pick_processor(page, "Bit and rate reduction")
    chain = saved(page, hiss)["main"]["chain"]
    assert [part["kind"] for part in chain] == ["drive", "reducer"]
    assert chain[1]["level_db"] == -9, "what both have is kept"
    page.keyboard.press("Control+z")
    assert [part["kind"] for part in saved(page, hiss)["main"]["chain"]] == ["drive", "drive"]


def test_a_chain_is_saved_and_loaded_into_another_sound(page, hiss):
    select_output(page)
    for kind in ("Drive", "Reverb"):
        page.keyboard.press("/")
        bench.pick_processor(page, kind)
    page.get_by_role("button", name="Chain of Main: more").click()
    page.get_by_role("menuitem", name="Save chain").click()
    page.get_by_label("Name", exact=True).fill("Yard wall")
    page.get_by_role("button", name="Save", exact=True).click()
    expect(page.get_by_role("dialog")).to_have_count(0)
    other = bench.new_sound(page, "Second test")
    bench.take_in_hand(page, "Main")
    page.get_by_role("button", name="Chain of Main: more").click()
    page.get_by_role("menuitem", name="Load Yard wall").click()
    assert [part["kind"] for part in saved(page, other)["main"]["chain"]] == ["drive", "room"]


def test_an_impulse_is_brought_in_and_heard(page, hiss):
    select_output(page)
    page.keyboard.press("/")
    bench.pick_processor(page, "Convolution")
    page.get_by_label("Impulse").select_option("imported")
    echo = np.zeros(19200)
    echo[0] = echo[14400] = 0.5
    data = io.BytesIO()
    soundfile.write(data, echo, RATE, format="WAV", subtype="FLOAT")
    wrong = {"name": "a.wav", "mimeType": "audio/wav", "buffer": b"no sound at all"}
    page.get_by_label("Import an impulse").set_input_files(wrong)
    expect(page.get_by_role("alert").filter(has_text="no audio file")).to_be_visible()
    given = {"name": "Two taps.wav", "mimeType": "audio/wav", "buffer": data.getvalue()}
    wet = bench.heard_after(
        page, lambda: page.get_by_label("Import an impulse").set_input_files(given)
    )
    expect(page.get_by_label("Recording")).to_contain_text("Two taps")
    assert np.abs(wet[14400:16000]).max() > 0.1 * np.abs(wet[:4800]).max()


def test_a_compressor_listens_to_another_layer_until_that_is_gone(page):
    sound_id = bench.new_sound(page, "Side test")
    page.get_by_role("button", name="noise", exact=True).click()
    page.keyboard.press("/")
    bench.pick_processor(page, "Compressor")
    page.get_by_label("Sidechain source").select_option(label="Tone")
    chain = saved(page, sound_id)["layers"][1]["chain"]
    assert chain[0]["side"] == saved(page, sound_id)["layers"][0]["id"]
    page.get_by_role("button", name="More for Tone").click()
    page.get_by_role("menuitem", name="Remove").click()
    assert saved(page, sound_id)["layers"][0]["chain"][0]["side"] is None


def test_meters_tell_what_mono_would_lose_and_the_remark_fixes_it(page):
    sound_id = bench.new_sound(page, "Wide low")
    bench.type_into(page, "Note", "C1")
    select_output(page)
    page.keyboard.press("/")
    bench.pick_processor(page, "Chorus")
    bench.type_into(page, "Mix", "100 %")
    bench.type_into(page, "Depth", "10 ms")
    select_output(page)
    meters = page.get_by_role("region", name="Meters")
    expect(meters.get_by_text("Low end in mono")).to_be_visible()
    bench.open_checks(page).get_by_role("button", name="Mono below").click()
    assert saved(page, sound_id)["main"]["chain"][-1]["kind"] == "width"
    expect(page.get_by_text("Stereo below 120 Hz")).to_have_count(0)
    expect(meters.get_by_text("no loss")).to_be_visible()
    assert violations(page) == []
