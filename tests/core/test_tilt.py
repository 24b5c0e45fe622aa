"""The tilt against the response of its analogue prototype, still and moved."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.sound import load_sound

HZ = np.array([40.0, 150.0, 650.0, 2000.0, 6000.0, 15000.0])


def tilt(**numbers: Any) -> Any:
    chain = [{"id": "p", "kind": "tilt", **numbers}]
    return load_sound({"name": "Tilt", "main": {"chain": chain}}).main.chain[0]


def expected_db(tilt_db: float, pivot_hz: float) -> np.ndarray:
    """H(s) = (a s + w) / (s + a w) with a the gain of the highs: 1 at the pivot, 1 / a at 0 Hz."""
    a, s = 10.0 ** (tilt_db / 20.0), 1j * HZ / pivot_hz
    return np.asarray(20.0 * np.log10(np.abs((a * s + 1.0) / (s + a))))


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("tilt_db", [-18.0, -4.0, 6.0, 18.0])
@pytest.mark.parametrize("pivot_hz", [120.0, 650.0, 5000.0])
def test_highs_and_lows_move_apart_around_the_pivot(rate, tilt_db, pivot_hz):
    impulse = np.zeros((1, rate))
    impulse[0, rate // 4] = 1.0
    part = tilt(tilt_db=tilt_db, pivot_hz=pivot_hz)
    answer = process(impulse, part, ProcessContext(RenderSettings(sample_rate=rate)))[0]
    turns = np.exp(-2j * np.pi * np.outer(HZ / rate, np.arange(answer.size)))
    gains_db = 20.0 * np.log10(np.abs(turns @ answer))
    np.testing.assert_allclose(gains_db, expected_db(tilt_db, pivot_hz), atol=0.25)


def test_nothing_at_0_db():
    noise = np.random.default_rng(1).normal(size=(2, 4800))
    np.testing.assert_allclose(
        process(noise, tilt(tilt_db=0.0), ProcessContext(RenderSettings())), noise, atol=1e-9
    )


def test_moved_from_dark_to_bright():
    tone = {"kind": "tone", "follows_note": False, "fixed_hz": 6000.0}
    rise = [{"time_s": 0.0, "value": -1.0}, {"time_s": 2.0, "value": 1.0}]
    hit = {
        "name": "Moved",
        "hit": {"hold_s": 2.0},
        "layers": [{"id": "a", "name": "A", "source": tone}],
        "main": {"chain": [{"id": "p", "kind": "tilt", "tilt_db": 0.0}]},
        "movers": [{"id": "m", "name": "M", "kind": "curve", "curve": {"points": rise}}],
        "links": [{"mover": "m", "target": "p.tilt_db", "amount": 12.0}],
    }
    samples = render(load_sound(hit), None, RenderSettings()).samples[0]
    for at_s in (0.5, 1.0, 1.5):
        span = samples[round((at_s - 0.02) * 48000) : round((at_s + 0.02) * 48000)]
        wanted = expected_db(12.0 * (at_s - 1.0), 650.0)[HZ.tolist().index(6000.0)]
        level_db = 20.0 * np.log10(np.sqrt(2.0 * np.mean(span**2)))
        assert level_db == pytest.approx(wanted, abs=0.3)
