"""Parts, fades and gains against what they are said to be."""

import numpy as np
import pytest

from nest_crate.core.dsp.util.trim import NO_EDITS, SoundEdits, apply_edits, silence_around

RATE = 48000


def noise(seconds=1.0, channels=2):
    return np.random.default_rng(1).normal(size=(channels, round(seconds * RATE))) * 0.1


def test_nothing_is_done_where_nothing_is_asked():
    signal = noise()
    assert apply_edits(signal, RATE, NO_EDITS) is signal
    assert SoundEdits().as_dict() == {}
    assert SoundEdits.of(None) == SoundEdits.of({}) == NO_EDITS


@pytest.mark.parametrize(
    "edits", [SoundEdits(0.1, 0.5), SoundEdits(start_s=0.25), SoundEdits(end_s=0.3)]
)
def test_a_part_is_that_part(edits):
    signal = noise()
    start, end = round(edits.start_s * RATE), round((edits.end_s or 1.0) * RATE)
    np.testing.assert_array_equal(apply_edits(signal, RATE, edits), signal[:, start:end])
    assert SoundEdits.of(edits.as_dict()) == edits


def test_gain_is_in_decibels_and_the_stored_sound_stays():
    signal = noise()
    before = signal.copy()
    made = apply_edits(signal, RATE, SoundEdits(gain_db=-6.0, fade_out_s=0.1))
    np.testing.assert_allclose(made[:, :100], signal[:, :100] * 10 ** (-6 / 20))
    np.testing.assert_array_equal(signal, before)


def test_fades_are_half_a_cosine_without_a_corner():
    made = apply_edits(np.ones((1, RATE)), RATE, SoundEdits(fade_in_s=0.1, fade_out_s=0.2))[0]
    assert made[0] < 1e-6
    assert made[-1] < 1e-6
    assert made[round(0.05 * RATE)] == pytest.approx(0.5, abs=1e-3)
    assert made[round(0.9 * RATE)] == pytest.approx(0.5, abs=1e-3)
    assert made[round(0.5 * RATE)] == 1.0
    # The steepest step of such a fade is pi / 2 over its length.
    assert np.abs(np.diff(made[: round(0.1 * RATE)])).max() < 1.01 * np.pi / 2 / (0.1 * RATE)


@pytest.mark.parametrize("frames", [0, 1, 2, 7])
def test_fades_longer_than_the_sound_are_shortened_to_it(frames):
    made = apply_edits(np.ones((1, frames)), RATE, SoundEdits(fade_in_s=1.0, fade_out_s=1.0))
    assert made.shape == (1, frames)
    assert np.all(np.isfinite(made))
    assert np.all(made < 1.0)


def test_a_part_beyond_the_end_is_empty():
    assert apply_edits(noise(0.1), RATE, SoundEdits(start_s=5.0)).shape == (2, 0)


def test_silence_is_found_to_the_millisecond():
    signal = np.concatenate([np.zeros((2, 9600)), noise(0.2), np.zeros((2, 4800))], axis=1)
    start, end = silence_around(signal, RATE)
    assert start == pytest.approx(0.2 - 0.001, abs=2e-4)
    assert end == pytest.approx(0.4 + 0.01, abs=2e-4)


def test_what_lies_72_db_below_the_peak_is_silence_and_more_is_not():
    for db, kept in ((-60.0, True), (-80.0, False)):
        quiet = np.full((1, 4800), 10 ** (db / 20))
        signal = np.concatenate([quiet, np.ones((1, 100))], axis=1)
        start, _ = silence_around(signal, RATE)
        assert (start == 0.0) is kept


@pytest.mark.parametrize("frames", [0, 100])
def test_silence_itself_is_left_whole(frames):
    assert silence_around(np.zeros((1, frames)), RATE) == (0.0, frames / RATE)
