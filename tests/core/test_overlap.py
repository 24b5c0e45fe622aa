"""Overlap and sum of two sounds, against sounds whose answer is known."""

import numpy as np
import pytest

from nest_crate.core.tryout.overlap import bands_hz, offers, overlap, together

RATE = 48000


def tone(hz, seconds=0.3, phase=0.0, level=1.0, decay_s=0.08, at_s=0.0):
    t = np.arange(round(seconds * RATE)) / RATE
    made = level * np.sin(2 * np.pi * hz * t + phase) * np.exp(-t / decay_s)
    return np.pad(made, (round(at_s * RATE), 0))[None]


class TestOverlap:
    def test_bands_are_third_octaves(self):
        bands = bands_hz()
        assert bands[0] == pytest.approx(31.25)
        assert bands[-1] == 16000
        assert bands[1:] / bands[:-1] == pytest.approx(2 ** (1 / 3))

    def test_a_sound_covers_itself_wholly(self):
        found = overlap(tone(60), tone(60), RATE)
        assert found.amount_db == pytest.approx(0.0, abs=0.2)
        assert found.hidden_db == pytest.approx(-3.01, abs=0.01)
        (most, *_) = found.stretches
        assert most.from_hz < 60 < most.to_hz
        # A band of a third of an octave at 60 Hz takes its time to answer.
        assert most.from_s <= 0.01
        assert most.to_s == pytest.approx(0.05)

    @pytest.mark.parametrize("rate", [44100, 48000, 96000])
    def test_a_band_holds_the_energy_of_its_tone(self, rate):
        t = np.arange(rate) / rate
        steady = 0.5 * np.sin(2 * np.pi * 1000 * t)[None]
        found = overlap(steady, steady, rate, 1.0)
        band = int(np.argmin(np.abs(bands_hz() - 1000)))
        # A sine of 0.5 has a mean square of an eighth.
        assert found.first_db[band, 100:].mean() == pytest.approx(10 * np.log10(1 / 8), abs=0.05)
        assert found.first_db[band + 3, 100:].max() < -50

    def test_sounds_of_other_bands_or_other_times_leave_each_other_alone(self):
        assert overlap(tone(60), tone(2500), RATE).amount_db < -20
        assert overlap(tone(1000, decay_s=0.004), tone(1000, at_s=0.045), RATE).amount_db < -10

    def test_what_is_far_softer_does_not_fight(self):
        assert not overlap(tone(60), tone(60, level=0.1), RATE).covered.any()

    def test_silence_covers_nothing(self):
        found = overlap(np.zeros((1, 100)), tone(60), RATE)
        assert not found.covered.any()
        assert found.stretches == ()


class TestTogether:
    def test_equal_sounds_are_six_db_louder_and_cancel_inverted(self):
        found = together(tone(55), tone(55), RATE)
        assert found.sum_db == pytest.approx(20 * np.log10(2), abs=0.01)
        assert found.inverted_db < -60
        assert found.shift_s == 0.0

    def test_a_quarter_of_a_period_apart_the_shift_is_found(self):
        # A sine that is a quarter ahead fits if it comes a quarter of 1/50 s later.
        found = together(tone(50, decay_s=9), tone(50, phase=np.pi / 2, decay_s=9), RATE)
        assert found.sum_db == pytest.approx(10 * np.log10(2), abs=0.15)
        assert found.shift_s == pytest.approx(0.005, abs=0.0004)
        assert found.shifted_db == pytest.approx(20 * np.log10(2), abs=0.2)

    def test_opposite_sounds_say_that_polarity_helps(self):
        found = together(tone(50), -tone(50), RATE)
        assert found.sum_db < -60
        assert found.inverted_db == pytest.approx(20 * np.log10(2), abs=0.01)

    def test_highs_do_not_count(self):
        assert together(tone(50), tone(3000), RATE).sum_db == pytest.approx(0.0, abs=0.1)


class TestOffers:
    def test_each_helps_by_what_it_says(self):
        kick, bass = tone(60, decay_s=0.05), tone(60, decay_s=0.4, phase=1.0)
        found = {one.kind: one for one in offers(kick, bass, RATE)}
        assert {"attack", "duck"} <= set(found)
        for one in found.values():
            assert one.after_db <= one.before_db - 3.0
        attack = found["attack"].value
        rise = np.minimum(1.0, np.arange(bass.shape[1]) / round(attack * RATE))
        assert overlap(kick, bass * rise, RATE).hidden_db == pytest.approx(found["attack"].after_db)

    def test_nothing_is_offered_where_nothing_overlaps(self):
        assert offers(tone(60), tone(3000), RATE) == ()
