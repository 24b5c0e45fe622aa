"""The Bench on a slow line, measured in the browser with a line of 1.5 Mbit/s and 300 ms.

    ./start --port 8123 &        (with the demo; --sign-in demo as an argument of nest-crate start)
    .venv/bin/python -m benchmarks.slow_line http://127.0.0.1:8123

From the address to the first drawn hit, with nothing in the browser's memory; then from Enter in a
field to the first sound of the edit. Bytes are those on the line.
"""

from __future__ import annotations

import statistics
import sys
import time
from typing import Any

from playwright.sync_api import Browser, CDPSession, expect, sync_playwright

from tests.e2e import bench
from tests.e2e.conftest import CHROMIUM, LISTEN
from tests.e2e.windows import NOTHING, open_context

_LINE = {
    "offline": False,
    "latency": 300,
    "downloadThroughput": 1_500_000 / 8,
    "uploadThroughput": 1_500_000 / 8,
}
_VISITS, _EDITS = 5, 8


class _Counted:
    """Bytes that came over the line."""

    def __init__(self, session: CDPSession) -> None:
        self.bytes = 0
        session.on("Network.loadingFinished", self._add)
        session.send("Network.enable")
        session.send("Network.emulateNetworkConditions", _LINE)

    def _add(self, event: dict[str, Any]) -> None:
        self.bytes += int(event["encodedDataLength"])


def _visit(browser: Browser, url: str, name: str) -> tuple[float, int, list[tuple[float, int]]]:
    context = open_context(browser, url)
    context.add_init_script(f"{LISTEN}\nwindow.onSlowLine = true;")
    page = context.new_page()
    sounds = page.request.get("/api/sounds").json()["sounds"]
    number = next(one["id"] for one in sounds if one["name"] == name)
    page.goto(NOTHING)
    line = _Counted(context.new_cdp_session(page))
    began = time.perf_counter()
    page.goto(f"/bench/{number}", wait_until="commit")
    expect(page.get_by_role("img", name=bench.RESULT)).to_be_visible()
    first_s, first_bytes = time.perf_counter() - began, line.bytes
    page.wait_for_timeout(7000)
    edits = []
    field = page.get_by_label("Transpose", exact=True).first
    for n in range(_EDITS):
        page.evaluate("window.heard.length = 0")
        field.fill(f"{n % 5 - 2} st")
        line.bytes = 0
        began = time.perf_counter()
        field.press("Enter")
        bench.wait_for_count(page, 1)
        heard_s = time.perf_counter() - began
        page.wait_for_timeout(2500)
        edits.append((heard_s, line.bytes))
    context.close()
    return first_s, first_bytes, edits


def main() -> None:
    url, name = sys.argv[1], sys.argv[2] if len(sys.argv) > 2 else "Fuse zap"
    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        visits = [_visit(browser, url, name) for _ in range(_VISITS)]
        browser.close()
    firsts = sorted(first for first, _, _ in visits)
    print(f"{name}: first Bench {statistics.median(firsts):.2f} s (longest {firsts[-1]:.2f} s)")
    print(f"  bytes until it was drawn: {statistics.median(count for _, count, _ in visits):,.0f}")
    heard = sorted(one for _, _, edits in visits for one, _ in edits)
    sizes = [count for _, _, edits in visits for _, count in edits]
    print(f"  an edit is heard after {statistics.median(heard):.2f} s (longest {heard[-1]:.2f} s)")
    print(f"  bytes of an edit, with pictures and saving: {statistics.median(sizes):,.0f}")


if __name__ == "__main__":
    main()
