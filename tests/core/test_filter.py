import numpy as np
import pytest
from scipy.signal import butter, freqs, freqz

from nest_crate.core.dsp.filters.state_variable import filter_signal, ring_time_s
from nest_crate.core.engine import RenderSettings
from nest_crate.core.engine.processor_stages import ProcessContext, process
from nest_crate.core.sound import FilterProcessor


def response(frequencies_hz, *, rate=48000, **options):
    """Measured from the impulse's response, long enough to have died away."""
    impulse = np.zeros((1, rate))
    impulse[0, 0] = 1.0
    rung = filter_signal(impulse, sample_rate=rate, **options)[0]
    _, gains = freqz(rung, worN=np.asarray(frequencies_hz), fs=rate)
    return 20 * np.log10(np.abs(gains))


FREQUENCIES = np.geomspace(30, 16000, 40)


@pytest.mark.parametrize("cutoff_hz", [80.0, 1000.0, 9000.0])
@pytest.mark.parametrize(("slope_db", "order"), [(6, 1), (12, 2), (24, 4), (36, 6)])
@pytest.mark.parametrize(("kind", "btype"), [("low_pass", "low"), ("high_pass", "high")])
def test_flattest_response_is_a_butterworth_of_its_slope(cutoff_hz, slope_db, order, kind, btype):
    analogue = butter(order, 2 * np.pi * cutoff_hz, btype, analog=True)
    _, gains = freqs(*analogue, worN=2 * np.pi * FREQUENCIES)
    expected = 20 * np.log10(np.abs(gains))
    heard = expected > -90
    options = {"response": kind, "slope_db": slope_db, "cutoff_hz": cutoff_hz}
    measured = response(FREQUENCIES, resonance=np.sqrt(0.5), **options)
    np.testing.assert_allclose(measured[heard], expected[heard], atol=0.1)


@pytest.mark.parametrize("q", [0.6, 2.0, 10.0])
def test_resonance_is_the_gain_at_the_cutoff(q):
    options = {"slope_db": 12, "cutoff_hz": 1500.0, "resonance": q}
    assert response([1500.0], response="low_pass", **options) == pytest.approx(
        20 * np.log10(q), abs=0.02
    )
    assert response([1500.0], response="band_pass", **options) == pytest.approx(0.0, abs=0.02)
    assert response([1500.0], response="notch", **options)[0] < -60


def analogue_db(kind, frequency_hz, cutoff_hz, q, gain_db):
    """Peak and shelves of Bristow-Johnson's "Audio EQ Cookbook"."""
    s = 1j * frequency_hz / cutoff_hz
    a = 10 ** (gain_db / 40)
    root = np.sqrt(a) / q
    if kind == "peak":
        h = (s**2 + s * a / q + 1) / (s**2 + s / (a * q) + 1)
    elif kind == "low_shelf":
        h = a * (s**2 + root * s + a) / (a * s**2 + root * s + 1)
    else:
        h = a * (a * s**2 + root * s + 1) / (s**2 + root * s + a)
    return 20 * np.log10(np.abs(h))


@pytest.mark.parametrize("gain_db", [-18.0, 3.0, 18.0])
@pytest.mark.parametrize("q", [0.707, 3.0])
@pytest.mark.parametrize("kind", ["peak", "low_shelf", "high_shelf"])
@pytest.mark.parametrize("slope_db", [12, 24, 36])
def test_peak_and_shelves_are_their_prototypes(kind, q, gain_db, slope_db):
    options = {"slope_db": slope_db, "cutoff_hz": 900.0, "resonance": q, "gain_db": gain_db}
    count = slope_db // 12
    expected = count * analogue_db(kind, FREQUENCIES, 900.0, q, gain_db / count)
    np.testing.assert_allclose(response(FREQUENCIES, response=kind, **options), expected, atol=0.05)


