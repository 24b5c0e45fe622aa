import numpy as np
import pytest
from scipy.signal import sawtooth, square

from nest_crate.core.dsp.oscillators.cycles import (
    CycleTables,
    edited_partials,
    shape_partials,
    shape_tables,
    skewed_partials,
)
from nest_crate.core.dsp.oscillators.oscillator import Voice, tone_signal
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import load_sound
from tests.core.spectra import alias_dbc, peak_frequency

SHAPES = {"sine": 0.0, "triangle": 1.0, "sawtooth": 2.0, "pulse": 3.0}


def tone(
    frequency_hz,
    *,
    shape=0.0,
    width=0.5,
    skew=0.0,
    phase_deg=0.0,
    rate=48000,
    seconds=1.0,
    fine=True,
):
    pitch = np.full(int(rate * seconds), float(frequency_hz))
    voices = [Voice(phase=phase_deg / 360)]
    tables = shape_tables(shape, width, skew)
    return tone_signal(pitch, tables, sample_rate=rate, voices=voices, fine=fine)[0]


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("shape", SHAPES.values(), ids=SHAPES)
@pytest.mark.parametrize("frequency_hz", [48.9994, 440.0, 4186.009])
def test_pitch_is_within_a_twentieth_of_a_cent(rate, shape, frequency_hz):
    measured = peak_frequency(tone(frequency_hz, shape=shape, rate=rate), rate)
    assert abs(1200 * np.log2(measured / frequency_hz)) < 0.05


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("shape", [1.0, 1.5, 2.0, 2.4, 3.0])
@pytest.mark.parametrize("frequency_hz", [110.3, 1234.5, 5000.0, 7043.0])
def test_alias_products_stay_below_minus_90_dbc(rate, shape, frequency_hz):
    signal = tone(frequency_hz, shape=shape, width=0.3, rate=rate, seconds=2)
    assert alias_dbc(signal, frequency_hz, rate) < -90.0


def test_sweeping_sawtooth_adds_nothing_between_its_partials():
    """Against an additive synthesis of the same sweep: their difference is what aliased."""
    rate, frames = 48000, 48000
    pitch = 3000.0 * 2.0 ** (np.arange(frames) / frames)
    swept = tone_signal(pitch, shape_tables(2.0, 0.5), sample_rate=rate)[0]
    phase = 2 * np.pi * np.concatenate([[0.0], np.cumsum(pitch[:-1]) / rate])
    # Partials far from Nyquist all the way are whole in both; those near it fade in ours.
    low = [k for k in range(1, 4) if 6000.0 * k < 0.8 * rate / 2]
    expected = sum(2 / np.pi * (-1) ** (k + 1) / k * np.sin(k * phase) for k in low)
    bands = np.fft.rfftfreq(frames, 1 / rate) < 2900.0
    difference = np.abs(np.fft.rfft((swept - expected) * np.blackman(frames)))[bands]
    carrier = np.abs(np.fft.rfft(swept * np.blackman(frames))).max()
    assert 20 * np.log10(difference.max() / carrier) < -90.0


@pytest.mark.parametrize(
    ("shape", "reference"),
    [
        (0.0, lambda x: np.sin(x)),
        (1.0, lambda x: sawtooth(x + np.pi / 2, width=0.5)),
        (2.0, lambda x: sawtooth(x + np.pi)),
        (3.0, lambda x: square(x, duty=0.5)),
    ],
    ids=SHAPES,
)
def test_low_tone_has_the_shape_of_its_name(shape, reference):
    phase = 2 * np.pi * 20.0 * np.arange(48000) / 48000
    steps = np.abs(np.diff(reference(phase), prepend=reference(phase[:1] - 1e-3))) > 0.5
    away_from_steps = ~np.convolve(steps, np.ones(81), "same").astype(bool)
    # The next step lies right behind the end.
    away_from_steps[-100:] = False
    difference = tone(20.0, shape=shape) - reference(phase)
    assert np.abs(difference[away_from_steps]).max() < 0.02


def test_pulse_carries_no_offset_at_any_width():
    for width in (0.05, 0.3, 0.9):
        assert abs(tone(100.0, shape=3.0, width=width).mean()) < 1e-6


def test_pulse_partials_follow_the_formula():
    k = np.arange(1, 40)
    expected = np.abs(4 / (np.pi * k) * np.sin(np.pi * k * 0.2))
    np.testing.assert_allclose(np.abs(shape_partials(3.0, 0.2)[k]), expected, atol=1e-12)


@pytest.mark.parametrize("shape", SHAPES.values(), ids=SHAPES)
def test_start_phase_turns_the_cycle(shape):
    whole = tone(100.0, shape=shape)
    turned = tone(100.0, shape=shape, phase_deg=90.0)
    np.testing.assert_allclose(turned[:4000], whole[120:4120], atol=1e-9)


def test_start_phase_0_starts_at_zero_and_rises():
    for shape in (0.0, 1.0, 2.0):
        signal = tone(100.0, shape=shape)
        assert abs(signal[0]) < 1e-9 < signal[1]


