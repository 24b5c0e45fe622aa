import numpy as np
import pytest
from scipy.signal import welch
from scipy.stats import kstest, norm

from nest_crate.core.dsp.oscillators.noise import noise_signal
from nest_crate.core.dsp.util.randomness import uniform_numbers


def noise(count=200_000, **key):
    return uniform_numbers(count, **{"seed": 1, "part": "a.noise", "hit_number": 0, **key})


def test_numbers_are_uniform_from_minus_1_to_1():
    numbers = noise()
    assert numbers.min() >= -1.0
    assert numbers.max() < 1.0
    assert kstest(numbers, "uniform", args=(-1, 2)).pvalue > 1e-3


def test_spectrum_is_white():
    """Octave bands of 200,000 numbers: each within 5 standard errors of the same density."""
    power = np.abs(np.fft.rfft(noise())) ** 2
    for octave in range(2, 9):
        stop = power.size >> octave
        band = power[stop // 2 : stop]
        error = 1.0 / np.sqrt(band.size)
        assert abs(band.mean() / power[1:].mean() - 1.0) < 5.0 * error


def test_neighbours_are_independent():
    numbers = noise()
    for lag in (1, 2, 7):
        correlation = np.corrcoef(numbers[:-lag], numbers[lag:])[0, 1]
        assert abs(correlation) < norm.ppf(1 - 1e-6) / np.sqrt(numbers.size)


@pytest.mark.parametrize("other", [{"seed": 2}, {"part": "b.noise"}, {"hit_number": 3}])
def test_another_key_gives_other_numbers(other):
    first, second = noise(20_000), noise(20_000, **other)
    assert abs(np.corrcoef(first, second)[0, 1]) < 0.04


def test_the_same_key_gives_the_same_numbers_at_any_length():
    np.testing.assert_array_equal(noise(100), noise(1000)[:100])


def coloured(frames=480_000, **changes):
    options = {
        "texture": "even",
        "colour_db": 0.0,
        "rate_hz": 1000.0,
        "width": 0.0,
        "offset_s": 0.0,
        "sample_rate": 48000,
        "seed": 3,
        "part": "a.noise",
        "hit_number": 0,
    }
    return noise_signal(frames, **{**options, **changes})


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("colour_db", [-12.0, -6.0, -3.0, 1.7, 6.0])
def test_colour_is_a_straight_slope(rate, colour_db):
    """Slope of third-octave levels from 50 Hz to 16 kHz, and each level near the line."""
    signal = coloured(rate * 20, colour_db=colour_db, sample_rate=rate)[0]
    frequencies, power = welch(signal, rate, nperseg=16384)
    centres = np.geomspace(60, 14000, 14)
    levels = []
    for centre in centres:
        band = (frequencies > centre / 1.1) & (frequencies < centre * 1.1)
        levels.append(10 * np.log10(np.exp(np.log(power[band]).mean())))
    slope, level = np.polyfit(np.log2(centres), levels, 1)
    assert slope == pytest.approx(colour_db, abs=0.2)
    assert np.abs(np.polyval([slope, level], np.log2(centres)) - levels).max() < 1.0


@pytest.mark.parametrize("colour_db", [-12.0, -3.0, 6.0])
def test_colour_keeps_the_power(colour_db):
    signal = coloured(960_000, colour_db=colour_db)
    assert 10 * np.log10(np.mean(signal**2) * 3) == pytest.approx(0.0, abs=1.5)


def test_colour_does_not_depend_on_the_length_rendered():
    short, long = coloured(1000, colour_db=-3.0), coloured(30_000, colour_db=-3.0)
    np.testing.assert_allclose(short[0], long[0, :1000], atol=1e-9)


@pytest.mark.parametrize("rate_hz", [5.0, 300.0, 4000.0])
def test_crackle_has_its_rate_and_no_rhythm(rate_hz):
    signal = coloured(texture="crackle", rate_hz=rate_hz)[0]
    hits = np.flatnonzero(signal)
    # A Poisson count's spread is the root of its mean.
    assert abs(hits.size - 10 * rate_hz) < 5 * np.sqrt(10 * rate_hz)
    gaps = np.diff(hits)
    if rate_hz == 300.0:
        assert gaps.std() / gaps.mean() == pytest.approx(1.0, abs=0.1)


@pytest.mark.parametrize("rate_hz", [10.0, 997.0, 20000.0])
def test_stepped_noise_steps_at_its_rate(rate_hz):
    signal = coloured(texture="stepped", rate_hz=rate_hz)[0]
    assert np.count_nonzero(np.diff(signal)) + 1 == pytest.approx(10 * rate_hz, abs=1)


@pytest.mark.parametrize("width", [0.0, 0.5, 1.0])
def test_width_sets_the_correlation_of_the_sides(width):
    signal = coloured(width=width)
    if width == 0.0:
        assert signal.shape[0] == 1
    else:
        assert np.corrcoef(signal)[0, 1] == pytest.approx(np.cos(width * np.pi / 2), abs=0.01)
        assert signal.std(axis=1) == pytest.approx(np.full(2, 3**-0.5), abs=0.005)


@pytest.mark.parametrize("texture", ["even", "crackle", "stepped"])
def test_offset_starts_later_in_the_same_noise(texture):
    whole = coloured(9600, texture=texture, rate_hz=2000.0)
    later = coloured(4800, texture=texture, rate_hz=2000.0, offset_s=0.1)
    np.testing.assert_array_equal(later, whole[:, 4800:])
