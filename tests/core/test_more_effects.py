"""Equaliser, drives, reducer, dynamics, sweeps, spaces and the rest against their definitions."""

import numpy as np
import pytest
from scipy.signal import argrelmin, butter, freqs, sosfreqz, welch

from nest_crate.core.dsp.band_dynamics import raised_gain_db, three_bands
from nest_crate.core.dsp.blurring import blurred_signal
from nest_crate.core.dsp.comb import resonator_signal
from nest_crate.core.dsp.convolving import (
    MADE_IMPULSES,
    convolved_signal,
    impulse_at,
    made_impulse,
)
from nest_crate.core.dsp.delays import echo_signal
from nest_crate.core.dsp.drive import shaped_drive
from nest_crate.core.dsp.equalising import Band, equalised_signal
from nest_crate.core.dsp.gating import gate_gain_db, transient_parts
from nest_crate.core.dsp.reducing import reduced_signal
from nest_crate.core.dsp.room import room_signal
from nest_crate.core.dsp.shimmer import shimmer_signal, shimmer_tail_s
from nest_crate.core.dsp.splitting import split_halves
from nest_crate.core.dsp.sweeping import phased_signal, swept_copy, vibrato_depth_s
from nest_crate.core.dsp.transfer import CURVES, drawn_table, transfer_values
from nest_crate.core.dsp.transposing import transposed_echoes
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
            ("sine_fold", 1.0, 1.0),
            ("rectify", 1 - 1 / np.cosh(2), 1 - 1 / np.cosh(6)),
            ("fold", 1.0, 1.0),
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


