"""The other half of the work, as new users do it: keep, find, tag, review, release, pull, hear."""

from __future__ import annotations

import io
import os
import re
import subprocess
import sys
import zipfile
from collections.abc import Callable
from pathlib import Path

import numpy as np
import pytest
import soundfile
from playwright.sync_api import Page, expect

from tests.e2e.bench import heard, wait_until_heard
from tests.e2e.shelves import choose_from, find, open_sample, row, rows, view
from tests.program import PROJECT, Running

PULL = PROJECT / "tools" / "pull_release.py"


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
    expect(editor.get_by_text("No match for “swichboard”")).to_be_visible()
    expect(editor.get_by_text("8", exact=True).first).to_be_visible()
    editor.get_by_label("Order").select_option("name")
    listed = rows(editor)
    expect(listed.first).to_have_attribute("aria-label", re.compile("Switchboard arc 01"))
    editor.get_by_role("listbox", name="Samples").focus()
    count = len(heard(editor))
    editor.keyboard.press("ArrowDown")
    wait_until_heard(editor, count + 1)

    # Tags all at once, undoes it, does it again, and sends them to review.
    editor.get_by_role("button", name="Select all").click()
    expect(editor.get_by_text("8 samples selected")).to_be_visible()
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
    open_sample(reviewer, "Switchboard arc 01", words="switchboard")
    reviewer.get_by_role("tab", name="Comments").click()
    reviewer.get_by_label("Comment", exact=True).fill("the second spark is right")
    reviewer.get_by_label("At time").fill("120 ms")
    reviewer.get_by_role("button", name="Comment", exact=True).click()
    expect(reviewer.get_by_text("at 120 ms")).to_be_visible()
    expect(rows(reviewer)).to_have_count(8)
    reviewer.get_by_role("button", name="Select all").click()
    expect(reviewer.get_by_role("button", name="Change…")).to_have_count(0)
    choose_from(reviewer, "Status", "Approve")
    expect(row(reviewer, "Switchboard arc 01")).to_contain_text("approved")

    # The owner releases it.
    owner = enter("Wren Halloway")
    view(owner, "Releases")
    expect(owner.get_by_text("drum/").or_(owner.get_by_text("machine/")).first).to_be_visible()
    number = owner.get_by_label("Number").input_value()
    owner.get_by_label("Note").fill("Eight arcs")
    owner.get_by_role("button", name="Release", exact=True).click()
    expect(owner.get_by_role("heading", name=number, exact=True)).to_be_visible()
    expect(owner.get_by_text("No approved samples have changed.")).to_be_visible()

    # A listener finds by likeness and downloads.
    listener = enter("Juniper Vale")
    open_sample(listener, "Switchboard arc 01")
    listener.get_by_role("button", name="More like this").click()
    expect(listener.get_by_text("the nearest to Switchboard arc 01 first")).to_be_visible()
    # The words that found it do not keep out what has another name.
    expect(listener.get_by_label("Find samples")).to_have_value("")
    expect(rows(listener).nth(9)).to_be_visible()
    expect(rows(listener).first).to_have_attribute("aria-label", re.compile("Switchboard arc 01"))
    rows(listener).first.locator("[data-mark]").click()
    rows(listener).nth(1).locator("[data-mark]").click()
    expect(listener.get_by_text("2 samples selected")).to_be_visible()
    listener.get_by_role("button", name="Download…").click()
    listener.get_by_label("Format").select_option("flac24")
    with listener.expect_download() as download:
        listener.get_by_role("button", name="Download", exact=True).click()
    with zipfile.ZipFile(download.value.path()) as archive:
        files = [name for name in archive.namelist() if name.endswith(".flac")]
        assert len(files) == 2
        assert soundfile.info(io.BytesIO(archive.read(files[0]))).samplerate == 48000
    expect(listener.get_by_role("button", name="Import")).to_have_count(0)

    # A game's build pulls it.
    library = listener.request.get("/api/libraries").json()["libraries"][0]["id"]
    token = listener.request.post("/api/session/tokens", data={"name": "Build"}).json()["secret"]
    build = tmp_path / "build"

    def pull() -> str:
        command = [sys.executable, str(PULL), people.url, str(library), str(build)]
        environment = {**os.environ, "NEST_CRATE_TOKEN": token}
        done = subprocess.run(command, env=environment, capture_output=True, text=True, check=True)
        return done.stdout

    assert pull().startswith(f"{number}: ")
    first = next(build.rglob("Switchboard arc 01.wav"))
    before = soundfile.read(first)[0]

    # The sound is changed, its samples are rendered again and released under the next number.
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
    behind.get_by_role("button", name="Select them").click()
    expect(editor.get_by_text(re.compile(r"\d+ samples selected"))).to_be_visible()
    choose_from(editor, "Process", "Render again…")
    again = editor.get_by_role("dialog")
    again.get_by_role("button", name="Render and compare").click()
    expect(again.get_by_role("button", name=re.compile("Replace [89]"))).to_be_enabled()
    count = len(heard(editor))
    again.get_by_role("button", name=re.compile("as it would be$")).first.click()
    wait_until_heard(editor, count + 1)
    again.get_by_role("button", name=re.compile("Replace")).click()
    expect(again).to_have_count(0)
    choose_from(editor, "Status", "Send to review")
    find(reviewer, "switchboard")
    reviewer.get_by_role("button", name="Clear selection").click()
    expect(row(reviewer, "Switchboard arc 01")).to_be_visible()
    reviewer.reload()
    find(reviewer, "switchboard")
    expect(row(reviewer, "Switchboard arc 01")).to_contain_text("in review")
    # Not before the list is the one that was asked for.
    expect(rows(reviewer)).to_have_count(8)
    reviewer.get_by_role("button", name="Select all").click()
    choose_from(reviewer, "Status", "Approve")
    expect(row(reviewer, "Switchboard arc 01")).to_contain_text("approved")

    owner.reload()
    view(owner, "Releases")
    changed = owner.get_by_role("listitem").filter(has_text="Switchboard arc 01.wav")
    expect(changed).to_contain_text("audio changed")
    count = len(heard(owner))
    changed.get_by_role("button", name="Before").click()
    was = wait_until_heard(owner, count + 1)
    changed.get_by_role("button", name="After").click()
    now = wait_until_heard(owner, count + 2)
    assert 20 * np.log10(np.abs(now).max() / np.abs(was).max()) == pytest.approx(-9, abs=0.3)
    later = owner.get_by_label("Number").input_value()
    assert later > number
    owner.get_by_role("button", name="Release", exact=True).click()
    expect(owner.get_by_role("heading", name=later, exact=True)).to_be_visible()
    assert pull().startswith(f"{later}: ")
    after = soundfile.read(first)[0]
    assert 20 * np.log10(np.abs(after).max() / np.abs(before).max()) == pytest.approx(-9, abs=0.3)
