"""Kernels that work in blocks or stretches against the same equations frame by frame."""

from __future__ import annotations

import math

import numpy as np
import pytest
from scipy.linalg import hadamard
from scipy.signal import bilinear, butter, lfilter

from nest_crate.core.dsp.delays.echoes import chorus_signal, echo_signal
from nest_crate.core.dsp.filters.state_variable import (
    bilinear_coefficients,
    filter_signal,
    through_sections,
)
from nest_crate.core.dsp.space.reflections import DIFFUSERS_S, diffused, reflections
from nest_crate.core.dsp.space.room import room_signal
from nest_crate.core.dsp.space.room_network import Network
from nest_crate.core.dsp.util.signals import mixed

RATE = 48000


def noise(channels: int, frames: int, seed: int = 5) -> np.ndarray:
    return np.random.default_rng(seed).normal(size=(channels, frames)) * 0.2


class TestEcho:
    @pytest.mark.parametrize("delay_s", [0.0, 4.3 / RATE, 0.00214, 0.0301, 0.25])
    @pytest.mark.parametrize("crossing", [False, True])
    @pytest.mark.parametrize("channels", [1, 2])
    def test_a_time_that_stays_is_a_moving_one_that_does_not_move(
        self, delay_s: float, crossing: bool, channels: int
    ) -> None:
        settings = {
            "feedback": 0.6,
            "crossing": crossing,
            "low_cut_hz": 90.0,
            "high_cut_hz": 7000.0,
            "sample_rate": RATE,
        }
        signal = noise(channels, 20001)
        still = echo_signal(signal, time_s=delay_s, **settings)
        moved = echo_signal(signal, time_s=np.full(200, delay_s), **settings)
        assert still.shape == moved.shape
        assert np.abs(moved).max() > 0.01
        np.testing.assert_allclose(still, moved, atol=1e-12)

    def test_whole_frames_without_filters_are_a_recursive_comb(self) -> None:
        signal = noise(1, 6000)
        made = echo_signal(
            signal,
            time_s=700 / RATE,
            feedback=-0.5,
            crossing=False,
            low_cut_hz=1e-9,
            high_cut_hz=1e9,
            sample_rate=RATE,
        )
        comb = np.zeros(701)
        comb[0], comb[700] = 1.0, 0.5
        late = np.concatenate([np.zeros(700), signal[0, :-700]])
        np.testing.assert_allclose(made[0], lfilter([1.0], comb, late), atol=1e-9)


class TestChorus:
    @pytest.mark.parametrize("voices", [1, 3, 8])
    @pytest.mark.parametrize("rate_hz", [0.0, 0.6, 12.0])
    def test_read_in_stretches_it_is_what_the_loop_with_feedback_makes(
        self, voices: int, rate_hz: float
    ) -> None:
        signal = noise(2, 8000)
        frames = signal.shape[1]
        settings = {
            "voices": voices,
            "delay_s": np.full(frames, 0.011),
            "depth_s": np.full(frames, 0.004),
            "cycles": np.arange(frames) * rate_hz / RATE,
            "width": 0.8,
            "sample_rate": RATE,
        }
        straight = chorus_signal(signal, feedback=np.zeros(frames), **settings)
        looped = chorus_signal(signal, feedback=np.full(frames, 1e-13), **settings)
        assert np.abs(straight).max() > 0.1
        # Read in single precision: 120 dB below.
        np.testing.assert_allclose(straight, looped, atol=1e-6)


