"""Sides beside each other: what was planted is found, where it was planted and as large."""

import math
from typing import ClassVar

import numpy as np
import pytest
from scipy.signal import butter, sosfiltfilt

from nest_crate.core.comparing import compare_sides, told_apart_by_chance
from nest_crate.core.comparing.grid import edges_hz, grid_levels_db
from nest_crate.core.comparing.matching import later_by
from nest_crate.core.engine import Audio

RATE = 48000


def times(seconds=1.0):
    return np.arange(round(seconds * RATE)) / RATE


def kick(hz=50.0, decay_s=0.15, seconds=1.0, click=0.3):
    t = times(seconds)
    body = np.sin(2 * np.pi * np.cumsum(hz * (1 + 4 * np.exp(-t / 0.03))) / RATE)
    noise = np.random.default_rng(1).normal(size=t.size) * np.exp(-t / 0.01)
    return 0.5 * body * np.exp(-t / decay_s) + click * noise * 0.3


def audio(*channels):
    return Audio(np.array(channels), RATE)


def later(signal, frames):
    return np.concatenate([np.zeros(frames), signal])


def only(found, kind):
    return [one for one in found.pairs[0].differences if one.kind == kind]


class TestAlignment:
    @pytest.mark.parametrize("frames", [0, 1, 37, 480, 12000])
    @pytest.mark.parametrize("gain", [1.0, 0.1, -0.5])
    def test_a_copy_is_found_to_the_frame(self, frames, gain):
        moved = gain * later(kick(), frames)
        assert later_by(kick()[None], moved[None], RATE) == frames
        assert later_by(moved[None], kick()[None], RATE) == -frames

    def test_sides_lie_over_each_other_on_the_ruler(self):
        found = compare_sides([audio(later(kick(), 480)), audio(later(kick(), 2400))])
        assert [one.starts_s for one in found.sides] == pytest.approx([0.04, 0.0])
        assert found.pairs[0].null_db < -100.0
        # The later one waits for nobody, so no silence is added in front.
        assert found.length_s == pytest.approx(1.05)

    def test_a_shift_by_hand_counts_instead(self):
        sides = [audio(kick()), audio(later(kick(), 480))]
        found = compare_sides(sides, shifts_s=[None, 0.0])
        assert found.sides[1].starts_s == 0.0
        assert found.pairs[0].null_db > -10.0

    @pytest.mark.parametrize("hz", [41.0, 47.0, 53.0, 61.0])
    @pytest.mark.parametrize("click", [0.05, 0.3])
    def test_kicks_of_other_pitches_begin_together(self, hz, click):
        """Their bodies would correlate best a period of 20 ms apart."""
        other = later(kick(hz=hz, click=click), 960)
        moved = later_by(kick()[None], other[None], RATE)
        assert moved == pytest.approx(960, abs=0.002 * RATE)

    def test_where_waveforms_say_nothing_onsets_do(self):
        noises = [np.random.default_rng(n).normal(size=9600) * 0.1 for n in (1, 2)]
        assert later_by(noises[0][None], later(noises[1], 700)[None], RATE) == pytest.approx(
            700, abs=48
        )


