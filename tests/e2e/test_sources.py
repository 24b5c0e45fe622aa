"""Sources by hand: browsed by ear, modes dragged, files dropped, a reference come near to."""

import base64
import io

import numpy as np
import pytest
import soundfile
from playwright.sync_api import expect

from tests.e2e import bench
from tests.e2e.test_accessibility import violations
from tests.e2e.test_path import saved

RATE = 48000
TIME = np.arange(RATE) / RATE

DROP = """([data, name, kind]) => {
  const bytes = Uint8Array.from(atob(data), (letter) => letter.charCodeAt(0));
  const held = new DataTransfer();
  held.items.add(new File([bytes], name));
  const event = (type) =>
    new DragEvent(type, { dataTransfer: held, bubbles: true, cancelable: true });
  window.dispatchEvent(event('dragenter'));
  window.dispatchEvent(event('drop'));
}"""


def wav(samples):
    buffer = io.BytesIO()
    soundfile.write(buffer, samples, RATE, format="WAV", subtype="PCM_16")
    return buffer.getvalue()


def thump():
    hz = 55 + 200 * np.exp(-TIME / 0.02)
    return wav(0.8 * np.sin(2 * np.pi * np.cumsum(hz) / RATE)[:24000] * np.exp(-TIME[:24000] / 0.1))


def drop(page, data, name):
    """Drop a file onto the screen; its dialog is open then."""
    page.evaluate(DROP, [base64.b64encode(data).decode(), name, ""])
    dialog = page.get_by_role("dialog", name=name)
    expect(dialog.get_by_role("heading")).to_be_visible()
    return dialog


@pytest.fixture
def body(page):
    """A sound of one struck body."""
    return bench.new_sound(page, "Body test", bench.STRUCK)


def test_arrow_keys_swap_the_source_and_play_it_and_escape_puts_it_back(page, body):
    before = saved(page, body)["layers"][0]["source"]
    page.get_by_role("button", name="Browse").click()
    expect(page.get_by_role("option", name="sawtooth")).to_be_visible()
    count = bench.heard_count(page)
    page.keyboard.press("ArrowDown")
    bench.wait_for_count(page, count + 1)
    page.keyboard.press("ArrowDown")
    bench.wait_for_count(page, count + 2)
    expect(page.get_by_role("option", name="triangle", exact=True)).to_have_attribute(
        "aria-selected", "true"
    )
    page.keyboard.press("Escape")
    bench.settled(page)
    assert saved(page, body)["layers"][0]["source"] == before
    # Nothing was done, so nothing is there to be undone but what was before.
    title = page.get_by_role("button", name="Undo").get_attribute("title")
    assert "starts from" not in title
    page.get_by_role("button", name="Browse").click()
    page.get_by_label("Find a source").fill("membrane")
    page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")
    bench.settled(page)
    assert saved(page, body)["layers"][0]["source"]["body"] == "membrane"
    page.get_by_role("button", name="Undo").click()
    bench.settled(page)
    assert saved(page, body)["layers"][0]["source"] == before


def test_a_mode_is_dragged_muted_and_put_back(page, body):
    modes = page.get_by_label("Modes of the body")
    expect(page.get_by_text("24 modes ring")).to_be_visible()
    box = modes.bounding_box()
    count = bench.heard_count(page)
    page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + 60)
    page.mouse.down()
    page.mouse.move(box["x"] + box["width"] * 0.5, box["y"] + 30, steps=4)
    page.mouse.up()
    bench.wait_for_count(page, count + 1)
    bench.settled(page)
    (change,) = saved(page, body)["layers"][0]["source"]["changes"]
    assert change["level_db"] > 5
    assert change["shift_cent"] == 0
    modes.press("m")
    expect(page.get_by_text("23 modes ring")).to_be_visible()
    bench.settled(page)
    assert saved(page, body)["layers"][0]["source"]["changes"][0]["mute"] is True
    page.get_by_role("button", name="Reset").click()
    bench.settled(page)
    assert saved(page, body)["layers"][0]["source"]["changes"] == []
    assert violations(page) == []


def test_a_dropped_hit_becomes_a_sound_with_its_reference_beside_it(page):
    bench.new_sound(page, "Before")
    before = page.url
    dialog = drop(page, thump(), "Thump.wav")
    dialog.get_by_role("button", name="Make a sound from it").click()
    said = page.get_by_role("dialog", name="Imported")
    expect(said).to_contain_text("a pitch that falls from")
    expect(said).to_contain_text("A starting point")
    said.get_by_role("button", name="Continue").click()
    expect(page.get_by_label("Name of the sound")).to_have_value("Thump")
    assert page.url != before
    sound_id = int(page.url.rsplit("/", 1)[-1])
    wave = page.get_by_role("img", name="Waveform of the reference")
    expect(wave).to_be_visible()
    expect(page.get_by_text("Bands off by")).to_be_visible()
    # What is dragged over is not part of the reference; a click there counts it again.
    box = wave.bounding_box()
    page.mouse.move(box["x"] + 300, box["y"] + 20)
    page.mouse.down()
    page.mouse.move(box["x"] + 420, box["y"] + 20, steps=4)
    page.mouse.up()
    bench.settled(page)
    (span,) = saved(page, sound_id)["reference"]["left_out"]
    assert span["start_s"] < span["end_s"]
    page.mouse.click(box["x"] + 360, box["y"] + 20)
    bench.settled(page)
    assert saved(page, sound_id)["reference"]["left_out"] == []
    count = bench.heard_count(page)
    page.get_by_role("button", name="Play the reference").click()
    bench.wait_for_count(page, count + 1)
    assert violations(page) == []


