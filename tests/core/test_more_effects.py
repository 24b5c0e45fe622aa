"""Equaliser, drives, halves, reducer, multiband, gate and transients against their definitions."""

import numpy as np
import pytest
from scipy.signal import butter, freqs, sosfreqz

from nest_crate.core.dsp.distortion.bit_reduction import reduced_signal
from nest_crate.core.dsp.distortion.drive import shaped_drive
from nest_crate.core.dsp.distortion.transfer import CURVES, drawn_table, transfer_values
from nest_crate.core.dsp.dynamics.gate import gate_gain_db, transient_parts
from nest_crate.core.dsp.dynamics.multiband import raised_gain_db, three_bands
from nest_crate.core.dsp.filters.equaliser import Band, equalised_signal
from nest_crate.core.dsp.filters.halves import split_halves
from nest_crate.core.engine import RenderSettings
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.sound import load_sound
from tests.core.spectra import alias_dbc, peak_frequency, spectrum
from tests.core.test_effects import RATE, impulse, sine

DRAWN = drawn_table(((-1.0, -1.0), (-0.3, -0.6), (0.0, 0.0), (0.4, 0.9), (1.0, 0.6)))


def noise(seconds=2.0, seed=7, level=0.1):
    return level * np.random.default_rng(seed).normal(size=(1, round(seconds * RATE)))


def decibels(values):
    return 20.0 * np.log10(np.maximum(np.abs(values), 1e-12))


def prototype_db(response, hz, frequency_hz, gain_db, q):
    """The analogue prototypes written as polynomials, and evaluated by SciPy."""
    w = 2 * np.pi * frequency_hz
    a = 10 ** (gain_db / 40)
    top, bottom = {
        "peak": ([1, w * a / q, w * w], [1, w / (a * q), w * w]),
        "low_shelf": (
            [a, w * a * np.sqrt(a) / q, a * a * w * w],
            [a, w * np.sqrt(a) / q, w * w],
        ),
        "high_shelf": (
            [a * a, w * a * np.sqrt(a) / q, a * w * w],
            [1, w * np.sqrt(a) / q, a * w * w],
        ),
        "low_cut": ([1, 0, 0], [1, w / q, w * w]),
        "high_cut": ([w * w], [1, w / q, w * w]),
        "notch": ([1, 0, w * w], [1, w / q, w * w]),
    }[response]
    return decibels(freqs(top, bottom, 2 * np.pi * hz)[1])


class TestEqualiser:
    @pytest.mark.parametrize(
        "response", ["peak", "low_shelf", "high_shelf", "low_cut", "high_cut", "notch"]
    )
    @pytest.mark.parametrize("frequency_hz", [60.0, 1000.0, 9000.0, 15000.0])
    @pytest.mark.parametrize(("gain_db", "sharpness"), [(-24.0, 0.707), (12.0, 3.0), (24.0, 0.4)])
    def test_it_meets_its_analogue_prototype(self, response, frequency_hz, gain_db, sharpness):
        band = Band(response, frequency_hz, gain_db, sharpness)
        answer = equalised_signal(impulse(2.0), [band], sample_rate=RATE)[0]
        hz = np.fft.rfftfreq(answer.size, 1 / RATE)
        heard = (hz >= 20) & (hz <= 16000)
        wanted = prototype_db(response, hz[heard], frequency_hz, gain_db, sharpness)
        found = decibels(np.fft.rfft(answer))[heard]
        deep = wanted > -60
        assert np.abs(found - wanted)[deep].max() < 0.1

    def test_bands_add_up_and_nothing_comes_before_the_sound(self):
        bands = [Band("peak", 400.0, 6.0, 1.0), Band("high_shelf", 12000.0, -9.0, 0.7)]
        late = np.roll(impulse(0.5), 4800, axis=1)
        answer = equalised_signal(late, bands, sample_rate=RATE)[0]
        assert np.abs(answer[:4790]).max() < 1e-6
        hz = np.fft.rfftfreq(answer.size, 1 / RATE)
        at = np.searchsorted(hz, [400.0, 12000.0])
        wanted = sum(
            prototype_db(one.response, hz[at], one.frequency_hz, one.gain_db, one.sharpness)
            for one in bands
        )
        np.testing.assert_allclose(decibels(np.fft.rfft(answer))[at], wanted, atol=0.05)

    def test_a_band_of_nothing_changes_nothing(self):
        signal = noise(0.1)
        same = equalised_signal(signal, [Band("peak", 1000.0, 0.0, 1.0)], sample_rate=RATE)
        assert same is signal