class TestSweeps:
    @pytest.mark.parametrize("delay_s", [0.0002, 0.00314159, 0.01])
    def test_a_flangers_delay_is_exact_to_a_hundredth_of_a_frame(self, delay_s):
        out = swept_copy(
            sine(500.0),
            delay_s=np.full((1, RATE), delay_s),
            feedback=np.zeros(RATE),
            sample_rate=RATE,
        )[0]
        n = np.arange(RATE // 2, RATE // 2 + RATE // 5)
        turn = np.exp(-2j * np.pi * 500.0 * n / RATE)
        late = -np.angle(np.sum(out[n] * turn) / np.sum(sine(500.0)[0][n] * turn))
        frames = late / (2 * np.pi * 500.0) * RATE - delay_s * RATE
        assert abs(frames - 96 * round(frames / 96)) < 0.01

    def test_with_the_dry_signal_it_is_a_comb(self):
        copy = swept_copy(
            impulse(1.0),
            delay_s=np.full((1, RATE), 0.001),
            feedback=np.zeros(RATE),
            sample_rate=RATE,
        )
        both = decibels(np.fft.rfft(0.5 * (copy + impulse(1.0))[0]))
        assert both[[500, 1500, 2500]].max() < -40
        np.testing.assert_allclose(both[[1000, 2000]], 0.0, atol=0.05)

    def test_vibrato_swings_by_its_cents_without_clicks(self):
        rate_hz, cents = 5.0, 50.0
        turn = 2 * np.pi * rate_hz * np.arange(2 * RATE) / RATE
        delay = 0.01 + vibrato_depth_s(cents, rate_hz) * np.sin(turn)
        out = swept_copy(
            sine(1000.0, 2.0),
            delay_s=delay[np.newaxis],
            feedback=np.zeros(2 * RATE),
            sample_rate=RATE,
        )[0]
        from scipy.signal import hilbert

        track = np.diff(np.unwrap(np.angle(hilbert(out[4800:-4800])))) * RATE / (2 * np.pi)
        inner = track[2000:-2000]
        found = 1200 * np.log2(np.array([inner.min(), inner.max()]) / 1000.0)
        np.testing.assert_allclose(found, [-cents, cents], atol=2.5)

    def test_a_phasers_notches_lie_where_its_all_passes_turn_by_half_a_cycle(self):
        """Four first-order all-passes turn by 180 degrees where each turns by 45: at tan(22.5)."""
        wet = phased_signal(
            impulse(1.0),
            corner_hz=np.full((1, RATE), 1000.0),
            notches=2,
            feedback=np.zeros(RATE),
            sample_rate=RATE,
        )
        assert np.abs(decibels(np.fft.rfft(wet[0])))[1:-1].max() < 1e-6
        both = decibels(np.fft.rfft(0.5 * (wet + impulse(1.0))[0]))
        notches = [n for n in argrelmin(both[:20000])[0] if both[n] < -30]
        warp = np.tan(np.pi * 1000 / RATE)
        wanted = [np.arctan(warp * np.tan(np.pi / 8 * k)) * RATE / np.pi for k in (1, 3)]
        np.testing.assert_allclose(sorted(notches), wanted, atol=2.0)

    def test_a_delay_wobbling_at_audio_rate_buzzes_with_its_own_sidebands(self):
        """A swing of d seconds at r Hz is phase modulation by 2 pi f d: sidebands at f +- r."""
        count = 2 * RATE
        swing = 0.0001 * np.sin(2 * np.pi * 150.0 * np.arange(count) / RATE)
        out = echo_signal(
            sine(1000.0, 2.0),
            time_s=0.02,
            feedback=0.0,
            crossing=False,
            low_cut_hz=0.001,
            high_cut_hz=1e9,
            sample_rate=RATE,
            wobble=swing,
        )[0, RATE // 2 :]
        hz, magnitudes = spectrum(out, RATE)

        def level(at):
            return magnitudes[np.abs(hz - at) < 20].max()

        from scipy.special import jv

        index = 2 * np.pi * 1000 * 0.0001
        assert level(1150) / level(1000) == pytest.approx(jv(1, index) / jv(0, index), rel=0.02)
        assert level(1300) / level(1000) == pytest.approx(jv(2, index) / jv(0, index), rel=0.04)


class TestTransposing:
    def echoes(self, signal, shift_st, **changes):
        count = signal.shape[1]
        shape = {
            "time_s": 0.3,
            "ratio": np.full(count, 2.0 ** (shift_st / 12)),
            "feedback": np.zeros(count),
            "grain_s": 0.06,
            "low_cut_hz": 0.001,
            "high_cut_hz": 1e9,
            "sample_rate": RATE,
        }
        return transposed_echoes(signal, **{**shape, **changes})

    @pytest.mark.parametrize("shift_st", [-12.0, -5.0, 7.0, 12.0])
    def test_an_echo_is_transposed(self, shift_st):
        out = self.echoes(sine(440.0, 2.0), shift_st)[0, RATE:]
        found = 12 * np.log2(peak_frequency(out, RATE) / 440.0)
        # The heads' joins lie a grain apart: sidebands, whose strongest may lie beside it.
        assert found == pytest.approx(shift_st, abs=0.35)

    def test_without_shift_it_is_a_delay(self):
        out = self.echoes(impulse(1.0), 0.0)[0]
        assert np.argmax(np.abs(out)) == 14400
        assert out[14400] == pytest.approx(1.0, abs=1e-6)

    def test_each_round_climbs_further(self):
        hit = sine(300.0, 3.0)
        hit[:, 4800:] = 0.0
        out = self.echoes(hit, 12.0, feedback=np.full(hit.shape[1], 0.9))[0]
        centroids = []
        for n in (1, 2, 3):
            cut = out[round((0.3 * n - 0.02) * RATE) : round((0.3 * n + 0.14) * RATE)]
            hz, magnitudes = spectrum(cut, RATE)
            centroids.append(hz[np.argmax(magnitudes)])
        np.testing.assert_allclose(np.diff(np.log2(centroids)), 1.0, atol=0.1)


class TestShimmer:
    def answer(self, signal, shift_st, amount, **changes):
        count = signal.shape[1]
        shape = {
            "shift_st": np.full(count, shift_st),
            "amount": np.full(count, amount),
            "size_m": 15.0,
            "decay_s": 1.0,
            "damping_hz": 20000.0,
            "low_cut_hz": 20.0,
            "width": 1.0,
            "sample_rate": RATE,
        }
        return shimmer_signal(signal, **{**shape, **changes})

    @pytest.mark.parametrize("shift_st", [12.0, -12.0, 7.0])
    def test_its_tail_stands_an_interval_away(self, shift_st):
        hit = sine(500.0, 3.0)
        hit[:, RATE // 4 :] = 0.0
        out = self.answer(hit, shift_st, 0.8)[0, RATE:]
        hz, magnitudes = spectrum(out, RATE)
        plain = self.answer(hit, shift_st, 0.0)[0, RATE:]
        _, without = spectrum(plain, RATE)
        near = np.abs(hz / (500.0 * 2 ** (shift_st / 12)) - 1) < 0.04
        assert decibels(magnitudes[near].max() / without[near].max()) > 30

    @pytest.mark.parametrize("shift_st", [0.0, 0.05, 12.0, -24.0])
    def test_it_never_grows_and_its_tail_is_as_computed(self, shift_st):
        hit = noise(9.0, level=0.5)
        hit[:, RATE // 5 :] = 0.0
        out = self.answer(hit, shift_st, 0.9, decay_s=0.8)
        seconds = [np.sqrt(np.mean(out[:, n * RATE : (n + 1) * RATE] ** 2)) for n in range(9)]
        assert seconds[-1] < 0.02 * seconds[0]
        end = round((0.2 + shimmer_tail_s(0.8, 0.9)) * RATE)
        assert decibels(np.abs(out[:, end:]).max() / np.abs(out).max()) < -80


class TestConvolution:
    def test_it_is_convolution(self):
        signal, body = noise(0.2), noise(0.05, seed=9)
        out = convolved_signal(signal, body, late_frames=100)[0]
        wanted = np.convolve(signal[0], body[0])[: signal.shape[1] - 100]
        np.testing.assert_allclose(out[100:], wanted, atol=1e-12)
        assert not out[:100].any()

    @pytest.mark.parametrize("name", MADE_IMPULSES)
    @pytest.mark.parametrize("rate", [44100, 96000])
    def test_made_impulses_have_a_power_of_one_and_end(self, name, rate):
        body = impulse_at(
            made_impulse(name, rate), from_rate=rate, size=1.0, decay_s=1.0, sample_rate=rate
        )
        assert np.mean(np.sum(body**2, axis=1)) == pytest.approx(1.0)
        assert np.all(np.isfinite(body))
        last = body[:, -rate // 100 :]
        assert decibels(np.abs(last).max() / np.abs(body).max()) < -40

    def test_they_differ_as_their_bodies_do(self):
        """A speaker carries little low and high; a spring nothing far up; a plate rings long."""

        def share(name, low_hz, high_hz):
            hz, power = welch(made_impulse(name, RATE)[0], RATE, nperseg=4096)
            return power[(hz >= low_hz) & (hz < high_hz)].sum() / power.sum()

        assert share("speaker", 250, 5000) > 0.8
        assert share("spring", 6000, 24000) < 0.01
        assert share("small_box", 0, 300) < share("large_box", 0, 300)

    def test_a_box_rings_at_its_modes(self):
        """The first mode of a box 0.31 m long: 343 / (2 * 0.31) Hz."""
        body = made_impulse("small_box", RATE)[0, 200:]
        padded = np.concatenate([body, np.zeros(5 * RATE)])
        magnitudes = np.abs(np.fft.rfft(padded))
        hz = np.fft.rfftfreq(padded.size, 1 / RATE)
        near = np.abs(hz - 553.0) < 60
        assert hz[near][np.argmax(magnitudes[near])] == pytest.approx(343 / 0.62, abs=12)

    def test_another_rate_keeps_pitch_and_length_and_a_size_moves_both(self):
        ring = (np.sin(2 * np.pi * 3000 * np.arange(9600) / 96000))[np.newaxis]
        same = impulse_at(ring, from_rate=96000, size=1.0, decay_s=20.0, sample_rate=RATE)
        twice = impulse_at(ring, from_rate=96000, size=2.0, decay_s=20.0, sample_rate=RATE)
        assert same.shape[1] == 4800
        assert twice.shape[1] == 9600
        assert peak_frequency(same[0], RATE) == pytest.approx(3000, abs=1)
        assert peak_frequency(twice[0], RATE) == pytest.approx(1500, abs=1)


class TestResonatorsAndBlur:
    def test_strings_ring_at_their_pitches_for_their_time(self):
        out = resonator_signal(
            impulse(2.0),
            frequencies_hz=[220.0, 330.0],
            ring_s=1.0,
            damping_hz=20000.0,
            width=0.0,
            sample_rate=RATE,
        )[0]
        hz, magnitudes = spectrum(out[:RATE], RATE)
        for wanted in (220.0, 330.0, 440.0, 660.0):
            near = np.abs(hz - wanted) < 20
            assert hz[near][np.argmax(magnitudes[near])] == pytest.approx(wanted, abs=1.0)
        for wanted in (220.0, 330.0):
            turn = np.exp(-2j * np.pi * wanted * np.arange(9600) / RATE) * np.hanning(9600)
            early, late = (np.abs(out[n : n + 9600] @ turn) for n in (4800, 4800 + RATE // 2))
            assert decibels(late / early) == pytest.approx(-30, abs=0.5)

    def test_noise_comes_out_of_strings_about_as_loud(self):
        source = noise(4.0)
        out = resonator_signal(
            source,
            frequencies_hz=[110.0, 165.0, 220.0],
            ring_s=0.5,
            damping_hz=20000.0,
            width=1.0,
            sample_rate=RATE,
        )[:, RATE:]
        assert 10 * np.log10(np.mean(out**2) / np.mean(source**2)) == pytest.approx(0, abs=2)

    def test_a_blur_keeps_power_and_spectrum_and_falls_by_its_time(self):
        source = noise(3.0)
        source[:, RATE // 2 :] = 0.0
        out = blurred_signal(source, time_s=1.0, width=0.0, seed=1, part="b", sample_rate=RATE)[0]
        assert 10 * np.log10(np.sum(out**2) / np.sum(source**2)) == pytest.approx(0, abs=0.7)
        early, late = (np.sqrt(np.mean(out[n : n + 9600] ** 2)) for n in (30000, 30000 + RATE // 2))
        assert decibels(late / early) == pytest.approx(-30, abs=2)

    def test_a_blur_is_the_same_each_time_and_wide_where_asked(self):
        source = noise(1.0)
        shape = {"time_s": 0.3, "seed": 4, "part": "b", "sample_rate": RATE}
        first, second = (blurred_signal(source, width=1.0, **shape) for _ in range(2))
        np.testing.assert_array_equal(first, second)
        assert abs(np.corrcoef(first)[0, 1]) < 0.1
        assert blurred_signal(source, width=0.0, **shape).shape[0] == 1


class TestRoomOptions:
    def test_high_cut_and_movement_keep_the_decay(self):
        shape = {
            "size_m": 12.0,
            "decay_s": 1.0,
            "damping_hz": 20000.0,
            "pre_delay_s": 0.0,
            "low_cut_hz": 20.0,
            "width": 1.0,
            "sample_rate": RATE,
        }
        hit = noise(2.0)
        hit[:, 480:] = 0.0
        plain = room_signal(hit, **shape)
        cut = room_signal(hit, high_cut_hz=2000.0, **shape)
        hz, power = welch(plain[0], RATE, nperseg=2048)
        _, less = welch(cut[0], RATE, nperseg=2048)
        at = np.argmin(np.abs(hz - 8000))
        assert 10 * np.log10(less[at] / power[at]) == pytest.approx(-25, abs=1.5)
        moving = room_signal(hit, movement=1.0, **shape)
        for one in (plain, moving):
            levels = [np.sqrt(np.mean(one[:, n : n + 9600] ** 2)) for n in (9600, 57600)]
            assert decibels(levels[1] / levels[0]) == pytest.approx(-60, abs=3)
