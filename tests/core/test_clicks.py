"""Clicks: all known ones are found, none where there is none, over random hits at every rate."""

from __future__ import annotations

import numpy as np
import pytest
from numpy.typing import NDArray

from nest_crate.core.analysis.checks.click_checks import check_clicks
from nest_crate.core.analysis.checks.clicks import clicks_within, ends_with_click, starts_with_click
from nest_crate.core.engine import RenderSettings, render_with_trace
from tests.core.test_jumps import SQUARE, TONE
from tests.core.test_movers import link, sound_with

RATES = [44100, 48000, 96000]
HITS = 200
FADE_S = 0.005

Numbers = NDArray[np.float64]


def hits(rate: int) -> list[Numbers]:
    """Clean tones: steady, falling away or falling in pitch; begun at a crossing, faded out."""
    random = np.random.default_rng(11)
    made = []
    for number in range(HITS):
        hz = float(np.exp(random.uniform(np.log(40.0), np.log(800.0))))
        time_s = np.arange(round(rate * random.uniform(0.12, 0.5))) / rate
        turns = hz * time_s
        if number % 4 == 1:
            turns = hz * (time_s + 0.06 * (1.0 - np.exp(-time_s / 0.02)))
        tone = np.sin(2.0 * np.pi * turns)
        if number % 4 == 2:
            tone *= np.exp(-time_s / random.uniform(0.1, 0.3))
        if number % 4 == 3:
            tone = 2.0 / np.pi * np.arcsin(tone)
        tone *= random.uniform(0.5, 1.0)
        fade = round(FADE_S * rate)
        tone[-fade:] *= np.linspace(1.0, 0.0, fade)
        made.append(tone)
    return made


def places(tone: Numbers, low: float, high: float) -> Numbers:
    return np.flatnonzero((np.abs(tone) > low) & (np.abs(tone) < high))


def moves(tone: Numbers) -> float:
    return float(np.abs(np.diff(tone)).max())


@pytest.mark.parametrize("rate", RATES)
class TestRandomHits:
    def test_no_false_alarm(self, rate: int) -> None:
        for tone in hits(rate):
            signal = tone[np.newaxis]
            assert not starts_with_click(signal, rate)
            assert not ends_with_click(signal, rate)
            assert clicks_within(signal, rate) == []

    @pytest.mark.parametrize("at", ["start", "end"])
    def test_every_step_of_a_tenth_and_more_at_an_edge(self, rate: int, at: str) -> None:
        found = 0
        for tone in hits(rate):
            body = tone[: -round(FADE_S * rate) - 1]
            # What its own movement would reach within a frame or two is no step.
            low = max(0.1, 1.6 * moves(body))
            third = body.size // 3
            if at == "start":
                cut = places(body[:third], low, 0.3)
                if cut.size == 0:
                    continue
                signal = tone[cut[0] :][np.newaxis]
                assert starts_with_click(signal, rate)
            else:
                cut = places(body[third:], low, 0.3)
                if cut.size == 0:
                    continue
                signal = tone[: third + cut[-1] + 1][np.newaxis]
                assert ends_with_click(signal, rate)
            found += 1
        assert found > HITS // 2

    def test_polarity_jumps_within(self, rate: int) -> None:
        for tone in hits(rate):
            middle = tone.size // 2
            high = places(tone[middle : middle + rate // 20], 0.3 * np.abs(tone).max(), 2.0)
            if high.size == 0 or np.abs(tone[middle + high[0]]) < 0.1:
                continue
            turned = tone.copy()
            turned[middle + high[0] :] *= -1.0
            found = clicks_within(turned[np.newaxis], rate)
            assert found == pytest.approx([(middle + high[0]) / rate], abs=0.001)


def test_a_polarity_jump_at_a_crossing_is_a_kink() -> None:
    rate = 48000
    tone = 0.8 * np.sin(2.0 * np.pi * 440.0 * np.arange(rate // 2) / rate)
    tone[rate // 4 :] *= -1.0
    assert clicks_within(tone[np.newaxis], rate) == pytest.approx([0.25], abs=0.001)


def test_waves_that_step_all_the_time_have_no_click() -> None:
    rate = 48000
    for hz in (40.0, 110.0, 1000.0):
        turns = hz * np.arange(rate) / rate
        for wave in (np.sign(np.sin(2 * np.pi * turns)), 2.0 * (turns % 1.0) - 1.0):
            assert clicks_within(wave[np.newaxis], rate) == []


def test_a_level_that_jumps_is_said_with_its_place() -> None:
    slow = {**SQUARE, "rate_hz": 2.0, "width": 0.61}
    sound = sound_with([slow], [link("m", "a.level_db", -12.0)], layer=TONE, hit={"hold_s": 0.4})
    remarks = check_clicks(sound, render_with_trace(sound, settings=RenderSettings()))
    (remark,) = [one for one in remarks if one.code == "click_within"]
    assert remark.at_s == pytest.approx(0.305, abs=0.001)
    assert remark.text == "click at 305 ms"
    assert remark.layer == "a"
