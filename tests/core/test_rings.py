"""Loops ring as long as they are set to, in tune, whatever their period is in frames."""

from __future__ import annotations

import numpy as np
import pytest
from scipy.signal import fftconvolve, zoom_fft

from nest_crate.core.dsp.filters.comb import comb_signal, resonator_signal
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import load_sound

RATES = [44100, 48000, 96000]


def partial(x: np.ndarray, hz: float, rate: int, from_s: float, to_s: float) -> tuple[float, float]:
    """Frequency and seconds to -60 dB of the one partial near a frequency: a straight line through
    the log level and the phase of what is left around it."""
    n = np.arange(x.size) / rate
    width = max(0.25 * hz, 12.0)
    span = max(8, round(2.0 * rate / width))
    window = np.hanning(span) / np.hanning(span).sum()
    near = fftconvolve(x * np.exp(-2j * np.pi * hz * n), window, mode="same")
    part = slice(round(from_s * rate), round(to_s * rate))
    level = np.polyfit(n[part], 20.0 * np.log10(np.abs(near[part])), 1)[0]
    turn = np.polyfit(n[part], np.unwrap(np.angle(near[part])), 1)[0]
    return hz + turn / (2.0 * np.pi), -60.0 / level


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("hz", [30.0, 82.41, 440.0, 1234.5, 3907.0, 8000.0])
@pytest.mark.parametrize(("ring_s", "damping_hz"), [(5.0, 20000.0), (0.8, 20000.0), (1.0, 16000.0)])
def test_resonators_ring_as_set(hz: float, ring_s: float, damping_hz: float, rate: int) -> None:
    if damping_hz < 20000.0 and hz > 500.0:
        # What is damped below its pitch cannot ring on: the loop's gain at 0 Hz would pass 1.
        hz = 500.0
    click = np.zeros((1, round(min(2.0, 0.5 * ring_s + 0.5) * rate)))
    click[0, 0] = 1.0
    options = {"ring_s": ring_s, "damping_hz": damping_hz, "width": 0.0, "sample_rate": rate}
    x = resonator_signal(click, frequencies_hz=[hz], **options)[0]
    to_s = min(1.5, 0.4 * ring_s + 0.2)
    found_hz, found_s = partial(x, hz, rate, 0.15, to_s)
    assert 1200.0 * abs(np.log2(found_hz / hz)) < 1.0
    assert found_s == pytest.approx(ring_s, rel=0.03)


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("hz", [41.2, 440.0, 1661.3, 3907.0, 8000.0])
@pytest.mark.parametrize("damping", [0.0, 0.3])
def test_string_loops_ring_as_set(hz: float, damping: float, rate: int) -> None:
    source = {
        "kind": "struck",
        "body": "string_loop",
        "decay_s": 2.0,
        "damping": damping,
        "position": 0.37,
        "hardness": 1.0,
        "follows_note": False,
        "fixed_hz": hz,
    }
    layer = {
        "id": "a",
        "name": "A",
        "source": source,
        "level": {"points": [{"time_s": 0, "value": 1}]},
    }
    sound = load_sound({"name": "String", "layers": [layer]})
    x = render(sound, settings=RenderSettings(sample_rate=rate, length_s=1.5)).samples[0]
    found_hz, found_s = partial(x, hz, rate, 0.2, 1.2)
    assert 1200.0 * abs(np.log2(found_hz / hz)) < 1.0
    assert found_s == pytest.approx(2.0, rel=0.03)


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("feedback", [0.95, 0.7, -0.95, -0.7])
@pytest.mark.parametrize("damping_hz", [800.0, 3000.0, 20000.0])
@pytest.mark.parametrize("hz", [110.0, 987.0, 2093.0])
def test_combs_are_in_tune_damped_and_upside_down(
    hz: float, damping_hz: float, feedback: float, rate: int
) -> None:
    click = np.zeros((1, rate))
    click[0, 0] = 1.0
    numbers = {"frequency_hz": hz, "feedback": feedback, "damping_hz": damping_hz, "forward": 0.0}
    x = comb_signal(click, sample_rate=rate, **numbers)[0]
    first = hz if feedback > 0.0 else 0.5 * hz
    ends = [first * 2.0 ** (-80.0 / 1200.0), first * 2.0 ** (80.0 / 1200.0)]
    cents = 1200.0 * np.log2(np.linspace(*ends, 641) / first)
    gains = np.abs(zoom_fft(x, ends, 641, fs=rate, endpoint=True))
    # Where so much is damped that no peak stands out there is none to be in tune.
    if gains.max() < 1.05 * min(gains[0], gains[-1]):
        return
    assert abs(cents[np.argmax(gains)]) < 2.0
