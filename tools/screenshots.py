"""Takes the pictures of the documentation from a running app with the demo.

    ./start --port 8123 &
    .venv/bin/python -m tools.screenshots http://127.0.0.1:8123 [NAME ...]

Each picture is one function; what it shows is what a user reaches with the same steps. They work on
sounds of their own where they change something, and leave the demo as it was.
"""

from __future__ import annotations

import re
import sys
from collections.abc import Callable
from pathlib import Path

from playwright.sync_api import Page, expect, sync_playwright

DOCS = Path(__file__).parents[1] / "docs"
_CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--autoplay-policy=no-user-gesture-required",
]
_RESULT = "Waveform over spectrogram of the rendered hit"
_REFERENCE = DOCS.parent / "demo" / "recordings" / "felt-thumps.wav"
PICTURES: dict[str, Callable[[Page], None]] = {}


def picture(take: Callable[[Page], None]) -> Callable[[Page], None]:
    """A function's name is the picture's: ``bench_path`` is ``bench-path.png``."""
    PICTURES[take.__name__.replace("_", "-").replace("tutorial-", "../tutorial/")] = take
    return take


def _settle(page: Page) -> None:
    expect(page.locator("[aria-busy=true] canvas[data-digest]")).to_have_count(0, timeout=30_000)
    page.wait_for_timeout(600)


def _open(page: Page, name: str) -> None:
    sounds = page.request.get("/api/sounds").json()["sounds"]
    page.goto(f"/bench/{next(one['id'] for one in sounds if one['name'] == name)}")
    expect(page.get_by_role("img", name=_RESULT)).to_be_visible()
    _settle(page)


def _libraries(page: Page, view: str | None = None) -> None:
    page.goto("/libraries")
    page.get_by_role("listbox", name="Samples").wait_for()
    if view:
        page.get_by_role("link", name=view, exact=True).click()
    page.wait_for_timeout(1500)


@picture
def bench(page: Page) -> None:
    _open(page, "Kiln door kick")


@picture
def compare(page: Page) -> None:
    sounds = page.request.get("/api/sounds").json()["sounds"]
    ids = {one["name"]: one["id"] for one in sounds}
    page.goto(f"/compare?side=sound.{ids['Kiln door kick']}&side=sound.{ids['Coal hatch kick']}")
    page.get_by_role("list", name="Differences of B from A").wait_for()
    page.mouse.move(420, 300)
    page.wait_for_timeout(1500)


def _tryout(page: Page, name: str) -> None:
    page.goto("/tryout")
    page.get_by_role("link", name=name).click()
    expect(page.get_by_text(re.compile(r"-\d+\.\d LUFS"))).to_be_visible(timeout=60_000)
    page.wait_for_timeout(4000)


@picture
def tryout(page: Page) -> None:
    _tryout(page, "Clockwork groove")
    page.get_by_role("tab", name="Overlap").click()
    expect(page.get_by_text("Both fill").first).to_be_visible(timeout=30_000)


@picture
def batch(page: Page) -> None:
    page.goto("/batch")
    page.get_by_role("link", name="Wing flutters").click()
    expect(page.get_by_text("Round 1 · 60")).to_be_visible()
    page.get_by_role("combobox", name="Order").select_option("likeness")
    page.get_by_role("gridcell").nth(7).click()
    expect(page.get_by_text(re.compile("^Median distance"))).to_be_visible(timeout=60_000)
    page.wait_for_timeout(1500)


@picture
def tutorial_tryout_game(page: Page) -> None:
    _tryout(page, "Moth house")
    page.get_by_role("button", name="Game test").click()
    expect(page.get_by_text("neighbours are nearer").first).to_be_visible(timeout=30_000)


@picture
def tutorial_tryout_context(page: Page) -> None:
    _open(page, "Kiln door kick")
    page.get_by_role("button", name="In context").click()
    strip = page.get_by_role("region", name="In context")
    strip.get_by_role("button", name="Overlap").click()
    expect(page.get_by_text("Both fill").first).to_be_visible(timeout=60_000)
    expect(page.get_by_role("img", name="Level of the other parts")).to_be_visible()
    strip.get_by_role("button", name="Stop the loop").click()
    page.wait_for_timeout(500)


@picture
def bench_dark(page: Page) -> None:
    _open(page, "Lamp zap")
    page.get_by_role("button", name="Dark").click()
    page.wait_for_timeout(800)