@pytest.mark.parametrize("gain_db", [-12.0, 12.0])
def test_gentle_shelves_have_half_their_gain_at_the_corner(gain_db):
    for kind, end_hz, other_hz in (("low_shelf", 20, 20000), ("high_shelf", 20000, 20)):
        options = {"slope_db": 6, "cutoff_hz": 700.0, "resonance": 1.0, "gain_db": gain_db}
        far, corner, near = response([other_hz, 700.0, end_hz], response=kind, **options)
        assert corner == pytest.approx(gain_db / 2, abs=0.02)
        assert near == pytest.approx(gain_db, abs=0.1)
        assert far == pytest.approx(0.0, abs=0.1)


@pytest.mark.parametrize("kind", ["band_pass", "notch", "peak"])
def test_what_has_no_gentle_form_takes_12_db(kind):
    options = {"cutoff_hz": 700.0, "resonance": 2.0, "gain_db": 6.0, "response": kind}
    gentle, plain = (response(FREQUENCIES, slope_db=slope, **options) for slope in (6, 12))
    np.testing.assert_array_equal(gentle, plain)


@pytest.mark.parametrize(("follow", "octaves"), [(0.0, 0.0), (1.0, 1.0), (0.5, 0.5), (-1.0, -1.0)])
def test_key_follow_takes_the_cutoff_with_the_note(follow, octaves):
    noise = np.random.default_rng(4).normal(size=(1, 4000))
    part = FilterProcessor(id="f", cutoff_hz=800.0, key_follow=follow)
    moved = process(noise, part, ProcessContext(RenderSettings(), given={"note": 72.0}))
    still = FilterProcessor(id="f", cutoff_hz=800.0 * 2**octaves)
    expected = process(noise, still, ProcessContext(RenderSettings(), given={"note": 60.0}))
    np.testing.assert_allclose(moved, expected, atol=1e-12)


@pytest.mark.parametrize("cutoff_hz", [10.0, 20000.0])
@pytest.mark.parametrize("q", [0.5, 40.0])
@pytest.mark.parametrize("slope_db", [6, 12, 24, 36])
def test_stays_bounded_at_the_ends_of_its_range(cutoff_hz, q, slope_db):
    noise = np.random.default_rng(5).uniform(-1, 1, (2, 48000))
    options = {"cutoff_hz": cutoff_hz, "resonance": q, "slope_db": slope_db, "sample_rate": 44100}
    filtered = filter_signal(noise, response="low_pass", **options)
    assert np.all(np.isfinite(filtered))
    assert np.abs(filtered).max() < 3 * q**2 + 3


@pytest.mark.parametrize(("cutoff_hz", "q"), [(50.0, 20.0), (400.0, 2.0), (3000.0, 40.0)])
@pytest.mark.parametrize("slope_db", [6, 12, 24, 36])
def test_ring_is_over_within_the_stated_time(cutoff_hz, q, slope_db):
    impulse = np.zeros((1, 48000 * 13))
    impulse[0, 0] = 1.0
    options = {"cutoff_hz": cutoff_hz, "resonance": q, "slope_db": slope_db, "sample_rate": 48000}
    rung = np.abs(filter_signal(impulse, response="low_pass", **options)[0])
    end = int(ring_time_s(cutoff_hz, q, slope_db) * 48000)
    assert rung[end:].max() < rung.max() * 10 ** (-90 / 20)


def test_channels_do_not_touch():
    signal = np.random.default_rng(1).uniform(-1, 1, (2, 500))
    options = {"response": "low_pass", "slope_db": 24, "cutoff_hz": 800.0, "resonance": 1.0}
    both = filter_signal(signal, sample_rate=48000, **options)
    right = filter_signal(signal[1:], sample_rate=48000, **options)
    np.testing.assert_array_equal(both[1:], right)


def test_kernel_equals_its_plain_python():
    from nest_crate.core.dsp.filters.state_variable import _state_variable

    signal = np.random.default_rng(2).uniform(-1, 1, (1, 400))
    compiled, plain = np.empty_like(signal), np.empty_like(signal)
    _state_variable(compiled, signal, 0.3, 0.7, (0.2, 0.5, 1.0))
    _state_variable.py_func(plain, signal, 0.3, 0.7, (0.2, 0.5, 1.0))
    np.testing.assert_allclose(compiled, plain, rtol=1e-12)
