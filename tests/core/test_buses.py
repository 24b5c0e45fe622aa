"""Buses, routes and the crossover: where a signal goes, and that its parts meet in phase."""

import numpy as np
import pytest
from scipy.signal import butter, sosfreqz

from nest_crate.core.dsp.filters.crossovers import crossover_parts
from nest_crate.core.engine import RenderSettings, render, render_with_trace
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.recipe import recipe
from tests.core.spectra import spectrum

FLAT = {"points": [{"time_s": 0, "value": 1}, {"time_s": 1, "value": 1}, {"time_s": 1, "value": 0}]}


def tone(name, hz, **changes):
    source = {"kind": "tone", "follows_note": False, "fixed_hz": hz}
    return {"id": name, "name": name.capitalize(), "source": source, "level": FLAT, **changes}


def sound_of(*layers, **parts):
    return load_sound({"name": "S", "layers": list(layers), **parts})


def partials_db(samples, at_hz, rate=48000):
    cut = samples[rate // 8 : rate // 8 + rate // 2]
    hz, magnitudes = spectrum(cut, rate)
    scale = spectrum(np.sin(2 * np.pi * 1000.0 * np.arange(cut.size) / rate), rate)[1].max()
    found = [magnitudes[np.abs(hz - one) < 8].max() / scale for one in at_hz]
    return 20.0 * np.log10(np.maximum(found, 1e-12))


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
@pytest.mark.parametrize("cutoff_hz", [40.0, 150.0, 2000.0, 8000.0])
def test_crossover_parts_sum_flat_and_cross_at_minus_six(cutoff_hz, rate):
    impulse = np.zeros((1, 2 * rate))
    impulse[0, 0] = 1.0
    low, high = crossover_parts(impulse, cutoff_hz, sample_rate=rate)
    hz = np.fft.rfftfreq(2 * rate, 1 / rate)
    spectra = [np.fft.rfft(part[0]) for part in (low, high)]
    heard = (hz >= 20.0) & (hz <= 20000.0)
    whole_db = 20 * np.log10(np.abs(spectra[0] + spectra[1]))[heard]
    assert np.abs(whole_db).max() < 0.001
    at = int(np.argmin(np.abs(hz - cutoff_hz)))
    for part in spectra:
        assert 20 * np.log10(np.abs(part[at])) == pytest.approx(-6.02, abs=0.02)
    # In phase at every frequency: neither part works against the other.
    assert np.all((spectra[0] * np.conj(spectra[1])).real[heard] > -1e-9)


def test_crossover_is_two_butterworth_filters_of_scipy():
    impulse = np.zeros((1, 48000))
    impulse[0, 0] = 1.0
    low, _ = crossover_parts(impulse, 1000.0, sample_rate=48000)
    hz, expected = sosfreqz(butter(2, 1000.0, fs=48000, output="sos"), worN=4096, fs=48000)
    found = np.abs(np.fft.rfft(low[0]))
    nearest = np.round(hz).astype(int)
    heard = (nearest > 10) & (nearest < 10000)
    np.testing.assert_allclose(
        found[nearest[heard]], np.interp(nearest, hz, np.abs(expected) ** 2)[heard], rtol=2e-3
    )


def test_a_moving_crossover_stays_flat_and_makes_no_clicks():
    """White noise through parts that cross ever higher: the sum's level stays within 0.1 dB."""
    noise = np.random.default_rng(1).normal(size=(1, 96000)) * 0.1
    moving = np.geomspace(60.0, 4000.0, 6002)
    low, high = crossover_parts(noise, moving, sample_rate=48000)
    energy = [np.mean(part[0, 4800:] ** 2) for part in (low + high, noise)]
    assert 10 * np.log10(energy[0] / energy[1]) == pytest.approx(0.0, abs=0.1)


def test_in_a_split_bus_only_the_top_is_driven():
    """A 50 Hz sub and a 2 kHz tone: drive on the high part leaves the sub without a partial."""
    bus = {
        "id": "body",
        "name": "Body",
        "split": True,
        "crossover_hz": 300.0,
        "chain": [{"id": "d", "kind": "drive", "drive_db": 24}],
    }
    layers = [tone("sub", 50.0, to="body", level_db=-6), tone("top", 2000.0, to="body")]
    split = render(sound_of(*layers, buses=[bus])).samples[0]
    whole = render(sound_of(*layers, buses=[{**bus, "split": False}])).samples[0]
    near_sub = [1900.0, 2100.0, 6000.0]
    clean, mixed = partials_db(split, near_sub), partials_db(whole, near_sub)
    assert clean[2] > -20.0, "the top is driven"
    assert max(clean[:2]) < -60.0, "nothing of the sub in the driven part"
    assert max(mixed[:2]) > -40.0, "driven together they intermodulate"
    assert partials_db(split, [50.0])[0] == pytest.approx(-6.0, abs=0.1)
    assert partials_db(split, [150.0])[0] < -80.0


def test_what_waits_in_the_low_chain_works_once_the_bus_is_split():
    bus = {"id": "b", "name": "B", "low_chain": [{"id": "d", "kind": "drive", "drive_db": 30}]}
    plain = render(sound_of(tone("a", 100.0, to="b"), buses=[bus])).samples
    bare = render(sound_of(tone("a", 100.0))).samples
    np.testing.assert_array_equal(plain, bare)
    split = render(sound_of(tone("a", 100.0, to="b"), buses=[{**bus, "split": True}])).samples[0]
    assert partials_db(split, [300.0])[0] > -20.0


def test_a_layer_to_the_output_passes_the_main_chain_but_not_the_main_level():
    main = {"chain": [{"id": "d", "kind": "drive", "drive_db": 30}], "level_db": -6}
    direct = render(sound_of(tone("a", 500.0, to="output"), main=main)).samples[0]
    through = render(sound_of(tone("a", 500.0), main=main)).samples[0]
    levels = partials_db(direct, [500.0, 1500.0])
    assert levels[0] == pytest.approx(-6.0, abs=0.01)
    assert levels[1] < -100.0
    assert partials_db(through, [1500.0])[0] > -30.0


def test_buses_lead_into_buses_whatever_their_order():
    buses = [
        {"id": "last", "name": "Last", "level_db": -3},
        {"id": "first", "name": "First", "to": "last", "level_db": -4},
    ]
    samples = render(sound_of(tone("a", 500.0, to="first"), buses=buses)).samples[0]
    assert partials_db(samples, [500.0])[0] == pytest.approx(-7.0, abs=0.01)
    muted = [buses[0], {**buses[1], "mute": True}]
    assert not render(sound_of(tone("a", 500.0, to="first"), buses=muted)).samples.any()


@pytest.mark.parametrize(
    ("parts", "message"),
    [
        ({"buses": [{"id": "b", "name": "B", "to": "b"}]}, "routes go round: b goes to b"),
        (
            {
                "buses": [
                    {"id": "b", "name": "B", "to": "c"},
                    {"id": "c", "name": "C", "to": "b"},
                ]
            },
            "routes go round: (b goes to c goes to b|c goes to b goes to c)",
        ),
        ({"buses": [{"id": "b", "name": "B", "to": "gone"}]}, "buses.0: there is no bus 'gone'"),
        ({"buses": [{"id": "main", "name": "B"}]}, "id 'main' is taken by the program"),
        ({"buses": [{"id": "a", "name": "B"}]}, "id 'a' is used twice"),
    ],
)
def test_routes_that_lead_nowhere_or_round_are_refused(parts, message):
    with pytest.raises(DocumentError, match=message):
        sound_of(tone("a", 500.0), **parts)


def test_a_layer_to_a_missing_bus_is_refused():
    with pytest.raises(DocumentError, match=r"layers\.0: there is no bus 'gone' to go to"):
        sound_of(tone("a", 500.0, to="gone"))


def test_listening_at_a_step_gives_that_step_alone():
    chain = [
        {"id": "f", "kind": "filter", "cutoff_hz": 400},
        {"id": "d", "kind": "drive", "drive_db": 20},
    ]
    bus = {"id": "b", "name": "B", "level_db": -6}
    sound = sound_of(
        tone("a", 500.0, chain=chain, to="b"), tone("c", 900.0, mute=True), buses=[bus]
    )
    parts = render_with_trace(sound).layers
    at = {key: render(sound, listen_at=key).samples[0] for key in ("a", "f", "d", "b", "c")}
    np.testing.assert_array_equal(at["a"][:40000], parts["a"][0][:40000])
    assert partials_db(at["f"], [1500.0])[0] < -100.0 < -40.0 < partials_db(at["d"], [1500.0])[0]
    assert partials_db(at["b"], [500.0]) - partials_db(at["a"], [500.0]) == pytest.approx(-6.0)
    # A muted layer is heard where it is listened at.
    assert partials_db(at["c"], [900.0, 500.0]) == pytest.approx([0.0, -200.0], abs=60.0)
    with pytest.raises(DocumentError, match="there is no step 'gone' to listen at"):
        render(sound, listen_at="gone")


def test_the_length_covers_what_rings_on_in_buses():
    ring = {"id": "f", "kind": "filter", "response": "band_pass", "cutoff_hz": 100, "resonance": 40}
    short = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.05, "value": 0}]}
    bus = {"id": "b", "name": "B", "chain": [ring]}
    audio = render(sound_of(tone("a", 100.0, level=short, to="b"), buses=[bus]))
    # Q 40 at 100 Hz falls by 90 dB in 40 ln(10^4.5) / (100 pi) = 1.3 s.
    assert audio.length_s > 1.0
    assert audio.end_reason == "silence"


