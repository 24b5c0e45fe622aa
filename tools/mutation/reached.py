"""A pytest plugin: which functions of the core each test calls, and how long it takes.

    NEST_CRATE_REACHED=var/mutation/reached.json pytest -p tools.mutation.reached tests/core

The file holds ``{test: {"seconds": s, "functions": ["nest_crate/core/...py:name", ...]}}``.
Compiled kernels are not seen by Python's profiler; their callers are.
"""

from __future__ import annotations

import json
import os
import sys
import time
from collections.abc import Generator
from pathlib import Path
from types import FrameType
from typing import Any

import pytest

_CORE = f"{os.sep}nest_crate{os.sep}core{os.sep}"
_tests: dict[str, dict[str, Any]] = {}


@pytest.hookimpl(hookwrapper=True)
def pytest_runtest_protocol(item: pytest.Item) -> Generator[None, None, None]:
    seen: set[tuple[str, str]] = set()

    def note(frame: FrameType, event: str, _: object) -> None:
        if event == "call" and _CORE in frame.f_code.co_filename:
            seen.add((frame.f_code.co_filename, frame.f_code.co_name))

    began = time.perf_counter()
    sys.setprofile(note)
    try:
        yield
    finally:
        sys.setprofile(None)
    functions = sorted(f"nest_crate{os.sep}core{os.sep}{f.split(_CORE)[1]}:{n}" for f, n in seen)
    _tests[item.nodeid] = {"seconds": time.perf_counter() - began, "functions": functions}


def pytest_sessionfinish() -> None:
    Path(os.environ["NEST_CRATE_REACHED"]).write_text(json.dumps(_tests))
