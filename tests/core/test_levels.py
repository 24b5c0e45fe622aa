"""Dynamics, offsets and meters by independent means."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyloudnorm
import pytest
import soxr

from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.measures.ring_time import ringing
from nest_crate.core.dsp.delays.pitch_heads import transposed_echoes
from nest_crate.core.dsp.dynamics.compressor import ceiling_signal, compressor_gain_db
from nest_crate.core.dsp.dynamics.loudness import (
    integrated_loudness_lufs,
    measured_loudness,
    true_peak_db,
)
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.kinds import PROCESSOR_KINDS
from tests.core.spectra import peak_frequency, spectrum

RATES = [44100, 48000, 96000]
HELD = {"points": [{"time_s": 0, "value": 1}]}


def sine(hz: float, rate: int, seconds: float = 1.0, amplitude: float = 1.0) -> np.ndarray:
    return amplitude * np.sin(2 * np.pi * hz * np.arange(round(seconds * rate)) / rate)[np.newaxis]


def processed(signal: np.ndarray, rate: int, kind: str, **numbers: Any) -> np.ndarray:
    part = PROCESSOR_KINDS[kind](id="p", **numbers)
    return process(signal, part, ProcessContext(RenderSettings(sample_rate=rate)))


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("hz", [50.0, 61.7, 440.0, 4999.0])
@pytest.mark.parametrize("measure_by", ["peak", "rms"])
@pytest.mark.parametrize(("attack_s", "release_s"), [(0.0005, 0.05), (0.03, 0.3)])
def test_steady_tones_lie_on_the_static_curve(
    hz: float, measure_by: str, attack_s: float, release_s: float, rate: int
) -> None:
    """20 dB over the threshold at a ratio of 4: 15 dB of reduction."""
    gain_db = compressor_gain_db(
        sine(hz, rate, 2.0),
        threshold_db=-20.0,
        ratio=4.0,
        knee_db=0.0,
        attack_s=attack_s,
        release_s=release_s,
        look_ahead_s=0.0,
        measure=measure_by,
        sample_rate=rate,
    )
    settled = gain_db[round(1.5 * rate) : -rate // 10]
    # What the RMS of 10 ms sees of a low tone goes back and forth; its mean is the level.
    tolerance = 0.1 if measure_by == "peak" or hz > 400.0 else 0.5
    assert settled.mean() == pytest.approx(-15.0, abs=tolerance)
    if measure_by == "peak":
        assert np.abs(settled + 15.0).max() < 0.1


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("gain_db", [6.0, 18.0])
@pytest.mark.parametrize("quality", ["HQ", "VHQ"])
def test_no_resampler_reads_more_than_the_ceiling(quality: str, gain_db: float, rate: int) -> None:
    noise = np.random.default_rng(7).uniform(-1, 1, (1, rate))
    held = ceiling_signal(noise, ceiling_db=-1.0, gain_db=gain_db, release_s=0.05, sample_rate=rate)
    inner = np.pad(held[0], 2000)
    read = soxr.resample(inner, rate, 8 * rate, quality=quality)
    assert 20.0 * np.log10(np.abs(read).max()) < -1.0


def offset_dbfs(signal: np.ndarray) -> float:
    return float(20.0 * np.log10(max(np.abs(signal.mean(axis=1)).max(), 1e-12)))


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize(
    ("kind", "numbers"),
    [
        ("drive", {"shape": "soft", "drive_db": 18.0}),
        ("drive", {"shape": "tube", "drive_db": 18.0, "asymmetry": 0.5}),
        ("drive", {"shape": "rectify", "drive_db": 6.0}),
        ("drive", {"shape": "hard", "drive_db": 24.0}),
        ("filter", {"drive_db": 18.0, "cutoff_hz": 2000.0}),
        ("comb", {"frequency_hz": 220.0, "feedback": 0.95}),
        ("shifter", {"way": "ring", "shift_hz": 200.0}),
    ],
)
def test_no_offset_leaves_what_can_make_one(kind: str, numbers: dict[str, Any], rate: int) -> None:
    """A pulse of a fifth, and a sine of the shifter's own frequency, with a bit of offset."""
    n = np.arange(rate)
    pulse = np.where((200.0 * n / rate) % 1.0 < 0.2, 1.6, -0.4) * 0.5
    given = sine(200.0, rate, 1.0, 0.7) if kind == "shifter" else pulse[np.newaxis] + 0.001
    level = np.minimum(1.0, np.minimum(n, rate - n) / (0.02 * rate))
    out = processed(np.pad(given * level, ((0, 0), (0, rate // 2))), rate, kind, **numbers)
    assert np.abs(out).max() > 0.05
    assert offset_dbfs(out) < -60.0


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("hz", [20.0, 23.0, 31.0])
def test_taking_an_offset_away_leaves_low_tones(hz: float, rate: int) -> None:
    wave = sine(hz, rate, 2.0, 0.5) + 0.2
    out = processed(wave, rate, "comb", frequency_hz=1000.0, feedback=0.0)
    part = slice(rate // 2, rate // 2 + round(rate * round(hz) / hz))
    n = np.arange(out.shape[1]) / rate
    turn = np.exp(-2j * np.pi * hz * n)[part]
    level = 2.0 * np.abs(np.mean(out[0, part] * turn))
    assert 20.0 * np.log10(level / 0.5) == pytest.approx(0.0, abs=0.1)


def test_ring_of_two_equal_tones_has_no_offset() -> None:
    own = {"kind": "tone", "shape": 0.0, "follows_note": False, "fixed_hz": 330.0}
    layers = [
        {
            "id": "a",
            "name": "A",
            "source": own,
            "level": HELD,
            "modulation": {"by": "b", "way": "ring", "amount": 1.0},
        },
        {"id": "b", "name": "B", "source": own, "level": HELD, "mute": True},
    ]
    sound = load_sound({"name": "Ring", "layers": layers})
    x = render(sound, settings=RenderSettings(length_s=0.7)).samples
    assert offset_dbfs(x) < -60.0


@pytest.mark.parametrize("shape", ["soft", "tube", "hard", "fold", "sine_fold"])
def test_at_no_drive_soft_signals_keep_their_level(shape: str) -> None:
    given = sine(500.0, 48000, 0.5, 0.01)
    out = processed(given, 48000, "drive", shape=shape, drive_db=0.0)[0, 4000:-4000]
    level_db = 20.0 * np.log10(np.sqrt(2.0 * np.mean(out**2)) / 0.01)
    assert level_db == pytest.approx(0.0, abs=0.1)


@pytest.mark.parametrize("kind", ["drive", "room", "convolution"])
def test_a_high_cut_opens_without_a_jump(kind: str) -> None:
    noise = np.random.default_rng(3).normal(size=(1, 24000)) * 0.1
    name = "high_cut_hz"
    nearly, fully = (processed(noise, 48000, kind, **{name: hz}) for hz in (19990.0, 20000.0))
    powers = [np.abs(np.fft.rfft(one[0])) ** 2 for one in (nearly, fully)]
    hz = np.fft.rfftfreq(24000, 1 / 48000)
    band = (hz > 15000.0) & (hz < 20000.0)
    apart = 10.0 * np.log10(powers[0][band].sum() / powers[1][band].sum())
    assert apart == pytest.approx(0.0, abs=0.05)


def test_the_last_part_of_a_file_belongs_to_a_block() -> None:
    """A burst in the last 85 ms of 0.495 s, and the same at once: padded by hand to whole steps,
    and read by another meter."""
    burst = np.zeros((1, round(0.495 * 48000)))
    burst[:, -round(0.085 * 48000) :] = sine(997.0, 48000, 0.085)[:, : round(0.085 * 48000)]
    padded = np.pad(burst, ((0, 0), (0, 24000 - burst.shape[1])))
    other = pyloudnorm.Meter(48000).integrated_loudness(padded[0])
    assert integrated_loudness_lufs(burst, 48000) == pytest.approx(other, abs=0.1)
    assert integrated_loudness_lufs(burst, 48000) > -15.0


@pytest.mark.parametrize("rate", RATES)
def test_momentary_short_term_and_crest(rate: int) -> None:
    """A sine of 997 Hz at full scale on one side reads -3.01 LUFS; 0.4 s of it in 3 s lie
    10 log(0.4 / 3) lower in the short-term."""
    tone = np.pad(sine(997.0, rate, 0.4), ((0, 0), (0, 4 * rate)))
    assert measured_loudness(tone, rate).momentary_max_lufs == pytest.approx(-3.01, abs=0.1)
    short = -3.01 + 10.0 * np.log10(0.4 / 3.0)
    assert measured_loudness(tone, rate).short_term_max_lufs == pytest.approx(short, abs=0.1)
    assert measure(sine(997.0, rate), rate).crest_db == pytest.approx(3.01, abs=0.02)


@pytest.mark.parametrize("rate", RATES)
def test_true_peak_of_steps_is_read(rate: int) -> None:
    steps = np.where(np.arange(rate // 4) % 97 < 40, 0.5, -0.5)[np.newaxis]
    around = np.pad(steps[0], 1000)
    read = 20.0 * np.log10(np.abs(soxr.resample(around, rate, 16 * rate, quality="VHQ")).max())
    assert true_peak_db(steps) == pytest.approx(read, abs=0.3)


@pytest.mark.parametrize("rate", RATES)
def test_ring_counts_from_the_end_of_a_plateau(rate: int) -> None:
    n = np.arange(round(0.6 * rate)) / rate
    for held_s in (0.0, 0.05, 0.2):
        level = np.where(n < held_s, 1.0, 10.0 ** (-3.0 * (n - held_s) / 0.0625))
        x = (level * np.sin(2 * np.pi * 700.0 * n))[np.newaxis]
        rang = ringing(x, rate)
        assert rang is not None
        assert rang.ring_s == pytest.approx(0.0625, abs=0.003)


@pytest.mark.parametrize("hz", [110.0, 440.0, 1000.3, 3001.0])
@pytest.mark.parametrize("shift_st", [12.0, 7.0, -12.0, -5.0, 0.3, 19.0])
def test_a_steady_tone_is_transposed_cleanly_and_each_echo_once_more(
    hz: float, shift_st: float
) -> None:
    rate = 48000
    tone_s, time_s = 0.9, 1.0
    given = np.pad(sine(hz, rate, tone_s, 0.5), ((0, 0), (0, round(2.3 * rate))))
    numbers = {"time_s": time_s, "shift_st": shift_st, "feedback": 0.5, "grain_s": 0.06}
    out = processed(given, rate, "pitch_delay", **numbers)[0]
    for echo in (1, 2):
        wanted_hz = hz * 2.0 ** (echo * shift_st / 12.0)
        if wanted_hz > 12000.0:
            continue
        # Its middle, where what the first grain brought has gone by.
        part = out[round((echo * time_s + 0.3) * rate) : round((echo * time_s + 0.75) * rate)]
        found = peak_frequency(part, rate)
        assert 1200.0 * abs(np.log2(found / wanted_hz)) < 2.0
        frequencies, magnitudes = spectrum(part, rate)
        others = np.abs(frequencies - found) > 80.0
        assert 20.0 * np.log10(magnitudes[others].max() / magnitudes.max()) < -40.0


@pytest.mark.parametrize("time_s", [0.0002, 0.0005, 0.002, 0.004, 0.02])
@pytest.mark.parametrize("shift_st", [-24.0, -20.9, -5.0, 5.0, 24.0])
def test_short_transposed_echoes_die_away(time_s: float, shift_st: float) -> None:
    """Heads stay within their line however short it is, and while the shift moves."""
    frames = 30000
    noise = np.random.default_rng(1).normal(size=(2, frames)) * 0.1
    noise[:, 3000:] = 0.0
    for swing_st in (0.0, 30.0):
        st = shift_st + swing_st * np.sin(np.arange(frames) * 0.002)
        out = transposed_echoes(
            noise,
            time_s=time_s,
            ratio=np.exp2(st / 12.0),
            feedback=np.full(frames, 0.5),
            grain_s=0.06,
            low_cut_hz=10.0,
            high_cut_hz=20000.0,
            sample_rate=44100,
        )
        assert np.abs(out).max() < 2.0
        assert np.abs(out[:, -4000:]).max() < 1e-3
