"""Sweeps, echoes that climb, spaces, strings and blur against their definitions."""

import numpy as np
import pytest
from scipy.signal import argrelmin, welch

from nest_crate.core.dsp.delays.echoes import echo_signal
from nest_crate.core.dsp.delays.pitch_heads import transposed_echoes
from nest_crate.core.dsp.filters.comb import resonator_signal
from nest_crate.core.dsp.modulation.swept import phased_signal, swept_copy, vibrato_depth_s
from nest_crate.core.dsp.space.convolution import (
    MADE_IMPULSES,
    convolved_signal,
    impulse_at,
    made_impulse,
)
from nest_crate.core.dsp.space.room import room_signal
from nest_crate.core.dsp.space.shimmer import shimmer_signal, shimmer_tail_s
from nest_crate.core.dsp.space.spectral_blur import blurred_signal
from nest_crate.core.engine import RenderSettings
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.sound import load_sound
from tests.core.spectra import peak_frequency, spectrum
from tests.core.test_effects import RATE, impulse, sine


def noise(seconds=2.0, seed=7, level=0.1):
    return level * np.random.default_rng(seed).normal(size=(1, round(seconds * RATE)))


def decibels(values):
    return 20.0 * np.log10(np.maximum(np.abs(values), 1e-12))


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
        # At twice the rate, twice as many frames half as strong.
        assert np.mean(np.sum(body**2, axis=1)) == pytest.approx(48000 / rate)
        assert np.all(np.isfinite(body))
        last = body[:, -rate // 100 :]
        assert decibels(np.abs(last).max() / np.abs(body).max()) < -40

    def test_they_differ_as_their_bodies_do(self):
        """A speaker carries little low and high; a spring nothing far up; a plate rings long."""

        def share(name, low_hz, high_hz):
            hz, power = welch(made_impulse(name, RATE)[0], RATE, nperseg=4096)
            return power[(hz >= low_hz) & (hz < high_hz)].sum() / power.sum()

        assert share("speaker", 250, 5000) > 0.8
        # Its three resonances, read off what is left after the cone itself.
        late = made_impulse("speaker", RATE)[0, 240:]
        power = np.abs(np.fft.rfft(late, 1 << 16)) ** 2
        at = np.fft.rfftfreq(1 << 16, 1 / RATE)
        for hz in (280.0, 910.0, 2350.0):
            near = (at > 0.8 * hz) & (at < 1.25 * hz)
            assert at[near][np.argmax(power[near])] == pytest.approx(hz, rel=0.03)
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


def test_movement_sways_what_a_shimmer_transposes():
    """Each round is frequency modulated by 15 cents at 0.7 Hz: its line is wider than without."""
    tone = np.sin(2 * np.pi * 400.0 * np.arange(4 * 48000) / 48000)[np.newaxis]
    widths = []
    for movement in (0.0, 1.0):
        chain = [
            {
                "id": "p",
                "kind": "shimmer",
                "shift_st": 12.0,
                "amount": 0.7,
                "mix": 1.0,
                "movement": movement,
            }
        ]
        part = load_sound({"name": "S", "main": {"chain": chain}}).main.chain[0]
        made = process(tone, part, ProcessContext(RenderSettings()))[0, 96000:]
        hz = np.fft.rfftfreq(made.size, 1 / 48000)
        power = np.abs(np.fft.rfft(made * np.hanning(made.size))) ** 2
        near = (hz > 770.0) & (hz < 830.0)
        middle = np.average(hz[near], weights=power[near])
        widths.append(np.sqrt(np.average((hz[near] - middle) ** 2, weights=power[near])))
        assert middle == pytest.approx(800.0, abs=4.0)
    # 15 cents of 800 Hz are 7 Hz, as a sine 4.9 Hz on the average.
    assert widths[1] > widths[0] + 2.0
