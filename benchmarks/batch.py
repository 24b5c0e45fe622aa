"""Batches: what a member costs beside its render, what sharing saves, what many members take.

    .venv/bin/python -m benchmarks.batch            without a server; --quick: one process
    .venv/bin/python -m benchmarks.batch URL        and the sheet of 10,000 members, on loopback

All ratios are within one run. The first part renders a half-second hit; the second compares a plan
that varies only the last two processors with and without remembered stages; the third times the
pieces of a large plan that do not render; the last runs the same plan with one worker process and
with two.
"""

from __future__ import annotations

import statistics
import sys
import time
from pathlib import Path
from typing import Any

import numpy as np

from nest_crate.core.engine import RenderSettings, StageMemory, render
from nest_crate.core.families import Family, load_batch, made_of, overridden, render_member
from nest_crate.core.families.judging import by_likeness, neighbours
from nest_crate.core.sound import Sound, dump_sound, load_sound_text
from nest_crate.jobs.plan_runs import made_files, opened_workers, pieces_of

_KICK = Path(__file__).parents[1] / "demo" / "sounds" / "kiln-door-kick.json"
_SETTINGS = RenderSettings()
_LAST_TWO = [
    {"target": "warm.level_db", "low": -6.0, "high": 3.0, "shape": "even"},
    {"target": "main.level_db", "low": -6.0, "high": 0.0, "shape": "even"},
]
_ALL = [
    {"target": "body.source.skew", "low": -0.2, "high": 0.2, "shape": "even"},
    {"target": "tone-down.cutoff_hz", "low": 2700.0, "high": 9000.0, "shape": "even"},
]


def _family(sound: Sound, spreads: list[dict[str, Any]], draws: int) -> Family:
    planned = {"id": "a", "spreads": spreads, "draws": draws}
    return Family(load_batch({"name": "B", "sounds": [planned]}), {"a": sound})


def _median_ms(act: Any, times: int) -> float:
    took = []
    for n in range(times):
        began = time.perf_counter()
        act(n)
        took.append(1e3 * (time.perf_counter() - began))
    return statistics.median(took)


def _overhead(sound: Sound) -> None:
    family = _family(sound, _ALL, 64)
    plain, member, judged = [], [], []
    for number in range(1, 61):
        one = family.member(number)
        # Each is rendered in one of the two ways only: what a render leaves behind would help the
        # other.
        if number % 2:
            varied = overridden(sound, one.values)
            began = time.perf_counter()
            render(varied, one.hit, _SETTINGS)
            plain.append(time.perf_counter() - began)
            continue
        began = time.perf_counter()
        audio = render_member(family.sounds, one, _SETTINGS)
        end = time.perf_counter()
        made_of(audio, family.plan.members)
        member.append(end - began)
        judged.append(time.perf_counter() - end)
    base = statistics.median(plain)
    around = 100 * (statistics.median(member) / base - 1)
    print(f"a render of 0.5 s: {1e3 * base:.1f} ms; as a member {around:+.1f} %")
    print(f"its figures and pictures: {1e3 * statistics.median(judged):.1f} ms")


def _sharing(sound: Sound) -> None:
    family = _family(sound, _LAST_TWO, 40)
    memory = StageMemory()
    render_member(family.sounds, family.member(1), _SETTINGS, memory)

    def with_memory(n: int) -> None:
        render_member(family.sounds, family.member(2 + n), _SETTINGS, memory)

    def without(n: int) -> None:
        render_member(family.sounds, family.member(2 + n), _SETTINGS)

    shared, alone = _median_ms(with_memory, 30), _median_ms(without, 30)
    saved = 100 * (1 - shared / alone)
    words = f"{shared:.1f} ms instead of {alone:.1f}"
    print(f"only the last two processors vary: {words}, {saved:.0f} % saved")