def test_a_dropped_file_becomes_a_layer_that_is_heard_and_a_broken_one_is_told(page, body):
    dialog = drop(page, b"RIFF nothing of use", "Broken.wav")
    dialog.get_by_role("button", name="As a layer").click()
    expect(dialog.get_by_role("alert")).to_contain_text("no audio file that can be read")
    page.keyboard.press("Escape")
    assert len(saved(page, body)["layers"]) == 1
    count = bench.heard_count(page)
    drop(page, thump(), "Thump two.wav").get_by_role("button", name="As a layer").click()
    bench.wait_for_count(page, count + 1)
    bench.settled(page)
    layer = saved(page, body)["layers"][1]
    assert layer["name"] == "Thump two"
    assert layer["source"]["kind"] == "sample"
    expect(page.get_by_role("img", name="Outline of the recording, 0.50 s")).to_be_visible()


def test_a_midi_file_gives_its_notes(page, body):
    track = b"\x00\xff\x51\x03\x07\xa1\x20"
    for note in (60, 64, 67):
        track += bytes((0, 0x90, note, 90)) + b"\x83\x60" + bytes((0x80, note, 0))
    track += b"\x00\xff\x2f\x00"
    head = b"MThd" + (6).to_bytes(4, "big") + bytes((0, 0, 0, 1)) + (480).to_bytes(2, "big")
    data = head + b"MTrk" + len(track).to_bytes(4, "big") + track
    dialog = drop(page, data, "Three notes.mid")
    count = bench.heard_count(page)
    dialog.get_by_role("button", name="As the notes of the hit").click()
    bench.wait_for_count(page, count + 1)
    bench.settled(page)
    hit = saved(page, body)["hit"]
    assert (hit["note"], hit["hold_s"]) == (60, 1.5)
    assert [(one["note"], one["at_s"]) for one in hit["further"]] == [(64, 0.5), (67, 1.0)]


def test_files_go_into_a_library_from_its_own_screen(page):
    page.goto("/libraries")
    expect(page.get_by_role("heading", name="Glasshouse Clockworks")).to_be_visible()
    dialog = drop(page, thump(), "Potting thump.wav")
    dialog.get_by_role("button", name="Into the library").click()
    into = page.get_by_role("dialog", name="Into Glasshouse Clockworks")
    expect(into.get_by_role("status")).to_have_text("Imported.")
    into.get_by_role("button", name="Show it").click()
    expect(page.get_by_role("heading", name="Potting thump")).to_be_visible()
    found = page.request.get("/api/libraries").json()["libraries"][0]["id"]
    query = {"query": {"libraries": [found]}, "limit": 200}
    listed = page.request.post("/api/samples/search", data=query).json()["samples"]
    assert "Potting thump" in [one["name"] for one in listed]


def test_keys_show_where_a_starter_is_good_and_keep_the_range(page):
    page.goto("/bench")
    page.get_by_role("button", name="Starters").click()
    page.get_by_role("menuitem", name="Mallet").click()
    expect(page.get_by_label("Name of the sound")).to_have_value("New mallet")
    sound_id = int(page.url.rsplit("/", 1)[-1])
    page.get_by_role("button", name="Keys", exact=False).last.click()
    suggest = page.get_by_role("button", name="Suggest the range")
    expect(suggest).to_be_enabled()
    suggest.click()
    bench.settled(page)
    playing = saved(page, sound_id)["playing"]
    assert playing["good_low"] <= 69 <= playing["good_high"]
    assert (playing["good_low"], playing["good_high"]) != (0, 127)
    page.get_by_label("Keys show").select_option("fundamental")
    bench.type_into(page, "Good to", "C6")
    bench.settled(page)
    assert saved(page, sound_id)["playing"]["good_high"] == 84


def test_a_table_is_drawn_and_scanned(page):
    sound_id = bench.new_sound(page, "Table test")
    page.get_by_role("button", name="wavetable", exact=True).click()
    expect(page.get_by_role("img", name="32 frames of the table")).to_be_visible()
    page.get_by_role("button", name="Draw", exact=True).click()
    cycle = page.get_by_role("img", name="One cycle; draw on it")
    expect(cycle).to_be_visible()
    bench.settled(page)
    before = saved(page, sound_id)["layers"][1]["source"]["table"]["keys"][0]
    box = cycle.bounding_box()
    page.mouse.move(box["x"] + 20, box["y"] + 10)
    page.mouse.down()
    page.mouse.move(box["x"] + 200, box["y"] + 60, steps=6)
    page.mouse.up()
    page.get_by_role("combobox", name="Scan").select_option("back_and_forth")
    expect(page.get_by_role("img", name="Position over the hit")).to_be_visible()
    bench.settled(page)
    source = saved(page, sound_id)["layers"][1]["source"]
    assert source["table"]["origin"] == "drawn"
    assert source["table"]["keys"][0] != before
    assert source["scan"] == "back_and_forth"
