"""Libraries on their pages: changed by two, mapped, narrowed, shared, joined by invitation."""

from __future__ import annotations

import json
import re
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
from playwright.sync_api import APIResponse, Browser, Locator, Page, Route, expect

from tests.e2e.bench import heard, heard_count, wait_until_heard
from tests.e2e.shelves import choose_from, find, open_sample, row, rows, view
from tests.e2e.test_accessibility import violations
from tests.web.samples import wav

ONE_SAMPLE = re.compile(r"/api/samples/\d+$")


def save_licence(page: Page, text: str) -> None:
    page.get_by_label("Licence").fill(text)
    page.get_by_label("Licence").press("Enter")


def test_two_people_change_one_sample_and_choose(enter: Callable[[str], Page]) -> None:
    pages = [enter("Isolde Marrow"), enter("Wren Halloway")]
    for page in pages:
        open_sample(page, "Seed-pod pop")
        expect(page.get_by_label("Licence")).to_be_visible()
    with pages[0].expect_response(ONE_SAMPLE):
        save_licence(pages[0], "theirs first")
    save_licence(pages[1], "mine later")
    conflict = pages[1].get_by_role("alert", name="Changed by someone else")
    expect(conflict).to_contain_text("theirs first")
    expect(conflict).to_contain_text("mine later")
    conflict.get_by_role("button", name="Keep mine").click()
    expect(conflict).to_have_count(0)
    expect(pages[1].get_by_label("Licence")).to_have_value("mine later")
    # Kept, it is what is seen now: typed again, there is nothing to choose.
    pages[1].get_by_label("Licence").fill("mine at last")
    pages[1].get_by_label("Licence").press("Enter")
    expect(pages[1].get_by_label("Licence")).to_have_value("mine at last")
    pages[1].get_by_role("tab", name="History").click()
    expect(pages[1].get_by_text("theirs first → mine later")).to_be_visible()
    expect(pages[1].get_by_text("mine later → mine at last")).to_be_visible()
    # The other way round, what is there is shown again.
    pages[0].get_by_label("Licence").fill("theirs once more")
    pages[0].get_by_label("Licence").press("Enter")
    conflict = pages[0].get_by_role("alert", name="Changed by someone else")
    conflict.get_by_role("button", name="Keep theirs").click()
    expect(conflict).to_have_count(0)
    expect(pages[0].get_by_label("Licence")).to_have_value("mine at last")


class Held:
    """Requests to an address that wait from ``hold`` to ``let_go``."""

    def __init__(self, page: Page, address: str | re.Pattern[str]) -> None:
        self.waiting: list[Route] = []
        self.holds = True
        page.route(address, self._take)

    def _take(self, route: Route) -> None:
        if self.holds:
            self.waiting.append(route)
        else:
            route.continue_()

    def let_go(self) -> None:
        self.holds = False
        for route in self.waiting:
            route.continue_()


def test_what_is_typed_back_before_the_save_was_answered_is_saved(
    enter: Callable[[str], Page],
) -> None:
    page = enter("Wren Halloway")
    open_sample(page, "Coal hatch kick")
    before = page.get_by_label("Licence").input_value()
    held = Held(page, ONE_SAMPLE)
    with page.expect_request(ONE_SAMPLE):
        save_licence(page, "for a moment")
    save_licence(page, before)
    held.let_go()
    page.get_by_role("tab", name="History").click()
    expect(page.get_by_text(f"for a moment → {before}")).to_be_visible()


def test_a_history_asked_for_before_a_change_is_not_what_stays(
    enter: Callable[[str], Page],
) -> None:
    page = enter("Wren Halloway")
    open_sample(page, "Coal hatch kick")
    held = Held(page, ONE_SAMPLE)
    with page.expect_request(ONE_SAMPLE):
        save_licence(page, "a later one")
    answers: list[tuple[Route, APIResponse]] = []

    def late(route: Route) -> None:
        """The first answer waits until the change is saved and its list is there."""
        if answers:
            route.continue_()
        else:
            answers.append((route, route.fetch()))

    page.route("**/history", late)
    page.get_by_role("tab", name="History").click()
    while not answers:
        page.wait_for_timeout(20)
    with page.expect_response("**/api/samples/search"):
        held.let_go()
    route, answer = answers[0]
    route.fulfill(response=answer)
    expect(page.get_by_text("→ a later one")).to_be_visible()