class TestRoom:
    @pytest.mark.parametrize("size_m", [0.5, 9.0])
    def test_blocks_make_what_sixteen_lines_make_frame_by_frame(self, size_m: float) -> None:
        given = {"size_m": size_m, "decay_s": 0.8, "damping_hz": 5000.0, "sample_rate": RATE}
        frames = 3000
        signal = noise(2, frames)
        made = room_signal(signal, pre_delay_s=0.0, low_cut_hz=1e-6, width=1.0, **given)

        network = Network.of(**given)
        lines = [np.zeros(b - a) for a, b in zip(network.starts, network.starts[1:], strict=False)]
        matrix = hadamard(16) / 4.0
        fed = diffused(signal.astype(np.float32), 0.8, RATE)
        early = np.zeros((2, frames))
        for side, (delays, gains) in enumerate(zip(*reflections(size_m, 0.8, RATE), strict=True)):
            for late, gain in zip(delays, gains, strict=True):
                early[side, late:] += gain * signal[side, : frames - late]
        damped, expected = np.zeros(16), np.zeros((2, frames))
        for n in range(frames):
            late = np.array([line[n % line.size] for line in lines])
            damped = (1 - network.poles) * network.gains * late + network.poles * damped
            expected[:, n] = network.onto @ damped
            for k, line in enumerate(lines):
                on_the_way = line[(n - network.taps[:, k]) % line.size]
                expected[:, n] += network.tap_gains[:, k] * on_the_way
            fresh = matrix @ damped + network.into.T @ fed[:, n]
            for line, value in zip(lines, fresh, strict=True):
                line[n % line.size] = value
        assert np.abs(expected).max() > 0.01
        np.testing.assert_allclose(made, expected + 0.5 * early, atol=4e-6)

    def test_all_passes_make_what_is_dense_and_flat(self) -> None:
        for decay_s in (0.3, 2.0):
            impulse = np.zeros((2, RATE), dtype=np.float32)
            impulse[:, 0] = 1.0
            made = diffused(impulse, decay_s, RATE)
            expected = impulse[0].astype(np.float64)
            for late_s in DIFFUSERS_S[0]:
                late = round(late_s * min(1.0, decay_s) * RATE)
                ahead, back = np.zeros(late + 1), np.zeros(late + 1)
                ahead[[0, late]], back[[0, late]] = [-0.6, 1.0], [1.0, -0.6]
                expected = lfilter(ahead, back, expected)
            np.testing.assert_allclose(made[0], expected, atol=1e-6)
            level = np.abs(np.fft.rfft(made, axis=1))
            np.testing.assert_allclose(level, 1.0, atol=2e-4)

    def test_two_rooms_alike_share_nothing_that_sounds(self) -> None:
        given = {"size_m": 4.0, "decay_s": 1.0, "damping_hz": 8000.0, "pre_delay_s": 0.0}
        more = {"low_cut_hz": 50.0, "width": 1.0, "sample_rate": RATE}
        first = room_signal(noise(2, 4000), **given, **more)
        np.testing.assert_array_equal(first, room_signal(noise(2, 4000), **given, **more))


class TestFilter:
    @pytest.mark.parametrize("response", ["low_pass", "high_pass", "band_pass"])
    def test_both_sides_are_filtered_as_each_alone(self, response: str) -> None:
        signal = noise(2, 5003)
        given = {"slope_db": 24 if response != "band_pass" else 12, "cutoff_hz": 900.0}
        more = {"resonance": 2.0, "sample_rate": RATE, "response": response}
        both = filter_signal(signal, **given, **more)
        for side in range(2):
            alone = filter_signal(signal[side : side + 1], **given, **more)
            np.testing.assert_array_equal(both[side], alone[0])

    def test_crossovers_are_made_of_the_bilinear_transform(self) -> None:
        signal = noise(2, 4000)
        section = bilinear_coefficients("low_pass", 2000.0, math.sqrt(0.5), sample_rate=RATE)
        made = through_sections(signal, [section])
        warped = 2 * RATE * math.tan(math.pi * 2000.0 / RATE)
        b, a = bilinear(*butter(2, warped, analog=True), fs=RATE)
        np.testing.assert_allclose(made, lfilter(b, a, signal), atol=1e-9)


@pytest.mark.parametrize("mix", [0.0, 0.3, 1.0])
def test_what_was_mono_lies_on_both_sides_of_a_mix(mix: float) -> None:
    dry, wet = noise(1, 50), noise(2, 50, seed=6)
    expected = 0.5 * ((1 - mix) * np.repeat(dry, 2, axis=0) + mix * wet)
    np.testing.assert_allclose(mixed(dry, wet, mix, 0.5), expected, atol=1e-15)
