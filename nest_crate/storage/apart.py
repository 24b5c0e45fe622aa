"""A script run in a process of its own, for files that strangers send."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path
from typing import Any

from nest_crate.core.errors import FormatError

__all__ = ["run_apart"]


def run_apart(
    script: str, *arguments: str, folder: Path, time_s: float, broken: str, heavy: str
) -> dict[str, Any]:
    """Run a script of this folder, which sets its own limits and prints one line of JSON.

    Raises
    ------
    FormatError
        in the script's words where it prints a ``problem``; ``heavy`` where it passed a limit,
        ``broken`` where it ended in any other way.
    """
    command = [sys.executable, str(Path(__file__).with_name(script)), *arguments]
    try:
        done = subprocess.run(command, capture_output=True, timeout=time_s, check=False, cwd=folder)
    except subprocess.TimeoutExpired as error:
        raise FormatError(heavy) from error
    # What kills the other process leaves no line, or half of one.
    try:
        found = json.loads(done.stdout.decode() or "{}")
    except ValueError:
        found = {}
    if "problem" in found:
        raise FormatError(found["problem"])
    if done.returncode < 0:
        raise FormatError(heavy)
    if done.returncode != 0 or not found:
        raise FormatError(broken)
    return dict(found)
