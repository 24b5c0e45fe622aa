"""Batch as a designer uses it: variations of a kick made, judged by keys, bred, thinned, kept as a
group, exported as an instrument and pulled through a release."""

import io
import json
import re
import subprocess
import sys
import zipfile

import pytest
from playwright.sync_api import expect

from tests.e2e.test_accessibility import violations
from tests.e2e.windows import eventually
from tests.program import PROJECT


@pytest.fixture
def page(window):
    window.set_viewport_size({"width": 1280, "height": 800})
    problems = []
    listen = lambda error: problems.append(str(error))  # noqa: E731
    window.on("pageerror", listen)
    yield window
    window.remove_listener("pageerror", listen)
    assert problems == []


def sound_named(page, name):
    sounds = page.request.get("/api/sounds").json()["sounds"]
    return next(one["id"] for one in sounds if one["name"] == name)


def made_batch(page, name, plan=None):
    """A batch of a demo sound, opened."""
    sound = sound_named(page, name)
    body = {"spreads": [], "draws": 64}
    batch = page.request.post(f"/api/sounds/{sound}/batches", data=body).json()
    if plan:
        document = batch["document"]
        document["sounds"][0].update(plan)
        saved = {"base_version": batch["version"], "document": document}
        page.request.put(f"/api/batches/{batch['id']}/draft", data=saved)
    page.goto(f"/batch/{batch['id']}")
    expect(page.get_by_role("heading", name=name, exact=True)).to_be_visible()
    return batch["id"]


def all_made(page, count):
    bar = page.get_by_role("progressbar", name="Members made")
    expect(bar).to_have_attribute("aria-valuenow", f"{count}")
    expect(page.get_by_role("button", name="Stop", exact=True)).to_have_count(0)


def tile(page, number):
    return page.get_by_role("gridcell", name=re.compile(f"^Member {number}(,|$)"))


SPREADS = [
    {"target": "tone-down.cutoff_hz", "low": 2700.0, "high": 9000.0},
    {"target": "body.source.skew", "low": -0.2, "high": 0.2},
    {"target": "knock.source.colour_db", "low": -2.4, "high": 2.4},
]


def test_from_a_kick_to_a_released_group(page, tmp_path):
    batch = made_batch(page, "Kiln door kick")
    # Measured, not guessed: which numbers change its timbre.
    page.get_by_role("button", name="Suggest spreads").click()
    page.get_by_role("menuitem", name="Timbre, not level or pitch").click()
    spreads = page.get_by_role("textbox", name=re.compile("^Spread of"))
    expect(spreads.first).to_be_visible()
    assert 1 <= spreads.count() <= 6
    expect(page.get_by_text(re.compile(r"^64 members"))).to_be_visible()
    page.get_by_role("button", name="Run", exact=True).click()
    # One is heard before its turn has come.
    page.evaluate("window.heard.length = 0")
    tile(page, 40).click()
    eventually(page, lambda: page.evaluate("window.heard.length"), 1)
    all_made(page, 64)
    assert violations(page) == []

    # By keys alone: three kept, two rejected, one undone.
    page.keyboard.press("Home")
    for key in ("k", "k", "r", "k", "r"):
        page.keyboard.press(key)
    expect(tile(page, 1)).to_have_attribute("aria-label", re.compile("kept"))
    expect(tile(page, 5)).to_have_attribute("aria-label", re.compile("rejected"))
    page.keyboard.press("Control+z")
    expect(tile(page, 5)).not_to_have_attribute("aria-label", re.compile("rejected"))
    first = page.request.get(f"/api/batches/{batch}/rounds").json()["rounds"][0]["id"]

    def judged():
        rows = page.request.get(f"/api/rounds/{first}/members").json()["rows"]
        return {one["number"]: one["verdict"] for one in rows if one["verdict"]}

    eventually(page, judged, {1: "kept", 2: "kept", 3: "rejected", 4: "kept"})

    # Bred from two, thinned to twelve, kept as a group.
    page.keyboard.press("Home")
    page.keyboard.press("m")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("m")
    draws = page.get_by_role("textbox", name="Draws")
    draws.fill("16")
    draws.press("Enter")
    page.get_by_role("button", name="More like these").click()
    expect(page.get_by_role("button", name=re.compile("^Round 2"))).to_be_visible()
    all_made(page, 16)
    page.get_by_role("button", name="Thin out").click()
    page.get_by_role("button", name="Show", exact=True).click()
    expect(page.get_by_text("Chosen:")).to_be_visible()
    page.get_by_role("button", name="Keep these, reject the others").click()
    page.get_by_role("button", name="Keep 12 as a group").click()
    page.get_by_role("button", name="Keep", exact=True).last.click()
    expect(page.get_by_role("heading", name="12 samples kept")).to_be_visible()
    page.get_by_role("button", name="Show in the library").click()
    expect(page.get_by_text("12 samples selected")).to_be_visible()

    # As an instrument, and through a release.
    library = page.request.get("/api/libraries").json()["libraries"][0]["id"]
    round_id = page.request.get(f"/api/batches/{batch}/rounds").json()["rounds"][1]["id"]
    rows = page.request.get(f"/api/rounds/{round_id}/members").json()["rows"]
    kept = sorted(one["sample_id"] for one in rows if one["sample_id"])
    assert len(kept) == 12
    wanted = {"sample_ids": kept, "sfz": True, "template": "{name}"}
    planned = page.request.post("/api/exports", data=wanted).json()
    with zipfile.ZipFile(io.BytesIO(page.request.get(planned["path"]).body())) as archive:
        (sfz,) = [one for one in archive.namelist() if one.endswith(".sfz")]
        assert archive.read(sfz).decode().count("<region>") == 12
    for status in ("in_review", "approved"):
        moved = page.request.post("/api/samples/move", data={"ids": kept, "status": status})
        assert moved.ok, moved.text()
    numbers = page.request.get(f"/api/libraries/{library}/releases").json()["releases"]
    number = f"{1 + len(numbers)}.9.0"
    released = page.request.post(
        f"/api/libraries/{library}/releases", data={"number": number, "sample_ids": kept}
    )
    assert released.ok, released.text()

    # The same plan without a server gives the same bytes.
    plan = tmp_path / "plan.json"
    plan.write_bytes(page.request.get(f"/api/rounds/{round_id}/plan").body())
    command = [sys.executable, "-m", "nest_crate.cli", "batch", f"{plan}", "-o"]
    subprocess.run([*command, f"{tmp_path / 'out'}"], cwd=PROJECT, check=True, timeout=600)
    manifest = json.loads((tmp_path / "out" / "manifest.json").read_text())
    for number in (1, 8, 16):
        row = manifest["members"][number - 1]
        served = page.request.get(f"/api/rounds/{round_id}/members/{number}/audio").body()
        assert (tmp_path / "out" / row["file"]).read_bytes() == served


