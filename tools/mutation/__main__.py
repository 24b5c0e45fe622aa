"""Samples small faults, runs the tests that reach each, and lists those that no test noticed.

    python -m tools.mutation [--count 200] [--seed 1] [--limit-s 240] [--out FILE]

It works on a copy of the project in ``var/mutation``. First it runs all tests of the core once, to
see which functions each of them calls (``--reached`` keeps that file). A fault counts as noticed
where a test fails, or takes longer than the limit by itself. Results are one line of JSON each, so
that a run that was ended goes on where it stopped.
"""

from __future__ import annotations

import argparse
import json
import os
import random
import shutil
import subprocess
import sys
import time
from dataclasses import asdict
from pathlib import Path

from tools.mutation.callers import Reach, importers
from tools.mutation.sites import Mutant, sites_of

ROOT = Path(__file__).parents[2]
FOLDERS = ["nest_crate/core/dsp", "nest_crate/core/engine", "nest_crate/core/analysis"]
KEPT = ["nest_crate", "tests", "tools", "demo", "docs", "frontend/src", "pyproject.toml"]


def _copy_project(copy: Path) -> None:
    """With the times of files, so that compiled kernels stay valid."""
    shutil.rmtree(copy, ignore_errors=True)
    copy.mkdir(parents=True)
    for name in KEPT:
        source = ROOT / name
        if source.is_dir():
            shutil.copytree(source, copy / name)
        else:
            shutil.copy2(source, copy / name)


def _pytest(copy: Path, arguments: list[str], limit_s: float, **more: str) -> tuple[str, str]:
    """``passed``, ``failed`` or ``slow``, and the last lines."""
    command = [sys.executable, "-m", "pytest", "-q", "-p", "no:cacheprovider", *arguments]
    environment = {**os.environ, "PYTHONPATH": str(copy), "PYTHONDONTWRITEBYTECODE": "1", **more}
    try:
        done = subprocess.run(
            command, cwd=copy, env=environment, capture_output=True, text=True, timeout=limit_s
        )
    except subprocess.TimeoutExpired:
        return "slow", ""
    return ("passed" if done.returncode == 0 else "failed"), done.stdout[-1500:]


def _kernel_files(folder: Path, path: str) -> list[Path]:
    source = folder / path
    cache = source.parent / "__pycache__"
    return [*cache.glob(f"{source.stem}.*.nbi"), *cache.glob(f"{source.stem}.*.nbc")]


class _Trial:
    """Puts one fault into the copy, and takes it out again."""

    def __init__(self, copy: Path, mutant: Mutant, stale: set[str]) -> None:
        self.copy, self.mutant, self.stale = copy, mutant, stale

    def __enter__(self) -> None:
        target = self.copy / self.mutant.path
        target.write_text(self.mutant.applied_to(target.read_text()))
        # Kernels of other files that were compiled with this file's in them.
        for path in self.stale:
            for kernel in _kernel_files(self.copy, path):
                kernel.unlink()

    def __exit__(self, *_: object) -> None:
        shutil.copy2(ROOT / self.mutant.path, self.copy / self.mutant.path)
        for path in {*self.stale, self.mutant.path}:
            for kernel in _kernel_files(self.copy, path):
                kernel.unlink()
            for kernel in _kernel_files(ROOT, path):
                shutil.copy2(kernel, self.copy / kernel.relative_to(ROOT))


def _within(tests: list[str], seconds: dict[str, float], limit_s: float) -> list[str]:
    chosen, total = [], 0.0
    for test in tests:
        total += seconds[test]
        if total > limit_s and chosen:
            break
        chosen.append(test)
    return chosen


def main() -> None:
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--count", type=int, default=200)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--limit-s", type=float, default=240.0)
    parser.add_argument("--out", type=Path, default=ROOT / "var/mutation/result.jsonl")
    parser.add_argument("--reached", type=Path, default=ROOT / "var/mutation/reached.json")
    options = parser.parse_args()
    copy = options.out.parent.resolve() / "copy"
    _copy_project(copy)
    if not options.reached.exists():
        print("looking at which functions each test calls", flush=True)
        more = ["-p", "tools.mutation.reached", "tests/core"]
        reached = str(options.reached.resolve())
        ended, said = _pytest(copy, more, 3600.0, NEST_CRATE_REACHED=reached)
        if ended != "passed":
            sys.exit(f"the tests fail without any fault:\n{said}")
    reach = Reach(ROOT, json.loads(options.reached.read_text()))
    above = importers(ROOT)
    chance = random.Random(options.seed)
    mutants = chance.sample(list(sites_of(ROOT, FOLDERS, chance)), options.count)
    lines = options.out.read_text().splitlines() if options.out.exists() else []
    for mutant in mutants[len(lines) :]:
        tests = _within(reach.tests_of(mutant), reach.seconds, options.limit_s / 2)
        stale = above.get(mutant.path, set()) if mutant.compiled or not mutant.function else set()
        began = time.perf_counter()
        ended, said = "unreached", ""
        if tests:
            with _Trial(copy, mutant, stale):
                ended, said = _pytest(copy, ["-x", *tests], options.limit_s)
        line = {
            **asdict(mutant),
            "ended": ended,
            "tests": len(tests),
            "seconds": round(time.perf_counter() - began, 1),
            "said": said[-300:] if ended == "failed" else "",
        }
        with options.out.open("a") as out:
            out.write(json.dumps(line) + "\n")
        where = f"{mutant.path}:{mutant.line}"
        print(f"{ended:9} {where}  {mutant.old} -> {mutant.new}  {line['seconds']} s", flush=True)
    results = [json.loads(line) for line in options.out.read_text().splitlines()]
    noticed = sum(result["ended"] in ("failed", "slow") for result in results)
    print(f"{noticed} of {len(results)} noticed")


if __name__ == "__main__":
    main()
