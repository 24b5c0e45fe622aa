"""Samples as sources: in band, in tune, looped without a step, in grains, and never past
their end."""

from __future__ import annotations

import hashlib
import json

import numpy as np
import pytest
from numpy.typing import NDArray

from nest_crate.core.dsp.resampling.playback import (
    Loop,
    line_of,
    looped,
    nearest_crossing,
    read_into,
)
from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import Sound, dump_sound, load_sound, load_sound_text

RATE = 48000
ONCE = {"points": [{"time_s": 0, "value": 1}]}
KEY = "a" * 64


def sampled(note: int = 60, hold_s: float = 0.25, number: int = 1, **source: object) -> Sound:
    given = {"kind": "sample", "recording": KEY, "snap": False, **source}
    layer = {"id": "a", "name": "A", "source": given, "level": ONCE}
    hit = {"note": note, "hold_s": hold_s, "number": number}
    return load_sound({"name": "Sample", "layers": [layer], "hit": hit})


def heard(
    sound: Sound, samples: NDArray[np.float64], rate: int = RATE, **settings: float
) -> NDArray[np.float64]:
    return rendered(sound, samples, rate, **settings).samples


def rendered(
    sound: Sound, samples: NDArray[np.float64], rate: int = RATE, **settings: float
) -> Audio:
    # A recording is known by its digest: another one may be kept as it was read.
    key = hashlib.sha256(samples.tobytes() + bytes([rate % 251])).hexdigest()
    given = RenderSettings(recordings={key: Audio(samples, rate)}, **settings)  # type: ignore[arg-type]
    named = load_sound_text(json.dumps(dump_sound(sound)).replace(KEY, key))
    return render(named, settings=given)


def sine(hz: float, seconds: float = 1.0, rate: int = RATE) -> NDArray[np.float64]:
    return np.sin(2 * np.pi * hz * np.arange(round(seconds * rate)) / rate)[np.newaxis]


def faded(samples: NDArray[np.float64]) -> NDArray[np.float64]:
    """Without the step at either end, which rings through any band limit."""
    edge = np.minimum(
        1.0, np.minimum(np.arange(samples.shape[1]), np.arange(samples.shape[1])[::-1]) / 2000
    )
    return samples * (0.5 - 0.5 * np.cos(np.pi * edge))


def read_at(samples: NDArray[np.float64], speed: float, count: int) -> NDArray[np.float64]:
    out = np.zeros((1, count))
    read_into(out, line_of(samples, speed, speed), np.full(count, speed))
    return out


def fitted_db(signal: NDArray[np.float64], cycles_a_frame: float) -> tuple[float, float]:
    """Level of a sine in a signal, and of all that is left without it, in dB."""
    turn = 2 * np.pi * cycles_a_frame * np.arange(signal.size)
    basis = np.stack([np.cos(turn), np.sin(turn)], axis=1)
    fit, *_ = np.linalg.lstsq(basis, signal, rcond=None)
    rest = signal - basis @ fit
    return 20 * np.log10(np.hypot(*fit)), 10 * np.log10(2 * np.mean(rest**2) + 1e-20)


