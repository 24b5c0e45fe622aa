"""Combs: in tune, as long as they say, and never louder than their loop."""

import numpy as np
import pytest
from scipy.signal import freqz, lfilter

from nest_crate.core.analysis.measures.ring_time import ringing
from nest_crate.core.dsp.filters.comb import comb_ring_time_s, comb_signal
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.engine.processor_stages import ProcessContext, process
from nest_crate.core.sound import CombProcessor, load_sound
from nest_crate.core.units import note_to_hz


def impulse(seconds=1.0, rate=48000):
    signal = np.zeros((1, round(seconds * rate)))
    signal[0, 0] = 1.0
    return signal


OPEN = {"forward": 0.0, "damping_hz": 1e9}


def test_whole_period_is_the_plain_recursion():
    noise = np.random.default_rng(1).normal(size=(2, 3000))
    options = {"frequency_hz": 480.0, "feedback": 0.6, "sample_rate": 48000}
    expected = lfilter([1.0], [1.0, *[0.0] * 99, -0.6], noise)
    np.testing.assert_allclose(comb_signal(noise, **options, **OPEN), expected, atol=1e-9)


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("note", [28, 45, 69, 93])
@pytest.mark.parametrize("damping_hz", [3000.0, 12000.0])
def test_rings_within_two_cents_of_the_note(note, damping_hz, rate):
    part = CombProcessor(id="c", follows_note=True, feedback=0.98, damping_hz=damping_hz)
    context = ProcessContext(RenderSettings(sample_rate=rate), given={"note": note})
    rung = process(impulse(2.0, rate), part, context)[0]
    hz = note_to_hz(note)
    cents = np.linspace(-30.0, 30.0, 601)
    _, gains = freqz(rung, worN=hz * 2 ** (cents / 1200), fs=rate)
    assert abs(cents[np.argmax(np.abs(gains))]) < 2.0


@pytest.mark.parametrize("feedback", [0.5, 0.9, -0.9])
def test_rings_as_long_as_it_says(feedback):
    rung = comb_signal(
        impulse(3.0), frequency_hz=200.0, feedback=feedback, sample_rate=48000, **OPEN
    )
    stated = comb_ring_time_s(200.0, feedback)
    assert ringing(rung, 48000).falls_s[2] == pytest.approx(stated, rel=0.1, abs=0.006)


def test_negative_feedback_rings_between_and_forward_makes_notches():
    options = {"frequency_hz": 480.0, "sample_rate": 48000}
    for feedback, forward, loud_hz, quiet_hz in (
        (-0.8, 0.0, 240.0, 480.0),
        (0.8, 0.0, 480.0, 240.0),
        (0.0, 1.0, 480.0, 240.0),
    ):
        rung = comb_signal(
            impulse(), feedback=feedback, forward=forward, damping_hz=1e9, **options
        )[0]
        _, gains = freqz(rung, worN=[loud_hz, quiet_hz], fs=48000)
        assert np.abs(gains[0]) > 1.7
        assert np.abs(gains[1]) < 0.6


def test_moving_comb_stays_finite_and_clickless():
    tone = 0.3 * np.sin(2 * np.pi * 110 * np.arange(48000) / 48000)[np.newaxis]
    control = 300.0 * np.exp2(np.sin(np.arange(3002) / 200))
    moved = comb_signal(tone, frequency_hz=control, feedback=0.6, sample_rate=48000, **OPEN)[0]
    assert np.abs(moved).max() < 0.3 / (1 - 0.6) + 0.05
    assert np.abs(np.diff(moved)).max() < 0.1


def test_in_a_chain_it_rings_out_to_silence():
    layer = {
        "id": "a",
        "name": "A",
        "source": {"kind": "noise"},
        "level": {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.01, "value": 0}]},
        "chain": [{"id": "c", "kind": "comb", "feedback": 0.97, "frequency_hz": 330}],
    }
    audio = render(load_sound({"name": "S", "layers": [layer]}))
    assert audio.end_reason == "silence"
    assert 0.3 < audio.length_s < 2.0
