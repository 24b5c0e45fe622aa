"""The same sound at every rate: noise, random events, and what is struck by them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.signal import find_peaks

from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.sound import load_sound
from tests.core.spectra import third_octaves_db

OTHERS = [44100, 88200, 96000, 192000]
HELD = {"points": [{"time_s": 0, "value": 1}]}


def rendered(layer: dict[str, Any], rate: int, length_s: float = 2.0, **whole: Any) -> np.ndarray:
    own = {"id": "a", "name": "A", "level": HELD, **layer}
    given = {"name": "Rates", "layers": [own], "hit": {"hold_s": length_s}, **whole}
    sound = load_sound(given)
    return render(sound, settings=RenderSettings(sample_rate=rate, length_s=length_s)).samples


def bands_db(signal: np.ndarray, rate: int) -> np.ndarray:
    power = [10.0 ** (third_octaves_db(side, rate) / 10.0) for side in signal]
    return 10.0 * np.log10(np.mean(power, axis=0) + 1e-30)


def furthest_apart_db(layer: dict[str, Any], rate: int, **whole: Any) -> float:
    usual, other = (bands_db(rendered(layer, one, **whole), one) for one in (48000, rate))
    heard = usual > usual.max() - 70.0
    return float(np.abs(other - usual)[heard].max())


@pytest.mark.parametrize("rate", OTHERS)
@pytest.mark.parametrize("colour_db", [-12.0, -6.0, 0.0, 6.0])
@pytest.mark.parametrize("texture", ["even", "crackle", "stepped"])
def test_noise_has_the_same_density_at_every_rate(
    texture: str, colour_db: float, rate: int
) -> None:
    source = {"kind": "noise", "texture": texture, "colour_db": colour_db, "rate_hz": 300.0}
    assert furthest_apart_db({"source": source}, rate) < 0.2


@pytest.mark.parametrize("rate", OTHERS)
def test_crackles_fall_at_the_same_instants_with_the_same_energy(rate: int) -> None:
    source = {"kind": "noise", "texture": "crackle", "rate_hz": 40.0}
    found = []
    for one in (48000, rate):
        x = rendered({"source": source}, one)[0]
        at, _ = find_peaks(np.abs(x), height=0.1, distance=one // 1000)
        # Between frames by the parabola through a peak and its neighbours.
        a, b, c = (np.abs(x[at + step]) for step in (-1, 0, 1))
        middle = at + 0.5 * (a - c) / (a - 2 * b + c)
        found.append((middle / one, np.sum(x**2) / one, b))
    for here, there in ((0, 1), (1, 0)):
        loud = found[here][2] > 0.2
        assert loud.sum() > 30
        apart = np.abs(found[here][0][loud, np.newaxis] - found[there][0]).min(axis=1)
        # Of two that nearly meet either may be found as the larger.
        assert np.quantile(apart, 0.9) < 0.5 / 44100
    # Where the band is 22.05 instead of 24 kHz wide, so much less of an impulse is left.
    width_db = 10.0 * np.log10(min(rate, 48000) / 48000)
    assert 10.0 * np.log10(found[1][1] / found[0][1]) == pytest.approx(width_db, abs=0.6)


@pytest.mark.parametrize("rate", OTHERS)
@pytest.mark.parametrize("exciter", ["noise", "sweep"])
def test_what_is_struck_by_them_rings_alike_at_every_rate(exciter: str, rate: int) -> None:
    source = {"kind": "struck", "exciter": exciter, "hardness": 0.8, "body": "membrane"}
    assert furthest_apart_db({"source": source}, rate) < 0.3


@pytest.mark.parametrize("rate", OTHERS)
@pytest.mark.parametrize("hardness", [0.4, 0.85])
@pytest.mark.parametrize("body", ["bar", "plate", "string", "string_loop"])
def test_partials_of_what_is_struck_are_as_loud_at_every_rate(
    body: str, hardness: float, rate: int
) -> None:
    source = {"kind": "struck", "body": body, "hardness": hardness, "position": 0.18}
    hit = {"hold_s": 2.0, "note": 76}
    # A loop's damping is what it shall be up to the eighth harmonic, and a blow on it is made of
    # means over frames, 0.4 dB softer at 8 kHz and 48 kHz.
    top_hz, limit_db = (5600, 0.5) if body == "string_loop" else (15000, 0.1)
    levels = []
    for one in (48000, rate):
        heard = rendered({"source": source}, one, hit=hit)[0]
        # To a grid of 0.25 Hz at every rate.
        levels.append(
            20 * np.log10(np.abs(np.fft.rfft(heard, 4 * one))[: 4 * top_hz] / one + 1e-12)
        )
    usual, other = levels
    partials, _ = find_peaks(usual, height=usual.max() - 30.0, distance=400)
    assert partials.size >= 2
    near = np.array([other[max(0, at - 4) : at + 5].max() for at in partials])
    assert np.abs(near - usual[partials]).max() < limit_db


# A plate has thousands of modes, whose sum takes seconds at the higher rates.
ANSWERS = [(one, rate) for one in ("small_box", "large_box", "spring") for rate in OTHERS]


@pytest.mark.parametrize(("impulse", "rate"), [*ANSWERS, ("plate", 44100), ("plate", 96000)])
def test_convolution_answers_alike_at_every_rate(impulse: str, rate: int) -> None:
    main = {"chain": [{"id": "c", "kind": "convolution", "impulse": impulse}]}
    assert furthest_apart_db({"source": {"kind": "noise"}}, rate, main=main) < 0.2


@pytest.mark.parametrize("rate", OTHERS)
def test_a_blurred_sound_is_alike_at_every_rate(rate: int) -> None:
    main = {"chain": [{"id": "b", "kind": "blur", "time_s": 1.0, "width": 0.5}]}
    assert furthest_apart_db({"source": {"kind": "noise"}}, rate, main=main) < 0.3


def test_modes_are_silent_only_while_they_lie_above_nyquist() -> None:
    """A fall of four octaves: afterwards all modes ring, as they would without it."""
    fall = {"points": [{"time_s": 0, "value": 48}, {"time_s": 0.02, "value": 0}]}
    source = {
        "kind": "struck",
        "body": "set",
        "set_st": [0, 7, 12, 19, 24, 31, 36],
        "decay_s": 8.0,
        "damping": 0.0,
        "hardness": 1.0,
        "follows_note": False,
        "fixed_hz": 400.0,
    }
    spectra = []
    for layer in ({"pitch": fall}, {}):
        x = rendered({"source": source, **layer}, 48000)[0][4800:]
        spectra.append(third_octaves_db(x, 48000, low_hz=315.0, high_hz=3150.0))
    heard = spectra[1] > spectra[1].max() - 20.0
    assert heard.sum() >= 5
    # They are excited at other pitches, yet all of them.
    assert (spectra[0] - spectra[1])[heard].min() > -12.0


def test_what_was_read_before_changes_no_sample() -> None:
    """A recording is kept as made for some speeds; others may not find it changed by that."""
    key = "b" * 64
    noise = np.random.default_rng(5).normal(size=(1, 9000)) * 0.1
    settings = RenderSettings(length_s=0.3, recordings={key: Audio(noise, 48000)})

    def played(start_st: float, end_st: float) -> np.ndarray:
        fall = {"points": [{"time_s": 0, "value": start_st}, {"time_s": 0.2, "value": end_st}]}
        source = {"kind": "sample", "recording": key}
        layer = {"id": "a", "name": "A", "source": source, "level": HELD, "pitch": fall}
        sound = load_sound({"name": "Read", "layers": [layer]})
        return render(sound, settings=settings).samples

    for way in ((24.0, 11.0), (25.0, 12.0), (13.0, 12.9), (0.3, 0.0)):
        first = played(*way)
        played(23.7, 11.1)
        played(30.0, -12.0)
        np.testing.assert_array_equal(played(*way), first)


@pytest.mark.parametrize("rate", [44100, 96000])
@pytest.mark.parametrize("resonance", [0.7, 2.2, 8.0])
@pytest.mark.parametrize(("cutoff_hz", "slope_db"), [(320.0, 24), (1500.0, 12), (80.0, 36)])
def test_a_driven_filter_holds_its_resonance_alike_at_every_rate(
    cutoff_hz: float, slope_db: int, resonance: float, rate: int
) -> None:
    tone = {"source": {"kind": "tone", "shape": 2}}
    for drive_db in (3.0, 12.0):
        part = {"id": "f", "kind": "filter", "cutoff_hz": cutoff_hz, "slope_db": slope_db}
        part |= {"resonance": resonance, "drive_db": drive_db}
        hit = {"hold_s": 0.8, "note": 40}
        layer = {**tone, "chain": [part]}
        usual, other = (
            bands_db(rendered(layer, one, length_s=0.8, hit=hit), one) for one in (48000, rate)
        )
        heard = usual > usual.max() - 60.0
        assert np.abs(other - usual)[heard].max() < 0.5
