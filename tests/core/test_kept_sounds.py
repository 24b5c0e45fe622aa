"""Sounds, and their details, stay as they were when the engine's version was raised last."""

import numpy as np
import pytest

from nest_crate.core.engine import ENGINE_VERSION
from tests.core.kept_sounds import cases, kept

CASES = cases()
KEPT = kept()


def differences(now, before, at=""):
    """Places at which two fingerprints differ by more than rounding on another processor."""
    if isinstance(before, dict):
        if not isinstance(now, dict) or set(now) != set(before):
            return [at]
        return [one for key in before for one in differences(now[key], before[key], f"{at}/{key}")]
    if isinstance(before, list) and before and all(isinstance(one, float) for one in before):
        now, before = np.asarray(now, dtype=float), np.asarray(before)
        if now.shape != before.shape:
            return [at]
        near = 1e-5 + 2e-4 * np.abs(before).max()
        return [at] if np.abs(now - before).max() > near else []
    if isinstance(before, list):
        if len(now) != len(before):
            return [at]
        pairs = enumerate(zip(now, before, strict=True))
        return [one for n, (a, b) in pairs for one in differences(a, b, f"{at}/{n}")]
    if isinstance(before, float) and isinstance(now, (float, int)):
        return [at] if abs(now - before) > 1e-5 + 2e-4 * abs(before) else []
    return [at] if now != before else []


@pytest.mark.parametrize("name", CASES)
def test_a_kept_sound_is_as_it_was(name):
    changed = differences(CASES[name](), KEPT["fingerprints"][name])
    assert changed == [], (
        f"{name} has changed. If a sound changes on purpose, raise ENGINE_VERSION, say in "
        "docs/engine.md what changed, and run python -m tools.keep_sounds"
    )


def test_the_fingerprints_are_those_of_this_version():
    assert KEPT["engine_version"] == ENGINE_VERSION
    assert set(KEPT["fingerprints"]) == set(CASES)
