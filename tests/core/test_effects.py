"""Effects against their definitions: times, curves, shifts, decay, ceiling."""

from typing import ClassVar

import numpy as np
import pytest
from scipy.signal import butter, resample_poly, sosfilt, sosfiltfilt, welch

from nest_crate.core.dsp.delays.echoes import chorus_signal, echo_signal
from nest_crate.core.dsp.dynamics.compressor import (
    ceiling_signal,
    compressor_gain_db,
    static_gain_db,
)
from nest_crate.core.dsp.modulation.frequency_shift import shifted_signal, width_signal
from nest_crate.core.dsp.space.room import room_signal
from nest_crate.core.dsp.space.room_network import line_lengths
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import load_sound
from tests.core.spectra import alias_dbc, spectrum

RATE = 48000


def sine(hz, seconds=1.0, rate=RATE):
    return np.sin(2 * np.pi * hz * np.arange(round(seconds * rate)) / rate)[np.newaxis]


def impulse(seconds=1.0, rate=RATE):
    signal = np.zeros((1, round(seconds * rate)))
    signal[0, 0] = 1.0
    return signal


def echoes(signal, **changes):
    shape = {
        "time_s": 0.1,
        "feedback": 0.5,
        "crossing": False,
        "low_cut_hz": 0.001,
        "high_cut_hz": 1e9,
        "sample_rate": RATE,
    }
    return echo_signal(signal, **{**shape, **changes})


