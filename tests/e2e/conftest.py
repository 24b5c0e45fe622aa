"""The built app on a real server and MariaDB, driven by Debian's Chromium."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, Error, Page, expect, sync_playwright

from tests.e2e.windows import NOTHING, PATIENCE_MS, open_context
from tests.program import Running, demo_data, start_program, stop_program

expect.set_options(timeout=PATIENCE_MS)

CHROMIUM = [
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
    "--autoplay-policy=no-user-gesture-required",
]


@pytest.fixture(scope="session")
def running(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    program = start_program(demo_data(tmp_path_factory.mktemp("program") / "data"))
    yield program
    stop_program(program)


@pytest.fixture(scope="session")
def browser() -> Iterator[Browser]:
    with sync_playwright() as playwright:
        chromium = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        yield chromium
        chromium.close()


# Counts what is played and keeps its samples, by listening to the app's own event and buffers.
LISTEN = """
window.heard = [];
window.gains = [];
// Samples as base64 of 32-bit floats: far quicker to fetch than a list of numbers.
window.packed = (samples) => {
  const bytes = new Uint8Array(samples.buffer, samples.byteOffset, samples.byteLength);
  let text = "";
  for (let at = 0; at < bytes.length; at += 32768)
    text += String.fromCharCode(...bytes.subarray(at, at + 32768));
  return btoa(text);
};
// On a busy machine the page takes its line for a slow one and asks for FLAC; samples are compared
// with exact ones, so float is asked for unless a test is about slow lines.
const fetched = window.fetch;
window.fetch = (address, options) => {
  const accept = options?.headers?.Accept ?? "";
  if (window.onSlowLine || !accept.includes("audio/flac")) return fetched(address, options);
  const exact = accept.replace(/audio.flac[^,]*, /, "");
  return fetched(address, { ...options, headers: { ...options.headers, Accept: exact } });
};
const connect = AudioNode.prototype.connect;
AudioNode.prototype.connect = function (next, ...rest) {
  if (this instanceof AudioBufferSourceNode && next instanceof GainNode)
    window.gains.push(next.gain.value);
  return connect.call(this, next, ...rest);
};
const start = AudioBufferSourceNode.prototype.start;
AudioBufferSourceNode.prototype.start = function (...args) {
  const data = this.buffer.getChannelData(0);
  window.heard.push({
    rate: this.buffer.sampleRate,
    samples: data.slice(0, 96000),
  });
  return start.apply(this, args);
};
"""


@pytest.fixture(scope="session")
def window(browser: Browser, running: Running) -> Iterator[Page]:
    """One window for all tests, for opening one takes longer than most of them."""
    context = open_context(browser, running.url)
    context.add_init_script(LISTEN)
    yield context.new_page()
    context.close()


@pytest.fixture
def page(window: Page, running: Running) -> Iterator[Page]:
    """The window as a new visitor finds it: nothing is kept in the browser, nothing is open."""
    problems: list[str] = []

    def note(error: Error) -> None:
        problems.append(str(error))

    window.set_viewport_size({"width": 1280, "height": 800})
    window.on("pageerror", note)
    yield window
    for other in window.context.pages:
        if other is not window:
            other.close()
    window.unroute_all()
    window.goto(NOTHING)
    window.remove_listener("pageerror", note)
    window.context.clear_cookies()
    window.context.clear_permissions()
    devtools = window.context.new_cdp_session(window)
    devtools.send("Storage.clearDataForOrigin", {"origin": running.url, "storageTypes": "all"})
    devtools.detach()
    assert problems == []


@pytest.fixture(scope="session")
def people(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """The program as it starts by itself, with its people and nobody signed in."""
    with pytest.MonkeyPatch.context() as patched:
        # All of these browsers come from one address.
        patched.setenv("NEST_CRATE_SIGN_INS_A_MINUTE", "1000")
        program = start_program(demo_data(tmp_path_factory.mktemp("people") / "data"), "--people")
    yield program
    stop_program(program)


@pytest.fixture(scope="session")
def windows(browser: Browser, people: Running) -> Iterator[dict[str, Page]]:
    """A window for each of the demo's people, signed in once, for opening one takes long."""
    opened: dict[str, Page] = {}
    yield opened
    for page in opened.values():
        page.context.close()


@pytest.fixture
def enter(
    browser: Browser, people: Running, windows: dict[str, Page]
) -> Iterator[Callable[[str], Page]]:
    """The libraries' page with someone of the demo signed in, each in a window of their own; with
    nobody where no name is given."""
    strangers: list[Page] = []
    problems: list[str] = []

    def note(error: Error) -> None:
        problems.append(str(error))

    def opened() -> Page:
        context = open_context(browser, people.url)
        context.add_init_script(LISTEN)
        return context.new_page()

    def make(name: str) -> Page:
        page = windows.get(name) or opened()
        page.on("pageerror", note)
        page.goto("/libraries")
        if not name:
            strangers.append(page)
            return page
        if name not in windows:
            page.get_by_role("button", name=name).click()
            windows[name] = page
        expect(page.get_by_role("listbox", name="Samples")).to_be_visible()
        return page

    yield make
    for page in strangers:
        page.context.close()
    for page in windows.values():
        page.remove_listener("pageerror", note)
        page.unroute_all()
        page.goto(NOTHING)
    assert problems == []
