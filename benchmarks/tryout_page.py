"""How the page holds while a try-out plays, measured in the browser on loopback.

    ./start --port 8123 &        (with the demo; --sign-in demo as an argument of nest-crate start)
    .venv/bin/python -m benchmarks.tryout_page http://127.0.0.1:8123

Twenty-four parts play for twelve seconds: tasks of the page's main thread over 50 ms are counted.
Then a sound is edited on the Bench while a loop plays: from the edit to the moment at which the
page places hits with its new audio; every hit that begins later is heard as the sound is now.
"""

from __future__ import annotations

import statistics
import sys
from typing import Any

from playwright.sync_api import Page, sync_playwright

from tests.e2e.conftest import CHROMIUM

_PARTS, _HITS, _SECONDS, _EDITS = 24, 16, 12, 24

_WATCH = """
window.longTasks = [];
new PerformanceObserver((list) => {
  for (const one of list.getEntries()) window.longTasks.push(one.duration);
}).observe({ type: 'longtask', buffered: false });
window.known = new WeakSet();
window.changedAt = [];
const start = AudioBufferSourceNode.prototype.start;
AudioBufferSourceNode.prototype.start = function (...given) {
  if (!window.known.has(this.buffer)) {
    window.known.add(this.buffer);
    window.changedAt.push(performance.now());
  }
  return start.apply(this, given);
};
"""


def _many_parts(page: Page) -> int:
    sounds = page.request.get("/api/sounds").json()["sounds"]
    parts = [
        {
            "id": f"p{n}",
            "name": f"Part {n}",
            "plays": {"kind": "sound", "sound": sounds[n % len(sounds)]["id"]},
            "level_db": -20.0,
            "hits": [
                {"at_s": 0, "in_beats": {"at_s": k + n / 24}, "hold_s": 0.1} for k in range(_HITS)
            ],
        }
        for n in range(_PARTS)
    ]
    length = {"length_s": 1.0, "in_beats": {"length_s": float(_HITS)}}
    document = {"name": "Twenty-four parts", "tempo_bpm": 120, **length, "parts": parts}
    library = page.request.get("/api/libraries").json()["libraries"][0]["id"]
    body: dict[str, Any] = {"library_id": library, "document": document}
    return int(page.request.post("/api/tryouts", data=body).json()["id"])


def _smooth(page: Page) -> None:
    identifier = _many_parts(page)
    page.goto(f"/tryout/{identifier}")
    page.get_by_role("button", name="Play", exact=True).click()
    while page.evaluate("() => window.changedAt.length") < _PARTS:
        page.wait_for_timeout(200)
    # All is there and drawn; from now on it only plays.
    page.wait_for_timeout(4000)
    page.evaluate("() => { window.longTasks.length = 0 }")
    page.wait_for_timeout(1000 * _SECONDS)
    tasks = page.evaluate("() => window.longTasks")
    worst = f"{max(tasks):.0f} ms" if tasks else "none"
    print(f"{_PARTS} parts for {_SECONDS} s: {len(tasks)} tasks over 50 ms, worst {worst}")
    page.get_by_role("button", name="Stop", exact=True).click()
    page.request.put(f"/api/tryouts/{identifier}/bin", data={"binned": True})


def _edits(page: Page) -> None:
    sounds = page.request.get("/api/sounds").json()["sounds"]
    sound = next(one["id"] for one in sounds if one["name"] == "Kiln door kick")
    page.goto(f"/bench/{sound}")
    page.get_by_role("button", name="Mute Knock").wait_for()
    # A hit each eighth of a beat, so that there is always one to be placed.
    hits = [{"at_s": 0, "in_beats": {"at_s": n / 8}} for n in range(128)]
    part = {"id": "a", "name": "A", "plays": {"kind": "sound", "sound": sound}, "hits": hits}
    document = {"name": "Often", "length_s": 8.0, "in_beats": {"length_s": 16.0}, "parts": [part]}
    library = page.request.get("/api/libraries").json()["libraries"][0]["id"]
    body: dict[str, Any] = {"library_id": library, "document": document}
    identifier = page.request.post("/api/tryouts", data=body).json()["id"]
    page.evaluate(f"() => localStorage.setItem('nest-crate:context:{sound}', '{identifier}')")
    page.reload()
    page.get_by_role("button", name="In context").click()
    page.get_by_role("button", name="Stop the loop").wait_for()
    page.get_by_role("tab", name="Output").click()
    page.wait_for_timeout(5000)
    took = []
    for _ in range(_EDITS):
        began = page.evaluate(
            """() => {
              window.changedAt.length = 0;
              const at = performance.now();
              document.querySelector('[aria-label="Level bar"]').dispatchEvent(
                new KeyboardEvent('keydown', { key: 'ArrowDown', bubbles: true }));
              return at;
            }"""
        )
        for _ in range(300):
            changed = page.evaluate("() => window.changedAt[0] ?? null")
            if changed is not None:
                took.append(changed - began)
                break
            page.wait_for_timeout(10)
        page.wait_for_timeout(500)
    took.sort()
    median, late = statistics.median(took), took[int(0.95 * (len(took) - 1))]
    print(f"edit to its new audio placed: median {median:.0f} ms, 95 % within {late:.0f} ms")
    for _ in took:
        page.keyboard.press("Control+z")
    page.wait_for_timeout(1500)
    page.request.put(f"/api/tryouts/{identifier}/bin", data={"binned": True})


def main(url: str) -> None:
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        context = browser.new_context(base_url=url, viewport={"width": 1280, "height": 800})
        context.add_init_script(_WATCH)
        page = context.new_page()
        page.set_default_timeout(60_000)
        _smooth(page)
        _edits(page)
        browser.close()


if __name__ == "__main__":
    main(sys.argv[1])