@picture
def bench_curve(page: Page) -> None:
    _open(page, "Kiln door kick")
    page.keyboard.press("1")
    page.get_by_role("tab", name="Curve").click()
    page.wait_for_timeout(400)


@picture
def bench_keys(page: Page) -> None:
    _open(page, "Glass-pane bell")
    page.get_by_label("Pin the current sound as state 1").click()
    page.get_by_role("button", name="Keys", exact=True).click()
    page.wait_for_timeout(600)


@picture
def bench_movers(page: Page) -> None:
    _open(page, "Night moth pad")
    page.locator('[title^="Moves "]').first.click()
    page.wait_for_timeout(500)


@picture
def bench_path(page: Page) -> None:
    _open(page, "Furnace growl bass")
    _take_in_hand(page, "Body")


def _take_in_hand(page: Page, name: str) -> None:
    in_map = page.get_by_role("group", name="Map of the path")
    in_map.get_by_title(re.compile(f"^{name}(,|$)")).click()
    page.wait_for_timeout(600)


def _processor(page: Page, name: str) -> None:
    page.get_by_label(f"Select {name}", exact=True).first.click()
    page.wait_for_timeout(1200)


@picture
def bench_equaliser(page: Page) -> None:
    _open(page, "Furnace growl bass")
    page.keyboard.press("/")
    page.keyboard.type("equaliser")
    page.keyboard.press("Enter")
    for band, gain in (("3", "4 dB"), ("5", "-6 dB")):
        page.get_by_role("button", name=f"Take band {band}").click()
        page.get_by_label("Gain", exact=True).fill(gain)
        page.keyboard.press("Enter")
    _settle(page)
    page.wait_for_timeout(900)


@picture
def bench_compressor(page: Page) -> None:
    _open(page, "Kiln door kick")
    page.keyboard.press("/")
    page.keyboard.type("compressor")
    page.keyboard.press("Enter")
    page.get_by_label("Threshold", exact=True).fill("-30 dB")
    page.keyboard.press("Enter")
    _settle(page)
    page.wait_for_timeout(900)


@picture
def bench_meters(page: Page) -> None:
    _open(page, "Boiler room drone")
    page.keyboard.press("Control+k")
    page.keyboard.type("output and meters")
    page.keyboard.press("Enter")
    page.wait_for_timeout(600)


@picture
def bench_sources(page: Page) -> None:
    _open(page, "Brass gear tick")
    page.keyboard.press("1")
    page.get_by_role("tab", name="Source").click()
    page.get_by_role("button", name="Browse").click()
    page.wait_for_timeout(600)


@picture
def bench_struck(page: Page) -> None:
    _open(page, "Potting mallet, bar")
    page.keyboard.press("1")
    page.get_by_role("tab", name="Source").click()
    page.wait_for_timeout(900)


@picture
def bench_reference(page: Page) -> None:
    _open(page, "Wilt thud")
    with page.expect_file_chooser() as chooser:
        page.keyboard.press("Control+k")
        page.keyboard.type("import a file")
        page.keyboard.press("Enter")
    chooser.value.set_files(_REFERENCE)
    page.get_by_role("dialog").get_by_role("button", name="As the reference").click()
    page.get_by_role("img", name="Waveform of the reference").wait_for()
    _settle(page)
    page.wait_for_timeout(1500)


@picture
def libraries(page: Page) -> None:
    _libraries(page)
    page.get_by_role("listbox", name="Samples").get_by_role("option").nth(2).click()
    page.wait_for_timeout(1000)


@picture
def library_map(page: Page) -> None:
    _libraries(page, "Map")
    page.wait_for_timeout(1500)


@picture
def library_releases(page: Page) -> None:
    _libraries(page, "Releases")


@picture
def library_work(page: Page) -> None:
    _libraries(page)
    rows = page.get_by_role("listbox", name="Samples").get_by_role("option")
    for n in range(4):
        rows.nth(n).locator("[data-mark]").click()
    page.get_by_role("button", name="Process").click()
    page.get_by_role("menuitem", name="Render again…").click()
    page.get_by_label("At", exact=True).select_option("96000")
    page.get_by_role("button", name="Render and compare").click()
    page.get_by_text("Press Now and New").wait_for(timeout=60_000)
    progress = page.get_by_role("dialog").get_by_role("progressbar")
    expect(progress).to_have_count(0, timeout=60_000)
    page.wait_for_timeout(1500)


