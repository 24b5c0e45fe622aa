import numpy as np
import pytest
from scipy.stats import kstest, norm

from nest_crate.core.dsp.randomness import uniform_numbers


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
