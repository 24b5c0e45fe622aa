"""Care on the pages of a library: taken back, merged, answered, typed with units, heard."""

from __future__ import annotations

import io
import json
import re
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest
from playwright.sync_api import Page, expect

from nest_crate.core.formats.wav import encode_wav
from nest_crate.demo.sounds import SOUNDS_FOLDER
from tests.e2e.bench import heard, wait_until_heard
from tests.e2e.shelves import choose_from, find, open_sample, row, rows, view


def library_of(page: Page) -> int:
    return int(page.request.get("/api/libraries").json()["libraries"][0]["id"])


def bring(page: Page, name: str, hz: float) -> int:
    """A decaying tone imported as a file."""
    time_s = np.arange(9600) / 48000
    tone = (0.5 * np.sin(2 * np.pi * hz * time_s) * np.exp(-time_s / 0.05))[None]
    data = encode_wav(tone, 48000, sample_format="float32")
    file = {"name": f"{name}.wav", "mimeType": "audio/wav", "buffer": io.BytesIO(data).read()}
    url = f"/api/libraries/{library_of(page)}/samples"
    answer = page.request.post(url, multipart={"file": file})
    assert answer.ok, answer.text()
    return int(answer.json()["id"])


def test_a_reviewer_takes_an_approval_back(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    sample = bring(editor, "Sluice gate knock", 180.0)
    body = {"ids": [sample], "status": "in_review"}
    editor.request.post("/api/samples/move", data=body)
    reviewer = enter("Tam Okerby")
    find(reviewer, "sluice gate")
    knock = row(reviewer, "Sluice gate knock")
    knock.locator("[data-mark]").click()
    choose_from(reviewer, "Status", "Approve")
    expect(knock).to_contain_text("approved")
    reviewer.get_by_role("button", name="Undo").click()
    expect(knock).to_contain_text("in review")


def test_the_bin_is_taken_back_and_told_in_the_history(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    bring(editor, "Rain butt drip", 900.0)
    editor.reload()
    find(editor, "rain butt")
    drip = row(editor, "Rain butt drip")
    drip.locator("[data-mark]").click()
    choose_from(editor, "Process", "Move to bin")
    expect(drip).to_have_count(0)
    editor.get_by_role("button", name="Undo").click()
    drip.click()
    editor.get_by_role("tab", name="History").click()
    expect(editor.get_by_text("Undid: Moved to bin")).to_be_visible()


def test_duplicates_are_merged_and_parted_again(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    for name in ("Trowel tap", "Trowel tap again"):
        bring(editor, name, 2210.0)
    view(editor, "Maintenance")
    group = editor.get_by_role("listitem").filter(has_text="Trowel tap again")
    expect(group.get_by_text("Identical")).to_be_visible()
    group.get_by_role("button", name="Keep this").first.click()
    expect(group).to_have_count(0)
    editor.get_by_role("button", name="Undo").click()
    expect(group.get_by_text("Identical")).to_be_visible()


def test_a_wish_is_answered_by_a_sound_that_is_found_by_typing(
    enter: Callable[[str], Page],
) -> None:
    listener = enter("Juniper Vale")
    view(listener, "Requests")
    listener.get_by_label("Request a sound").fill("Something for the fuse box")
    listener.get_by_role("button", name="Request", exact=True).click()
    expect(listener.get_by_text("Something for the fuse box")).to_be_visible()
    editor = enter("Isolde Marrow")
    view(editor, "Requests")
    wish = editor.get_by_role("listitem").filter(has_text="Something for the fuse box")
    wish.get_by_role("button", name="Answer…").click()
    dialog = editor.get_by_role("dialog")
    dialog.get_by_label("Find an answer").fill("lamp zap")
    count = len(heard(editor))
    dialog.get_by_role("button", name="Play Lamp zap").click()
    wait_until_heard(editor, count + 1)
    dialog.get_by_label("Find an answer").fill("fuse zap")
    sounds = dialog.get_by_role("region", name="Sounds").get_by_role("listitem")
    fuse = sounds.filter(has=editor.get_by_text("Fuse zap", exact=True))
    fuse.get_by_role("button", name="Answer with it").click()
    link = wish.get_by_role("link", name="answered by the sound Fuse zap")
    expect(link).to_be_visible()
    link.click()
    expect(editor.get_by_label("Name of the sound")).to_have_value("Fuse zap")


def test_numbers_of_a_sample_are_typed_with_units(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    open_sample(editor, "Glass-pane bell")
    for label, typed, shown in (
        ("Root note", "c#4", "C#4"),
        # The same once more is shown as it was read, too.
        ("Root note", "c#4", "C#4"),
        ("Root note", "440 Hz", "A4"),
        ("Tempo, bpm", "96 bpm", "96"),
        ("Loop start", "120 ms", "120 ms"),
        # Beats at the sample's own tempo.
        ("Loop end", "2 beats", "1.25 s"),
    ):
        field = editor.get_by_label(label, exact=True)
        field.fill(typed)
        field.press("Enter")
        expect(field).to_have_value(shown)
    field = editor.get_by_label("Loop end", exact=True)
    field.fill("soon")
    field.press("Enter")
    expect(editor.get_by_text("Type a value like 28 ms")).to_be_visible()
    # What cannot be read takes nothing away.
    editor.reload()
    open_sample(editor, "Glass-pane bell")
    expect(editor.get_by_label("Loop end", exact=True)).to_have_value("1.25 s")


def test_a_release_may_hold_what_is_marked_alone(enter: Callable[[str], Page]) -> None:
    owner = enter("Wren Halloway")
    owner.get_by_role("region", name="Filters").get_by_role("checkbox", name="approved").check()
    expect(rows(owner).first).to_contain_text("approved")
    for n in (0, 2):
        rows(owner).nth(n).locator("[data-mark]").click()
    view(owner, "Releases")
    owner.get_by_label("Of", exact=True).select_option("the 2 selected")
    expect(owner.get_by_text("It will contain only the selected samples")).to_be_visible()
    number = owner.get_by_label("Number").input_value()
    owner.get_by_role("button", name="Release", exact=True).click()
    made = owner.get_by_role("article").filter(
        has=owner.get_by_role("heading", name=number, exact=True)
    )
    expect(made).to_contain_text("2 files")


@pytest.mark.parametrize("key", ["End", "PageDown"])
def test_the_list_goes_to_rows_that_are_not_read_yet(
    enter: Callable[[str], Page], key: str
) -> None:
    page = enter("Juniper Vale")
    shelf = page.get_by_role("listbox", name="Samples")
    shelf.focus()
    count = len(heard(page))
    page.keyboard.press(key)
    wait_until_heard(page, count + 1)
    chosen = shelf.get_attribute("aria-activedescendant")
    expect(page.locator(f"#{chosen}")).to_be_in_viewport()
    # What was chosen stays so while the list is scrolled elsewhere.
    name = page.get_by_role("complementary", name="Sample").get_by_role("heading").inner_text()
    shelf.hover()
    page.mouse.wheel(0, -100000)
    expect(
        page.get_by_role("complementary", name="Sample").get_by_role("heading", name=name)
    ).to_be_visible()


def test_audio_that_cannot_be_fetched_is_told_at_its_row(enter: Callable[[str], Page]) -> None:
    page = enter("Juniper Vale")
    find(page, "wilt thud")
    thud = row(page, "Wilt thud")
    expect(thud).to_be_visible()
    page.route("**/api/samples/*/file*", lambda route: route.fulfill(status=404, body=""))
    thud.click()
    expect(thud).to_contain_text("its audio cannot be loaded")
    page.unroute_all()
    thud.click()
    expect(thud).not_to_contain_text("cannot be loaded")


def test_two_people_set_what_is_heard_of_one_sample(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    bring(editor, "Cold frame lid", 140.0)
    pages = [editor, enter("Wren Halloway")]
    for page in pages:
        page.reload()
        open_sample(page, "Cold frame lid", words="cold frame")
        page.get_by_role("tab", name="Figures").click()
        page.get_by_text("Trim, fades and gain").click()
    for page, label, text in ((pages[0], "Gain", "-3 dB"), (pages[1], "Fade in", "5 ms")):
        page.get_by_label(label, exact=True).fill(text)
        page.get_by_label(label, exact=True).press("Enter")
        if page is editor:
            expect(page.get_by_text("edited")).to_be_visible()
    conflict = pages[1].get_by_role("alert", name="Changed by someone else")
    expect(conflict).to_contain_text("theirs gain −3 dB, yours fade in 5 ms")
    conflict.get_by_role("button", name="Keep mine").click()
    expect(conflict).to_have_count(0)
    expect(pages[1].get_by_label("Fade in", exact=True)).to_have_value("5 ms")
    expect(pages[1].get_by_label("Gain", exact=True)).to_have_value("0 dB")
    pages[1].get_by_role("tab", name="History").click()
    expect(pages[1].get_by_text("gain −3 dB → fade in 5 ms")).to_be_visible()


def takes_of(page: Page, document: dict[str, Any], name: str, count: int) -> list[int]:
    """A sound of its own and numbered takes of it, which differ."""
    library_id = library_of(page)
    made = page.request.post("/api/sounds", data={"library_id": library_id, "document": document})
    body = {
        "base_version": 1,
        "document": document,
        "hit": document["hit"],
        "library_id": library_id,
        "name": name,
        "count": count,
    }
    # Takes are rendered behind what people listen to, here all of the other tests.
    url = f"/api/sounds/{made.json()['id']}/takes"
    kept = page.request.post(url, data=body)
    assert kept.ok, kept.text()
    return list(kept.json()["ids"])


def test_renders_are_heard_and_left_out_or_put_in_place(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    document = json.loads((SOUNDS_FOLDER / "kiln-door-kick.json").read_text())
    first, second, third = takes_of(editor, document, "Ash pan clank", 3)
    editor.reload()
    find(editor, "ash pan")
    expect(rows(editor)).to_have_count(3)
    editor.get_by_role("button", name="Select all").click()
    choose_from(editor, "Process", "Render again…")
    editor.get_by_label("At", exact=True).select_option("96000")
    editor.get_by_role("button", name="Render and compare").click()
    # It goes on by itself, and the page need not be there.
    editor.get_by_role("dialog", name="at 96 kHz").get_by_role("button", name="Close").click()
    editor.reload()
    work = editor.get_by_role("button", name=re.compile("^Jobs"))
    work.click()
    expect(editor.get_by_text("ready: 3 to compare")).to_be_visible()
    editor.get_by_role("button", name="Open").click()
    dialog = editor.get_by_role("dialog", name="at 96 kHz")

    count = len(heard(editor))
    dialog.get_by_role("button", name="Play Ash pan clank 01 as it would be").click()
    new = wait_until_heard(editor, count + 1)
    editor.keyboard.press("ArrowLeft")
    now = wait_until_heard(editor, count + 2)
    expect(dialog.get_by_role("button", name="Play Ash pan clank 01 as it is now")).to_be_focused()
    assert np.abs(new).max() == pytest.approx(np.abs(now).max(), rel=0.02)
    # As in the list behind it, the newest comes first.
    editor.keyboard.press("ArrowUp")
    wait_until_heard(editor, count + 3)
    expect(dialog.get_by_role("button", name="Play Ash pan clank 02 as it is now")).to_be_focused()

    dialog.get_by_role("checkbox", name="Replace Ash pan clank 01").uncheck()
    # Someone shortens one of them meanwhile.
    body = {"base_version": 1, "end_s": 0.2}
    assert editor.request.put(f"/api/samples/{second}/edits", data=body).ok
    dialog.get_by_role("button", name="Replace 2").click()
    expect(dialog.get_by_role("row", name="Ash pan clank 02")).to_contain_text("has changed")
    expect(dialog.get_by_role("row", name="Ash pan clank 03")).to_have_count(0)
    dialog.get_by_role("button", name="Discard").click()
    expect(dialog).to_have_count(0)
    expect(work).to_have_count(0)
    rates = [editor.request.get(f"/api/samples/{one}").json() for one in (first, second, third)]
    assert [one["sample_rate"] for one in rates] == [48000, 48000, 96000]
    editor.get_by_role("button", name="Undo").click()
    expect(editor.get_by_text("1 rendered again")).to_have_count(0)
    assert editor.request.get(f"/api/samples/{third}").json()["sample_rate"] == 48000


def test_a_reviewer_sends_back_and_approves_what_is_chosen(enter: Callable[[str], Page]) -> None:
    reviewer = enter("Tam Okerby")
    open_sample(reviewer, "Seed-pod pop")
    details = reviewer.get_by_role("complementary", name="Sample")
    details.get_by_role("button", name="Send back").click()
    expect(details.get_by_text("draft", exact=False).first).to_be_visible()
    # A draft goes on by who made it, not by a reviewer.
    expect(details.get_by_role("button", name="Approve")).to_have_count(0)
    reviewer.get_by_role("button", name="Undo").click()
    details.get_by_role("button", name="Approve").click()
    expect(details.get_by_text("● approved")).to_be_visible()
    reviewer.get_by_role("button", name="Undo").click()
    expect(details.get_by_role("button", name="Approve")).to_be_visible()


def test_an_owner_keeps_a_vocabulary_of_the_library(enter: Callable[[str], Page]) -> None:
    owner = enter("Wren Halloway")
    view(owner, "Members")
    words = owner.get_by_role("region", name="Vocabulary")
    expect(words.get_by_label("Category, row 1", exact=True)).to_be_visible()
    before = words.get_by_role("row").count()
    words.get_by_role("button", name="Add row").click()
    words.get_by_label(f"Subcategory, row {before}", exact=True).fill("bell buoy")
    words.get_by_role("button", name="Save vocabulary").click()
    expect(words.get_by_role("alert")).to_have_text(f"Row {before}: a category has 1 to 40 letters")
    words.get_by_label(f"Category, row {before}", exact=True).fill("harbour")
    words.get_by_label(f"Words in names, row {before}", exact=True).fill("buoy foghorn")
    words.get_by_role("button", name="Save vocabulary").click()
    expect(words.get_by_text("This library has its own.")).to_be_visible()
    with owner.expect_download() as download:
        words.get_by_role("link", name="Export CSV").click()
    assert download.value.suggested_filename == "glasshouse-clockworks-vocabulary.csv"
    written = download.value.path().read_text()
    assert "harbour,bell buoy,buoy foghorn" in written

    # An import suggests it by its name, and the sample's list of categories has it.
    sample = bring(owner, "Old foghorn", 90.0)
    made = owner.request.get(f"/api/samples/{sample}").json()
    assert (made["category"], made["subcategory"]) == ("harbour", "bell buoy")
    owner.request.post("/api/samples/bin", data={"ids": [sample]})

    csv = written.replace("harbour", "seaside").encode()
    chosen = {"name": "words.csv", "mimeType": "text/csv", "buffer": csv}
    words.get_by_label("Vocabulary as CSV").set_input_files([chosen])
    expect(words.get_by_role("status")).to_have_text("Imported from words.csv")
    expect(words.get_by_label(f"Category, row {before}", exact=True)).to_have_value("seaside")
    words.get_by_role("button", name="Use the server’s").click()
    expect(words.get_by_text("The server’s, until you change it here.")).to_be_visible()
    expect(words.get_by_role("row")).to_have_count(before)