class TestReading:
    @pytest.mark.parametrize("speed", [0.5, 0.7937, 1.0])
    @pytest.mark.parametrize("share", [0.1, 0.5, 0.9])
    def test_passband_flat_and_images_low(self, speed: float, share: float) -> None:
        samples = faded(sine(share * RATE / 2))
        made = read_at(samples, speed, 40000)[0, 4000:36000]
        level, rest = fitted_db(made, share * 0.5 * speed)
        assert abs(level) < 0.1
        assert rest < -100.0

    @pytest.mark.parametrize("speed", [1.26, 2.0, 3.7])
    def test_faster_reading_keeps_the_band_and_folds_nothing_back(self, speed: float) -> None:
        inside, outside = 0.9 / speed, 1.06 / speed
        made = read_at(faded(sine(inside * RATE / 2)), speed, 11000)[0, 2000:10000]
        level, rest = fitted_db(made, 0.45)
        assert abs(level) < 0.1
        assert rest < -100.0
        folded = read_at(faded(sine(outside * RATE / 2)), speed, 11000)[0, 2000:10000]
        assert 20 * np.log10(np.abs(folded).max()) < -100.0

    def test_unchanged_at_its_own_pitch_and_rate(self) -> None:
        samples = np.random.default_rng(1).normal(size=(2, 4800)) * 0.1
        made = heard(sampled(), samples)
        assert made.shape[0] == 2
        assert np.abs(made[:, 200:4600] - samples[:, 200:4600]).max() < 2e-5

    @pytest.mark.parametrize("rate", [8000, 44100, 96000])
    @pytest.mark.parametrize("note", [48, 60, 67])
    def test_in_tune_at_any_rate_of_the_file(self, rate: int, note: int) -> None:
        hz = 440.0 * 2 ** ((note - 60) / 12)
        made = heard(sampled(note=note), sine(440.0, 1.0, rate), rate)[0, 2000:22000]
        level, rest = fitted_db(made, hz / RATE)
        assert abs(level) < 0.05
        assert rest < -80.0

    def test_at_a_fixed_pitch_every_note_is_the_same(self) -> None:
        samples = sine(300.0)
        low, high = (heard(sampled(note=n, follows_note=False), samples) for n in (40, 80))
        assert np.array_equal(low, high)

    def test_reversed_and_cut(self) -> None:
        samples = np.linspace(0.0, 1.0, RATE)[np.newaxis]
        made = heard(sampled(start_s=0.25, end_s=0.5, reverse=True), samples)[0]
        assert made[100] == pytest.approx(0.5 - 100 / RATE, abs=1e-3)
        assert made[11000] == pytest.approx(0.5 - 11000 / RATE, abs=1e-3)
        assert not made[12200:].any()

    def test_ends_are_moved_to_zero_crossings(self) -> None:
        samples = sine(100.0)
        assert nearest_crossing(samples, 1100.0, 240.0) == pytest.approx(1200.0, abs=0.6)
        assert nearest_crossing(np.ones((1, 4000)), 1100.0, 240.0) == 1100.0

    def test_seven_voices_are_seven_readings(self) -> None:
        unison = {"voices": 7, "detune_cent": 30, "width": 0, "phase_spread": 0}
        made = heard(sampled(unison=unison), sine(1000.0, 2.0), length_s=1.5)[0, :65536]
        spectrum = np.abs(np.fft.rfft(made * np.hanning(made.size)))
        around = np.arange(1300, 1430)
        peaks = [k for k in around if spectrum[k] == spectrum[k - 3 : k + 4].max()]
        assert sum(spectrum[k] > 0.3 * spectrum.max() for k in peaks) == 7


class TestLoop:
    def test_goes_round_without_a_step(self) -> None:
        samples = sine(441.0, 0.5)
        loop = {"loop": "always", "loop_start_s": 0.1, "loop_end_s": 0.2347, "crossfade_s": 0.02}
        made = heard(sampled(**loop), samples, length_s=2.0)[0, : 2 * RATE - 600]
        assert np.abs(made[RATE:]).max() > 0.9
        # No step is larger than the sine's own, but for the shift of phase in the crossfade.
        assert np.abs(np.diff(made)).max() < 1.3 * 2 * np.pi * 441.0 / RATE

    def test_keeps_its_power_through_the_crossfade(self) -> None:
        noise = np.random.default_rng(3).normal(size=(1, 20000))
        made = looped(noise, Loop(8000, 16000, 4000))
        inside = np.sqrt(np.mean(made[0, 13000:15000] ** 2))
        assert inside == pytest.approx(1.0, abs=0.06)

    def test_held_it_is_left_at_the_release(self) -> None:
        samples = np.concatenate([sine(500.0, 0.5), sine(2000.0, 0.5)], axis=1)
        loop = {"loop": "held", "loop_start_s": 0.1, "loop_end_s": 0.4}
        made = heard(sampled(hold_s=1.0, **loop), samples, length_s=2.0)[0]
        assert abs(fitted_db(made[30000:40000], 500 / RATE)[0]) < 0.5
        tail = made[round(1.45 * RATE) : round(1.6 * RATE)]
        assert abs(fitted_db(tail, 2000 / RATE)[0]) < 0.5

    def test_runs_back_and_forth(self) -> None:
        ramp = np.linspace(0.0, 1.0, RATE)[np.newaxis]
        loop = {"loop": "always", "loop_way": "back_and_forth", "loop_end_s": 0.5}
        made = heard(sampled(**loop), ramp, length_s=1.6)[0]
        for at, level in ((0.25, 0.25), (0.5, 0.5), (0.75, 0.25), (1.25, 0.25)):
            assert made[round(at * RATE)] == pytest.approx(level, abs=2e-3)


