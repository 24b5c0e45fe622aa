"""Tones bent by themselves or by others: bright after any fall, clean while they are bent."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from nest_crate.core.dsp.oscillators import phase_modulation
from nest_crate.core.dsp.oscillators.cycles import shape_tables
from nest_crate.core.dsp.oscillators.feedback import feedback_tone
from nest_crate.core.dsp.oscillators.oscillator import Voice
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import load_sound
from tests.core.spectra import alias_dbc, third_octaves_db

RATES = [44100, 48000, 96000]
FLAT = {"points": [{"time_s": 0, "value": 1}]}


def tone(source: dict[str, Any], **layer: Any) -> dict[str, Any]:
    own = {"kind": "tone", "follows_note": False, "fixed_hz": 55.0, "shape": 2.0, **source}
    return {"id": "a", "name": "A", "source": own, "level": FLAT, **layer}


def modulator(hz: float, **source: Any) -> dict[str, Any]:
    own = {"kind": "tone", "follows_note": False, "fixed_hz": hz, **source}
    return {"id": "b", "name": "B", "mute": True, "source": own, "level": FLAT}


def rendered(
    layers: list[dict[str, Any]], rate: int, length_s: float = 0.8, **whole: Any
) -> np.ndarray:
    sound = load_sound({"name": "Bent", "layers": layers, **whole})
    audio = render(sound, settings=RenderSettings(sample_rate=rate, length_s=length_s))
    return audio.samples[0]


WIDTH_MOVED = {
    "movers": [{"id": "m", "name": "M", "kind": "lfo", "rate_hz": 2.0}],
    "links": [{"mover": "m", "target": "a.source.width", "amount": 0.2}],
}
BENT: dict[str, tuple[dict[str, Any], dict[str, Any], dict[str, Any]]] = {
    "feedback": ({"feedback": 0.001}, {}, {}),
    "much feedback": ({"feedback": 0.4}, {}, {}),
    "phase": ({}, {"modulation": {"by": "b", "way": "phase", "amount": 0.05}}, {}),
    "frequency": ({}, {"modulation": {"by": "b", "way": "frequency", "amount": 0.2}}, {}),
    "sync": ({}, {"modulation": {"by": "b", "way": "sync", "amount": 1.0}}, {}),
    "moved width": ({"shape": 3.0}, {}, WIDTH_MOVED),
    "wavetable": (
        {"kind": "wavetable", "position": 0.5},
        {"modulation": {"by": "b", "way": "phase", "amount": 0.05}},
        {},
    ),
}


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("name", BENT)
def test_after_a_fall_a_bent_tone_is_as_bright_as_one_that_never_fell(name: str, rate: int) -> None:
    source, layer, whole = BENT[name]
    spectra = []
    for start_st in (84.0, 0.0):
        fall = {"points": [{"time_s": 0, "value": start_st}, {"time_s": 0.05, "value": 0}]}
        made = tone(source, **layer, pitch=fall)
        if made["source"]["kind"] == "wavetable":
            del made["source"]["shape"]
        # Long enough that sidebands which nearly meet are separated.
        x = rendered([made, modulator(37.37)], rate, 5.0, **whole)
        spectra.append(third_octaves_db(x[round(0.25 * rate) :], rate))
    loud = spectra[1] > spectra[1].max() - 60.0
    assert np.abs(spectra[0] - spectra[1])[loud].max() < 0.5
    assert loud[-3:].any(), "nothing is heard above 9 kHz, so that nothing was measured there"


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("shape", [0.0, 2.0, 3.0])
@pytest.mark.parametrize("way", ["phase", "frequency"])
@pytest.mark.parametrize(
    ("carrier_hz", "ratio", "index"),
    [(301.0, 8.0, 8.0), (997.0, 7.5, 8.0), (997.0, 8.0, 8.0), (997.0, 7.0 / 3.0, 1.0)],
)
def test_modulated_phase_leaves_no_alias(
    way: str, carrier_hz: float, ratio: float, index: float, shape: float, rate: int
) -> None:
    # Of the index: radians of phase, and of the carrier's frequency index * ratio.
    amount = index / (2.0 * np.pi) if way == "phase" else index * ratio
    modulation = {"by": "b", "way": way, "amount": min(4.0, amount)}
    source = {"fixed_hz": carrier_hz, "shape": shape}
    x = rendered(
        [tone(source, modulation=modulation), modulator(carrier_hz * ratio)], rate, length_s=1.2
    )
    comb_hz = carrier_hz / (3.0 if ratio == 7.0 / 3.0 else 2.0)
    assert alias_dbc(x[2000 : rate + 2000], comb_hz, rate) < -90.0


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("shape", [0.0, 1.0, 2.0, 3.0])
@pytest.mark.parametrize(
    ("leader_hz", "own_hz"), [(313.0, 777.0), (499.0, 5003.0), (2003.0, 7919.0)]
)
def test_sync_leaves_no_alias(leader_hz: float, own_hz: float, shape: float, rate: int) -> None:
    modulation = {"by": "b", "way": "sync", "amount": 1.0}
    made = tone({"fixed_hz": own_hz, "shape": shape}, modulation=modulation)
    x = rendered([made, modulator(leader_hz)], rate, length_s=1.2)
    assert alias_dbc(x[2000 : rate + 2000], leader_hz, rate) < -90.0


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("hz", [100.7, 997.0, 1000.3])
@pytest.mark.parametrize("shape", [0.0, 1.0, 2.0])
def test_feedback_leaves_no_alias(shape: float, hz: float, rate: int) -> None:
    x = rendered([tone({"fixed_hz": hz, "shape": shape, "feedback": 0.5})], rate, length_s=1.2)
    assert alias_dbc(x[2000 : rate + 2000], hz, rate) < -80.0


@pytest.mark.parametrize("rate", RATES)
@pytest.mark.parametrize("share", [0.02, 0.12, 0.126, 0.2])
def test_a_bent_tone_has_its_level_up_to_the_top(share: float, rate: int) -> None:
    hz = share * rate
    plain, bent = (
        rendered([tone({"fixed_hz": hz, "shape": 0.0, "feedback": amount})], rate, length_s=0.3)
        for amount in (0.0, 0.01)
    )
    inner = slice(2000, -2000)
    levels = [20.0 * np.log10(np.sqrt(2.0 * np.mean(x[inner] ** 2))) for x in (plain, bent)]
    assert levels[1] == pytest.approx(levels[0], abs=0.1)


@pytest.mark.parametrize(("rate", "octaves"), [(48000, 3), (96000, 2), (192000, 1)])
@pytest.mark.parametrize("bent_by", ["feedback", "phase", "sync"])
def test_where_blocks_meet_is_not_heard(
    bent_by: str, rate: int, octaves: int, monkeypatch: pytest.MonkeyPatch
) -> None:
    n = np.arange(40000)
    more = {
        "feedback": {"amount": 0.4},
        "phase": {"amount": 0.2, "phase_cycles": np.sin(2 * np.pi * 2408.0 / rate * n)},
        "sync": {"amount": 0.1, "sync_hz": np.full(n.size, 277.0), "sync_share": np.ones(n.size)},
    }[bent_by]

    def made() -> np.ndarray:
        pitch = np.full(n.size, 301.0)
        tables = shape_tables(2.0, 0.5)
        common = {"sample_rate": rate, "voices": [Voice()], "octaves": octaves}
        return feedback_tone(pitch, tables, **common, **more)

    whole = made()
    monkeypatch.setattr(phase_modulation, "_BLOCK", 4096)
    # What a loop of its own has not quite come to differs by its last digits.
    np.testing.assert_allclose(made(), whole, atol=1e-6)


@pytest.mark.parametrize("kind", ["tone", "wavetable", "noise"])
@pytest.mark.parametrize("way", ["phase", "frequency", "sync", "ring", "amplitude"])
def test_a_modulator_at_no_amount_changes_no_sample(way: str, kind: str) -> None:
    source = {"kind": kind, **({"shape": 2.0, "fixed_hz": 331.0} if kind == "tone" else {})}
    made = {"id": "a", "name": "A", "source": source, "level": FLAT}
    plain = rendered([made, modulator(220.0)], 48000, length_s=0.2)
    modulation = {"by": "b", "way": way, "amount": 0.0}
    idle = rendered([{**made, "modulation": modulation}, modulator(220.0)], 48000, length_s=0.2)
    np.testing.assert_array_equal(idle, plain)


@pytest.mark.parametrize("rate", [48000, 96000])
def test_ring_modulation_of_two_sawtooths_leaves_no_alias(rate: int) -> None:
    share = rate / 48000
    own_hz, other_hz = 1003.0 * share, 2617.0 * share
    modulation = {"by": "b", "way": "ring", "amount": 1.0}
    made = tone({"fixed_hz": own_hz}, modulation=modulation)
    x = rendered([made, modulator(other_hz, shape=2.0)], rate, length_s=1.2)[2000 : rate + 2000]
    magnitudes = np.abs(np.fft.rfft(x * np.kaiser(x.size, 38)))
    hz = np.fft.rfftfreq(x.size, 1.0 / rate)
    expected = np.zeros(hz.size, dtype=bool)
    for n in range(1, int(rate / 2 / own_hz) + 1):
        for m in range(1, int(rate / 2 / other_hz) + 1):
            for line in (n * own_hz + m * other_hz, abs(n * own_hz - m * other_hz)):
                expected |= np.abs(hz - line) < 30.0
    assert 20.0 * np.log10(magnitudes[~expected].max() / magnitudes.max()) < -90.0
