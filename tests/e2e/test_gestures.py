"""How many gestures it takes from New sound to Keep take, counted by doing it."""

from __future__ import annotations

import re
from typing import Any

from playwright.sync_api import Page, expect

from tests.e2e import bench
from tests.e2e.gestures import Hand


def begun(page: Page) -> Hand:
    """A hand at the Bench, with some sound open."""
    bench.open_sound(page, "Lamp zap")
    return Hand(page)


def kept(page: Page) -> dict[str, Any]:
    """The document that the take was made of."""
    # Takes are rendered behind what people listen to, here all of the other tests.
    expect(page.get_by_role("dialog")).to_contain_text("in the library")
    sound_id = int(page.url.rsplit("/", 1)[1])
    return bench.draft(page, sound_id)


def test_a_kick_of_two_tones_with_a_shared_envelope_ring_and_equaliser(page: Page) -> None:
    hand = begun(page)
    hand.click("New sound")
    expect(page.get_by_label("Name of the sound")).to_have_value("New sound")
    hand.type("Note", "D1")
    hand.tab("Curve")
    hand.tab("Five numbers")
    hand.type("Decay", "400 ms")
    hand.type("Sustain", "0 %")
    hand.click("Pitch")
    hand.type("Peak", "30 st")
    hand.type("Decay", "60 ms")
    hand.type("Sustain", "0 st")
    hand.click(page.get_by_label("More for Sine"))
    hand.item("Duplicate")
    hand.tab("Source")
    hand.type("Octave", "1")
    hand.choose("Add a modulator", "Sine")
    # The second envelope, with a release, is shared by both tones.
    hand.click(page.get_by_label("Add mover"))
    hand.item("Curve")
    hand.click(page.get_by_label("Release part"))
    for label, text in (("Attack", "2 ms"), ("Decay", "120 ms"), ("Sustain", "20 %")):
        hand.type(label, text)
    hand.type("Release", "80 ms")
    hand.link("Curve", "All layers: Feedback")
    hand.click(page.get_by_role("group", name="Map of the path").get_by_title(re.compile("^Main")))
    hand.add("eq", "Equaliser")
    hand.type("Gain", "3 dB")
    hand.keep()
    made = kept(page)
    assert [len(layer["modulators"]) for layer in made["layers"]] == [0, 1]
    assert [link["target"] for link in made["links"]] == [
        f"{layer['id']}.source.feedback" for layer in made["layers"]
    ]
    (curve,) = made["movers"]
    assert len(curve["curve"]["release"]) == 1
    assert [part["kind"] for part in made["main"]["chain"]] == ["equaliser"]
    assert made["layers"][0]["pitch"]["points"][0]["value"] == 30
    assert hand.gestures <= 35, hand.gestures


def test_a_riser_of_six_movements_over_sixteen_beats(page: Page) -> None:
    hand = begun(page)
    hand.click("New sound")
    expect(page.get_by_label("Name of the sound")).to_have_value("New sound")
    hand.type("Hold", "16 beats")
    hand.click("noise")
    hand.add("filter", "Filter")
    hand.click(page.get_by_label("What moves Filter: Cutoff"))
    hand.item("Move by a new Curve")
    hand.type("Length of the curve", "16 beats")
    hand.link("Curve", "White noise Filter: Resonance", "White noise: Level", "Sine: Pitch")
    hand.type("Amount on Sine: Pitch", "24 st")
    # Faster and faster from side to side, and the whole of it wider.
    hand.click(page.get_by_label("Add mover"))
    hand.item("LFO")
    hand.link("LFO", "All layers: Pan")
    hand.click(
        page.get_by_role("group", name="Movers").get_by_role("button", name=re.compile("Curve"))
    )
    hand.link("Curve", "LFO: Rate")
    hand.keep()
    made = kept(page)
    assert len(made["links"]) >= 6
    curve = next(one for one in made["movers"] if one["kind"] == "curve")
    assert curve["curve"]["points"][-1]["time_s"] == 16 * 60 / made["tempo_bpm"]
    assert hand.gestures <= 45, hand.gestures


def new_sound(page: Page) -> Hand:
    hand = begun(page)
    hand.click("New sound")
    expect(page.get_by_label("Name of the sound")).to_have_value("New sound")
    return hand


def five_numbers(hand: Hand, **numbers: str) -> None:
    """The level curve in hand as five numbers."""
    hand.tab("Curve")
    hand.tab("Five numbers")
    for label, text in numbers.items():
        hand.type(label.capitalize(), text)


def test_four_descending_hits_in_two_bands(page: Page) -> None:
    hand = new_sound(page)
    hand.type("Note", "A2")
    hand.type("Hold", "2 beats")
    five_numbers(hand, decay="180 ms", sustain="0 %")
    hand.click(page.get_by_label("Sine goes to Main"))
    hand.item("A new bus")
    hand.click(page.get_by_label("Split"))
    hand.type("Crossover", "300 Hz")
    hand.click(page.get_by_label("Add processor to Bus 1 high"))
    hand.take("drive", "Drive")
    hand.type("Drive", "24 dB")
    hand.click(page.get_by_label("Add processor to Bus 1 low"))
    hand.take("compressor", "Compressor")
    hand.type("Threshold", "-20 dB")
    hand.click(page.get_by_role("button", name="Notes: poly"))
    hand.choose("Chord", "minor seventh")
    hand.choose("Pattern", "down")
    hand.type("Step length", "1/8")
    hand.keep()
    made = kept(page)
    notes = [made["hit"]["note"], *(one["note"] for one in made["hit"]["further"])]
    assert [note - notes[0] for note in notes] == [0, 3, 7, 10]
    assert made["pattern"]["order"] == "down"
    (bus,) = made["buses"]
    assert [part["kind"] for part in bus["low_chain"]] == ["compressor"]
    assert [part["kind"] for part in bus["chain"]] == ["drive"]
    assert hand.gestures <= 72, hand.gestures


