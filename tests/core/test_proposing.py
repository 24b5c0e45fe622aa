"""A first sound from a file: near to references whose making is known, and honest about it."""

from __future__ import annotations

from functools import lru_cache

import numpy as np
import pytest
from numpy.typing import NDArray

from nest_crate.core.engine import Audio, render
from nest_crate.core.errors import FormatError
from nest_crate.core.proposals import Proposal, compare, distance_between, propose_sound
from nest_crate.core.proposals.comparison import standing_peaks
from nest_crate.core.proposals.curves import few_points
from nest_crate.core.proposals.tonal import modes_of, pitch_course
from tests.core.test_demo_sounds import demo

RATE = 48000
TIME = np.arange(RATE) / RATE


def falling_kick() -> NDArray[np.float64]:
    hz = 48 + 272 * np.exp(-TIME / 0.018)
    tone = np.sin(2 * np.pi * np.cumsum(hz) / RATE) * np.exp(-TIME / 0.11)
    noise = np.random.default_rng(5).normal(size=RATE) * np.exp(-TIME / 0.003)
    return (0.8 * tone + 0.12 * noise)[np.newaxis]


@lru_cache(maxsize=1)
def kick_proposal() -> Proposal:
    """Made once for all tests that look at it."""
    return propose_sound(falling_kick(), RATE)


def bell() -> NDArray[np.float64]:
    modes = ((523, 0.3, 1.8), (1411, 0.2, 1.1), (2667, 0.15, 0.7), (4230, 0.1, 0.4))
    parts = [a * 10 ** (-3 * TIME / t) * np.sin(2 * np.pi * f * TIME) for f, a, t in modes]
    return np.sum(parts, axis=0)[np.newaxis]


