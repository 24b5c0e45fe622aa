"""Several layers that act on one, tapped where wanted, voice by voice where there are as many."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np
import pytest
from scipy.signal import resample_poly

from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import dump_sound, load_sound
from tests.core.spectra import spectrum

RATE = 48000
FLAT = {"points": [{"time_s": 0, "value": 1}, {"time_s": 1, "value": 1}, {"time_s": 1, "value": 0}]}


def layer(identifier: str, hz: float, modulators: Any = (), **more: Any) -> dict[str, Any]:
    source = {"kind": "tone", "follows_note": False, "fixed_hz": hz, **more.pop("source", {})}
    return {
        "id": identifier,
        "name": identifier,
        "source": source,
        "level": FLAT,
        "modulators": list(modulators),
        **more,
    }


def acting(identifier: str, by: str, way: str, amount: float, **more: Any) -> dict[str, Any]:
    return {"id": identifier, "by": by, "way": way, "amount": amount, **more}


def rendered(layers: list[Any], **more: Any) -> np.ndarray:
    settings = RenderSettings(sample_rate=RATE, length_s=1.0, **more.pop("settings", {}))
    return render(load_sound({"name": "S", "layers": layers, **more}), settings=settings).samples


def sines(*hz: float, rate: int = 4 * RATE) -> list[np.ndarray]:
    time_s = np.arange(rate) / rate
    return [np.sin(2.0 * np.pi * one * time_s) for one in hz]


def apart_db(found: np.ndarray, wanted: np.ndarray) -> float:
    middle = slice(RATE // 10, RATE - RATE // 10)
    return float(
        20.0 * np.log10(np.abs(found[middle] - wanted[middle]).max() / np.abs(wanted).max())
    )


def silent(identifier: str, hz: float, **more: Any) -> dict[str, Any]:
    return layer(identifier, hz, mute=True, **more)


class TestSeveral:
    def test_three_at_once_are_what_the_formula_says(self):
        """Phase by two others, the level by a third; four times oversampled and lowered."""
        found = rendered(
            [
                layer(
                    "c",
                    500.0,
                    [
                        acting("one", "m", "phase", 0.11),
                        acting("two", "n", "phase", 0.07),
                        acting("three", "k", "amplitude", 0.6),
                    ],
                ),
                silent("m", 130.0),
                silent("n", 310.0),
                silent("k", 37.0),
            ]
        )[0]
        m, n, k = sines(130.0, 310.0, 37.0)
        time_s = np.arange(4 * RATE) / (4 * RATE)
        bent = np.sin(2.0 * np.pi * (500.0 * time_s + 0.11 * m + 0.07 * n))
        wanted = resample_poly(bent * (1.0 - 0.3 + 0.3 * k), 1, 4)
        assert apart_db(found, wanted) < -60.0

    def test_frequency_and_phase_add_up(self):
        both = [acting("one", "m", "phase", 0.1), acting("two", "n", "frequency", 0.2)]
        found = rendered([layer("c", 500.0, both), silent("m", 130.0), silent("n", 50.0)])[0]
        (m,) = sines(130.0)
        time_s = np.arange(4 * RATE) / (4 * RATE)
        # The integral of a sine of 50 Hz.
        gone = (1.0 - np.cos(2.0 * np.pi * 50.0 * time_s)) / (2.0 * np.pi * 50.0)
        swung = 500.0 * (time_s + 0.2 * gone)
        wanted = resample_poly(np.sin(2.0 * np.pi * (swung + 0.1 * m)), 1, 4)
        assert apart_db(found, wanted) < -40.0

    def test_ring_and_amplitude_work_one_after_the_other(self):
        both = [acting("one", "m", "ring", 1.0), acting("two", "k", "amplitude", 1.0)]
        found = rendered([layer("c", 3000.0, both), silent("m", 400.0), silent("k", 70.0)])[0]
        c, m, k = sines(3000.0, 400.0, 70.0)
        wanted = resample_poly(c * m * (0.5 + 0.5 * k), 1, 4)
        assert apart_db(found, wanted) < -55.0

    def test_off_is_as_if_it_were_not_there(self):
        plain = rendered([layer("c", 500.0), silent("m", 130.0)])
        off = acting("one", "m", "phase", 0.5, on=False)
        np.testing.assert_array_equal(
            rendered([layer("c", 500.0, [off]), silent("m", 130.0)]), plain
        )

    def test_each_amount_is_moved_by_itself(self):
        two = [acting("one", "m", "phase", 0.0), acting("two", "n", "phase", 0.0)]
        others = [silent("m", 130.0), silent("n", 310.0)]
        moved = rendered(
            [layer("c", 500.0, two), *others],
            movers=[{"id": "x", "name": "X", "kind": "macro", "value": 1.0}],
            links=[
                {"mover": "x", "target": "one.amount", "amount": 0.11},
                {"mover": "x", "target": "two.amount", "amount": 0.07},
            ],
        )
        two = [acting("one", "m", "phase", 0.11), acting("two", "n", "phase", 0.07)]
        still = rendered([layer("c", 500.0, two), *others])
        np.testing.assert_allclose(moved, still, atol=1e-6)


class TestTaps:
    FALL: ClassVar = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.5, "value": 0.1}]}

    def modulated(self, tap: str, **more: Any) -> np.ndarray:
        modulator = acting("one", "m", "ring", 1.0, tap=tap)
        other = silent("m", 400.0, **{"level": self.FALL, "level_db": -6.0, **more})
        return rendered([layer("c", 3000.0, [modulator]), other])[0]

    def level(self, samples: np.ndarray) -> float:
        part = samples[round(0.7 * RATE) : round(0.9 * RATE)]
        return float(np.sqrt(2.0 * np.mean(part**2)))

    def test_before_after_the_level_and_behind_the_chain(self):
        crush = [{"id": "g", "kind": "gain", "gain_db": -20.0}]
        half, pan = 10.0 ** (-6.0 / 20.0), 1.0
        full = 1.0 / np.sqrt(2.0)
        assert self.level(self.modulated("source", chain=crush)) == pytest.approx(full, rel=0.01)
        after = full * 0.1 * half * pan
        assert self.level(self.modulated("level", chain=crush)) == pytest.approx(after, rel=0.02)
        behind = 0.1 * after
        assert self.level(self.modulated("output", chain=crush)) == pytest.approx(behind, rel=0.02)

    def test_a_layer_that_begins_later_acts_from_there_on(self):
        samples = self.modulated("source", delay_s=0.4)
        assert np.abs(samples[: round(0.39 * RATE)]).max() < 1e-3
        assert self.level(samples) == pytest.approx(1.0 / np.sqrt(2.0), rel=0.01)


class TestVoiceByVoice:
    UNISON: ClassVar = {
        "unison": {"voices": 3, "detune_cent": 60.0, "width": 0.0, "phase_spread": 0.0}
    }

    def partials(self, *, by_voice: bool, way: str = "ring", other_voices: int = 3) -> list[float]:
        """Frequencies of a tone of three voices times another, louder than -40 dB."""
        unison = {"unison": {**self.UNISON["unison"], "voices": other_voices}}
        modulator = acting("one", "m", way, 1.0, tap="source", by_voice=by_voice)
        made = rendered(
            [
                layer("c", 3000.0, [modulator], source=self.UNISON),
                silent("m", 1000.0, source=unison),
            ]
        )[0]
        hz, size = spectrum(made[RATE // 8 : -RATE // 8], RATE)
        peaks = np.flatnonzero((size[1:-1] > size[:-2]) & (size[1:-1] >= size[2:])) + 1
        return [float(hz[one]) for one in peaks if size[one] > 0.01 * size.max()]

    def test_each_rings_with_its_own(self):
        ratios = [2.0 ** (cents / 1200.0) for cents in (-60.0, 0.0, 60.0)]
        wanted = sorted([4000.0 * one for one in ratios] + [2000.0 * one for one in ratios])
        found = self.partials(by_voice=True)
        assert len(found) == 6
        np.testing.assert_allclose(found, wanted, atol=2.0)

    def test_together_every_one_rings_with_all(self):
        assert len(self.partials(by_voice=False)) > 10

    def test_with_another_number_of_voices_all_ring_with_all(self):
        assert len(self.partials(by_voice=True, other_voices=2)) > 8

    @pytest.mark.parametrize("way", ["phase", "frequency", "sync"])
    def test_bent_voices_are_those_of_single_tones(self, way):
        ratios = [2.0 ** (cents / 1200.0) for cents in (-60.0, 0.0, 60.0)]
        modulator = acting("one", "m", way, 0.3, tap="source", by_voice=True)
        together = rendered(
            [
                layer("c", 700.0, [modulator], source=self.UNISON),
                silent("m", 450.0, source=self.UNISON),
            ]
        )[0]
        alone = sum(
            rendered([layer("c", 700.0 * one, [modulator]), silent("m", 450.0 * one)])[0]
            for one in ratios
        )
        scale = float(together @ alone / (alone @ alone))
        assert apart_db(together, scale * alone) < -80.0


class TestVoiceMovesStartPhase:
    def test_each_voice_begins_elsewhere(self):
        unison = {"unison": {"voices": 3, "detune_cent": 0.0, "width": 0.0, "phase_spread": 0.0}}
        tone = layer("c", 500.0, source={**unison, "phase_deg": 30.0})
        made = rendered(
            [tone],
            movers=[{"id": "v", "name": "V", "kind": "voice"}],
            links=[{"mover": "v", "target": "c.source.phase_deg", "amount": 90.0}],
        )[0]
        plain = rendered([layer("c", 500.0, source={"phase_deg": 30.0})])[0]
        # Voices at -90, 0 and 90 degrees beside the middle one: the outer two cancel.
        scale = float(made @ plain / (plain @ plain))
        assert scale == pytest.approx(1.0 / 3.0, abs=0.01)
        assert apart_db(made, scale * plain) < -80.0


class TestSamples:
    def recorded(self, modulator: dict[str, Any]) -> np.ndarray:
        digest = "a" * 64
        time_s = np.arange(2 * RATE) / RATE
        tone = Audio(0.8 * np.sin(2.0 * np.pi * 440.0 * time_s)[np.newaxis], RATE)
        source = {"kind": "sample", "recording": digest, "root_note": 69, "follows_note": False}
        carrier = {"id": "c", "name": "C", "source": source, "level": FLAT}
        return rendered(
            [{**carrier, "modulators": [modulator]}, silent("m", 70.0)],
            settings={"recordings": {digest: tone}},
        )[0]

    def test_frequency_is_that_of_a_tone(self):
        found = self.recorded(acting("one", "m", "frequency", 0.2))
        (m,) = sines(70.0)
        swung = np.cumsum(440.0 * (1.0 + 0.2 * m)) / (4 * RATE)
        wanted = 0.8 * resample_poly(np.sin(2.0 * np.pi * swung), 1, 4)
        assert apart_db(found, wanted) < -30.0

    def test_phase_is_that_of_a_tone(self):
        found = self.recorded(acting("one", "m", "phase", 0.3))
        (m,) = sines(70.0)
        time_s = np.arange(4 * RATE) / (4 * RATE)
        wanted = 0.8 * resample_poly(np.sin(2.0 * np.pi * (440.0 * time_s + 0.3 * m)), 1, 4)
        assert apart_db(found, wanted) < -30.0

    def test_at_0_it_is_the_recording_itself(self):
        still = self.recorded(acting("one", "m", "phase", 0.0))
        off = self.recorded(acting("one", "m", "phase", 0.5, on=False))
        np.testing.assert_array_equal(still, off)


class TestDocument:
    def test_one_modulation_of_version_1_is_a_modulator_now(self):
        old = {
            "schema_version": 1,
            "name": "Old",
            "layers": [
                {"id": "c", "name": "C", "modulation": {"by": "m", "way": "ring", "amount": 0.7}},
                {"id": "m", "name": "M", "modulation": {"by": None, "way": "phase"}},
            ],
            "movers": [{"id": "x", "name": "X", "kind": "macro"}],
            "links": [
                {"mover": "x", "target": "c.modulation.amount", "amount": 0.2},
                {"mover": "x", "target": "m.modulation.amount", "amount": 0.2},
            ],
        }
        data = dump_sound(load_sound(old))
        (modulator,) = data["layers"][0]["modulators"]
        assert (modulator["id"], modulator["by"]) == ("c-mod", "m")
        assert (modulator["way"], modulator["amount"], modulator["tap"]) == ("ring", 0.7, "output")
        assert data["layers"][1]["modulators"] == []
        assert [one["target"] for one in data["links"]] == ["c-mod.amount"]
        assert old["layers"][0]["modulation"]["by"] == "m"  # type: ignore[index]

    @pytest.mark.parametrize("kind", ["noise", "sample", "struck"])
    @pytest.mark.parametrize("way", ["phase", "frequency", "sync", "ring", "amplitude"])
    def test_what_did_nothing_in_version_1_does_nothing_now(self, kind, way):
        layers = [
            {
                "id": "c",
                "name": "C",
                "source": {"kind": kind},
                "modulation": {"by": "m", "way": way},
            },
            {"id": "m", "name": "M"},
        ]
        (modulator,) = load_sound({"name": "Old", "layers": layers}).layers[0].modulators
        assert modulator.on == (way in ("ring", "amplitude"))

    def test_ids_that_are_taken_now_are_renamed_with_all_that_names_them(self):
        old = {
            "name": "Old",
            "layers": [
                {"id": "common", "name": "C", "modulation": {"by": "none"}, "to": "c-mod"},
                {"id": "none", "name": "N"},
            ],
            "buses": [{"id": "c-mod", "name": "Bus"}],
            "movers": [{"id": "x", "name": "X", "kind": "follower", "layer": "none"}],
            "links": [{"mover": "x", "target": "common.pan", "amount": 0.2}],
        }
        sound = load_sound(old)
        assert [one.id for one in sound.layers] == ["common-part", "none-part"]
        assert sound.layers[0].modulators[0].by == "none-part"
        assert sound.links[0].target == "common-part.pan"
        assert sound.movers[0].layer == "none-part"

    @pytest.mark.parametrize(
        "layers", [3, "x", [1, None], [{"modulation": 3}], [{"modulation": []}]]
    )
    def test_broken_old_documents_are_refused_and_do_no_harm(self, layers):
        with pytest.raises(DocumentError, match="layers"):
            load_sound({"schema_version": 1, "name": "Old", "layers": layers})

    @pytest.mark.parametrize(
        ("modulators", "words"),
        [
            ([acting("one", "gone", "phase", 1.0)], "there is no layer 'gone' to modulate it"),
            ([acting("one", "c", "phase", 1.0)], "links go round"),
            ([acting("one", "m", "phase", 9.0)], "out of range"),
            ([acting("c", "m", "phase", 1.0)], "'c' is used twice"),
            (
                [acting("one", "m", "sync", 1.0), acting("two", "m", "sync", 1.0)],
                "only one layer at a time can sync it",
            ),
            ([acting(f"m-{n}", "m", "ring", 1.0) for n in range(9)], "layers.0.modulators"),
        ],
    )
    def test_modulators_that_cannot_be_are_refused(self, modulators, words):
        with pytest.raises(DocumentError, match=words):
            load_sound({"name": "S", "layers": [layer("c", 500.0, modulators), silent("m", 130.0)]})