def three_partials(x):
    """A triangle's first three partials at a peak of 1, of slope 1 at 0."""
    peak = 1 + 1 / 9 + 1 / 25
    u = x * peak / (1 - 1 / 3 + 1 / 5)
    return (np.sin(u) - np.sin(3 * u) / 9 + np.sin(5 * u) / 25) / peak


class TestDriveShapes:
    @pytest.mark.parametrize("shape", sorted(CURVES))
    @pytest.mark.parametrize("rest", [0.0, 0.5])
    def test_alias_products_lie_below_80_db(self, shape, rest):
        """A 5 kHz sine at +24 dB, final quality, as the table of figures asks."""
        driven = 10 ** (24 / 20) * sine(5000.0) + rest
        out = shaped_drive(driven, shape=shape, rest=rest, octaves=3, table=DRAWN)[0, 4800:43200]
        assert alias_dbc(out - out.mean(), 5000.0, RATE) < -80.0

    @pytest.mark.parametrize("shape", sorted(CURVES))
    def test_a_slow_signal_meets_the_curve(self, shape):
        ramp = np.linspace(-2.5, 2.5, 4 * RATE)[np.newaxis]
        out = shaped_drive(ramp, shape=shape, rest=0.0, octaves=3, table=DRAWN)[0]
        wanted = transfer_values(shape, ramp[0], DRAWN)
        assert np.abs(out - wanted)[500:-500].max() < 2e-3

    @pytest.mark.parametrize(
        ("shape", "at_one", "at_minus_three"),
        [
            ("soft", np.tanh(1), -np.tanh(3)),
            ("tube", np.tanh(1), -0.5 * np.tanh(6)),
            ("hard", 1.0, -1.0),
            ("sine_fold", np.sin(1), -np.sin(3)),
            ("rectify", 1 - 1 / np.cosh(2), 1 - 1 / np.cosh(6)),
            ("fold", three_partials(1.0), three_partials(-3.0)),
            ("drawn", 0.6, -1.0),
        ],
    )
    def test_curves_are_what_they_are_said_to_be(self, shape, at_one, at_minus_three):
        values = transfer_values(shape, np.array([1.0, -3.0]), DRAWN)
        np.testing.assert_allclose(values, [at_one, at_minus_three], atol=1e-9)

    def test_a_drawn_curve_passes_its_points_and_goes_no_further(self):
        at = transfer_values("drawn", np.array([-1.0, -0.3, 0.0, 0.4, 1.0, 5.0]), DRAWN)
        np.testing.assert_allclose(at, [-1.0, -0.6, 0.0, 0.9, 0.6, 0.6], atol=2e-3)
        every = transfer_values("drawn", np.linspace(-1, 1, 999), DRAWN)
        assert every.max() <= 0.9001
        assert every.min() >= -1.0001


