"""The other half of the work, as new users do it: keep, find, tag, review, release, pull, hear."""

from __future__ import annotations

import io
import json
import os
import re
import subprocess
import sys
import zipfile
from collections.abc import Callable, Iterator
from pathlib import Path

import numpy as np
import pytest
import soundfile
from playwright.sync_api import Browser, Locator, Page, expect

from tests.e2e.bench import heard, wait_until_heard
from tests.e2e.conftest import (
    LISTEN,
    PROJECT,
    Running,
    demo_data,
    start_program,
    stop_program,
)

PULL = PROJECT / "tools" / "pull_release.py"


@pytest.fixture(scope="module")
def people(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """The program as it starts by itself, with its people and nobody signed in."""
    with pytest.MonkeyPatch.context() as patched:
        # All of these browsers come from one address.
        patched.setenv("NEST_CRATE_SIGN_INS_A_MINUTE", "1000")
        program = start_program(demo_data(tmp_path_factory.mktemp("people") / "data"), "--people")
    yield program
    stop_program(program)


@pytest.fixture
def enter(browser: Browser, people: Running) -> Iterator[Callable[[str], Page]]:
    """A page on which somebody of the demo is signed in, each in a browser of their own."""
    contexts, problems = [], []

    def make(name: str) -> Page:
        context = browser.new_context(
            viewport={"width": 1280, "height": 800}, base_url=people.url, accept_downloads=True
        )
        contexts.append(context)
        context.add_init_script(LISTEN)
        page = context.new_page()
        page.on("pageerror", lambda error: problems.append(str(error)))
        page.goto("/libraries")
        if name:
            page.get_by_role("button", name=name).click()
            expect(page.get_by_role("listbox", name="Samples")).to_be_visible()
        return page

    yield make
    for context in contexts:
        context.close()
    assert problems == []


def find(page: Page, words: str) -> None:
    page.get_by_label("Find samples").fill(words)


def rows(page: Page) -> Locator:
    return page.get_by_role("listbox", name="Samples").get_by_role("option")


def row(page: Page, name: str) -> Locator:
    return page.get_by_role("option", name=re.compile(f"^{re.escape(name)},"))


def choose_from(page: Page, menu: str, item: str) -> None:
    page.get_by_role("button", name=menu).click()
    page.get_by_role("menuitem", name=item).click()


def view(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Views").get_by_role("link", name=name).click()


def test_from_eight_takes_to_a_second_release(
    enter: Callable[[str], Page], people: Running, tmp_path: Path
) -> None:
    # An editor keeps eight takes of a sound.
    editor = enter("Isolde Marrow")
    editor.goto("/bench")
    sounds = editor.request.get("/api/sounds").json()["sounds"]
    zap = next(one for one in sounds if one["name"] == "Fuse zap")
    editor.goto(f"/bench/{zap['id']}")
    expect(editor.get_by_label("Name of the sound")).to_have_value("Fuse zap")
    editor.get_by_role("button", name="Keep take").click()
    dialog = editor.get_by_role("dialog", name="Keep take")
    dialog.get_by_label("Name", exact=True).fill("Switchboard arc")
    dialog.get_by_label("Takes").fill("8")
    expect(dialog.get_by_text("hits 1 to 8, one variation group")).to_be_visible()
    dialog.get_by_role("button", name="Keep take").click()
    expect(dialog.get_by_text("8 takes of")).to_be_visible()
    dialog.get_by_role("link", name="Show in library").click()

    # Finds them by typing, with a typo, and hears them with the arrow keys.
    find(editor, "swichboard")
    expect(editor.get_by_text("Nothing has “swichboard”")).to_be_visible()
    expect(editor.get_by_text("8", exact=True).first).to_be_visible()
    editor.get_by_label("Order").select_option("name")
    listed = rows(editor)
    expect(listed.first).to_have_attribute("aria-label", re.compile("Switchboard arc 01"))
    editor.get_by_role("listbox", name="Samples").focus()
    count = len(heard(editor))
    editor.keyboard.press("ArrowDown")
    wait_until_heard(editor, count + 1)

    # Tags all at once, undoes it, does it again, and sends them to review.
    editor.get_by_role("button", name="Mark all").click()
    expect(editor.get_by_text("8 samples marked")).to_be_visible()
    for _ in range(2):
        editor.get_by_role("button", name="Change…").click()
        editor.get_by_label("Add tags").fill("arc, switchboard")
        editor.get_by_role("button", name="Change", exact=True).click()
        expect(editor.get_by_text("8 changed")).to_be_visible()
        expect(listed.first).to_contain_text("switchboard")
        if _ == 0:
            editor.get_by_role("button", name="Undo").click()
            expect(listed.first).not_to_contain_text("switchboard")
    choose_from(editor, "Status", "Send to review")
    expect(listed.first).to_contain_text("in review")

    # A reviewer comments at 120 ms and approves.
    reviewer = enter("Tam Okerby")
    find(reviewer, "switchboard")
    row(reviewer, "Switchboard arc 01").click()
    reviewer.get_by_role("tab", name="Comments").click()
    reviewer.get_by_label("Comment", exact=True).fill("the second spark is right")
    reviewer.get_by_label("At time").fill("120 ms")
    reviewer.get_by_role("button", name="Comment", exact=True).click()
    expect(reviewer.get_by_text("at 120 ms")).to_be_visible()
    expect(rows(reviewer)).to_have_count(8)
    reviewer.get_by_role("button", name="Mark all").click()
    expect(reviewer.get_by_role("button", name="Change…")).to_have_count(0)
    choose_from(reviewer, "Status", "Approve")
    expect(row(reviewer, "Switchboard arc 01")).to_contain_text("approved")

    # The owner releases it.
    owner = enter("Wren Halloway")
    view(owner, "Releases")
    expect(owner.get_by_text("drum/").or_(owner.get_by_text("machine/")).first).to_be_visible()
    expect(owner.get_by_label("Number")).to_have_value("1.1.0")
    owner.get_by_label("Note").fill("Eight arcs")
    owner.get_by_role("button", name="Release", exact=True).click()
    expect(owner.get_by_role("heading", name="1.1.0", exact=True)).to_be_visible()
    expect(owner.get_by_text("Nothing that is approved has changed.")).to_be_visible()

    # A listener finds by likeness and downloads.
    listener = enter("Juniper Vale")
    find(listener, "switchboard arc 01")
    row(listener, "Switchboard arc 01").click()
    listener.get_by_role("button", name="More like this").click()
    expect(listener.get_by_text("the nearest first")).to_be_visible()
    listener.get_by_label("Find samples").fill("")
    expect(rows(listener).nth(9)).to_be_visible()
    rows(listener).first.locator("[data-mark]").click()
    rows(listener).nth(1).locator("[data-mark]").click()
    expect(listener.get_by_text("2 samples marked")).to_be_visible()
    listener.get_by_role("button", name="Download…").click()
    listener.get_by_label("Format").select_option("flac24")
    with listener.expect_download() as download:
        listener.get_by_role("button", name="Download", exact=True).click()
    with zipfile.ZipFile(download.value.path()) as archive:
        files = [name for name in archive.namelist() if name.endswith(".flac")]
        assert len(files) == 2
        assert soundfile.info(io.BytesIO(archive.read(files[0]))).samplerate == 48000
    expect(listener.get_by_role("button", name="Bring in files…")).to_have_count(0)

    # A game's build pulls it.
    library = listener.request.get("/api/libraries").json()["libraries"][0]["id"]
    token = listener.request.post("/api/session/tokens", data={"name": "Build"}).json()["secret"]
    build = tmp_path / "build"

    def pull() -> str:
        command = [sys.executable, str(PULL), people.url, str(library), str(build)]
        environment = {**os.environ, "NEST_CRATE_TOKEN": token}
        done = subprocess.run(command, env=environment, capture_output=True, text=True, check=True)
        return done.stdout

    assert pull().startswith("1.1.0: ")
    first = next(build.rglob("Switchboard arc 01.wav"))
    before = soundfile.read(first)[0]

    # The sound is changed, its samples are rendered again and released as 1.2.0.
    editor.goto(f"/bench/{zap['id']}")
    expect(editor.get_by_label("Name of the sound")).to_have_value("Fuse zap")
    editor.get_by_role("button", name=re.compile("^Output")).first.click()
    draft = editor.request.get(f"/api/sounds/{zap['id']}").json()
    main = {**draft["document"]["main"], "level_db": draft["document"]["main"]["level_db"] - 9}
    body = {"base_version": draft["version"], "document": {**draft["document"], "main": main}}
    kept = editor.request.post(f"/api/sounds/{zap['id']}/revisions", data=body)
    assert kept.ok, kept.text()
    editor.goto(f"/libraries/{library}/care")
    behind = editor.get_by_role("listitem").filter(has_text="older revision")
    behind.get_by_role("button", name="Mark them").click()
    expect(editor.get_by_text(re.compile(r"\d+ samples marked"))).to_be_visible()
    choose_from(editor, "Care", "Render again…")
    again = editor.get_by_role("dialog")
    again.get_by_role("button", name="Hear and compare").click()
    expect(again.get_by_role("button", name=re.compile("Replace [89]"))).to_be_enabled(
        timeout=60000
    )
    count = len(heard(editor))
    again.get_by_role("button", name=re.compile("Play the new render")).first.click()
    wait_until_heard(editor, count + 1)
    again.get_by_role("button", name=re.compile("Replace")).click()
    expect(again).to_have_count(0, timeout=60000)
    choose_from(editor, "Status", "Send to review")
    find(reviewer, "switchboard")
    reviewer.get_by_role("button", name="Unmark").click()
    expect(row(reviewer, "Switchboard arc 01")).to_be_visible()
    reviewer.reload()
    find(reviewer, "switchboard")
    expect(row(reviewer, "Switchboard arc 01")).to_contain_text("in review")
    # Not before the list is the one that was asked for.
    expect(rows(reviewer)).to_have_count(8)
    reviewer.get_by_role("button", name="Mark all").click()
    choose_from(reviewer, "Status", "Approve")
    expect(row(reviewer, "Switchboard arc 01")).to_contain_text("approved")

    owner.reload()
    view(owner, "Releases")
    changed = owner.get_by_role("listitem").filter(has_text="Switchboard arc 01.wav")
    expect(changed).to_contain_text("sounds otherwise")
    count = len(heard(owner))
    changed.get_by_role("button", name="Before").click()
    was = wait_until_heard(owner, count + 1)
    changed.get_by_role("button", name="After").click()
    now = wait_until_heard(owner, count + 2)
    assert 20 * np.log10(np.abs(now).max() / np.abs(was).max()) == pytest.approx(-9, abs=0.3)
    owner.get_by_role("button", name="Release", exact=True).click()
    expect(owner.get_by_role("heading", name="1.2.0", exact=True)).to_be_visible()
    assert pull().startswith("1.2.0: ")
    after = soundfile.read(first)[0]
    assert 20 * np.log10(np.abs(after).max() / np.abs(before).max()) == pytest.approx(-9, abs=0.3)


def test_two_people_change_one_sample_and_choose(enter: Callable[[str], Page]) -> None:
    pages = [enter("Isolde Marrow"), enter("Wren Halloway")]
    for page in pages:
        find(page, "seed-pod pop")
        row(page, "Seed-pod pop").click()
        expect(page.get_by_label("Licence")).to_be_visible()
    for page, licence in zip(pages, ("theirs first", "mine later"), strict=True):
        page.get_by_label("Licence").fill(licence)
        page.get_by_label("Licence").press("Enter")
    conflict = pages[1].get_by_role("alert", name="Changed by somebody else")
    expect(conflict).to_contain_text("theirs first")
    expect(conflict).to_contain_text("mine later")
    conflict.get_by_role("button", name="Keep mine").click()
    expect(conflict).to_have_count(0)
    expect(pages[1].get_by_label("Licence")).to_have_value("mine later")
    pages[1].get_by_role("tab", name="History").click()
    expect(pages[1].get_by_text("theirs first → mine later")).to_be_visible()


def test_what_is_typed_while_another_field_is_saved_stays(enter: Callable[[str], Page]) -> None:
    editor = enter("Isolde Marrow")
    find(editor, "brass gear tick")
    row(editor, "Brass gear tick").click()

    network = editor.context.new_cdp_session(editor)
    slow = {"offline": False, "latency": 400, "downloadThroughput": -1, "uploadThroughput": -1}
    network.send("Network.enable")
    network.send("Network.emulateNetworkConditions", slow)
    editor.get_by_label("Author").fill("The potting shed")
    editor.get_by_label("Licence").fill("house")
    editor.get_by_label("Description").press_sequentially("A latch that closes", delay=60)
    expect(editor.get_by_label("Description")).to_have_value("A latch that closes")
    editor.get_by_label("Description").blur()
    network.send("Network.emulateNetworkConditions", {**slow, "latency": 0})
    editor.wait_for_timeout(1500)
    editor.reload()
    find(editor, "brass gear tick")
    row(editor, "Brass gear tick").click()
    for label, text in (("Author", "The potting shed"), ("Licence", "house")):
        expect(editor.get_by_label(label)).to_have_value(text)
    expect(editor.get_by_label("Description")).to_have_value("A latch that closes")


def test_the_map_plays_what_is_pointed_at_and_what_the_arrows_reach(
    enter: Callable[[str], Page],
) -> None:
    page = enter("Juniper Vale")
    view(page, "Map")
    area = page.get_by_role("application")
    marks = area.locator("svg").first.locator("circle, path")
    expect(marks.nth(20)).to_be_visible()
    count = len(heard(page))
    box = marks.nth(5).bounding_box()
    assert box is not None
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    wait_until_heard(page, count + 1)
    page.mouse.down()
    page.mouse.up()
    expect(page.get_by_role("complementary", name="Sample")).to_be_visible()
    count = len(heard(page))
    area.focus()
    page.keyboard.press("ArrowRight")
    wait_until_heard(page, count + 1)


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
    narrow = page.get_by_role("region", name="Narrow down")
    narrow.get_by_role("checkbox", name=re.compile("^tonal")).check()
    expect(rows(page).first).to_be_visible()
    count = int(page.get_by_text(re.compile(r"^\d+$")).nth(0).inner_text())
    handle = narrow.get_by_role("slider", name="Length to")
    handle.focus()
    for _ in range(12):
        handle.press("ArrowLeft")
    expect(narrow.get_by_role("button", name="Length: any")).to_be_visible()
    page.get_by_role("button", name="Keep search").click()
    page.get_by_role("dialog").get_by_label("Name").fill("Short tones")
    page.get_by_role("dialog").get_by_role("button", name="Keep search").click()
    kept = page.get_by_role("button", name="Short tones", exact=True)
    expect(kept).to_be_visible()
    listed = page.request.get("/api/searches").json()["searches"]
    query = next(one["query"] for one in listed if one["name"] == "Short tones")
    assert query["categories"] == ["tonal"]
    assert query["ranges"]["length_s"][1] is not None
    assert count >= 1


def test_a_link_opens_without_an_account(enter: Callable[[str], Page], browser: Browser) -> None:
    owner = enter("Wren Halloway")
    view(owner, "Releases")
    first = owner.get_by_role("article").last
    first.get_by_role("button", name="Share").click()
    owner.get_by_label("A word to whoever opens it").fill("for the trailer")
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
        stranger.get_by_role("link", name="The sound itself").click()
    with zipfile.ZipFile(download.value.path()) as archive:
        assert json.loads(archive.read("sound.json"))["name"] == "Lamp zap"


def test_start_end_and_fades_of_one_sample_leave_its_file_alone(
    enter: Callable[[str], Page],
) -> None:
    editor = enter("Isolde Marrow")
    find(editor, "lamp zap")
    row(editor, "Lamp zap").click()
    editor.get_by_role("tab", name="Figures").click()
    editor.get_by_text("What is heard of the file").click()

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
    expect(editor.get_by_text("a part of the file, or with a gain")).to_be_visible()
    length = editor.locator("dt", has_text="Length").locator("xpath=following-sibling::dd")
    expect(length.first).to_have_text("40 ms")
    editor.get_by_role("button", name="The whole file again").click()
    expect(editor.get_by_text("the file as it is")).to_be_visible()
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
    expect(guest.get_by_role("alert")).to_contain_text("do not belong together")
    guest.get_by_label("Password").fill("copper-kettle")
    guest.get_by_role("button", name="Sign in", exact=True).click()
    expect(guest.get_by_role("listbox", name="Samples")).to_be_visible()
