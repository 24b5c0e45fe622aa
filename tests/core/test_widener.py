"""The widener: wide on two sides, and the same as before in mono."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from nest_crate.core.engine import RenderSettings
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.sound import load_sound
from tests.core.spectra import third_octaves_db


def widened(signal: np.ndarray, rate: int = 48000, **numbers: Any) -> np.ndarray:
    chain = [{"id": "p", "kind": "widener", **numbers}]
    part = load_sound({"name": "W", "main": {"chain": chain}}).main.chain[0]
    return process(signal, part, ProcessContext(RenderSettings(sample_rate=rate)))


def noise(rate: int = 48000, channels: int = 1) -> np.ndarray:
    return np.random.default_rng(3).normal(size=(channels, 4 * rate))


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("channels", [1, 2])
@pytest.mark.parametrize("amount", [0.3, 1.0])
def test_the_sum_of_both_sides_is_as_before(rate, channels, amount):
    before = noise(rate, channels)
    after = widened(before, rate, amount=amount)
    np.testing.assert_allclose(after.sum(axis=0), before[0] + before[-1], atol=1e-9)


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
def test_sides_share_less_the_more_it_works_and_are_as_loud_as_each_other(rate):
    alike = []
    for amount in (0.0, 0.3, 0.6, 1.0):
        left, right = widened(noise(rate), rate, amount=amount)
        alike.append(float(np.corrcoef(left, right)[0, 1]))
        levels = [third_octaves_db(one, rate, low_hz=1000.0) for one in (left, right)]
        assert np.abs(np.subtract(*levels)).max() < 1.5
        assert np.std(left) == pytest.approx(np.std(right), rel=0.03)
    assert alike[0] == pytest.approx(1.0)
    assert alike[0] > alike[1] > alike[2] > alike[3]
    # Of two sides m + a s and m - a s, with m and s alike in power: (1 - a^2) / (1 + a^2).
    assert alike[2] == pytest.approx((1 - 0.36) / (1 + 0.36), abs=0.06)
    assert abs(alike[3]) < 0.06


def test_lows_stay_in_the_middle():
    left, right = widened(noise(), amount=1.0, above_hz=1000.0)
    hz = np.fft.rfftfreq(left.size, 1.0 / 48000)
    side, middle = (np.abs(np.fft.rfft(one)) ** 2 for one in (left - right, left + right))
    apart = [
        10.0 * np.log10(side[near].sum() / middle[near].sum())
        for near in ((hz > 50.0) & (hz < 80.0), (hz > 7000.0) & (hz < 9000.0))
    ]
    # First order: 63 Hz lies 24 dB below 1 kHz.
    assert apart[0] == pytest.approx(-24.0, abs=1.5)
    assert abs(apart[1]) < 0.5


def test_one_tone_is_as_loud_on_both_sides_together_at_any_pitch():
    """|m + a s|^2 + |m - a s|^2 is 2 (1 + a^2) m^2 whatever the phase of s."""
    time_s = np.arange(48000) / 48000
    for hz in (300.0, 440.0, 1234.5, 5000.0):
        tone = np.sin(2.0 * np.pi * hz * time_s)[np.newaxis]
        made = widened(tone, amount=0.5, above_hz=20.0)[:, 12000:]
        power = float((made**2).mean(axis=1).sum())
        assert power == pytest.approx(1.0 * (1.0 + 0.25), rel=0.03)