class TestDelay:
    @pytest.mark.parametrize("rate", [44100, 48000, 96000])
    @pytest.mark.parametrize("time_s", [0.0005, 0.0123456, 0.3])
    def test_time_is_exact_to_a_hundredth_of_a_frame(self, time_s, rate):
        """The phase by which a 500 Hz sine comes late."""
        late = echoes(sine(500.0, 1.0, rate), time_s=time_s, feedback=0.0, sample_rate=rate)[0]
        n = np.arange(rate // 2, rate // 2 + rate // 5)
        turn = np.exp(-2j * np.pi * 500.0 * n / rate)
        phase = np.angle(np.sum(late[n] * turn) / np.sum(sine(500.0, 1.0, rate)[0][n] * turn))
        frames = (-phase / (2 * np.pi * 500.0) * rate) % (rate / 500.0)
        wanted = (time_s * rate) % (rate / 500.0)
        assert min(abs(frames - wanted), abs(abs(frames - wanted) - rate / 500.0)) < 0.01

    def test_echoes_fall_by_the_feedback(self):
        out = echoes(impulse())[0]
        np.testing.assert_allclose(out[[4800, 9600, 14400]], [1.0, 0.5, 0.25], atol=1e-6)
        assert np.abs(np.delete(out, [4800, 9600, 14400, *range(19000, 48000)])).max() < 1e-6

    def test_crossing_echoes_change_sides_and_begin_left(self):
        out = echoes(impulse(), crossing=True)
        assert out[:, 4800] == pytest.approx([1.0, 0.0], abs=1e-6)
        assert out[:, 9600] == pytest.approx([0.0, 0.5], abs=1e-6)
        assert out[:, 14400] == pytest.approx([0.25, 0.0], abs=1e-6)

    def test_filters_in_the_loop_take_more_each_time(self):
        out = echoes(impulse(), high_cut_hz=1000.0, feedback=0.9)[0]
        spectra = [np.abs(np.fft.rfft(out[n * 4800 - 60 : n * 4800 + 2340])) for n in (1, 2, 3)]
        at = round(4000 * 2400 / RATE)
        falls = [20 * np.log10(one[at] / one[2]) for one in spectra]
        assert falls[0] < -10
        assert falls[1] == pytest.approx(2 * falls[0], rel=0.05)
        assert falls[2] == pytest.approx(3 * falls[0], rel=0.05)

    @pytest.mark.parametrize("rate", [44100, 96000])
    def test_a_moved_corner_lets_through_what_a_first_order_filter_would(self, rate):
        """Once the corner stands at its second value; prototype: 1 / (1 + (f / corner)^2)."""
        corner = np.full(2 * rate // 16 + 2, 4000.0)
        corner[: rate // 16] = 500.0
        for hz in (250.0, 1000.0):
            one = sine(hz, 2.0, rate)
            late = echoes(one, high_cut_hz=corner, feedback=0.0, sample_rate=rate)[0]
            for second, corner_hz in ((0, 500.0), (1, 4000.0)):
                heard = late[second * rate + rate // 4 : (second + 1) * rate]
                fallen_db = 10 * np.log10(2 * np.mean(heard**2))
                wanted_db = -10 * np.log10(1 + (hz / corner_hz) ** 2)
                assert fallen_db == pytest.approx(wanted_db, abs=0.05)

    def test_the_filter_shift_moves_both_corners(self):
        """Two octaves up is four times both cuts, still and as an LFO would hold it."""
        noise = {"kind": "noise"}
        delay = {"id": "d", "kind": "delay", "mix": 1.0, "low_cut_hz": 100, "high_cut_hz": 1000}

        def made(chain_part, **more):
            layer = {"id": "a", "name": "A", "source": noise, "chain": [chain_part]}
            return render(load_sound({"name": "S", "layers": [layer], **more})).samples

        wanted = made({**delay, "low_cut_hz": 400, "high_cut_hz": 4000})
        np.testing.assert_array_equal(made({**delay, "shift_oct": 2.0}), wanted)
        held = {
            "movers": [{"id": "m", "name": "M", "kind": "macro", "value": 1.0}],
            "links": [{"mover": "m", "target": "d.shift_oct", "amount": 2.0}],
        }
        moved = made(delay, **held)
        frames = min(moved.shape[1], wanted.shape[1])
        np.testing.assert_allclose(moved[:, :frames], wanted[:, :frames], atol=1e-9)

    def test_a_moved_time_bends_the_pitch_without_clicks(self):
        """Shortened by 10 ms a second, what comes out is 1 % higher."""
        moving = np.linspace(0.1, 0.08, 2 * RATE // 16 + 2)
        late = echoes(sine(1000.0, 2.0), time_s=moving, feedback=0.0)[0, RATE // 2 :]
        hz, magnitudes = spectrum(late, RATE)
        assert hz[np.argmax(magnitudes)] == pytest.approx(1010.0, abs=1.0)
        away = np.abs(hz - 1010.0) > 60
        assert 20 * np.log10(magnitudes[away].max() / magnitudes.max()) < -80


class TestChorus:
    def copies(self, signal, **changes):
        count = signal.shape[1]
        shape = {
            "voices": 1,
            "delay_s": np.full(count, 0.01),
            "depth_s": np.zeros(count),
            "cycles": np.arange(count) * 0.5 / RATE,
            "feedback": np.zeros(count),
            "width": 0.0,
            "sample_rate": RATE,
        }
        return chorus_signal(signal, **{**shape, **changes})

    def test_one_voice_at_rest_is_a_delay(self):
        out = self.copies(impulse())
        assert out[:, 480] == pytest.approx([1.0, 1.0])
        assert np.abs(np.delete(out[0], 480)).max() < 1e-12

    def test_voices_keep_the_power_and_stand_apart(self):
        noise = np.random.default_rng(5).normal(size=(1, 2 * RATE)) * 0.1
        noise = sosfilt(butter(6, 6000.0, fs=RATE, output="sos"), noise, axis=1)
        count = noise.shape[1]
        out = self.copies(
            noise, voices=8, depth_s=np.full(count, 0.004), delay_s=np.full(count, 0.02), width=1.0
        )
        power = np.mean(out[:, RATE:] ** 2) / np.mean(noise**2)
        assert 10 * np.log10(power) == pytest.approx(0.0, abs=0.7)
        assert np.corrcoef(out[:, RATE:])[0, 1] < 0.7

    def test_feedback_near_its_end_rings_and_does_not_grow(self):
        count = 4 * RATE
        out = self.copies(impulse(4.0), feedback=np.full(count, 0.95), voices=4)
        seconds = [np.abs(out[:, n * RATE : (n + 1) * RATE]).max() for n in range(4)]
        assert np.all(np.diff(np.log(seconds)) < np.log(0.7))


class TestCompressor:
    SETTINGS: ClassVar = {"threshold_db": -20.0, "ratio": 4.0, "knee_db": 0.0}

    def gain(self, signal, **changes):
        shape = {
            **self.SETTINGS,
            "attack_s": 0.01,
            "release_s": 0.1,
            "look_ahead_s": 0.0,
            "measure": "peak",
            "sample_rate": RATE,
        }
        return compressor_gain_db(signal, **{**shape, **changes})

    @pytest.mark.parametrize("level_db", [-40.0, -20.0, -12.0, 0.0])
    @pytest.mark.parametrize("measure", ["peak", "rms"])
    def test_static_curve_is_met(self, level_db, measure):
        level = 10 ** (level_db / 20)
        # Held at its level: a square is always at its peak, a sine's rms is given as its peak.
        steady = np.full((1, RATE), level) if measure == "peak" else level * sine(997.0)
        found = self.gain(steady, measure=measure)[RATE // 2 : -1000].mean()
        expected = min(0.0, (level_db + 20.0) * (1 / 4 - 1))
        assert found == pytest.approx(expected, abs=0.1)

    def test_knee_is_the_papers(self):
        level = np.array([-26.0, -23.0, -20.0, -17.0, -14.0])
        found = static_gain_db(level, threshold_db=-20.0, ratio=4.0, knee_db=12.0)
        np.testing.assert_allclose(found, -0.75 * (level + 26.0) ** 2 / 24.0)
        hard = static_gain_db(level, threshold_db=-20.0, ratio=4.0, knee_db=0.0)
        np.testing.assert_allclose(hard, [0, 0, 0, -2.25, -4.5])

    @pytest.mark.parametrize(("attack_s", "release_s"), [(0.005, 0.05), (0.05, 0.4)])
    def test_attack_and_release_take_their_time(self, attack_s, release_s):
        """63 % of the way in the time that is set, within 5 %."""
        step = np.concatenate([np.full(RATE, 1e-4), np.ones(RATE), np.full(2 * RATE, 1e-4)])
        gain = self.gain(step[np.newaxis], attack_s=attack_s, release_s=release_s)
        down = np.flatnonzero(gain[RATE : 2 * RATE] <= -15.0 * (1 - np.exp(-1)))[0] / RATE
        up = np.flatnonzero(gain[2 * RATE :] >= -15.0 * np.exp(-1))[0] / RATE
        assert down == pytest.approx(attack_s, rel=0.05)
        assert up == pytest.approx(release_s, rel=0.05)

    def test_looking_ahead_the_gain_comes_before_the_hit(self):
        step = np.concatenate([np.full(4800, 1e-4), np.ones(4800)])[np.newaxis]
        gain = self.gain(step, attack_s=0.002, look_ahead_s=0.01)
        assert gain[4799] < -14.0
        assert self.gain(step, attack_s=0.002)[4799] == pytest.approx(0.0, abs=1e-3)


class TestShifter:
    @pytest.mark.parametrize("hz", [30.0, 440.0, 5000.0, 15000.0])
    @pytest.mark.parametrize(("way", "side"), [("up", 1), ("down", -1)])
    def test_only_the_wanted_sideband_is_there(self, hz, way, side):
        signal = sine(hz, 2.0)
        cycles = 13.0 * np.arange(signal.shape[1]) / RATE
        out = shifted_signal(signal, cycles, way=way, sample_rate=RATE)[0, RATE // 2 : -RATE // 2]
        found, magnitudes = spectrum(out, RATE)

        def level(at):
            return magnitudes[np.abs(found - at) < 3].max()

        assert found[np.argmax(magnitudes)] == pytest.approx(hz + side * 13.0, abs=1.0)
        assert 20 * np.log10(level(hz - side * 13.0) / level(hz + side * 13.0)) < -60
        assert level(hz + side * 13.0) / spectrum(sine(1000.0), RATE)[1].max() == pytest.approx(
            1.0, abs=0.01
        )

    def test_a_click_dies_away_soon(self):
        """The ideal filter of a single sideband falls as 1 / t; near 0 Hz it is removed."""
        cycles = 60.0 * np.arange(2 * RATE) / RATE
        out = np.abs(shifted_signal(impulse(2.0), cycles, way="up", sample_rate=RATE)[0])
        assert out[RATE // 2 : -RATE // 2].max() < 10 ** (-100 / 20)

    def test_ring_gives_both_at_half(self):
        out = shifted_signal(
            sine(1000.0), 300.0 * np.arange(RATE) / RATE, way="ring", sample_rate=RATE
        )[0]
        found, magnitudes = spectrum(out, RATE)
        scale = spectrum(sine(1000.0)[0], RATE)[1].max()
        levels = [magnitudes[np.abs(found - hz) < 5].max() / scale for hz in (700, 1300, 1000)]
        np.testing.assert_allclose(levels, [0.5, 0.5, 0.0], atol=1e-3)

    def test_what_would_pass_the_highest_frequency_is_gone(self):
        out = shifted_signal(
            sine(20000.0), 9000.0 * np.arange(RATE) / RATE, way="up", sample_rate=RATE
        )[0]
        assert np.abs(out[4800:-4800]).max() < 1e-4


class TestWidth:
    def test_below_the_frequency_both_sides_are_the_same(self):
        left, right = (np.random.default_rng(n).normal(size=2 * RATE) * 0.1 for n in (6, 7))
        out = width_signal(
            np.stack([left, right]), width=1.0, mono_below_hz=200.0, sample_rate=RATE
        )
        hz, side = welch(out[0] - out[1], RATE, nperseg=8192)
        _, before = welch(left - right, RATE, nperseg=8192)
        change = 10 * np.log10(side / before)
        assert change[(hz > 10) & (hz < 50)].max() < -40
        assert np.abs(change[hz > 1000]).max() < 0.3
        middle = welch(out[0] + out[1], RATE, nperseg=8192)[1]
        whole = welch(left + right, RATE, nperseg=8192)[1]
        assert np.abs(10 * np.log10(middle / whole)[hz > 20]).max() < 0.3

    @pytest.mark.parametrize("rate", [44100, 48000, 96000])
    @pytest.mark.parametrize("slope_db", [12, 24, 48])
    @pytest.mark.parametrize("below_hz", [80.0, 200.0, 1000.0])
    def test_the_side_falls_by_its_slope_and_the_middle_stays(self, rate, slope_db, below_hz):
        impulses = np.zeros((2, 4 * rate))
        impulses[0, 0] = 1.0
        out = width_signal(
            impulses, width=1.0, mono_below_hz=below_hz, sample_rate=rate, slope_db=slope_db
        )
        hz = np.arange(1, 16000)
        middle, side = (np.fft.rfft(one)[4 * hz] for one in (out[0] + out[1], out[0] - out[1]))
        np.testing.assert_allclose(np.abs(middle), 1.0, atol=1e-3)
        power = (hz / below_hz) ** (slope_db / 6)
        heard = hz > below_hz / 3
        change = 20 * np.log10(np.abs(side) * (1 + power) / power)[heard & (hz < 4000)]
        assert np.abs(change).max() < 0.25
        # Above, both sides are what they were to each other.
        assert np.abs(side / middle - 1.0)[hz > 30 * below_hz].max(initial=0.0) < 0.01

    def test_no_width_is_mono_and_mono_stays_as_it_is(self):
        pair = np.stack([sine(300.0)[0], np.zeros(RATE)])
        mono = width_signal(pair, width=0.0, mono_below_hz=10.0, sample_rate=RATE)
        np.testing.assert_allclose(mono[0], mono[1])
        np.testing.assert_array_equal(
            width_signal(pair[:1], width=2.0, mono_below_hz=100.0, sample_rate=RATE), pair[:1]
        )


class TestRoom:
    @staticmethod
    def answer(seconds, **changes):
        click = changes.pop("click", None)
        shape = {
            "size_m": 12.0,
            "decay_s": 1.0,
            "damping_hz": 20000.0,
            "pre_delay_s": 0.0,
            "low_cut_hz": 10.0,
            "width": 1.0,
            "sample_rate": RATE,
        }
        click = impulse(seconds) if click is None else click
        return room_signal(click, **{**shape, **changes})

    @staticmethod
    def rt60(answer, rate=RATE):
        """Schroeder's backward integral, from -5 to -35 dB."""
        left = np.cumsum((answer**2).sum(axis=0)[::-1])[::-1]
        fall = 10 * np.log10(left / left[0] + 1e-30)
        start, end = np.argmax(fall < -5), np.argmax(fall < -35)
        return 2.0 * (end - start) / rate

    @pytest.mark.parametrize("decay_s", [0.2, 0.5, 1.0, 4.0, 20.0])
    @pytest.mark.parametrize("size_m", [1.0, 4.0, 12.0, 30.0, 60.0])
    def test_decay_is_as_long_as_set(self, decay_s, size_m):
        answer = self.answer(min(14.0, decay_s + 0.5), decay_s=decay_s, size_m=size_m)
        assert self.rt60(answer) == pytest.approx(decay_s, rel=0.03)

    @pytest.mark.parametrize("rate", [44100, 96000])
    def test_decay_is_as_long_at_other_rates(self, rate):
        for decay_s, size_m in ((0.2, 60.0), (0.2, 1.0), (1.4, 12.0)):
            click = np.zeros((1, round((decay_s + 0.5) * rate)))
            click[0, 0] = 1.0
            answer = self.answer(0, decay_s=decay_s, size_m=size_m, sample_rate=rate, click=click)
            assert self.rt60(answer, rate) == pytest.approx(decay_s, rel=0.03)

    @pytest.mark.parametrize(("size_m", "decay_s"), [(3.0, 0.4), (12.0, 1.4), (40.0, 3.0)])
    def test_a_tone_is_answered_alike_at_every_rate(self, size_m, decay_s):
        """Resonances lie so close that a tone's level hangs on each delay to a part of a period."""
        for hz in (997.0, 5003.0, 9901.0):
            levels = []
            for rate in (RATE, 44100, 96000, 192000):
                tone = np.sin(2 * np.pi * hz * np.arange(round(0.8 * rate)) / rate)
                shape = {"size_m": size_m, "decay_s": decay_s, "sample_rate": rate}
                answer = self.answer(0, click=tone[np.newaxis], **shape)[:, rate // 2 :]
                levels.append(10 * np.log10(np.mean(answer**2, axis=1)))
            assert np.abs(np.array(levels) - levels[0]).max() < 0.3

    @pytest.mark.parametrize("movement", [0.0, 0.5])
    @pytest.mark.parametrize("decay_s", [1.0, 1.4, 3.0])
    @pytest.mark.parametrize("size_m", [1.0, 3.0, 12.0, 30.0, 60.0])
    def test_no_resonance_stands_out_of_the_late_answer(self, size_m, decay_s, movement):
        """In noise that decays alike the largest of so many bins lies 11 to 14 dB over the median,
        for the power of its spectrum is distributed exponentially."""
        for rate in (RATE, 44100, 96000) if decay_s == 1.4 and not movement else (RATE,):
            click = np.zeros((1, round(1.15 * rate)))
            click[0, 0] = 1.0
            shape = {"size_m": size_m, "decay_s": decay_s, "movement": movement}
            answer = self.answer(0, sample_rate=rate, click=click, **shape)
            for begin_s, end_s in ((0.2, 0.7), (0.1, 1.1)):
                for side in answer[:, round(begin_s * rate) : round(end_s * rate)]:
                    power = np.abs(np.fft.rfft(side * np.hanning(side.size))) ** 2
                    hz = np.fft.rfftfreq(side.size, 1 / rate)
                    for low in 100.0 * 2.0 ** np.arange(6):
                        octave = power[(hz >= low) & (hz < 2 * low)]
                        over_db = 10 * np.log10(octave.max() / np.median(octave))
                        assert over_db < 14.0

    def test_at_the_damping_frequency_it_is_half_as_long(self):
        answer = self.answer(3.0, decay_s=2.0, damping_hz=4000.0)
        bands = {}
        for hz in (200.0, 4000.0):
            sos = butter(2, [hz * 0.84, hz * 1.19], "band", fs=RATE, output="sos")
            # Silence before, for filters that run both ways begin with what is there at once.
            bands[hz] = self.rt60(sosfiltfilt(sos, np.pad(answer, ((0, 0), (RATE, 0))), axis=1))
        assert bands[200.0] == pytest.approx(2.0, rel=0.06)
        assert bands[4000.0] == pytest.approx(1.0, rel=0.15)

    def test_echoes_grow_dense_and_the_tail_is_like_noise(self):
        """After 80 ms as many samples lie beyond one standard deviation as in Gaussian noise
        (Abel and Huang, "A Simple, Robust Measure of Reverberation Echo Density", 2006)."""
        for decay_s in (0.5, 1.0, 1.4, 2.0, 4.0):
            for answer in self.answer(1.0, decay_s=decay_s):
                density = []
                for start in (0, 3840, 14400):
                    window = answer[start : start + 960]
                    beyond = np.mean(np.abs(window) > window.std())
                    density.append(beyond / 0.3173)
                assert density[0] < density[1]
                assert density[1] > 0.9
                assert density[2] == pytest.approx(1.0, abs=0.15)

    def test_sides_share_nothing_unless_narrowed(self):
        wide, narrow = (self.answer(1.0, width=width)[:, 4800:] for width in (1.0, 0.0))
        assert abs(np.corrcoef(wide)[0, 1]) < 0.15
        np.testing.assert_allclose(narrow[0], narrow[1])

    def test_lines_have_no_common_measure_and_pre_delay_is_silent(self):
        lengths = line_lengths(12.0, 1.0, RATE)
        assert len(set(lengths.tolist())) == 16
        assert np.gcd.reduce(lengths) == 1
        for pre_delay_s in (0.0, 0.02, 0.1):
            for size_m in (1.0, 12.0, 60.0):
                late = np.abs(self.answer(0.5, pre_delay_s=pre_delay_s, size_m=size_m)).max(axis=0)
                first = np.argmax(late > 1e-3 * late.max()) / RATE
                assert first == pytest.approx(pre_delay_s, abs=0.001)


class TestCeiling:
    @pytest.mark.parametrize("gain_db", [0.0, 12.0, 24.0])
    @pytest.mark.parametrize("kind", ["noise", "square", "sine", "inter-sample"])
    def test_true_peak_never_passes_it(self, gain_db, kind):
        signals = {
            "noise": np.random.default_rng(8).normal(size=(2, RATE)),
            "square": np.sign(sine(220.0)),
            "sine": sine(997.0),
            # Sampled at 45 degrees, its peaks lie 3 dB above the samples.
            "inter-sample": np.sin(np.pi / 2 * np.arange(RATE) + np.pi / 4)[np.newaxis],
        }
        out = ceiling_signal(
            signals[kind], ceiling_db=-1.0, gain_db=gain_db, release_s=0.05, sample_rate=RATE
        )
        peak = np.abs(resample_poly(out, 8, 1, axis=1)).max()
        assert 20 * np.log10(peak) <= -1.0

    def test_what_stays_below_is_not_touched(self):
        quiet = 0.5 * sine(440.0)
        out = ceiling_signal(quiet, ceiling_db=-1.0, gain_db=0.0, release_s=0.05, sample_rate=RATE)
        np.testing.assert_array_equal(out, quiet)

    def test_a_steady_tone_is_lowered_without_new_partials(self):
        out = ceiling_signal(
            2.0 * sine(1000.0), ceiling_db=-3.0, gain_db=0.0, release_s=0.2, sample_rate=RATE
        )[0, 4800:-4800]
        hz, magnitudes = spectrum(out, RATE)
        others = np.abs(hz - 1000.0) > 100
        assert 20 * np.log10(magnitudes[others].max() / magnitudes.max()) < -45


EFFECTS = ["delay", "chorus", "compressor", "shifter", "width", "room", "ceiling"]


@pytest.mark.parametrize("kind", EFFECTS)
@pytest.mark.parametrize("source", ["silence", "full scale", "one sample"])
def test_hard_input_is_bounded_and_ends(kind, source):
    level = {
        "silence": [{"time_s": 0, "value": 0}],
        "full scale": [
            {"time_s": 0, "value": 1},
            {"time_s": 0.2, "value": 1},
            {"time_s": 0.2, "value": 0},
        ],
        "one sample": [{"time_s": 0, "value": 1}, {"time_s": 1 / 48000, "value": 0}],
    }[source]
    sound = load_sound(
        {
            "name": "S",
            "layers": [
                {
                    "id": "a",
                    "name": "A",
                    "source": {"kind": "tone", "shape": 3, "phase_deg": 90},
                    "level": {"points": level},
                }
            ],
            "main": {"chain": [{"id": "p", "kind": kind}]},
        }
    )
    for quality in ("draft", "final"):
        audio = render(sound, settings=RenderSettings(quality=quality))
        assert np.all(np.isfinite(audio.samples))
        assert np.abs(audio.samples).max() < 8.0
        assert audio.end_reason == "silence"


def test_a_dotted_delay_keeps_time_with_the_sound():
    click = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.002, "value": 0}]}
    delay = {"id": "d", "kind": "delay", "sync": True, "beats": 0.75, "mix": 0.5}
    sound = load_sound(
        {
            "name": "S",
            "tempo_bpm": 90,
            "layers": [{"id": "a", "name": "A", "source": {"kind": "noise"}, "level": click}],
            "main": {"chain": [delay]},
        }
    )
    samples = np.abs(render(sound).samples[0])
    wanted = round(0.75 * 60 / 90 * RATE)
    begin = np.flatnonzero(samples[2000:] > 0.02)[0] + 2000
    assert begin == pytest.approx(wanted, abs=20)


def test_alias_of_a_shifted_sawtooth_stays_below_its_partials():
    saw = {"kind": "tone", "shape": 2, "follows_note": False, "fixed_hz": 3000}
    held = {
        "points": [{"time_s": 0, "value": 1}, {"time_s": 1, "value": 1}, {"time_s": 1, "value": 0}]
    }
    sound = load_sound(
        {
            "name": "S",
            "layers": [{"id": "a", "name": "A", "source": saw, "level": held}],
            "main": {"chain": [{"id": "p", "kind": "shifter", "shift_hz": 3000}]},
        }
    )
    # Moved by its own pitch, its partials fall on its partials: what lies between has folded.
    assert alias_dbc(render(sound).samples[0, 4800:43200], 3000.0, RATE) < -60
