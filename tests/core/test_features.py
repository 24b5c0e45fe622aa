"""Features against closed forms; the map keeps near what is near."""

import numpy as np
import pytest
from scipy.spatial.distance import pdist
from scipy.stats import spearmanr

from nest_crate.core.analysis.features.features import FEATURE_COUNT, feature_distances, features
from nest_crate.core.analysis.features.map import flat_map
from nest_crate.core.analysis.features.tags import suggested_tags
from nest_crate.core.engine import render

RATE = 48000


def time_s(seconds=1.0):
    return np.arange(round(seconds * RATE)) / RATE


def sine(hz, seconds=1.0, level=0.5):
    return level * np.sin(2 * np.pi * hz * time_s(seconds))[np.newaxis]


@pytest.mark.parametrize("hz", [60.0, 440.0, 3000.0])
def test_brightness_of_a_sine_is_its_frequency(hz):
    found = features(sine(hz), RATE)
    # Read in 96 bands of about a tenth of an octave.
    assert found.brightness_hz == pytest.approx(hz, rel=0.06)
    assert found.spread_octaves < 0.2
    assert found.noisiness < 0.02


def test_brightness_of_two_sines_is_weighted_by_their_energy():
    found = features(sine(500.0, level=0.6) + sine(4000.0, level=0.3), RATE)
    assert found.brightness_hz == pytest.approx((500 * 0.36 + 4000 * 0.09) / 0.45, rel=0.06)


def test_flatness_of_white_noise_is_that_of_an_exponential_distribution():
    noise = np.random.default_rng(1).normal(size=(1, 4 * RATE)) * 0.1
    # Power of noise is exponentially distributed: its geometric re arithmetic mean is exp(-gamma).
    assert features(noise, RATE).noisiness == pytest.approx(np.exp(-np.euler_gamma), rel=0.03)


@pytest.mark.parametrize("t60_s", [0.2, 0.7])
def test_decay_is_that_of_an_exponential(t60_s):
    signal = sine(800.0, 2.0) * 10 ** (-3 * time_s(2.0) / t60_s)
    found = features(signal, RATE)
    assert found.decay_s == pytest.approx(t60_s, rel=0.03)
    assert found.attack_s < 0.005


def test_low_share_is_that_of_what_lies_below_120_hz():
    found = features(sine(60.0, level=0.5) + sine(1000.0, level=0.5), RATE)
    assert found.low_share_db == pytest.approx(10 * np.log10(0.5), abs=0.2)


def test_silence_and_one_frame_have_features():
    assert not features(np.zeros((2, 100)), RATE).vector.any()
    assert features(np.zeros((1, 0)), RATE).decay_s == 0.0
    one = features(np.ones((1, 1)), RATE).vector
    assert one.shape == (FEATURE_COUNT,)
    assert np.isfinite(one).all()


def test_a_sound_is_nearest_to_a_slightly_other_one_of_itself(kick):
    other = render(kick.model_copy(update={"seed": 99})).samples
    far = [sine(2000.0), np.random.default_rng(2).normal(size=(1, RATE)) * 0.1]
    vectors = np.stack([features(one, RATE).vector for one in (other, *far)])
    distances = feature_distances(vectors, features(render(kick).samples, RATE).vector)
    assert np.argmin(distances) == 0
    assert distances[0] < 0.2 * distances[1:].min()
    # Loudness is no matter of likeness.
    quiet = features(0.1 * other, RATE).vector
    assert feature_distances(quiet[np.newaxis], vectors[0])[0] < 0.1


class TestMap:
    def test_plane_vectors_keep_their_distances(self):
        places = np.random.default_rng(3).uniform(size=(200, 2))
        vectors = np.zeros((200, 20), dtype=np.float32)
        vectors[:, 4:6] = places
        rank = spearmanr(pdist(flat_map(vectors)), pdist(places)).statistic
        assert rank > 0.999

    def test_groups_in_many_directions_stay_groups_also_beyond_what_is_placed(self):
        rng = np.random.default_rng(4)
        centres = 6 * rng.normal(size=(5, 27))
        of = np.arange(3000) % 5
        vectors = (centres[of] + rng.normal(size=(3000, 27)) * 0.3).astype(np.float32)
        found = flat_map(vectors)
        assert found.min() >= 0.0
        assert found.max() <= 1.0
        middles = np.stack([found[of == group].mean(axis=0) for group in range(5)])
        nearest = np.argmin(((found[:, None] - middles) ** 2).sum(axis=2), axis=1)
        assert (nearest == of).mean() > 0.95
        np.testing.assert_array_equal(found, flat_map(vectors))

    @pytest.mark.parametrize("count", [0, 1, 2])
    def test_few_or_equal_vectors_have_places(self, count):
        assert np.isfinite(flat_map(np.ones((count, 5), dtype=np.float32))).all()


def test_tags_say_what_was_measured():
    facts = {
        "length_s": 0.1,
        "channels": 1,
        "note": "C#2",
        "brightness_hz": 200.0,
        "noisiness": 0.01,
        "low_share_db": -1.0,
        "loudness_lufs": -10.0,
        "loopable": False,
    }
    wanted = ["short", "c-sharp2", "dark", "tonal", "low", "loud", "mono"]
    assert suggested_tags(**facts) == wanted
    noisy = {**facts, "length_s": 3.0, "noisiness": 0.5, "brightness_hz": 9000.0, "channels": 2}
    assert suggested_tags(**noisy) == ["long", "bright", "noisy", "low", "loud", "stereo"]