def test_axes_are_typed_counted_and_refused_where_they_are_too_many(page):
    made_batch(page, "Kiln door kick", {"spreads": SPREADS, "draws": 8})
    page.get_by_role("button", name="+ axis").click()
    page.get_by_role("menuitem", name="Note").click()
    field = page.get_by_role("textbox", name="Note axis")
    field.fill("A0–C8")
    field.press("Enter")
    expect(page.get_by_text(re.compile("^704 members"))).to_be_visible()
    field.fill("C8–A0")
    field.press("Enter")
    expect(page.get_by_text("The end lies below the start")).to_be_visible()
    field.press("Escape")
    page.get_by_role("button", name="+ axis").click()
    page.get_by_role("menuitem", name="Hits").click()
    hits = page.get_by_role("textbox", name="Hits axis")
    hits.fill("1–20000")
    hits.press("Enter")
    expect(page.get_by_text(re.compile("at most 20,000; shorten the hit axis"))).to_be_visible()
    expect(page.get_by_role("button", name="Run", exact=True)).to_be_disabled()
    page.get_by_role("button", name="Undo").click()
    expect(page.get_by_text(re.compile("^704 members"))).to_be_visible()
    # A spread past its number's range is clipped, and says so.
    spread = page.get_by_role("textbox", name=re.compile("Spread of .*Cutoff"))
    spread.fill("1 Hz – 90 kHz")
    spread.press("Enter")
    expect(page.get_by_text(re.compile("^clipped to"))).to_be_visible()


def test_a_member_opens_on_the_bench_and_another_is_drawn(page):
    batch = made_batch(page, "Kiln door kick", {"spreads": SPREADS, "draws": 6})
    page.get_by_role("button", name="Run", exact=True).click()
    all_made(page, 6)
    # The round that is shown stays as it is when it is pressed: nothing is read anew.
    sent = []

    def note(request):
        sent.append(request.url)

    page.on("request", note)
    page.get_by_role("button", name=re.compile("^Round 1")).click()
    page.wait_for_timeout(300)
    page.remove_listener("request", note)
    assert not [one for one in sent if "/members?" in one]
    expect(tile(page, 6)).not_to_have_attribute("aria-label", re.compile("not made"))
    tile(page, 3).click()
    leaf = page.get_by_role("complementary", name="Member in hand")
    expect(leaf.get_by_text("Cutoff")).to_be_visible()
    page.keyboard.press("d")
    round_id = page.request.get(f"/api/batches/{batch}/rounds").json()["rounds"][0]["id"]

    def times():
        rows = page.request.get(f"/api/rounds/{round_id}/members").json()["rows"]
        return {one["number"]: one["times"] for one in rows}

    # What was there before still shows until the answer is here.
    eventually(page, times, {1: 0, 2: 0, 3: 1, 4: 0, 5: 0, 6: 0})
    all_made(page, 6)
    # What is kept is heard as a game would trigger it.
    page.keyboard.press("Home")
    for _ in range(3):
        page.keyboard.press("k")
    page.get_by_role("button", name="Keep 3 as a group").click()
    page.get_by_role("button", name="Keep", exact=True).last.click()
    page.get_by_role("button", name="Game test").click()
    expect(page.get_by_text("neighbours are nearer").first).to_be_visible()
    page.goto(f"/batch/{batch}")
    tile(page, 3).click()
    expect(tile(page, 3)).to_have_attribute("aria-selected", "true")
    leaf.get_by_role("button", name="Open on Bench").click()
    expect(page.get_by_role("heading", name="Bench: Kiln door kick member 3")).to_be_attached()
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("menuitem", name="Make variations (Batch)").click()
    name = re.compile("Kiln door kick member 3 family")
    expect(page.get_by_role("heading", name=name)).to_be_attached()


def test_the_demo_has_three_families(page):
    page.goto("/batch")
    for name in ("Wing flutters", "Brass tick in five intensities", "Bell over three octaves"):
        expect(page.get_by_role("link", name=name)).to_be_visible()
    page.get_by_role("link", name="Wing flutters").click()
    expect(page.get_by_text("Round 1 · 60")).to_be_visible()
    page.get_by_role("combobox", name="Show").select_option("kept")
    expect(page.get_by_role("gridcell")).to_have_count(12)