class TestLevels:
    @pytest.mark.parametrize("match", ["loudness", "peak"])
    @pytest.mark.parametrize("gain_db", [-24.0, 6.0])
    def test_a_softer_copy_is_as_loud_again(self, match, gain_db):
        soft = kick() * 10 ** (gain_db / 20)
        found = compare_sides([audio(kick()), audio(soft)], match=match)
        assert found.sides[1].gain_db == pytest.approx(-gain_db, abs=0.05)
        assert found.pairs[0].null_db < -40.0
        assert found.pairs[0].differences == []

    @pytest.mark.parametrize("gain", [0.5, 0.9, 2.0])
    def test_without_matching_the_null_is_what_is_left(self, gain):
        found = compare_sides([audio(kick()), audio(gain * kick())], match="off")
        assert found.pairs[0].null_db == pytest.approx(20 * math.log10(abs(1 - gain)), abs=0.01)
        assert found.pairs[0].level_db == pytest.approx(abs(20 * math.log10(gain)), abs=0.05)

    @pytest.mark.parametrize("hz", [80.0, 120.0, 600.0, 1200.0, 3000.0, 9000.0])
    def test_a_full_scale_sine_reads_0_db_in_its_band(self, hz):
        levels = grid_levels_db(np.sin(2 * np.pi * hz * times())[None], RATE)
        edges = edges_hz(RATE)
        band = next(n for n in range(len(edges) - 1) if edges[n] <= hz < edges[n + 1])
        steady = levels[:, 40:-40]
        assert steady[band].mean() == pytest.approx(0.0, abs=0.5)
        assert steady.argmax(axis=0).tolist() == [band] * steady.shape[1]


class TestDifferences:
    def test_the_same_has_none(self):
        pair = compare_sides([audio(kick()), audio(kick())]).pairs[0]
        assert (pair.spectra_db, pair.level_db, pair.differences) == (0.0, 0.0, [])
        assert pair.pitch_cent == 0.0

    @pytest.mark.parametrize("gain_db", [-9.0, 9.0])
    @pytest.mark.parametrize(("low_hz", "high_hz"), [(2000.0, 5600.0), (330.0, 700.0)])
    def test_a_band_that_was_moved_for_a_while_is_found_there(self, gain_db, low_hz, high_hz):
        noise = np.random.default_rng(3).normal(size=RATE) * 0.1
        band = sosfiltfilt(butter(4, [low_hz, high_hz], "bandpass", fs=RATE, output="sos"), noise)
        inside = (times() > 0.2) & (times() < 0.5)
        moved = noise + np.where(inside, band * (10 ** (gain_db / 20) - 1.0), 0.0)
        found = compare_sides([audio(noise), audio(moved)], match="off")
        first = only(found, "level")[0]
        assert first.amount == pytest.approx(gain_db, abs=1.5)
        assert (first.from_s, first.to_s) == pytest.approx((0.2, 0.5), abs=0.05)
        assert first.from_hz == pytest.approx(low_hz, rel=0.5)
        assert first.to_hz == pytest.approx(high_hz, rel=0.5)
        said = "stronger" if gain_db > 0 else "weaker"
        assert first.words == f"B is {abs(first.amount):.1f} dB {said}"

    @pytest.mark.parametrize("decay_s", [0.06, 0.4])
    def test_a_longer_fall_is_said_in_seconds(self, decay_s):
        """An exponential decay falls by 20 dB in ln(10) times its time constant."""
        sides = [
            audio(np.sin(2 * np.pi * 80 * times(2.0)) * np.exp(-times(2.0) / one) * 0.5)
            for one in (0.15, decay_s)
        ]
        (fall,) = only(compare_sides(sides, match="peak"), "fall")
        assert fall.amount == pytest.approx(math.log(10) * (decay_s - 0.15), abs=0.03)
        assert ("later" in fall.words) == (decay_s > 0.15)

    @pytest.mark.parametrize("cents", [-120.0, -35.0, 20.0, 300.0])
    def test_a_pitch_that_lands_elsewhere_is_said_in_cents(self, cents):
        moved = kick(hz=50.0 * 2 ** (cents / 1200), decay_s=0.4)
        found = compare_sides([audio(kick(decay_s=0.4)), audio(moved)])
        (pitch,) = only(found, "pitch")
        assert pitch.amount == pytest.approx(cents, abs=3.0)
        assert pitch.words.endswith("sharp" if cents > 0 else "flat")
        assert found.pairs[0].pitch_cent == pytest.approx(abs(cents), abs=5.0)

    def test_the_most_audible_comes_first_and_sides_are_named(self):
        softer = kick(click=0.02)
        found = compare_sides([audio(kick()), audio(kick()), audio(softer)])
        assert [len(one.differences) == 0 for one in found.pairs] == [True, False]
        weights = [one.weight for one in found.pairs[1].differences]
        assert weights == sorted(weights, reverse=True)
        assert found.pairs[1].differences[0].words.startswith("C is")
        assert "attack" in found.pairs[1].differences[0].hint

    def test_what_is_left_out_counts_nowhere(self):
        other = kick()
        other[24000:36000] += 0.3 * np.random.default_rng(4).normal(size=12000)
        sides = [audio(kick()), audio(other)]
        assert compare_sides(sides, match="off").pairs[0].differences
        pair = compare_sides(sides, match="off", left_out=[(0.45, 0.8)]).pairs[0]
        assert pair.differences == []
        assert pair.spectra_db == pytest.approx(0.0, abs=0.01)
        assert pair.null_db == -120.0
        everything = compare_sides(sides, left_out=[(0.0, 99.0)]).pairs[0]
        assert (everything.spectra_db, everything.level_db, everything.differences) == (0, 0, [])
        assert everything.null_db is None