def test_between_two_shapes_their_partials_mix():
    half = 0.5 * (shape_partials(1.0, 0.5) + shape_partials(2.0, 0.5))
    np.testing.assert_allclose(shape_partials(1.5, 0.5), half)


def test_draft_differs_from_final_by_less_than_can_be_heard():
    difference = tone(110.0, shape=2.0, fine=False) - tone(110.0, shape=2.0)
    assert 20 * np.log10(np.abs(difference).max()) < -60.0


def test_tables_cover_any_pitch():
    tables = CycleTables(shape_partials(2.0, 0.5))
    for low, high in [(0.01, 0.01), (20.0, 24000.0), (23999.0, 24000.0)]:
        rows, limits = tables.rows(low, high, 48000)
        assert rows.shape[0] == limits.shape[0] >= 1


def test_empty_buffer_gives_an_empty_tone():
    assert tone(100.0, seconds=0.0).shape == (0,)


@pytest.mark.parametrize("skew", [-1.0, -0.4, 0.6, 1.0])
@pytest.mark.parametrize("shape", [0.0, 1.0])
def test_skew_moves_the_middle_of_the_cycle(shape, skew):
    signal = tone(20.0, shape=shape, skew=skew)
    cycle = signal[:2400]
    # The offset that skewing makes is removed, so the middle is where the fall is half done.
    falling = int(np.argmin(cycle)) + int(np.argmax(cycle))
    assert falling / 4800 == pytest.approx(0.5 + 0.25 * 0.96 * skew, abs=0.01)
    assert abs(signal[:24000].mean()) < 1e-3


def test_skewed_tone_does_not_alias():
    for frequency_hz in (700.0, 5000.5):
        signal = tone(frequency_hz, shape=0.0, skew=0.9, seconds=2)
        assert alias_dbc(signal, frequency_hz, 48000) < -90.0


def test_skewed_partials_agree_with_an_integral():
    """The first partials of a skewed sine, by summing the warped cycle over a fine grid."""
    u = (np.arange(400_000) + 0.5) / 400_000
    middle = 0.5 + 0.48 * 0.5
    phase = np.where(u < middle, 0.5 * u / middle, 0.5 + 0.5 * (u - middle) / (1 - middle))
    cycle = np.sin(2 * np.pi * phase)
    expected = [2 * np.mean(cycle * np.exp(-2j * np.pi * k * u)) for k in (1, 2, 5)]
    skewed = skewed_partials(shape_partials(0.0, 0.5), 0.5)
    np.testing.assert_allclose(skewed[[1, 2, 5]], expected, atol=1e-6)


class TestEditedPartials:
    def levels(self, amplitudes, **changes):
        options = {"tilt_db": 0.0, "odd_even": 0.0, "comb": 0, **changes}
        return np.abs(edited_partials(amplitudes, (), **options))[1 : len(amplitudes) + 1]

    def test_are_heard_at_their_amplitudes_and_phases(self):
        options = {"tilt_db": 0.0, "odd_even": 0.0, "comb": 0}
        partials = edited_partials((0.5, 0.0, 0.25), (0.0, 0.0, 90.0), **options)
        pitch = np.full(4800, 100.0)
        signal = tone_signal(pitch, CycleTables(partials), sample_rate=48000)[0]
        turn = 2 * np.pi * 100.0 * np.arange(4800) / 48000
        np.testing.assert_allclose(signal, 0.5 * np.sin(turn) + 0.25 * np.cos(3 * turn), atol=1e-9)

    def test_tilt_is_decibels_per_octave(self):
        levels = self.levels([1.0] * 8, tilt_db=-6.0)
        assert 20 * np.log10(levels[[1, 3, 7]]) == pytest.approx([-6, -12, -18])

    def test_balance_and_comb(self):
        np.testing.assert_array_equal(self.levels([1.0] * 4, odd_even=-1.0), [1, 0, 1, 0])
        np.testing.assert_array_equal(self.levels([1.0] * 4, odd_even=1.0), [1, 1, 0, 1])
        np.testing.assert_array_equal(self.levels([1.0] * 6, comb=3), [1, 1, 0, 1, 1, 0])

    def test_no_partials_are_silence(self):
        assert not edited_partials((), (), tilt_db=0, odd_even=0, comb=0).any()


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("hz", [55.0, 440.0, 3000.0])
@pytest.mark.parametrize("width", [0.05, 0.2, 0.5, 0.8])
def test_a_pulse_begins_at_a_crossing(width, hz, rate):
    source = {"kind": "tone", "shape": 3.0, "width": width, "follows_note": False, "fixed_hz": hz}
    level = {"points": [{"time_s": 0, "value": 1}]}
    layer = {"id": "a", "name": "A", "source": source, "level": level}
    sound = load_sound({"name": "Pulse", "layers": [layer]})
    settings = RenderSettings(sample_rate=rate, length_s=0.1)
    # Between rows of the table it lies a hair beside; an edge not begun at its crossing is at 0.9.
    assert abs(render(sound, settings=settings).samples[0, 0]) < 0.1