def test_a_string_with_combs(page: Page) -> None:
    hand = new_sound(page)
    hand.type("Note", "E2")
    hand.type("Hold", "2 s")
    hand.click("struck body")
    hand.choose("Body", "string-loop")
    hand.type("Decay", "4 s")
    hand.click(page.get_by_label("Mute Sine"))
    for tune in ("7 st", "12 st"):
        hand.click(page.get_by_label(re.compile("^Add processor to ")))
        hand.take("comb", "Comb")
        hand.type("Transpose", tune)
        hand.type("Feedback", "80 %")
        hand.type("Mix", "30 %")
    hand.keep()
    made = kept(page)
    string = made["layers"][1]
    assert string["source"]["body"] == "string_loop"
    assert [part["transpose_st"] for part in string["chain"]] == [7, 12]
    assert hand.gestures <= 36, hand.gestures


def macro(hand: Hand, *fields: tuple[str, str, str]) -> None:
    """A macro of the first field, that moves the others too: what it moves, by its ring or the
    search, and how far."""
    (owner, _, _), *_ = fields
    hand.click(hand.page.get_by_label(f"What moves {owner}"))
    hand.item("Move by a new Macro")
    for _, target, amount in fields:
        if target != fields[0][1]:
            hand.link("Macro", target)
        hand.type(f"Amount on {target}", amount)


def test_two_triangles_with_a_filtered_tick_and_four_macros(page: Page) -> None:
    hand = new_sound(page)
    hand.type("Note", "A3")
    hand.click("Triangle")
    five_numbers(hand, decay="600 ms", sustain="0 %")
    hand.click(page.get_by_label("More for Triangle"))
    hand.item("Duplicate")
    hand.tab("Source")
    hand.type("Transpose", "7 st")
    hand.type("Fine pitch", "-6 ct")
    hand.click("noise")
    five_numbers(hand, decay="12 ms", sustain="0 %")
    hand.add("filter", "Filter")
    hand.choose("Response", "band-pass")
    hand.type("Cutoff", "3 kHz")
    macro(hand, ("Filter: Cutoff", "White noise Filter: Cutoff", "2 oct"))
    hand.click(page.get_by_role("button", name="White noise", exact=True).first)
    hand.tab("Output")
    macro(hand, ("White noise: Level", "White noise: Level", "12 dB"))
    hand.click(page.get_by_role("button", name="Triangle copy", exact=True).first)
    hand.tab("Source")
    macro(hand, ("Triangle copy: Fine pitch", "Triangle copy: Fine pitch", "20 ct"))
    hand.click(page.get_by_role("button", name="Triangle copy", exact=True).first)
    hand.tab("Output")
    macro(hand, ("Triangle copy: Pan", "Triangle copy: Pan", "80 %"))
    hand.keep()
    made = kept(page)
    assert [layer["source"]["kind"] for layer in made["layers"]] == ["tone", "tone", "noise"]
    assert [one["kind"] for one in made["movers"]] == ["macro"] * 4
    assert len(made["links"]) == 4
    assert hand.gestures <= 54, hand.gestures


def test_three_saws_noises_one_comb_delays_and_four_macros(page: Page) -> None:
    hand = new_sound(page)
    hand.type("Note", "C3")
    hand.type("Hold", "2 s")
    hand.click("Sawtooth")
    hand.type("Voices", "5")
    for transpose in ("7 st", "12 st"):
        hand.click(page.get_by_label(re.compile("^More for Sawtooth")).first)
        hand.item("Duplicate")
        hand.tab("Source")
        hand.type("Transpose", transpose)
    hand.click("noise")
    hand.click("noise")
    hand.type("Colour", "-6 dB")
    hand.click(page.get_by_role("group", name="Map of the path").get_by_title(re.compile("^Main")))
    hand.add("comb", "Comb")
    hand.type("Feedback", "70 %")
    macro(hand, ("Comb filter: Feedback", "Main Comb filter: Feedback", "25 %"))
    hand.add("delay", "Delay")
    hand.type("Feedback", "40 %")
    macro(hand, ("Delay: Mix", "Main Delay: Mix", "40 %"))
    hand.add("ping-pong", "Delay")
    macro(hand, ("Delay 2: Feedback", "Main Delay 2: Feedback", "40 %"))
    hand.add("filter", "Filter")
    macro(hand, ("Filter: Cutoff", "Main Filter: Cutoff", "-3 oct"))
    hand.keep()
    made = kept(page)
    kinds = [layer["source"]["kind"] for layer in made["layers"]]
    assert kinds == ["tone"] * 3 + ["noise"] * 2
    assert [part["kind"] for part in made["main"]["chain"]] == ["comb", "delay", "delay", "filter"]
    assert [one["kind"] for one in made["movers"]] == ["macro"] * 4
    assert len(made["links"]) == 4
    assert hand.gestures <= 81, hand.gestures