class TestProposal:
    def test_a_reference_kick_is_rebuilt_within_1_5_db(self) -> None:
        made = kick_proposal()
        assert made.distance.bands_mean_db < 1.5
        assert made.distance.level_db < 3.0
        assert made.distance.pitch_cent is not None
        assert made.distance.pitch_cent < 10.0
        tone = made.sound.layers[0]
        assert tone.source.kind == "tone"
        assert tone.pitch.points[0].value == pytest.approx(12 * np.log2(320 / 48), abs=2.0)

    def test_a_kick_of_our_own_is_rebuilt_within_1_5_db(self) -> None:
        made = propose_sound(render(demo("kiln-door-kick")).samples, RATE)
        assert made.distance.bands_mean_db < 1.5

    def test_what_is_claimed_is_what_is_rendered(self) -> None:
        made = kick_proposal()
        again = distance_between(render(made.sound).samples, falling_kick(), RATE)
        assert again.bands_mean_db == pytest.approx(made.distance.bands_mean_db, abs=1e-6)
        assert again.level_db == pytest.approx(made.distance.level_db, abs=1e-6)

    def test_a_bell_becomes_a_tuned_set_of_its_modes(self) -> None:
        made = propose_sound(bell(), RATE)
        source = made.sound.layers[0].source
        assert source.kind == "struck"
        assert source.body == "set"
        assert len(source.set_st) == 4
        assert made.distance.bands_mean_db < 1.0

    def test_noise_has_no_pitch_and_is_matched_by_band(self) -> None:
        noise = np.random.default_rng(1).normal(size=RATE) * np.exp(-TIME / 0.05) * 0.3
        made = propose_sound(noise[np.newaxis], RATE)
        assert made.found[0] == "no pitch"
        assert all(one.source.kind == "noise" for one in made.sound.layers)
        assert made.distance.bands_mean_db < 2.0

    @pytest.mark.parametrize("rate", [8000, 44100, 96000])
    def test_any_rate_and_silence_before_the_hit(self, rate: int) -> None:
        count = rate // 2
        time_s = np.arange(count) / rate
        tone = np.sin(2 * np.pi * 220 * time_s) * np.exp(-time_s / 0.1)
        made = propose_sound(np.concatenate([np.zeros(rate // 4), tone])[np.newaxis], rate)
        assert made.sound.hit.note == 57
        assert made.distance.bands_mean_db < 3.0

    @pytest.mark.parametrize("frames", [1, 30, 500])
    def test_the_shortest_references_end_in_a_sound_or_a_clear_remark(self, frames: int) -> None:
        try:
            made = propose_sound(np.ones((1, frames)) * 0.5, RATE)
        except FormatError:
            return
        assert np.all(np.isfinite(render(made.sound).samples))

    def test_silence_and_length_are_refused(self) -> None:
        with pytest.raises(FormatError, match="silent"):
            propose_sound(np.zeros((1, 4800)), RATE)
        with pytest.raises(FormatError, match="at most 10 s"):
            propose_sound(np.ones((1, 11 * RATE)), RATE)


class TestMeasuring:
    def test_the_course_of_a_glide_is_followed(self) -> None:
        hz = 60 * np.exp2(2 * np.exp(-TIME / 0.05))
        tone = np.sin(2 * np.pi * np.cumsum(hz) / RATE) * np.exp(-TIME / 0.3)
        course = pitch_course(tone, RATE)
        assert course is not None
        wanted = np.interp(course.time_s, TIME, hz)
        off = 1200 * np.abs(np.log2(course.hz / wanted))
        assert np.median(off) < 30

    def test_modes_are_found_with_their_decays(self) -> None:
        modes = modes_of(bell()[0], RATE)
        assert modes is not None
        assert modes.hz == pytest.approx([523, 1411, 2667, 4230], abs=1.0)
        assert modes.decays_s == pytest.approx([1.8, 1.1, 0.7, 0.4], rel=0.1)

    def test_few_points_keep_within_the_tolerance(self) -> None:
        values = np.exp(-TIME * 5)
        points = few_points(TIME, values, tolerance=0.01, most=30)
        assert len(points) < 12
        times, kept = np.array(points).T
        assert np.abs(np.interp(TIME, times, kept) - values).max() <= 0.011

    def test_a_sound_is_no_distance_from_itself(self) -> None:
        same = distance_between(falling_kick(), falling_kick(), RATE)
        assert same.level_db == 0.0
        assert same.bands_mean_db == 0.0
        louder = distance_between(2 * falling_kick(), falling_kick(), RATE)
        assert louder.level_db == pytest.approx(6.02, abs=0.01)
        assert louder.bands_mean_db == pytest.approx(6.02, abs=0.05)


class TestComparison:
    def test_the_reference_is_moved_to_meet_the_hit(self) -> None:
        late = np.concatenate([np.zeros((1, 4800)), falling_kick()], axis=1)
        found = compare(Audio(falling_kick(), RATE), Audio(late, RATE))
        assert found.shift_s == pytest.approx(-0.1, abs=1e-4)
        assert found.distance.bands_mean_db < 0.2
        for band in found.bands:
            count = min(band.ours_db.size, band.reference_db.size, 40)
            assert np.abs(band.ours_db[:count] - band.reference_db[:count]).max() < 1.0

    def test_what_is_not_part_of_it_counts_for_nothing(self) -> None:
        other = falling_kick()
        intruder = np.random.default_rng(2).normal(size=9600) * 0.5
        other[0, 24000:33600] += intruder
        plain = compare(Audio(falling_kick(), RATE), Audio(other, RATE))
        without = compare(Audio(falling_kick(), RATE), Audio(other, RATE), [(0.495, 0.705)])
        assert plain.distance.bands_mean_db > 5.0
        assert without.distance.bands_mean_db < 0.5

    def test_a_peak_that_stands_still_in_a_glide_is_found(self) -> None:
        """A gliding pulse train through a fixed resonance at 1200 Hz."""
        hz = 110 * np.exp2(TIME)
        turn = np.cumsum(hz) / RATE
        saw = 2 * (turn % 1) - 1
        tone = np.fft.irfft(
            np.fft.rfft(saw)
            * (0.02 + 1 / (1 + ((np.fft.rfftfreq(RATE, 1 / RATE) - 1200) / 120) ** 2)),
            RATE,
        )
        found = standing_peaks(tone[np.newaxis], RATE)
        assert found is not None
        assert found.glide_hz[1] / found.glide_hz[0] > 1.5
        assert any(abs(np.log2(one / 1200)) < 0.2 for one in found.peaks_hz)
        steady = np.sin(2 * np.pi * 220 * TIME)
        assert standing_peaks(steady[np.newaxis], RATE) is None
