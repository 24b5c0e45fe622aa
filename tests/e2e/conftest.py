"""The built app on a real server and MariaDB, driven by Debian's Chromium."""

from __future__ import annotations

import contextlib
import fcntl
import hashlib
import os
import shutil
import signal
import subprocess
import sys
import time
import urllib.request
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from pathlib import Path

import pytest
from playwright.sync_api import Browser, Error, Page, expect, sync_playwright

from nest_crate.local_database import free_port

# Several browsers and databases share two processors.
expect.set_options(timeout=15_000)

PROJECT = Path(__file__).parent.parent.parent
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


@dataclass(frozen=True)
class Running:
    """The program as its start command runs it."""

    url: str
    data: Path
    process: subprocess.Popen[bytes]


def start_program(data: Path, *arguments: str) -> Running:
    port = free_port()
    command = [sys.executable, "-m", "nest_crate.cli", "start"]
    if "--no-demo" not in arguments and "--people" not in arguments:
        arguments = (*arguments, "--sign-in", "demo")
    arguments = tuple(one for one in arguments if one != "--people")
    arguments = ("--port", str(port), "--data", str(data), *arguments)
    data.parent.mkdir(parents=True, exist_ok=True)
    with (data.parent / "start.log").open("ab") as log:
        process = subprocess.Popen(
            [*command, *arguments], cwd=PROJECT, stdout=log, stderr=subprocess.STDOUT
        )
    url = f"http://127.0.0.1:{port}"
    deadline = time.monotonic() + 120
    while process.poll() is None and time.monotonic() < deadline:
        with contextlib.suppress(OSError):
            urllib.request.urlopen(f"{url}/api/session").close()
            return Running(url, data, process)
        time.sleep(0.1)
    said = (data.parent / "start.log").read_text()[-2000:]
    raise RuntimeError(f"the program did not start, it ended with {process.poll()}: {said}")


def demo_data(folder: Path) -> Path:
    """A copy of the demo's data in a folder. It is built once for one state of the sources, and
    requests that come meanwhile wait."""
    sources = [PROJECT / "nest_crate", PROJECT / "demo"]
    digest = hashlib.sha256()
    for path in sorted(one for source in sources for one in source.rglob("*") if one.is_file()):
        if path.suffix in (".py", ".json", ".csv", ".wav"):
            digest.update(path.read_bytes())
    kept = PROJECT / "var" / "test-demo" / digest.hexdigest()[:16]
    kept.parent.mkdir(parents=True, exist_ok=True)
    with (kept.parent / "lock").open("w") as lock:
        fcntl.flock(lock, fcntl.LOCK_EX)
        if not kept.exists():
            for old in kept.parent.iterdir():
                if old.is_dir():
                    shutil.rmtree(old)
            making = kept.with_suffix(".part")
            stop_program(start_program(making / "data"))
            making.rename(kept)
    shutil.copytree(kept / "data", folder)
    return folder


def stop_program(running: Running) -> int:
    running.process.send_signal(signal.SIGINT)
    return running.process.wait(timeout=60)


def database_process(running: Running) -> int:
    """The process id of the program's MariaDB, found by the folder it works on."""
    for entry in Path("/proc").iterdir():
        if entry.name.isdigit():
            try:
                command = (entry / "cmdline").read_bytes()
            except OSError:
                continue
            if f"--datadir={running.data / 'database' / 'data'}".encode() in command:
                return int(entry.name)
    raise LookupError("no MariaDB on this folder")


def end_database(running: Running) -> None:
    os.kill(database_process(running), signal.SIGKILL)


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
    context = browser.new_context(base_url=running.url, accept_downloads=True)
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
    window.goto("about:blank")
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
        context = browser.new_context(
            viewport={"width": 1280, "height": 800}, base_url=people.url, accept_downloads=True
        )
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
        page.goto("about:blank")
    assert problems == []