def choose_folder(page: Page, folder: Path) -> Locator:
    """Import a folder; answers the dialog that asks where it shall go."""
    with page.expect_file_chooser() as asked:
        choose_from(page, "Import", "A folder…")
    asked.value.set_files(folder)
    return page.get_by_role("dialog", name="5 files")


def test_a_folder_comes_in_past_what_is_broken_and_what_is_there(
    enter: Callable[[str], Page], tmp_path: Path
) -> None:
    folder = tmp_path / "From the shed"
    (folder / "Lids").mkdir(parents=True)
    for name, seed in (("Lids/Crock lid", 71), ("Lids/Tin lid", 72), ("Rake", 73), ("Hoe", 74)):
        (folder / f"{name}.wav").write_bytes(wav(seed=seed))
    (folder / "Broken.wav").write_bytes(b"RIFF nothing of use")
    (folder / "list.csv").write_text("name")
    editor = enter("Isolde Marrow")

    dialog = choose_folder(editor, folder)
    expect(dialog).to_contain_text("One other file in it is not readable")
    # The server is away at first; work goes on elsewhere meanwhile.
    editor.route("**/samples?once=true*", lambda route: route.abort())
    dialog.get_by_role("button", name="Into the library").click()
    into = editor.get_by_role("dialog", name="Into Glasshouse Clockworks")
    expect(into.get_by_role("alert")).to_contain_text("does not answer")
    into.get_by_role("button", name="Close").click()
    editor.get_by_role("link", name="Bench").click()
    item = editor.get_by_role("button", name="Files: 0/5, the server does not answer")
    expect(item).to_be_visible()
    editor.unroute("**/samples?once=true*")
    editor.get_by_role("button", name="Files: 5/5, 1 failed").click()
    expect(into.get_by_role("status")).to_have_text("4 are imported, 1 could not be imported.")
    expect(into.get_by_role("listitem")).to_contain_text("no audio file that can be read")
    assert violations(editor) == []
    into.get_by_role("button", name="Show them, selected").click()
    expect(editor.get_by_text("4 samples selected")).to_be_visible()
    names = [rows(editor).nth(n).get_attribute("aria-label") or "" for n in range(4)]
    assert sorted(one.split(",")[0] for one in names) == ["Crock lid", "Hoe", "Rake", "Tin lid"]

    # Once more, with one that is moved before it is sent.
    dialog = choose_folder(editor, folder)
    (folder / "Rake.wav").rename(tmp_path / "Rake.wav")
    dialog.get_by_role("button", name="Into the library").click()
    expect(into.get_by_role("status")).to_have_text(
        "3 were already there, 2 could not be imported."
    )
    moved = into.get_by_role("listitem").filter(has_text="Rake.wav")
    expect(moved).to_contain_text("can no longer be read")
    into.get_by_role("button", name="Try 2 again").click()
    expect(into.get_by_role("status")).to_have_text("2 could not be imported.")