def _workers(sound: Sound) -> None:
    plan = {
        "name": "B",
        "sounds": [{"id": "a", "spreads": _ALL, "draws": 192, "document": dump_sound(sound)}],
    }
    took = {}
    for workers in (1, 2):
        with opened_workers(None, workers) as client:
            # Kernels are read from the disk once a process; that is not what is measured.
            list(made_files(client, plan, {}, [[n] for n in range(1, 4 * workers + 1)]))
            began = time.perf_counter()
            for _ in made_files(client, plan, {}, pieces_of(192)):
                pass
            took[workers] = time.perf_counter() - began
    linear = 100 * took[1] / (2 * took[2])
    words = f"{took[1]:.1f} s by one process, {took[2]:.1f} s by two"
    print(f"192 members: {words}, {linear:.0f} % of linear")


def _many(sound: Sound) -> None:
    began = time.perf_counter()
    family = _family(sound, _ALL, 10_000)
    for number in range(1, 10_001):
        family.member(number)
    print(f"10,000 members planned: {time.perf_counter() - began:.2f} s")
    vectors = np.random.default_rng(1).normal(size=(10_000, 27)).astype(np.float32)
    began = time.perf_counter()
    neighbours(vectors, vectors[0])
    print(f"their neighbours: {time.perf_counter() - began:.2f} s")
    began = time.perf_counter()
    by_likeness(vectors[:5000])
    print(f"5,000 in order of likeness: {time.perf_counter() - began:.2f} s")


def _sheet(url: str) -> None:
    from playwright.sync_api import sync_playwright

    from tests.e2e.conftest import CHROMIUM

    with sync_playwright() as playwright:
        browser = playwright.chromium.launch(executable_path="/usr/bin/chromium", args=CHROMIUM)
        page = browser.new_context(base_url=url).new_page()
        batches = page.request.get("/api/batches").json()["batches"]
        rounds = [
            (one["id"], listed["id"], listed["done"])
            for one in batches
            for listed in page.request.get(f"/api/batches/{one['id']}/rounds").json()["rounds"]
        ]
        batch, made, count = max(rounds, key=lambda one: one[2])
        opened = []
        for _ in range(5):
            page.goto("/batch")
            page.locator(f"a[href='/batch/{batch}']").first.wait_for()
            page.wait_for_timeout(1000)
            opened.append(page.evaluate(_OPEN, f"/batch/{batch}"))
        print(f"sheet of {count:,}: opened in {statistics.median(opened):.0f} ms")
        rows = _timed_rows(page, made)
        print(f"all its rows: {rows:.0f} ms")
        page.wait_for_timeout(5000)
        frames = page.evaluate(_SCROLL)
        late = sorted(frames)[int(0.95 * len(frames))]
        print(f"scrolled by 60 px a frame: 95 % of {len(frames)} frames within {late:.0f} ms")
        browser.close()


_SCROLL = """() => new Promise((done) => {
  const grid = document.querySelector('[role=grid]');
  const frames = [];
  let last = performance.now();
  const step = (now) => {
    frames.push(now - last);
    last = now;
    grid.scrollTop += 60;
    if (frames.length < 300) requestAnimationFrame(step);
    else done(frames.slice(1));
  };
  requestAnimationFrame(step);
})"""


# From the press until the first members are drawn.
_OPEN = """(href) => new Promise((done) => {
  const began = performance.now();
  document.querySelector(`a[href='${href}']`).click();
  const look = () => {
    const canvas = document.querySelector('[role=gridcell] canvas');
    if (canvas && canvas.width > 0 && !document.body.innerText.includes('rendering…'))
      done(performance.now() - began);
    else requestAnimationFrame(look);
  };
  look();
})"""


def _timed_rows(page: Any, round_id: int) -> float:
    began, mark, more = time.perf_counter(), 0, True
    while more:
        found = page.request.get(f"/api/rounds/{round_id}/members?after={mark}").json()
        mark, more = found["mark"], found["more"]
    return 1e3 * (time.perf_counter() - began)


def main(arguments: list[str]) -> None:
    sound = load_sound_text(_KICK.read_bytes())
    for _ in range(3):
        made_of(render(sound), load_batch({"name": "B", "sounds": [{"id": "a"}]}).members)
    _overhead(sound)
    _sharing(sound)
    _many(sound)
    if "--quick" not in arguments:
        _workers(sound)
    if arguments[-1:] and arguments[-1].startswith("http"):
        _sheet(arguments[-1])


if __name__ == "__main__":
    main(sys.argv[1:])