class TestGrains:
    def test_slow_reading_keeps_the_pitch(self) -> None:
        made = heard(sampled(reading="grains", speed=0.5, grain_s=0.1), sine(1000.0), length_s=1.9)
        spectrum = np.abs(np.fft.rfft(made[0] * np.hanning(made.shape[1])))
        assert spectrum.argmax() / 1.9 == pytest.approx(1000.0, abs=8.0)
        assert np.abs(made[0, -9000:-3000]).max() > 0.3

    @pytest.mark.parametrize("rate", [44100, 48000, 96000])
    @pytest.mark.parametrize("hz", [110.0, 440.0, 1234.0])
    @pytest.mark.parametrize(("speed", "note"), [(0.5, 60), (0.25, 60), (2.0, 60), (0.7, 67)])
    def test_grains_of_a_steady_sine_are_one_steady_sine(
        self, rate: int, hz: float, speed: float, note: int
    ) -> None:
        wanted_s = 2.0 * speed + 0.5
        sound = sampled(note=note, hold_s=1.9, reading="grains", speed=speed, grain_s=0.08)
        given = sine(hz, wanted_s, rate)
        made = heard(sound, given, rate, sample_rate=rate, length_s=1.9)[0]
        span = round(0.04 * rate)
        steady = made[round(0.2 * rate) : round(1.5 * rate)]
        blocks = steady[: steady.size // span * span].reshape(-1, span)
        levels = 10 * np.log10(np.mean(blocks**2, axis=1) + 1e-20)
        assert np.ptp(levels) < 1.0
        # One tone all along, not one that goes on elsewhere in its cycle with every grain.
        cycles = hz * 2 ** ((note - 60) / 12) / rate
        level, rest = fitted_db(steady, cycles)
        assert rest < level - 40.0

    def test_at_full_speed_without_spray_it_is_the_sample(self) -> None:
        samples = np.random.default_rng(2).normal(size=(1, RATE)) * 0.1
        made = heard(sampled(reading="grains"), samples)[0]
        assert np.abs(made[4000:40000] - samples[0, 4000:40000]).max() < 1e-4

    def test_spray_is_the_hits_own(self) -> None:
        samples = np.random.default_rng(2).normal(size=(1, RATE)) * 0.1
        given = {"reading": "grains", "spray_s": 0.05}
        first, again = (heard(sampled(**given), samples) for _ in range(2))
        other = heard(sampled(number=2, **given), samples)
        assert np.array_equal(first, again)
        assert not np.array_equal(first[:, :9000], other[:, :9000])


class TestHits:
    def test_each_starts_later_or_by_chance(self) -> None:
        ramp = np.linspace(0.0, 1.0, RATE)[np.newaxis]
        starts = [heard(sampled(number=n, advance_s=0.1), ramp)[0, 40] for n in (1, 2, 3)]
        assert starts == pytest.approx([0.0, 0.1, 0.2], abs=2e-3)
        strays = [heard(sampled(number=n, random_start_s=0.5), ramp)[0, 40] for n in range(1, 6)]
        assert len({round(one, 4) for one in strays}) == 5
        assert max(strays) < 0.51


class TestBounds:
    def test_ends_with_the_recording_although_its_level_never_falls(self) -> None:
        audio = rendered(sampled(note=48), sine(200.0, 0.3))
        assert audio.end_reason == "silence"
        assert audio.length_s == pytest.approx(0.65, abs=0.05)

    def test_an_empty_one_a_frame_and_none_are_silent_or_short(self) -> None:
        assert not heard(sampled(start_s=0.9), sine(100.0, 0.5)).any()
        assert heard(sampled(), np.ones((1, 1))).shape[1] < RATE
        nothing = load_sound(
            {"name": "N", "layers": [{"id": "a", "name": "A", "source": {"kind": "sample"}}]}
        )
        assert not render(nothing).samples.any()

    def test_a_missing_recording_is_told(self) -> None:
        with pytest.raises(DocumentError, match="is not here"):
            render(sampled())

    def test_the_highest_note_of_a_low_sample(self) -> None:
        made = heard(sampled(note=127, root_note=0), sine(8.0, 1.0))
        assert np.all(np.isfinite(made))
        assert np.abs(made).max() < 1.2
