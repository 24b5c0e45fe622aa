"""Steps on the Bench, named as a user would."""

from __future__ import annotations

import base64
import json
import re
import urllib.request
from collections.abc import Callable
from typing import Any

import numpy as np
from numpy.typing import NDArray
from playwright.sync_api import Locator, Page, expect

RESULT = "Waveform over spectrogram of the rendered hit"


def open_sound(page: Page, name: str) -> int:
    sounds = page.request.get("/api/sounds").json()["sounds"]
    sound_id = next(sound["id"] for sound in sounds if sound["name"] == name)
    page.goto(f"/bench/{sound_id}")
    expect(page.get_by_label("Name of the sound")).to_have_value(name)
    expect(page.get_by_role("img", name=RESULT)).to_be_visible()
    return int(sound_id)


def take_in_hand(page: Page, name: str) -> None:
    """Choose a layer, a bus or "Main" in the map, so that its chain is seen in full."""
    in_map = page.get_by_role("group", name="Map of the path")
    in_map.get_by_title(re.compile(f"^{re.escape(name)}(,|$)")).click()


def add_to_main(page: Page) -> None:
    """Open the list of processors for the end of the main chain."""
    take_in_hand(page, "Main")
    page.get_by_role("button", name="Add processor", exact=True).click()


def link(page: Page, mover: str, *targets: str) -> None:
    """Let a mover move numbers, each found by typing what it is called: "Reed: Pan"."""
    search = page.get_by_label(f"Link {mover} to", exact=True)
    search.click()
    for target in targets:
        search.fill(target.replace(":", ""))
        page.get_by_role("option", name=target, exact=True).click()
    search.press("Escape")


def worst_check(page: Page, words: str) -> Locator:
    """The line of checks, where the worst one has these words in it."""
    return page.get_by_role("button", name=re.compile(f"^Checks: .*{re.escape(words)}"))


def open_checks(page: Page) -> Locator:
    """The list of checks, opened over the inspector."""
    line = page.get_by_role("button", name=re.compile("^Checks: "))
    if line.get_attribute("aria-expanded") != "true":
        line.click()
    return page.get_by_role("region", name="Checks")


def digest(page: Page) -> str:
    shown = page.get_by_role("img", name=RESULT).get_attribute("data-digest")
    assert shown is not None
    return shown


def wait_for_other(page: Page, before: str) -> str:
    """Wait until another result than ``before`` is shown."""
    page.wait_for_function(
        "before => document.querySelector('canvas[data-digest]').dataset.digest !== before",
        arg=before,
    )
    return digest(page)


def type_into(page: Page, label: str, text: str) -> None:
    field = page.get_by_label(label, exact=True)
    field.click()
    field.fill(text)
    field.press("Enter")


def settled(page: Page) -> None:
    """All edits are saved."""
    expect(page.get_by_text("all changes saved")).to_be_visible()


def draft(page: Page, sound_id: int) -> dict[str, Any]:
    return dict(page.request.get(f"/api/sounds/{sound_id}").json()["document"])


def heard(page: Page) -> list[NDArray[np.float64]]:
    """What was played so far, as samples of the first channel."""
    packed = page.evaluate("window.heard.map(({ samples }) => window.packed(samples))")
    return [_unpacked(one) for one in packed]


def heard_count(page: Page) -> int:
    """How many sounds were played so far."""
    return int(page.evaluate("window.heard.length"))


def _unpacked(packed: str) -> NDArray[np.float64]:
    return np.frombuffer(base64.b64decode(packed), dtype=np.float32).astype(np.float64)


def wait_until_heard(page: Page, count: int) -> NDArray[np.float64]:
    """Wait until so many sounds were played and give the last one."""
    page.wait_for_function("count => window.heard.length >= count", arg=count)
    return _unpacked(page.evaluate("window.packed(window.heard.at(-1).samples)"))


def wait_for_count(page: Page, count: int) -> None:
    """As ``wait_until_heard`` without fetching the samples, which takes its time."""
    page.wait_for_function("count => window.heard.length >= count", arg=count)


def all_rendered(page: Page) -> None:
    """Wait until no render is under way or waited for: what is shown is what the sound is now."""
    expect(page.locator("[aria-busy=true] canvas[data-digest]")).to_have_count(0)


def heard_after(page: Page, act: Callable[[], object]) -> NDArray[np.float64]:
    """What is heard once all that ``act`` changes was rendered."""
    # What an earlier change still lets be heard is not what is asked for.
    all_rendered(page)
    before = digest(page)
    count = heard_count(page)
    act()
    wait_for_other(page, before)
    all_rendered(page)
    return wait_until_heard(page, count + 1)


def heard_last(page: Page) -> NDArray[np.float64]:
    """What is heard of all edits so far, however many renders they took."""
    all_rendered(page)
    return wait_until_heard(page, 1)


def fetch_json(url: str) -> Any:
    with urllib.request.urlopen(url) as answer:
        return json.load(answer)


# What the program's own "New sound" and "noise" begin with.
TONE: dict[str, Any] = {
    "id": "tone-1",
    "name": "Tone",
    "level_db": -6,
    "level": {
        "points": [{"time_s": 0, "value": 0}, {"time_s": 0.002, "value": 1}],
        "release": [{"time_s": 0.06, "value": 0, "bend": 3}],
    },
}
STRUCK: dict[str, Any] = {
    "id": "struck-1",
    "name": "Struck",
    "level_db": -6,
    "source": {"kind": "struck"},
    "level": {"points": [{"time_s": 0, "value": 1}]},
}
NOISE: dict[str, Any] = {
    "id": "noise-1",
    "name": "Noise",
    "level_db": -12,
    "source": {"kind": "noise"},
    "level": {
        "points": [
            {"time_s": 0, "value": 0},
            {"time_s": 0.001, "value": 1},
            {"time_s": 0.1, "value": 0, "bend": 4},
        ]
    },
}


def new_sound(page: Page, name: str, layer: dict[str, Any] = TONE) -> int:
    """A sound of one layer, made by the API, for that is quicker than by hand."""
    library = page.request.get("/api/libraries").json()["libraries"][0]["id"]
    hit = {"note": 48, "velocity": 100, "hold_s": 0.25}
    body = {"library_id": library, "document": {"name": name, "layers": [layer], "hit": hit}}
    made = page.request.post("/api/sounds", data=body)
    assert made.ok, made.text()
    sound_id = int(made.json()["id"])
    page.goto(f"/bench/{sound_id}")
    expect(page.get_by_label("Name of the sound")).to_have_value(name)
    return sound_id


def layers(page: Page, sound_id: int) -> list[dict[str, Any]]:
    """The saved layers, once all edits are saved."""
    settled(page)
    return list(draft(page, sound_id)["layers"])


def show_curve(page: Page, name: str) -> None:
    """Take the selected layer's level or pitch curve in hand; its leaf opens with it."""
    page.get_by_role("button", name=name, exact=True).first.click()
    expect(page.get_by_role("tab", name="Curve")).to_have_attribute("aria-selected", "true")


def pick_processor(page: Page, name: str) -> None:
    """Choose a processor in the list that "Add processor" opens, by typing its name."""
    finder = finding(page, name)
    expect(finder.get_by_role("option").first).to_contain_text(name)
    finder.get_by_role("combobox").press("Enter")
    expect(finder).to_have_count(0)


def finding(page: Page, words: str) -> Locator:
    """The open list of what typing finds, with words typed into it."""
    finder = page.get_by_role("dialog", name="Find")
    finder.get_by_role("combobox").fill(words)
    return finder