@picture
def tutorial_new_sound(page: Page) -> None:
    _open(page, "Kiln door kick")
    page.get_by_role("button", name="New sound").click()
    expect(page.get_by_label("Name of the sound")).to_have_value("New sound")
    page.get_by_role("img", name=_RESULT).wait_for()
    _settle(page)


@picture
def tutorial_pitch_curve(page: Page) -> None:
    _zap(page, whole=False)
    page.keyboard.press("1")
    page.get_by_role("tab", name="Curve").click()
    page.wait_for_timeout(600)


@picture
def tutorial_path(page: Page) -> None:
    _zap(page, whole=True)
    _take_in_hand(page, "Main")


@picture
def tutorial_keep_take(page: Page) -> None:
    _zap(page, whole=True)
    page.get_by_role("button", name="Keep take").click()
    page.get_by_label("Takes", exact=True).wait_for()
    page.get_by_label("Takes", exact=True).fill("4")
    page.wait_for_timeout(400)


@picture
def tutorial_library(page: Page) -> None:
    _libraries(page)
    page.get_by_label("Find samples").fill("zap")
    page.wait_for_timeout(1200)


def _zap(page: Page, *, whole: bool) -> None:
    """The sound that the tutorial builds, at one of its steps."""
    falls = {"points": [{"time_s": 0, "value": 36}, {"time_s": 0.16, "value": 0, "bend": 3}]}
    level = {"points": [{"time_s": 0, "value": 0}, {"time_s": 0.002, "value": 1}]}
    level["points"].append({"time_s": 0.182, "value": 0, "bend": 3})
    tone = {"id": "tone-1", "name": "Tone", "level_db": -6, "level": level, "pitch": falls}
    noise = {
        "id": "noise-1",
        "name": "Noise",
        "pigment": "teal",
        "level_db": -18,
        "source": {"kind": "noise"},
        "level": {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.03, "value": 0, "bend": 3}]},
    }
    chain = [
        {"id": "drive-1", "kind": "drive", "drive_db": 12},
        {"id": "limiter-1", "kind": "ceiling"},
    ]
    document = {
        "name": "Fuse box zap",
        "layers": [tone, noise] if whole else [tone],
        "main": {"chain": chain if whole else []},
        "hit": {"note": 48, "velocity": 100, "hold_s": 0.2},
    }
    library = page.request.get("/api/libraries").json()["libraries"][0]["id"]
    body = {"library_id": library, "document": document}
    made = page.request.post("/api/sounds", data=body).json()
    page.goto(f"/bench/{made['id']}")
    page.get_by_role("img", name=_RESULT).wait_for()
    _settle(page)


def _leave_as_it_was(page: Page, before: dict[int, object]) -> None:
    """Bin the sounds that a picture made, discard its jobs, and undo what it changed."""
    page.goto("about:blank")
    for job in page.request.get("/api/jobs").json()["jobs"]:
        page.request.delete(f"/api/jobs/{job['id']}")
    for sound in page.request.get("/api/sounds").json()["sounds"]:
        if sound["id"] not in before:
            page.request.put(f"/api/sounds/{sound['id']}/bin", data={"binned": True})
            continue
        now = page.request.get(f"/api/sounds/{sound['id']}").json()
        if now["document"] != before[sound["id"]]:
            page.request.put(
                f"/api/sounds/{sound['id']}/draft",
                data={"base_version": now["version"], "document": before[sound["id"]]},
            )


def main(url: str, names: list[str]) -> None:
    # A machine that does other work as well takes its time.
    expect.set_options(timeout=30_000)
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=_CHROMIUM)
        for name, take in PICTURES.items():
            if names and Path(name).name not in names:
                continue
            page = browser.new_context(
                base_url=url, viewport={"width": 1280, "height": 800}, color_scheme="light"
            ).new_page()
            page.goto("/")
            page.get_by_role("button", name="Wren Halloway").first.click()
            page.get_by_role("navigation", name="Screens").wait_for()
            sounds = page.request.get("/api/sounds").json()["sounds"]
            before = {
                one["id"]: page.request.get(f"/api/sounds/{one['id']}").json()["document"]
                for one in sounds
            }
            take(page)
            file = (DOCS / "screenshots" / f"{name}.png").resolve()
            file.parent.mkdir(exist_ok=True)
            page.screenshot(path=file)
            print(file.name)
            if name != "sign-in":
                _leave_as_it_was(page, before)
            page.context.close()


if __name__ == "__main__":
    main(sys.argv[1], sys.argv[2:])
