"""Two people at once: what they see of each other, what goes together; signed out and in again."""

from __future__ import annotations

import re
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect

from nest_crate.demo.people import DEMO_PASSWORD
from tests.e2e import bench
from tests.e2e.shelves import choose_from, find, open_sample, row, rows
from tests.web.test_imports import file_with

Enter = Callable[[str], Page]


def both_open(enter: Enter, name: str) -> tuple[Page, Page, int]:
    """A sound in the windows of two people, and its number."""
    wren, isolde = enter("Wren Halloway"), enter("Isolde Marrow")
    sound_id = bench.open_sound(wren, name)
    isolde.goto(f"/bench/{sound_id}")
    expect(isolde.get_by_label("Name of the sound")).to_have_value(name)
    return wren, isolde, sound_id


def test_people_see_each_other_and_what_they_change(enter: Enter) -> None:
    wren, isolde, _ = both_open(enter, "Watering valve hiss")
    expect(wren.get_by_label("Also here: Isolde Marrow")).to_be_visible()
    expect(isolde.get_by_label("Also here: Wren Halloway")).to_be_visible()
    bench.type_into(wren, "Tempo", "97")
    expect(isolde.get_by_label("Tempo")).to_have_value("97")
    undo = isolde.get_by_role("button", name="Undo")
    expect(undo).to_have_attribute("title", "Undo: Changes by Wren Halloway")
    # A window that is loaded again is the same one, and nobody's companion.
    with wren.expect_response("**/api/presence") as looked:
        wren.reload()
    assert [one["own"] for one in looked.value.json()["companions"]] == [False]
    isolde.goto("/libraries")
    expect(wren.get_by_label("Also here: Isolde Marrow")).to_be_hidden()


def test_changes_of_different_fields_go_together_without_a_question(enter: Enter) -> None:
    wren, isolde, sound_id = both_open(enter, "Fuse zap backwards")
    # Isolde's window does not hear of it before she saves.
    isolde.route("**/api/presence", lambda route: route.abort())
    bench.type_into(wren, "Tempo", "91")
    bench.settled(wren)
    bench.type_into(isolde, "Transpose", "-2 st")
    bench.settled(isolde)
    expect(isolde.get_by_label("Tempo")).to_have_value("91")
    expect(isolde.get_by_role("dialog")).to_be_hidden()
    draft = bench.draft(isolde, sound_id)
    assert draft["tempo_bpm"] == 91
    assert draft["layers"][0]["source"]["transpose_st"] == -2
    # And of the same field: asked about that field.
    bench.type_into(wren, "Tempo", "88")
    bench.settled(wren)
    bench.type_into(isolde, "Transpose", "-5 st")
    bench.settled(isolde)
    bench.type_into(wren, "Tempo", "84")
    bench.settled(wren)
    bench.type_into(isolde, "Tempo", "110")
    dialog = isolde.get_by_role("dialog", name="Changed elsewhere")
    expect(dialog.get_by_role("row", name="Tempo bpm 110 84")).to_be_visible()
    dialog.get_by_role("button", name="Use the saved version").click()
    expect(isolde.get_by_label("Tempo")).to_have_value("84")
    isolde.unroute("**/api/presence")


def test_a_list_follows_what_others_change(enter: Enter) -> None:
    wren, isolde = enter("Wren Halloway"), enter("Isolde Marrow")
    find(wren, "pendulum")
    expect(rows(wren).first).to_be_visible()
    expect(wren.get_by_label("Also here: Isolde Marrow")).to_be_visible()
    open_sample(isolde, "Pendulum heartbeat", "pendulum")
    field = isolde.get_by_label("Name", exact=True)
    field.fill("Pendulum heartbeat, slow")
    field.press("Enter")
    expect(row(wren, "Pendulum heartbeat, slow")).to_be_visible()
    field.fill("Pendulum heartbeat")
    field.press("Enter")
    expect(row(wren, "Pendulum heartbeat")).to_be_visible()


def test_signed_out_elsewhere_one_signs_in_over_the_screen(enter: Enter) -> None:
    page = enter("Isolde Marrow")
    sound_id = bench.open_sound(page, "Watering valve hiss")
    cookies = page.context.cookies()
    page.context.clear_cookies()
    bench.type_into(page, "Tempo", "73")
    dialog = page.get_by_role("dialog", name="You were signed out")
    expect(dialog.get_by_label("Name")).to_have_value("isolde")
    dialog.get_by_label("Password").fill("wrong")
    dialog.get_by_role("button", name="Sign in", exact=True).click()
    expect(dialog.get_by_role("alert")).to_be_visible()
    dialog.get_by_label("Password").fill(DEMO_PASSWORD)
    dialog.get_by_role("button", name="Sign in", exact=True).click()
    expect(dialog).to_be_hidden()
    expect(page.get_by_label("Tempo")).to_have_value("73")
    bench.settled(page)
    assert bench.draft(page, sound_id)["tempo_bpm"] == 73
    assert cookies


def test_a_folder_comes_in_by_rules_and_again_as_twins(enter: Enter, tmp_path: Path) -> None:
    folder = tmp_path / "Shed tapes"
    (folder / "wet").mkdir(parents=True)
    (folder / "wet" / "drum_kiln lid_01.wav").write_bytes(file_with(71))
    (folder / "wet" / "odd.wav").write_bytes(file_with(72))
    page = enter("Wren Halloway")

    def choose() -> None:
        with page.expect_file_chooser() as asked:
            choose_from(page, "Import", "A folder…")
        asked.value.set_files(folder)

    choose()
    dialog = page.get_by_role("dialog")
    dialog.get_by_text("Names, tags and categories").click()
    dialog.get_by_label("Folder names become tags").check()
    dialog.get_by_label("Read file names as").fill("{nothing}")
    expect(dialog.get_by_role("alert")).to_contain_text("there is no {nothing}")
    dialog.get_by_label("Read file names as").fill("{category}_{name}_{variation}")
    expect(dialog).to_contain_text("1 of 2 names fit")
    expect(dialog).to_contain_text("category drum · name kiln lid · variation 1")
    dialog.get_by_role("button", name="Into the library").click()
    page.get_by_role("button", name="Show them, selected").click()
    expect(row(page, "kiln lid")).to_contain_text("drum")
    page.get_by_role("button", name="Clear selection").click()
    filters = page.get_by_role("region", name="Filters")
    filters.get_by_role("checkbox", name=re.compile("^Shed tapes.wet")).check()
    expect(page).to_have_url(re.compile(r"folder=Shed\+tapes%2Fwet"))
    expect(rows(page)).to_have_count(2)

    (folder / "wet" / "odd.wav").write_bytes(file_with(72, comment="found behind the kiln"))
    choose()
    page.get_by_role("button", name="Into the library").click()
    twins = page.get_by_role("region", name="Skipped: same audio in the library")
    expect(twins.get_by_role("listitem")).to_have_count(2)
    twins.get_by_role("button", name="Merge words and tags").click()
    expect(page.get_by_text("Same audio; words and tags were merged")).to_be_visible()
    page.get_by_role("button", name="Show them, selected").click()
    row(page, "odd").click()
    expect(page.get_by_label("Description")).to_have_value("found behind the kiln")
