"""Between layers: sidebands where the formulas put them, and nowhere else."""

import numpy as np
import pytest
from scipy.special import jv

from nest_crate.core.engine import RenderSettings, render, render_with_trace
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import Layer, load_sound
from tests.core.spectra import alias_dbc, spectrum

FLAT = {"points": [{"time_s": 0, "value": 1}, {"time_s": 1, "value": 1}, {"time_s": 1, "value": 0}]}


def fixed(hz, **changes):
    return {"kind": "tone", "follows_note": False, "fixed_hz": hz, **changes}


def pair(way, amount, *, carrier_hz=1000.0, other_hz=150.0, links=(), movers=(), **carrier):
    acting = {"id": "m", "name": "M", "mute": True, "source": fixed(other_hz), "level": FLAT}
    heard = {
        "id": "c",
        "name": "C",
        "source": fixed(carrier_hz),
        "level": FLAT,
        "modulation": {"by": "m", "way": way, "amount": amount},
        **carrier,
    }
    return load_sound(
        {"name": "S", "layers": [heard, acting], "links": list(links), "movers": list(movers)}
    )


def levels(sound, at_hz, rate=48000):
    """Amplitudes of partials, read under one window; a sine of amplitude 1 reads 1."""
    settings = RenderSettings(sample_rate=rate)
    samples = render(sound, settings=settings).samples[0, rate // 8 : rate // 8 + rate // 2]
    reference = np.sin(2 * np.pi * 1000.0 * np.arange(samples.size) / rate)
    scale = spectrum(reference, rate)[1].max()
    hz, magnitudes = spectrum(samples, rate)
    return [magnitudes[np.abs(hz - one) < 8].max() / scale for one in at_hz]


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("amount", [0.1, 0.5, 1.0])
def test_phase_modulation_has_bessel_sidebands(amount, rate):
    """sin(a + b sin(c)) has sidebands J_n(b) at a + n c; 100 % is one cycle, b = 2 pi."""
    found = levels(pair("phase", amount), [1000.0 + 150.0 * n for n in range(6)], rate)
    expected = np.abs(jv(np.arange(6), 2 * np.pi * amount))
    np.testing.assert_allclose(found, expected, atol=0.004)


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("amount", [0.1, 0.5, 1.0])
def test_frequency_modulation_has_bessel_sidebands(amount, rate):
    """100 % swings the frequency by itself: its index is amount * carrier / modulator."""
    found = levels(pair("frequency", amount), [1000.0 + 150.0 * n for n in range(6)], rate)
    expected = np.abs(jv(np.arange(6), amount * 1000.0 / 150.0))
    # Sidebands below 0 Hz come back from there, the first at 1000 - 7 * 150 = -50 Hz.
    np.testing.assert_allclose(found, expected, atol=0.006)


def test_frequency_modulation_that_grows_begins_as_the_plain_tone():
    ramp = {"points": [{"time_s": 0, "value": 0}, {"time_s": 1, "value": 1}]}
    movers = [{"id": "z", "name": "Z", "kind": "curve", "curve": ramp}]
    links = [{"mover": "z", "target": "c.modulation.amount", "amount": 1.0}]
    samples = render(pair("frequency", 0.0, movers=movers, links=links)).samples[0]
    plain = render(pair("frequency", 0.0)).samples[0]
    # After 4 ms the index has come to 0.4 % of 1000 / 150.
    assert np.abs(samples[:200] - plain[:200]).max() < 0.03
    assert np.abs(samples[40000:44000] - plain[40000:44000]).max() > 0.5


def sync_samples(share=1.0, carrier_hz=1830.0, other_hz=997.0, **carrier):
    return render(pair("sync", share, carrier_hz=carrier_hz, other_hz=other_hz, **carrier)).samples[
        0
    ]


@pytest.mark.parametrize(
    ("carrier_hz", "other_hz", "limit_db"),
    [(1830.0, 997.0, -100), (700.0, 333.0, -100), (5300.0, 2003.0, -80)],
)
def test_synced_tone_repeats_with_the_other_and_does_not_alias(carrier_hz, other_hz, limit_db):
    samples = sync_samples(carrier_hz=carrier_hz, other_hz=other_hz)[4800:43200]
    assert alias_dbc(samples, other_hz, 48000) < limit_db


def test_synced_sine_has_the_partials_of_its_formula():
    """Cycles of sin(2 pi r x), 0 <= x < 1, repeated: partials by numerical integration."""
    ratio = 1.83
    samples = sync_samples(carrier_hz=ratio * 500.0, other_hz=500.0)[4800:43200]
    hz, magnitudes = spectrum(samples, 48000)
    reference = spectrum(np.sin(2 * np.pi * 500.0 * np.arange(samples.size) / 48000), 48000)[1]
    x = (np.arange(200000) + 0.5) / 200000
    cycle = np.sin(2 * np.pi * ratio * x)
    for k in range(1, 12):
        expected = 2 * abs(np.mean(cycle * np.exp(-2j * np.pi * k * x)))
        found = magnitudes[np.abs(hz - 500.0 * k) < 10].max() / reference.max()
        assert found == pytest.approx(expected, abs=0.003)


def test_sync_by_nothing_at_all_and_by_noise_leaves_the_tone_as_it_is():
    plain = render(pair("phase", 0.0)).samples[0]
    none = sync_samples(0.0, carrier_hz=1000.0)
    np.testing.assert_allclose(none[:40000], plain[:40000], atol=1e-6)
    noise = {"id": "m", "name": "M", "mute": True, "source": {"kind": "noise"}, "level": FLAT}
    synced = pair("sync", 1.0)
    by_noise = synced.model_copy(update={"layers": (synced.layers[0], Layer(**noise))})
    np.testing.assert_allclose(render(by_noise).samples[0, :40000], plain[:40000], atol=1e-6)


def test_ring_modulation_leaves_sum_and_difference_alone():
    low, middle, high = levels(pair("ring", 1.0), [850.0, 1000.0, 1150.0])
    assert (low, high) == (pytest.approx(0.5, abs=0.003), pytest.approx(0.5, abs=0.003))
    assert middle < 1e-3
    half = levels(pair("ring", 0.5), [850.0, 1000.0])
    np.testing.assert_allclose(half, [0.25, 0.5], atol=0.003)


def test_amplitude_modulation_keeps_the_tone_and_adds_quarters():
    found = levels(pair("amplitude", 1.0), [850.0, 1000.0, 1150.0])
    np.testing.assert_allclose(found, [0.25, 0.5, 0.25], atol=0.003)


def test_products_above_hearing_do_not_fold_back():
    """20 kHz times 9 kHz is 11 and 29 kHz; 29 would fold to 19."""
    low, folded = levels(pair("ring", 1.0, carrier_hz=20000.0, other_hz=9000.0), [11000.0, 19000.0])
    assert low == pytest.approx(0.5, abs=0.01)
    assert 20 * np.log10(folded / low) < -90.0


def test_deep_phase_modulation_of_a_high_tone_is_clean():
    """Sidebands lie at 5000 + 777 n; what is elsewhere has folded back."""
    sound = pair("phase", 0.5, carrier_hz=5000.0, other_hz=777.0)
    samples = render(sound).samples[0, 6000:30000]
    hz, magnitudes = spectrum(samples, 48000)
    nearest = np.round((hz - 5000.0) / 777.0) * 777.0 + 5000.0
    others = np.abs(hz - nearest) > 26.0 * 48000 / samples.size
    # Mirrored sidebands below 0 Hz are part of the formula.
    mirrored = np.round((-hz - 5000.0) / 777.0) * 777.0 + 5000.0
    others &= np.abs(-hz - mirrored) > 26.0 * 48000 / samples.size
    assert 20 * np.log10(magnitudes[others].max() / magnitudes.max()) < -90.0


def test_amount_is_moved_and_none_is_the_plain_tone():
    movers = [{"id": "z", "name": "Z", "kind": "macro", "value": 1.0}]
    links = [{"mover": "z", "target": "c.modulation.amount", "amount": -0.5}]
    moved = pair("phase", 0.5, movers=movers, links=links)
    assert levels(moved, [1000.0, 1150.0]) == pytest.approx([1.0, 0.0], abs=1e-3)


def test_silent_modulator_is_not_heard_itself_and_noise_has_no_phase():
    layers = render_with_trace(pair("ring", 1.0)).layers
    assert set(layers) == {"c"}
    noise = pair("phase", 1.0, source={"kind": "noise"})
    plain = pair("phase", 0.0, source={"kind": "noise"})
    np.testing.assert_array_equal(render(noise).samples, render(plain).samples)


@pytest.mark.parametrize(
    ("first", "second", "words"),
    [("b", "a", "go round"), ("a", None, "go round"), ("z", None, "no layer 'z'")],
)
def test_loops_and_missing_layers_are_refused(first, second, words):
    layers = [
        {"id": "a", "name": "A", "modulation": {"by": first}},
        {"id": "b", "name": "B", "modulation": {"by": second}},
    ]
    with pytest.raises(DocumentError) as refused:
        load_sound({"name": "S", "layers": layers})
    assert words in refused.value.problems[0].message
