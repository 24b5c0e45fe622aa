"""Prints the time from a change on the Bench to the first audible sample, in a real browser.

Run: .venv/bin/python benchmarks/change_to_sound.py
Starts the program on data of its own. Each change is one key on a field; the clock runs in the
page, from the key's event until playback is started with the new sound.
"""

from __future__ import annotations

import statistics
import sys
import tempfile
from pathlib import Path

from playwright.sync_api import sync_playwright

sys.path.insert(0, str(Path(__file__).parent.parent))
from tests.e2e.conftest import CHROMIUM, start_program, stop_program

CHANGES = 100
CLOCK = """
window.delays = [];
let pressed = null;
window.addEventListener("keydown", (event) => { pressed = event.timeStamp; }, true);
const start = AudioBufferSourceNode.prototype.start;
AudioBufferSourceNode.prototype.start = function (...args) {
  const result = start.apply(this, args);
  if (pressed !== null) {
    const latency = (this.context.outputLatency || this.context.baseLatency || 0) * 1000;
    window.delays.push({ handed: performance.now() - pressed, latency });
    pressed = null;
  }
  return result;
};
"""


def main() -> None:
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as playwright:
        running = start_program(Path(folder) / "data")
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        page = browser.new_page(viewport={"width": 1280, "height": 800})
        page.add_init_script(CLOCK)
        page.goto(running.url)
        page.get_by_role("tab", name="Output").click()
        bar = page.get_by_role("slider", name="Level bar").first
        bar.wait_for()
        page.wait_for_selector("canvas[data-digest]")
        for number in range(CHANGES):
            bar.press("ArrowDown" if number % 20 < 10 else "ArrowUp")
            page.wait_for_function("count => window.delays.length >= count", arg=number + 1)
        delays = page.evaluate("window.delays")[5:]
        browser.close()
        stop_program(running)
    handed = sorted(delay["handed"] for delay in delays)
    latency = statistics.median(delay["latency"] for delay in delays)
    percentile = handed[int(0.95 * len(handed))]
    print(f"change to playback started: median {statistics.median(handed):.1f} ms, ", end="")
    print(f"95th percentile {percentile:.1f} ms ({len(handed)} changes)")
    print(f"the browser's own output latency on top: {latency:.1f} ms")


if __name__ == "__main__":
    main()
