"""The note that is claimed for a sound is true, or none is claimed."""

from __future__ import annotations

import numpy as np
import pytest

from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.measures.pitch import pitch_track
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import load_sound
from nest_crate.core.units import note_to_hz

RATES = [44100, 48000, 96000]


def tone(note: float, rate: int, seconds: float, partials: int = 1) -> np.ndarray:
    n = np.arange(round(seconds * rate)) / rate
    hz = note_to_hz(note)
    ends = np.minimum(1.0, np.minimum(n, seconds - n) / 0.005)
    k = np.arange(1, partials + 1)
    k = k[k * hz < 0.45 * rate]
    return np.sum([np.sin(2 * np.pi * one * hz * n) / one for one in k], axis=0) * ends * 0.3


@pytest.mark.parametrize("partials", [1, 12])
@pytest.mark.parametrize("apart", [3, 4, 5, 7, 8, 9, 10, 14])
@pytest.mark.parametrize("low", [48, 60, 71])
def test_two_notes_are_said_to_be_several(low: int, apart: int, partials: int) -> None:
    both = tone(low, 48000, 0.6, partials) + tone(low + apart, 48000, 0.6, partials)
    found = measure(both[np.newaxis], 48000)
    assert found.note is None
    assert found.several_notes


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("partials", [1, 12])
@pytest.mark.parametrize("note", [28, 36, 48, 60, 72, 84, 96])
def test_single_tones_are_named(note: int, partials: int, rate: int) -> None:
    found = measure(tone(note + 0.13, rate, 0.5, partials)[np.newaxis], rate)
    assert found.fundamental_hz is not None
    assert 1200 * abs(np.log2(found.fundamental_hz / note_to_hz(note + 0.13))) < 10.0
    assert found.pitch_confidence > 0.9
    assert not found.several_notes


@pytest.mark.parametrize("body", ["membrane", "bar", "plate", "tube", "string"])
@pytest.mark.parametrize("note", [48, 60, 72])
def test_a_claimed_pitch_of_a_body_has_a_partial(body: str, note: int) -> None:
    layer = {
        "id": "a",
        "name": "A",
        "source": {"kind": "struck", "body": body, "position": 0.4},
        "level": {"points": [{"time_s": 0, "value": 1}]},
    }
    sound = load_sound({"name": "Body", "layers": [layer], "hit": {"note": note}})
    x = render(sound, settings=RenderSettings(length_s=1.5)).samples
    found = measure(x, 48000)
    if found.fundamental_hz is None:
        return
    spectrum = np.abs(np.fft.rfft(x[0] * np.hanning(x.shape[1])))
    hz = np.fft.rfftfreq(x.shape[1], 1 / 48000)
    near = np.abs(np.log2(np.maximum(hz, 1.0) / found.fundamental_hz)) < 60.0 / 1200.0
    assert 20 * np.log10(spectrum[near].max() / spectrum.max()) > -40.0


def test_a_membrane_is_called_by_its_lowest_mode() -> None:
    layer = {
        "id": "a",
        "name": "A",
        "source": {"kind": "struck", "body": "membrane", "damping": 1.0},
        "level": {"points": [{"time_s": 0, "value": 1}]},
    }
    sound = load_sound({"name": "Skin", "layers": [layer], "hit": {"note": 60}})
    found = measure(render(sound, settings=RenderSettings(length_s=1.5)).samples, 48000)
    assert found.note in ("C4", None)


@pytest.mark.parametrize("seed", range(12))
@pytest.mark.parametrize("seconds", [0.15, 0.5, 1.5])
def test_noise_has_no_note(seed: int, seconds: float) -> None:
    noise = np.random.default_rng(seed).normal(size=(1, round(seconds * 48000))) * 0.1
    found = measure(noise, 48000)
    assert found.note is None


def test_a_rise_is_called_by_where_it_lands() -> None:
    n = np.arange(96000) / 48000
    st = np.where(n < 1.6, 19.0 * n / 1.6, 19.0)
    x = 0.3 * np.sin(2 * np.pi * np.cumsum(note_to_hz(41) * 2 ** (st / 12)) / 48000)
    assert measure(x[np.newaxis], 48000).note == "C4"


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("decay", [0.0, 3.0, 6.0])
@pytest.mark.parametrize("periods", [6, 9, 20])
@pytest.mark.parametrize("partials", [1, 12])
@pytest.mark.parametrize("note", [24, 31, 40, 60, 84])
def test_six_periods_are_enough(
    note: int, partials: int, periods: int, decay: float, rate: int
) -> None:
    hz = note_to_hz(note + 0.13)
    n = np.arange(round(periods / hz * rate)) / rate
    k = np.arange(1, partials + 1)
    k = k[k * hz < 0.45 * rate]
    wave = np.sum([np.sin(2 * np.pi * one * hz * n) / one for one in k], axis=0)
    ends = np.minimum(1.0, np.minimum(n, n[-1] - n) * 2 * hz)
    x = 0.3 * wave * ends * np.exp(-decay * n / n[-1])
    found = measure(x[np.newaxis], rate)
    assert found.fundamental_hz is not None
    assert 1200 * abs(np.log2(found.fundamental_hz / hz)) < 10.0


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("partials", [1, 12])
@pytest.mark.parametrize(
    ("from_hz", "octaves", "seconds"),
    [(1600.0, 5.0, 0.06), (3200.0, 5.0, 0.06), (6400.0, 5.0, 0.06), (200.0, 2.0, 0.05)],
)
def test_a_fast_fall_is_tracked_from_the_third_period_on(
    from_hz: float, octaves: float, seconds: float, partials: int, rate: int
) -> None:
    n = np.arange(round((seconds + 0.3) * rate)) / rate
    speed = octaves / seconds * np.log(2)
    fallen = np.minimum(n, seconds)
    cycles = from_hz / speed * (1 - np.exp(-speed * fallen))
    cycles += from_hz * 2**-octaves * (n - fallen)
    hz = from_hz * 2 ** (-octaves * fallen / seconds)
    k = np.arange(1, partials + 1)[:, None]
    wave = np.sum(np.where(k * hz < 0.45 * rate, np.sin(2 * np.pi * k * cycles) / k, 0.0), axis=0)
    track = pitch_track(0.3 * (wave * np.exp(-5.0 * n))[np.newaxis], rate)
    expected = from_hz * 2 ** (-octaves * np.minimum(track.time_s, seconds) / seconds)
    later = np.interp(track.time_s, n, cycles) >= 2.0
    off = 1200 * np.abs(np.log2(track.pitch_hz[later] / expected[later]))
    assert np.nanmax(off) < 50.0
    # It is followed on the way, not only where it has come to rest.
    passed = from_hz / speed * (1 - 2**-octaves) - 2.0
    on_the_way = np.isfinite(track.pitch_hz) & (track.time_s < seconds) & later
    assert np.count_nonzero(on_the_way) >= 0.6 * min(passed, 60)


@pytest.mark.parametrize("seed", range(6))
@pytest.mark.parametrize("decay", [3.0, 7.0])
@pytest.mark.parametrize("slope", [0, 1])
def test_fading_noise_has_no_note(seed: int, decay: float, slope: int) -> None:
    for rate in RATES:
        for seconds in (0.1, 0.3, 0.6):
            n = np.arange(round(seconds * rate)) / rate
            noise = np.random.default_rng(seed).normal(size=n.size)
            noise = np.cumsum(noise) / 10 if slope else noise
            found = measure((0.1 * noise * np.exp(-decay * n / seconds))[np.newaxis], rate)
            assert found.note is None