class TestCorners:
    SIDES: ClassVar = {
        "silence": np.zeros((1, 4800)),
        "one frame": np.array([[0.5]]),
        "a millisecond": 0.5 * np.ones((1, 48)),
        "dc": 0.7 * np.ones((1, 9600)),
        "clipped": np.clip(5 * kick(), -1, 1)[None],
        "stereo": np.array([kick(), 0.3 * later(kick(), 40)[:RATE]]),
        "noise": np.random.default_rng(5).normal(size=(2, 24000)) * 0.2,
        "too loud": 8.0 * kick()[None],
    }

    @pytest.mark.parametrize("one", sorted(SIDES))
    @pytest.mark.parametrize("other", sorted(SIDES))
    def test_any_two_are_compared_in_finite_figures(self, one, other):
        found = compare_sides([Audio(self.SIDES[one], RATE), Audio(self.SIDES[other], RATE)])
        (pair,) = found.pairs
        for value in (pair.spectra_db, pair.level_db, pair.pitch_cent, pair.null_db):
            assert value is None or math.isfinite(value)
        assert np.isfinite(pair.apart_db).all()
        assert np.isfinite(pair.spectrum_db).all()
        for difference in pair.differences:
            assert math.isfinite(difference.amount)
            assert difference.from_s < difference.to_s
            assert difference.from_hz < difference.to_hz
        if one == other:
            assert pair.differences == []

    def test_a_millisecond_beside_a_minute(self):
        minute = np.zeros((1, 60 * RATE))
        minute[0, : 10 * RATE] = 0.2 * np.sin(2 * np.pi * 220 * times(10.0))
        found = compare_sides([Audio(self.SIDES["a millisecond"], RATE), Audio(minute, RATE)])
        assert found.length_s == pytest.approx(60.0, abs=0.01)

    def test_no_side_alone_no_fifth_and_no_other_rate(self):
        with pytest.raises(ValueError, match="two to four"):
            compare_sides([audio(kick())])
        with pytest.raises(ValueError, match="two to four"):
            compare_sides([audio(kick())] * 5)
        with pytest.raises(ValueError, match="one rate"):
            compare_sides([audio(kick()), Audio(kick()[None], 44100)])


@pytest.mark.parametrize(("right", "trials"), [(0, 0), (8, 16), (12, 16), (14, 16), (16, 16)])
def test_chance_of_a_result_is_the_sum_of_its_tail(right, trials):
    tail = sum(math.comb(trials, n) for n in range(right, trials + 1)) / 2**trials
    assert told_apart_by_chance(right, trials) == pytest.approx(tail)


def test_more_right_than_asked_is_refused():
    with pytest.raises(ValueError, match="cannot be right"):
        told_apart_by_chance(3, 2)