def test_what_is_typed_while_another_field_is_saved_stays(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    open_sample(editor, "Brass gear tick")

    network = editor.context.new_cdp_session(editor)
    slow = {"offline": False, "latency": 400, "downloadThroughput": -1, "uploadThroughput": -1}
    network.send("Network.enable")
    network.send("Network.emulateNetworkConditions", slow)
    editor.get_by_label("Author").fill("The potting")
    editor.get_by_label("Author").press("Enter")
    # Typed on in the same field before the first of it was saved.
    editor.get_by_label("Author").fill("The potting shed")
    editor.get_by_label("Licence").fill("house")
    editor.get_by_label("Description").press_sequentially("A latch that closes", delay=60)
    expect(editor.get_by_label("Description")).to_have_value("A latch that closes")
    # One is saved after the other, so that this is the last.
    with editor.expect_response(
        lambda answer: "A latch that closes" in (answer.request.post_data or "")
    ) as saved:
        editor.get_by_label("Description").blur()
        network.send("Network.emulateNetworkConditions", {**slow, "latency": 0})
    assert saved.value.ok
    expect(editor.get_by_role("alert", name="Changed by someone else")).to_have_count(0)
    editor.reload()
    open_sample(editor, "Brass gear tick")
    for label, text in (("Author", "The potting shed"), ("Licence", "house")):
        expect(editor.get_by_label(label)).to_have_value(text)
    expect(editor.get_by_label("Description")).to_have_value("A latch that closes")


def test_the_map_plays_what_is_pointed_at_and_what_the_arrows_reach(
    enter: Callable[[str], Page],
) -> None:
    page = enter("Juniper Vale")
    view(page, "Map")
    area = page.get_by_role("application")
    expect(area.get_by_text("tonal")).to_be_visible()
    library = page.request.get("/api/libraries").json()["libraries"][0]["id"]
    places = page.request.get(f"/api/libraries/{library}/map").json()
    box = area.bounding_box()
    assert box is not None
    margin, legend = 36, 112
    count = len(heard(page))
    page.mouse.move(
        box["x"] + margin + places["x"][5] * (box["width"] - 2 * margin - legend),
        box["y"] + margin + places["y"][5] * (box["height"] - 2 * margin),
    )
    wait_until_heard(page, count + 1)
    expect(area.locator(f"[data-sample='{places['ids'][5]}']")).to_be_visible()
    page.mouse.down()
    page.mouse.up()
    expect(page.get_by_role("complementary", name="Sample")).to_be_visible()
    count = len(heard(page))
    area.focus()
    page.keyboard.press("ArrowRight")
    wait_until_heard(page, count + 1)
    # What a search finds is ringed, and the arrows stay within it.
    find(page, "potting mallet")
    query = {"words": "potting mallet", "libraries": [library]}
    found = page.request.post("/api/samples/ids", data={"query": query}).json()["ids"]
    said = f"{len(found)} of {len(places['ids'])} found"
    expect(area.get_by_text(said)).to_be_visible()
    expect(area.locator("circle")).to_have_count(len(found))
    details = page.get_by_role("complementary", name="Sample")
    expect(details).to_have_count(0)
    area.focus()
    for key in ("ArrowRight", "ArrowDown", "ArrowLeft", "ArrowUp"):
        page.keyboard.press(key)
        expect(details.get_by_role("heading", name=re.compile("Potting mallet"))).to_be_visible()
    # What is chosen has an outline of its own.
    expect(area.locator("circle")).to_have_count(len(found) - 1)


def test_equal_loudness_brings_what_is_loud_down(enter: Callable[[str], Page]) -> None:
    page = enter("Juniper Vale")
    page.get_by_label("Equal loudness").check()
    found = page.request.post("/api/samples/search", data={"limit": 2}).json()["samples"]
    page.evaluate("window.gains.length = 0")
    row(page, found[1]["name"]).click()
    page.wait_for_function("() => window.gains.length > 0")
    gain = 20 * np.log10(page.evaluate("window.gains.at(-1)"))
    assert gain == pytest.approx(min(0, -23 - found[1]["loudness_lufs"]), abs=0.1)


def test_facets_narrow_and_a_range_is_moved_by_keys(enter: Callable[[str], Page]) -> None:
    page = enter("Wren Halloway")
    narrow = page.get_by_role("region", name="Filters")
    narrow.get_by_role("checkbox", name=re.compile("^tonal")).check()
    expect(rows(page).first).to_be_visible()
    count = int(page.get_by_text(re.compile(r"^\d+$")).nth(0).inner_text())
    handle = narrow.get_by_role("slider", name="Length to")
    handle.focus()
    for _ in range(12):
        handle.press("ArrowLeft")
    expect(narrow.get_by_role("button", name="Length: any")).to_be_visible()
    page.get_by_role("button", name="Save search").click()
    page.get_by_role("dialog").get_by_label("Name").fill("Short tones")
    page.get_by_role("dialog").get_by_role("button", name="Save search").click()
    kept = page.get_by_role("button", name="Short tones", exact=True)
    expect(kept).to_be_visible()
    listed = page.request.get("/api/searches").json()["searches"]
    query = next(one["query"] for one in listed if one["name"] == "Short tones")
    assert query["categories"] == ["tonal"]
    assert query["ranges"]["length_s"][1] is not None
    assert count >= 1


def test_what_is_like_a_sample_is_narrowed_by_facets_and_ended_by_words(
    enter: Callable[[str], Page],
) -> None:
    page = enter("Juniper Vale")
    open_sample(page, "Seed-pod pop")
    page.get_by_role("button", name="More like this").click()
    nearest = page.get_by_role("button", name="the nearest to Seed-pod pop first")
    expect(nearest).to_be_visible()
    expect(page.get_by_label("Find samples")).to_have_value("")
    expect(rows(page).nth(9)).to_be_visible()
    expect(rows(page).first).to_have_attribute("aria-label", re.compile("^Seed-pod pop,"))
    second = rows(page).nth(1).get_attribute("aria-label")
    narrow = page.get_by_role("region", name="Filters")
    narrow.get_by_role("checkbox", name=re.compile("^approved")).check()
    expect(nearest).to_be_visible()
    page.get_by_label("Order").select_option("name")
    expect(nearest).to_have_count(0)
    page.get_by_role("button", name="More like this").click()
    expect(page.get_by_label("Order")).to_have_value("nearest")
    find(page, "glass")
    expect(page.get_by_text("first")).to_have_count(0)
    expect(page.get_by_label("Order")).to_have_value("name")
    find(page, "")
    narrow.get_by_role("checkbox", name=re.compile("^approved")).uncheck()
    # Another order begins another list, which is not the nearest ones'.
    expect(rows(page).nth(1)).not_to_have_attribute("aria-label", str(second))


def test_a_cleared_box_stays_where_it_is_until_the_next_answer(
    enter: Callable[[str], Page],
) -> None:
    page = enter("Juniper Vale")
    approved = page.get_by_role("region", name="Filters").get_by_role(
        "checkbox", name=re.compile("^approved")
    )
    approved.check()
    find(page, "seed-pod pop")
    expect(page.get_by_text("No samples match.")).to_be_visible()
    held = Held(page, "**/api/samples/search")
    approved.uncheck()
    expect(approved).not_to_be_checked()
    held.let_go()
    expect(approved).to_have_count(0)


def test_what_is_marked_while_words_are_on_their_way_stays_marked(
    enter: Callable[[str], Page],
) -> None:
    page = enter("Juniper Vale")
    listed = page.get_by_role("listbox", name="Samples")
    listed.evaluate("list => list.scrollTo(0, 1000)")
    expect(rows(page).nth(12)).to_be_visible()
    held: list[Route] = []
    page.route("**/api/samples/search", lambda route: held.append(route))
    with page.expect_request("**/api/samples/search"):
        page.get_by_label("Find samples").press_sequentially("glass", delay=10)
    # What was found before is still there and can be marked.
    rows(page).nth(12).locator("[data-mark]").click()
    expect(page.get_by_text("1 sample selected")).to_be_visible()
    for one in held:
        one.continue_()
    page.unroute("**/api/samples/search")
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    # The other list begins at its top, and the mark is kept.
    assert listed.evaluate("list => list.scrollTop") == 0
    expect(page.get_by_text("1 sample selected")).to_be_visible()
    page.get_by_role("button", name="Clear selection").click()


def test_a_link_opens_without_an_account(enter: Callable[[str], Page], browser: Browser) -> None:
    owner = enter("Wren Halloway")
    view(owner, "Releases")
    first = owner.get_by_role("article").last
    first.get_by_role("button", name="Share").click()
    owner.get_by_label("Note for the recipient").fill("for the trailer")
    owner.get_by_role("button", name="Make link").click()
    link = owner.get_by_role("dialog").locator("code").inner_text()
    stranger = enter("")
    stranger.goto(link)
    expect(stranger.get_by_text("for the trailer")).to_be_visible()
    stranger.get_by_role("button", name=re.compile("^Play ")).first.click()
    wait_until_heard(stranger, 1)
    with stranger.expect_download() as download:
        stranger.get_by_role("link", name=re.compile("Download all")).click()
    with zipfile.ZipFile(download.value.path()) as archive:
        manifest = json.loads(archive.read("manifest.json"))
    assert manifest["format"] == "nest-crate-release"


def test_a_sound_is_shared_by_a_link_of_its_own(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    view(editor, "Sounds")
    before = heard_count(editor)
    editor.get_by_role("button", name="Play Lamp zap").click()
    wait_until_heard(editor, before + 1)
    choose_from(editor, "More of Lamp zap", "Share by a link")
    editor.get_by_role("button", name="Make link").click()
    link = editor.get_by_role("dialog").locator("code").inner_text()
    stranger = enter("")
    stranger.goto(link)
    expect(stranger.get_by_role("heading", name="Lamp zap")).to_be_visible()
    expect(stranger.get_by_text("How it was made")).to_be_visible()
    for count, name in enumerate(("Play", "Eight hits"), start=1):
        stranger.get_by_role("button", name=name, exact=True).click()
        wait_until_heard(stranger, count)
    with stranger.expect_download() as download:
        stranger.get_by_role("link", name="Sound document").click()
    with zipfile.ZipFile(download.value.path()) as archive:
        assert json.loads(archive.read("sound.json"))["name"] == "Lamp zap"


def test_sounds_are_walked_through_by_keys(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    view(editor, "Sounds")
    choose_from(editor, "More of Lamp zap", "Make a copy")
    listed = editor.get_by_role("grid", name="Sounds")
    copy = listed.get_by_role("row").filter(has_text="Lamp zap copy")
    # Nothing was kept of it yet: what is drawn is rendered.
    expect(copy.locator("svg.text-action")).to_be_visible()
    expect(copy.get_by_role("gridcell").nth(2)).to_have_text(re.compile("s$"))
    editor.get_by_label("Find sounds").fill("zap")
    count = len(heard(editor))
    listed.focus()
    for key, place in (("Home", 0), ("ArrowDown", 1), ("ArrowUp", 0), (" ", 0)):
        editor.keyboard.press(key)
        expect(listed.get_by_role("row").nth(place)).to_have_attribute("aria-selected", "true")
        count += 1
        wait_until_heard(editor, count)
    # Two quick presses of Play play, and do not leave the list.
    listed.get_by_role("button", name="Play Lamp zap copy").dblclick()
    wait_until_heard(editor, count + 1)
    expect(listed).to_be_visible()
    listed.focus()
    name = listed.get_by_role("row").first.get_by_role("button").first.get_attribute("aria-label")
    editor.keyboard.press("Enter")
    expect(editor.get_by_label("Name of the sound")).to_have_value(str(name).removeprefix("Play "))


def test_start_end_and_fades_of_one_sample_leave_its_file_alone(
    enter: Callable[[str], Page],
) -> None:
    editor = enter("Isolde Marrow")
    open_sample(editor, "Lamp zap")
    editor.get_by_role("tab", name="Figures").click()
    editor.get_by_text("Trim, fades and gain").click()

    def type_in(label: str, text: str) -> None:
        editor.get_by_label(label, exact=True).fill(text)
        editor.get_by_label(label, exact=True).press("Enter")

    type_in("End", "soon")
    expect(editor.get_by_text("Type a value like 28 ms")).to_be_visible()
    type_in("End", "40 min")
    expect(editor.get_by_text("less than or equal to 600")).to_be_visible()
    # Two after the other, without waiting for the first to be saved.
    for label, text in (("End", "40 ms"), ("Gain", "-3 dB")):
        type_in(label, text)
    expect(editor.get_by_label("Gain", exact=True)).to_have_value("−3 dB")
    expect(editor.get_by_label("End", exact=True)).to_have_value("40 ms")
    expect(editor.get_by_text("edited")).to_be_visible()
    length = editor.locator("dt", has_text="Length").locator("xpath=following-sibling::dd")
    expect(length.first).to_have_text("40 ms")
    editor.get_by_role("button", name="Reset").click()
    expect(editor.get_by_text("as recorded")).to_be_visible()
    expect(length.first).not_to_have_text("40 ms")


def test_an_invitation_makes_an_account(enter: Callable[[str], Page]) -> None:
    owner = enter("Wren Halloway")
    owner.get_by_role("button", name="Account of Wren Halloway").click()
    owner.get_by_role("tab", name="People").click()
    owner.get_by_label("To", exact=True).select_option("Glasshouse Clockworks")
    owner.get_by_label("As", exact=True).select_option("editor")
    owner.get_by_role("button", name="Make link").click()
    link = owner.get_by_role("dialog").locator("code").inner_text()
    expect(owner.get_by_text("editor of Glasshouse Clockworks, until")).to_be_visible()
    guest = enter("")
    guest.goto(link)
    expect(guest.get_by_text("invited to Glasshouse Clockworks as editor")).to_be_visible()
    guest.get_by_label("Your name").fill("Pim Alder")
    guest.get_by_label("Name to sign in with").fill("isolde")
    guest.get_by_label("Password").fill("copper-kettle")
    guest.get_by_role("button", name="Make my account").click()
    expect(guest.get_by_text("is taken").first).to_be_visible()
    guest.get_by_label("Name to sign in with").fill("pim")
    guest.get_by_role("button", name="Make my account").click()
    expect(guest.get_by_text("you are editor here")).to_be_visible()
    guest.get_by_role("button", name="Account of Pim Alder").click()
    expect(guest.get_by_role("tab", name="People")).to_have_count(0)
    guest.get_by_role("button", name="Sign out").click()
    guest.get_by_label("Name").fill("pim")
    guest.get_by_label("Password").fill("wrong-password")
    guest.get_by_role("button", name="Sign in", exact=True).click()
    expect(guest.get_by_role("alert")).to_contain_text("Wrong name or password")
    guest.get_by_label("Password").fill("copper-kettle")
    guest.get_by_role("button", name="Sign in", exact=True).click()
    expect(guest.get_by_role("listbox", name="Samples")).to_be_visible()