def test_a_bus_is_told_in_the_recipe_and_moved_by_links():
    bus = {"id": "b", "name": "Body", "split": True}
    sound = sound_of(
        tone("a", 500.0, to="b"),
        buses=[bus],
        movers=[{"id": "m", "name": "M", "kind": "macro", "value": 1.0}],
        links=[{"mover": "m", "target": "b.level_db", "amount": -9}],
    )
    text = recipe(sound)
    assert "Bus: Body" in text
    assert "Output: Body" in text
    assert "Moves Body, Bus level: -9 dB" in text
    samples = render(sound, settings=RenderSettings()).samples[0]
    assert partials_db(samples, [500.0])[0] == pytest.approx(-9.0, abs=0.01)


@pytest.mark.parametrize("kind", ["filter", "formant", "comb"])
def test_what_follows_a_low_note_rings_to_its_end(kind):
    """At note 24 a frequency set at C4 lies three octaves lower and rings eight times as long."""
    parts = {
        "filter": {"response": "band_pass", "cutoff_hz": 261.6, "resonance": 40, "key_follow": 1},
        "formant": {"first_hz": 261.6, "second_hz": 600, "sharpness": 40, "key_follow": 1},
        "comb": {"follows_note": True, "feedback": 0.97},
    }
    short = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.02, "value": 0}]}
    chain = [{"id": "p", "kind": kind, **parts[kind]}]
    sound = sound_of(tone("a", 100.0, level=short, chain=chain))
    low = sound.hit.model_copy(update={"note": 24})
    samples = render(sound, low).samples[0]
    # A render ends 50 ms after the ring has fallen below -90 dBFS; one cut short would be louder.
    assert np.abs(samples[-2390:-480]).max() < 10 ** (-90 / 20)
    high = sound.hit.model_copy(update={"note": 84})
    assert render(sound, high).samples.shape[1] < 0.5 * samples.size