class TestHalves:
    def test_they_null_and_each_falls_by_24_db_an_octave(self):
        signal = noise(1.0)
        low, high = split_halves(signal, 1000.0, sample_rate=RATE)
        np.testing.assert_allclose(low + high, signal, atol=1e-15)
        middle = np.roll(impulse(1.0), RATE // 2, axis=1)
        parts = split_halves(middle, 1000.0, sample_rate=RATE)
        hz = np.fft.rfftfreq(RATE, 1 / RATE)
        at = [250, 1000, 4000]
        found = [decibels(np.fft.rfft(part[0]))[at] for part in parts]
        x = (hz[at] / 1000.0) ** 4
        np.testing.assert_allclose(found[0], decibels(1 / (1 + x)), atol=1.0)
        np.testing.assert_allclose(found[1], decibels(x / (1 + x)), atol=1.0)


class TestReducer:
    def reduced(self, signal, bits, rate_hz, smooth=False):
        count = signal.shape[1]
        return reduced_signal(
            signal,
            bits=np.full(count, bits),
            rate_hz=np.full(count, rate_hz),
            smooth=smooth,
            sample_rate=RATE,
        )

    @pytest.mark.parametrize("bits", [2.0, 4.0, 8.0, 12.0])
    def test_noise_of_the_steps_is_the_textbooks(self, bits):
        """6.02 dB a bit: an even spread over a step q has the power q^2 / 12."""
        signal = np.random.default_rng(3).uniform(-0.99, 0.99, size=(1, RATE))
        error = self.reduced(signal, bits, 48000.0) - signal
        step = 2.0 ** (1 - bits)
        assert 10 * np.log10(np.mean(error**2)) == pytest.approx(
            10 * np.log10(step**2 / 12), abs=0.3
        )

    def test_samples_are_held_and_images_lie_about_the_rate(self):
        out = self.reduced(sine(1000.0), 16.0, 8000.0)[0]
        assert np.all(out[:6] == out[0])
        hz, magnitudes = spectrum(out[4800:43200], RATE)

        def level(at):
            return magnitudes[np.abs(hz - at) < 40].max()

        # Six equal frames: sin(6 u) / sin(u) with u = pi f / rate, at 7 kHz against 1 kHz.
        u = np.pi * np.array([7.0, 1.0]) / 48
        wanted = np.divide(*np.abs(np.sin(6 * u) / np.sin(u)))
        assert level(7000) / level(1000) == pytest.approx(wanted, rel=0.01)

    def test_the_filter_before_keeps_what_would_fold_back_away(self):
        plain, smooth = (
            self.reduced(sine(7000.0), 16.0, 8000.0, smooth=one)[0, 4800:] for one in (False, True)
        )
        hz, magnitudes = spectrum(plain, RATE)
        hz, held_back = spectrum(smooth, RATE)
        at = np.abs(hz - 1000) < 40
        assert decibels(held_back[at].max() / magnitudes[at].max()) < -20

    def test_silence_stays_silence(self):
        assert not self.reduced(np.zeros((2, 100)), 1.0, 50.0).any()


class TestMultiband:
    def test_bands_sum_flat(self):
        bands = three_bands(impulse(1.0), 120.0, 2500.0, sample_rate=RATE)
        total = decibels(np.fft.rfft(sum(bands)[0]))
        assert np.abs(total[20:20000]).max() < 0.1

    def test_bands_are_linkwitz_rileys(self):
        low, middle, high = three_bands(impulse(1.0), 200.0, 3000.0, sample_rate=RATE)
        hz = np.array([50, 200, 800, 3000, 10000])
        sos = butter(2, 200.0, fs=RATE, output="sos")
        wanted = 2 * decibels(sosfreqz(sos, hz, fs=RATE)[1])
        found = decibels(np.fft.rfft(low[0]))[hz]
        np.testing.assert_allclose(found, wanted, atol=0.1)
        assert decibels(np.fft.rfft(middle[0]))[[200, 3000]] == pytest.approx([-6, -6], abs=0.2)
        assert decibels(np.fft.rfft(high[0]))[750] == pytest.approx(-48.2, abs=0.5)

    def test_what_is_soft_is_raised_by_its_ratio(self):
        found = raised_gain_db(np.array([-20.0, -50.0, -70.0, -200.0]), -40.0, 2.0)
        np.testing.assert_allclose(found, [0.0, 5.0, 15.0, 0.0])
        assert raised_gain_db(np.array([-75.0]), -20.0, 20.0)[0] == pytest.approx(30.0)
        # Less and less over 15 dB from there, so that a tail still ends.
        fading = raised_gain_db(np.array([-78.75, -82.5, -90.0]), -20.0, 20.0)
        np.testing.assert_allclose(fading, [22.5, 15.0, 0.0], atol=1e-9)


class TestGateAndTransients:
    def gains(self, signal, **changes):
        shape = {
            "threshold_db": -30.0,
            "floor_db": -80.0,
            "attack_s": 0.0,
            "hold_s": 0.05,
            "release_s": 0.02,
            "look_ahead_s": 0.0,
            "sample_rate": RATE,
        }
        return gate_gain_db(signal, **{**shape, **changes})

    def test_it_opens_holds_and_closes(self):
        level = np.zeros((1, RATE))
        level[0, 4800:9600] = 0.1
        gain = self.gains(level)
        assert gain[4799] < -80
        assert gain[4801] == pytest.approx(0.0, abs=0.01)
        held_until = 9600 + round(0.052 * RATE)
        assert gain[held_until - 10] == pytest.approx(0.0, abs=0.01)
        # 63 % of the way down a release later.
        after = 10 ** (gain[held_until + round(0.02 * RATE)] / 20)
        assert after == pytest.approx(np.exp(-1), rel=0.05)

    def test_a_floor_is_kept_and_a_level_between_both_thresholds_keeps_it_open(self):
        level = np.full((1, RATE), 10 ** (-32 / 20))
        assert self.gains(level, floor_db=-20.0) == pytest.approx(-20.0, abs=1e-6)
        level[0, :100] = 1.0
        assert self.gains(level, floor_db=-20.0)[-1] == pytest.approx(0.0, abs=0.01)

    def test_an_attack_is_told_from_what_follows_at_any_level(self):
        fall = np.exp(-np.arange(RATE) / (0.1 * RATE)) * np.sign(sine(400.0)[0])
        for level in (1.0, 0.05):
            attack, decay = transient_parts(
                level * fall[np.newaxis], speed_s=0.01, sample_rate=RATE
            )
            assert attack[100] > 0.95
            assert attack[RATE // 10] < 0.05
            assert decay[RATE // 5] > 0.5
            assert decay[100] < 0.05

    def test_nothing_happens_to_what_stays_as_it_is_and_to_silence(self):
        attack, decay = transient_parts(sine(1000.0), speed_s=0.01, sample_rate=RATE)
        assert max(attack[RATE // 2 :].max(), decay[RATE // 2 :].max()) < 0.05
        assert not np.any(transient_parts(np.zeros((1, 99)), speed_s=0.01, sample_rate=RATE))


class TestStereoDetune:
    @pytest.mark.parametrize("cents", [0.0, 30.0, 100.0])
    def test_sides_of_a_pitch_delay_lie_apart_by_it(self, cents):
        chain = [
            {
                "id": "p",
                "kind": "pitch_delay",
                "shift_st": 7.0,
                "detune_cent": cents,
                "feedback": 0.0,
                "mix": 1.0,
                "time_s": 0.2,
            }
        ]
        part = load_sound({"name": "P", "main": {"chain": chain}}).main.chain[0]
        tone = np.sin(2 * np.pi * 400.0 * np.arange(96000) / 48000)[np.newaxis]
        made = process(tone, part, ProcessContext(RenderSettings()))
        sides = [peak_frequency(one[48000:90000], 48000) for one in (made[0], made[-1])]
        middle = 400.0 * 2.0 ** (7.0 / 12.0)
        apart = 1200.0 * np.log2(sides[0] / sides[1])
        assert apart == pytest.approx(cents, abs=1.5)
        assert 1200.0 * np.log2(np.sqrt(sides[0] * sides[1]) / middle) == pytest.approx(
            0.0, abs=2.0
        )
