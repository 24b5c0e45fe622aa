import numpy as np
import pytest
from scipy.integrate import solve_ivp

from nest_crate.core.dsp.oscillators.cycles import shape_tables
from nest_crate.core.dsp.oscillators.feedback import feedback_tone
from nest_crate.core.dsp.oscillators.oscillator import Voice, tone_signal
from nest_crate.core.dsp.oscillators.unison import unison_voices
from tests.core.spectra import alias_dbc, peak_frequency, spectrum


def voices(count, **changes):
    options = {"detune_cent": 12.0, "width": 0.0, "phase_spread": 1.0, "balance": 0.5}
    return unison_voices(count, **{**options, **changes})


def tone(voices_of, *, frequency_hz=220.0, shape=2.0, seconds=2.0, rate=48000):
    pitch = np.full(int(rate * seconds), frequency_hz)
    return tone_signal(pitch, shape_tables(shape, 0.5), sample_rate=rate, voices=voices_of)


def rms_db(signal):
    return 10 * np.log10(np.mean(signal**2))


def test_one_voice_is_the_tone_itself():
    assert voices(1, detune_cent=50.0, phase_spread=1.0) == [Voice()]


@pytest.mark.parametrize("rate", [44100, 96000])
@pytest.mark.parametrize("detune_cent", [0.5, 12.0, 100.0])
def test_outermost_voices_lie_at_the_detune(rate, detune_cent):
    row = voices(5, detune_cent=detune_cent)
    for voice, cents in zip(row, np.linspace(-1, 1, 5) * detune_cent, strict=True):
        alone = tone([voice], shape=0.0, frequency_hz=1000.0, rate=rate)[0]
        measured = 1200 * np.log2(peak_frequency(alone, rate) / 1000.0)
        assert measured == pytest.approx(cents, abs=0.05)


@pytest.mark.parametrize("frequency_hz", [220.0, 261.62556530])
@pytest.mark.parametrize("fine", [True, False])
def test_two_voices_are_the_sum_of_each_alone(frequency_hz, fine):
    """Also at C4, which rests where one table fades into the next, after a fall through others."""
    pitch = np.concatenate([np.linspace(700.0, frequency_hz, 5000), np.full(20000, frequency_hz)])
    pair = [Voice(0.0, 1.0, (0.5, 0.2)), Voice(0.3, 1.0, (0.1, 0.4))]
    options = {"sample_rate": 48000, "fine": fine}
    tables = shape_tables(2.0, 0.5)
    together = tone_signal(pitch, tables, voices=pair, **options)
    apart = sum(tone_signal(pitch, tables, voices=[voice], **options) for voice in pair)
    np.testing.assert_allclose(together, apart, atol=1e-12)


@pytest.mark.parametrize("detune_cent", [10.0, 30.0, 100.0])
@pytest.mark.parametrize("width", [0.0, 1.0])
def test_level_does_not_jump_with_the_count(detune_cent, width):
    """Mean power over both sides; beats of a few voices are averaged over ten seconds."""
    one = rms_db(tone(voices(1), seconds=10))
    for count in (2, 3, 7, 16):
        row = voices(count, detune_cent=detune_cent, width=width)
        assert rms_db(tone(row, seconds=10)) == pytest.approx(one, abs=1.0)


def test_voices_that_stay_together_add_by_amplitude():
    one = tone(voices(1))
    for count in (2, 16):
        row = voices(count, detune_cent=0.0, phase_spread=0.0)
        np.testing.assert_allclose(tone(row), one, atol=1e-9)


def test_width_spreads_voices_evenly_over_the_sides():
    left, right = tone(voices(6, width=1.0))
    assert rms_db(left) == pytest.approx(rms_db(right), abs=1.0)
    assert abs(np.corrcoef(left, right)[0, 1]) < 0.95
    assert tone(voices(6, width=0.0)).shape[0] == 1


def test_balance_lowers_the_sides_or_the_centre():
    outer, _, middle, _, _ = (voice.gains[0] for voice in voices(5, balance=0.0))
    assert outer < 0.01 * middle
    outer, _, middle, _, _ = (voice.gains[0] for voice in voices(5, balance=1.0))
    assert middle < 0.01 * outer


@pytest.mark.parametrize(("frequency_hz", "amount"), [(220.0, 1.0), (1000.0, 0.7), (5000.0, 0.5)])
def test_feedback_adds_harmonics_and_no_alias(frequency_hz, amount):
    pitch = np.full(96000, frequency_hz)
    tables = shape_tables(0.0, 0.5)
    options = {"sample_rate": 48000, "voices": [Voice()], "octaves": 3}
    signal = feedback_tone(pitch, tables, amount=amount, **options)[0][2000:-2000]
    assert alias_dbc(signal, frequency_hz, 48000) < -90.0
    frequencies, magnitudes = spectrum(signal, 48000)
    second = magnitudes[np.abs(frequencies - 2 * frequency_hz) < 20].max()
    assert 20 * np.log10(second / magnitudes.max()) > -20.0
    assert peak_frequency(signal, 48000) == pytest.approx(frequency_hz, rel=2e-5)


@pytest.mark.parametrize(("frequency_hz", "amount"), [(110.0, 0.7), (1000.0, 0.5), (2900.0, 0.3)])
@pytest.mark.parametrize("rate", [44100, 48000])
def test_feedback_follows_its_own_equation(frequency_hz, amount, rate):
    """y = sin(2 pi (f t + 0.2 amount z)) with z behind one pole at 12 kHz, solved as a differential
    equation by Runge and Kutta's method."""

    def heard(t, z):
        return np.sin(2 * np.pi * (frequency_hz * t + 0.2 * amount * z))

    frames = 1200
    solved = solve_ivp(
        lambda t, z: 2 * np.pi * 12000.0 * (heard(t, z) - z),
        (0.0, frames / rate),
        [0.0],
        t_eval=np.arange(frames) / rate,
        rtol=1e-9,
        atol=1e-10,
        max_step=1e-5,
    )
    expected = heard(solved.t, solved.y[0])
    pitch = np.full(frames, frequency_hz)
    options = {"sample_rate": rate, "voices": [Voice()], "octaves": 3}
    signal = feedback_tone(pitch, shape_tables(0.0, 0.5), amount=amount, **options)[0]
    # Its partials above 20 kHz are removed on the way back to the rate.
    np.testing.assert_allclose(signal[200:-200], expected[200:-200], atol=3e-3)
