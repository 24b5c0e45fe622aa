"""Forks, sends and buses that hear each note apart: what parts comes together exactly."""

from __future__ import annotations

from typing import Any, ClassVar

import numpy as np
import pytest

from nest_crate.core.analysis.checks.silence import probe_silence
from nest_crate.core.engine import RenderSettings, render, render_with_trace
from nest_crate.core.engine.render import expected_cost
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import load_sound
from tests.core.spectra import peak_frequency, spectrum

RATE = 48000
SHORT = {"points": [{"time_s": 0.0, "value": 1.0}, {"time_s": 0.1, "value": 0.0}]}
BAND = {"id": "bp", "kind": "filter", "response": "band_pass", "cutoff_hz": 900.0, "resonance": 4.0}
ECHO = {"id": "echo", "kind": "delay", "time_s": 0.09, "feedback": 0.4, "mix": 1.0}
SWAY = {"id": "lfo", "name": "Sway", "kind": "lfo", "rate_hz": 3.0}
SWAYS = [{"mover": "lfo", "target": "echo.time_s", "amount": 0.01}]


def layer(identifier: str, **more: Any) -> dict[str, Any]:
    source = {"kind": "tone", "shape": 2.0, "follows_note": False, "fixed_hz": 220.0}
    plain = {"id": identifier, "name": identifier.upper(), "source": source, "level": SHORT}
    return plain | more


def fork(*chains: list[Any], **more: Any) -> dict[str, Any]:
    branches = [
        {"id": f"way-{n}", "name": f"Way {n}", "chain": one} for n, one in enumerate(chains)
    ]
    return {"id": "fork", "kind": "fork", "branches": branches, **more}


def sound(layers: list[Any], **more: Any) -> Any:
    return load_sound({"name": "S", "hit": {"hold_s": 0.1}, "layers": layers, **more})


def samples(made: Any, **settings: Any) -> np.ndarray:
    return render(made, settings=RenderSettings(length_s=1.0, **settings)).samples


def both(one: np.ndarray, other: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    shape = (max(one.shape[0], other.shape[0]), one.shape[1])
    return np.broadcast_to(one, shape), np.broadcast_to(other, shape)


def apart_db(one: np.ndarray, other: np.ndarray) -> float:
    one, other = both(one, other)
    return float(20.0 * np.log10(np.abs(one - other).max() / np.abs(one).max() + 1e-30))


class TestForks:
    @pytest.mark.parametrize("rate", [44100, 48000, 96000])
    def test_dry_and_band_pass_into_moved_delay_equal_two_layers(self, rate):
        moved = {"movers": [SWAY], "links": SWAYS}
        forked = sound([layer("a", chain=[fork([], [BAND, ECHO])])], **moved)
        doubled = sound([layer("a"), layer("b", chain=[BAND, ECHO])], **moved)
        ways = [samples(one, sample_rate=rate) for one in (forked, doubled)]
        assert apart_db(*ways) < -120.0

    def test_branches_add_up_at_their_levels(self):
        chain = fork([], [])
        chain["branches"][0]["level_db"] = -6.0
        chain["branches"][1]["level_db"] = -12.0
        plain, forked = samples(sound([layer("a")])), samples(sound([layer("a", chain=[chain])]))
        gain = 10.0 ** (-6.0 / 20.0) + 10.0 ** (-12.0 / 20.0)
        assert apart_db(gain * plain, forked) < -200.0

    def test_a_branch_that_is_off_is_silent_and_one_without_processors_is_dry(self):
        off = fork([], [ECHO])
        off["branches"][1]["on"] = False
        plain = samples(sound([layer("a")]))
        np.testing.assert_array_equal(samples(sound([layer("a", chain=[off])])), plain)
        np.testing.assert_array_equal(samples(sound([layer("a", chain=[fork()])])), plain)
        off["branches"][0]["on"] = False
        assert not samples(sound([layer("a", chain=[off])])).any()

    @pytest.mark.parametrize("where", ["layer", "bus", "low part", "main"])
    def test_stands_in_every_chain(self, where):
        chain = [fork([], [BAND])]
        doubled = sound([layer("a"), layer("b", chain=[BAND])])
        match where:
            case "layer":
                forked = sound([layer("a", chain=chain)])
            case "main":
                forked = sound([layer("a")], main={"chain": chain})
            case "bus":
                bus = {"id": "bus", "name": "Bus", "chain": chain}
                forked = sound([layer("a", to="bus")], buses=[bus])
            case _:
                bus = {"id": "bus", "name": "Bus", "split": True, "crossover_hz": 8000.0}
                forked = sound([layer("a", to="bus")], buses=[{**bus, "low_chain": chain}])
                other = {"id": "bp2", **{key: BAND[key] for key in BAND if key != "id"}}
                bus["low_chain"] = [fork([], [other])]
                assert samples(forked).any()
                return
        assert apart_db(samples(forked), samples(doubled)) < -120.0

    def test_works_on_a_part_of_the_spectrum_alone(self):
        lower = fork([{"id": "g", "kind": "gain", "gain_db": -72.0}], band="below", split_hz=1000.0)
        hz, before = spectrum(samples(sound([layer("a")]))[0], RATE)
        after = spectrum(samples(sound([layer("a", chain=[lower])]))[0], RATE)[1]
        low, high = (hz > 200) & (hz < 300), (hz > 5000) & (hz < 6000)
        assert after[low].max() < 0.03 * before[low].max()
        assert after[high].max() == pytest.approx(before[high].max(), rel=0.05)

    def test_levels_of_branches_are_moved_and_metered(self):
        made = sound(
            [layer("a", chain=[fork([], [BAND])])],
            movers=[{"id": "m", "name": "M", "kind": "macro", "value": 1.0}],
            links=[
                {"mover": "m", "target": "way-0.level_db", "amount": -72.0},
                {"mover": "m", "target": "way-1.level_db", "amount": -12.0},
            ],
        )
        expected = sound([layer("a", chain=[BAND], level_db=-12.0)])
        # The dry branch is left at -72 dB.
        assert apart_db(samples(expected), samples(made)) < -50.0
        traced = render_with_trace(made)
        assert traced.levels_db["way-1"] > traced.levels_db["way-0"] + 40.0
        assert "bp" in traced.levels_db

    def test_numbers_set_once_a_hit_are_set_within_branches(self):
        room = {"id": "room", "kind": "room", "decay_s": 0.3, "mix": 1.0}
        links = [{"mover": "m", "target": "room.decay_s", "amount": 0.5}]
        movers = [{"id": "m", "name": "M", "kind": "macro", "value": 1.0}]
        moved = sound([layer("a", chain=[fork([room])])], movers=movers, links=links)
        set_so = sound([layer("a", chain=[fork([{**room, "decay_s": 0.8}])])])
        np.testing.assert_array_equal(samples(moved), samples(set_so))

    def test_tail_is_that_of_the_longest_branch(self):
        long = {"id": "room", "kind": "room", "decay_s": 2.0, "mix": 1.0}
        forked = sound([layer("a", chain=[fork([], [long])])])
        alone = sound([layer("a", chain=[long])])
        lengths = [render(one).samples.shape[1] for one in (forked, alone)]
        assert lengths[0] == pytest.approx(lengths[1], rel=0.03)

    def test_costs_its_branches_and_little_more(self):
        room = {"id": "room", "kind": "room", "mix": 1.0}
        plain = sound([layer("a", chain=[room])])
        forked = sound([layer("a", chain=[fork([room])])])
        costs = [
            expected_cost(one, one.hit, RenderSettings(length_s=1.0)) for one in (plain, forked)
        ]
        assert costs[1].seconds == pytest.approx(costs[0].seconds, rel=0.02)

    def test_two_deep_at_most(self):
        inner = {"id": "in-1", "kind": "fork", "branches": [{"id": "b-1", "chain": [BAND]}]}
        two = fork([inner])
        assert samples(sound([layer("a", chain=[two])])).any()
        middle = {"id": "in-2", "kind": "fork", "branches": [{"id": "b-2", "chain": [inner]}]}
        with pytest.raises(DocumentError, match="at most 2 deep"):
            sound([layer("a", chain=[fork([middle])])])

    def test_five_branches_are_too_many_and_ids_stay_apart(self):
        with pytest.raises(DocumentError, match=r"layers\.0\.chain\.0\.branches"):
            sound([layer("a", chain=[fork([], [], [], [], [])])])
        with pytest.raises(DocumentError, match="'bp' is used twice"):
            sound([layer("a", chain=[fork([BAND], [BAND])])])

    def test_error_in_a_branch_is_named_by_its_path(self):
        with pytest.raises(DocumentError) as caught:
            sound([layer("a", chain=[fork([{**BAND, "cutoff_hz": 1.0}])])])
        assert [one.path for one in caught.value.problems] == [
            "layers.0.chain.0.branches.0.chain.0.cutoff_hz"
        ]


class TestSends:
    def test_layer_to_bus_at_minus_6_db(self):
        bus = {"id": "bus", "name": "Bus"}
        send = {"id": "s", "source": "a", "to": "bus", "level_db": -6.0}
        plain = samples(sound([layer("a")]))
        sent = samples(sound([layer("a")], buses=[bus], sends=[send]))
        assert apart_db(plain * (1.0 + 10.0 ** (-6.0 / 20.0)), sent) < -200.0

    def test_from_within_a_chain_it_is_what_comes_out_of_that_processor(self):
        bus = {"id": "bus", "name": "Bus"}
        send = {"id": "s", "source": "bp", "to": "bus", "level_db": -6.0}
        crushed = {"id": "crush", "kind": "reducer", "bits": 3.0}
        made = sound([layer("a", chain=[BAND, crushed], to="none")], buses=[bus], sends=[send])
        wanted = sound([layer("a", chain=[BAND], level_db=-6.0)])
        assert apart_db(samples(wanted), samples(made)) < -120.0

    def test_several_places_each_with_its_level(self):
        buses = [{"id": f"bus-{n}", "name": f"Bus {n}"} for n in range(3)]
        sends = [
            {"id": f"s-{n}", "source": "a", "to": f"bus-{n}", "level_db": -6.0 * n}
            for n in range(3)
        ]
        plain = samples(sound([layer("a")]))
        sent = samples(sound([layer("a", to="none")], buses=buses, sends=sends))
        gain = sum(10.0 ** (-6.0 * n / 20.0) for n in range(3))
        assert apart_db(gain * plain, sent) < -200.0

    def test_from_a_bus_from_main_and_to_the_output(self):
        bus = {"id": "bus", "name": "Bus", "to": "none", "chain": [BAND]}
        gain = {"id": "g", "kind": "gain", "gain_db": -72.0}
        to_output = {"id": "s", "source": "bus", "to": "output"}
        made = sound([layer("a", to="bus")], buses=[bus], sends=[to_output], main={"chain": [gain]})
        wanted = sound([layer("a", chain=[BAND])])
        assert apart_db(samples(wanted), samples(made)) < -120.0
        wet = {"id": "wet", "name": "Wet", "to": "output", "chain": [ECHO]}
        from_main = {"id": "s", "source": "first", "to": "wet"}
        first = {"id": "first", "kind": "gain"}
        made = sound([layer("a")], buses=[wet], sends=[from_main], main={"chain": [first]})
        wanted = sound([layer("a"), layer("b", chain=[ECHO])])
        assert apart_db(samples(wanted), samples(made)) < -120.0

    def test_off_muted_or_of_a_muted_layer_it_is_silent(self):
        bus = {"id": "bus", "name": "Bus"}
        send = {"id": "s", "source": "a", "to": "bus"}
        plain = samples(sound([layer("a")]))
        off = sound([layer("a")], buses=[bus], sends=[{**send, "on": False}])
        np.testing.assert_array_equal(samples(off), plain)
        muted = sound([layer("a")], buses=[{**bus, "mute": True}], sends=[send])
        np.testing.assert_array_equal(samples(muted), plain)
        assert not samples(sound([layer("a", mute=True)], buses=[bus], sends=[send])).any()

    def test_a_silent_bus_that_is_only_sent_to_is_explained(self):
        bus = {"id": "bus", "name": "Bus", "mute": True}
        send = {"id": "s", "source": "a", "to": "bus"}
        made = sound([layer("a", to="none")], buses=[bus], sends=[send])
        steps = probe_silence(made, made.hit, RenderSettings())
        (step,) = [one for one in steps if one.where == "Bus: bus"]
        assert step.reason == "The bus is muted"

    def test_level_is_moved(self):
        bus = {"id": "bus", "name": "Bus"}
        send = {"id": "s", "source": "a", "to": "bus", "level_db": 0.0}
        made = sound(
            [layer("a", to="none")],
            buses=[bus],
            sends=[send],
            movers=[{"id": "m", "name": "M", "kind": "macro", "value": 0.5}],
            links=[{"mover": "m", "target": "s.level_db", "amount": -12.0}],
        )
        wanted = 10.0 ** (-6.0 / 20.0) * samples(sound([layer("a")]))
        assert apart_db(wanted, samples(made)) < -200.0

    def test_of_several_notes_all_are_sent(self):
        bus = {"id": "bus", "name": "Bus"}
        send = {"id": "s", "source": "bp", "to": "bus", "level_db": -6.0}
        hit = {"hold_s": 0.3, "further": [{"note": 67, "at_s": 0.15}]}
        tone = {"kind": "tone", "shape": 2.0}
        one = layer("a", source=tone, chain=[BAND], to="none")
        made = load_sound(
            {"name": "S", "hit": hit, "layers": [one], "buses": [bus], "sends": [send]}
        )
        wanted = load_sound(
            {"name": "S", "hit": hit, "layers": [{**one, "to": "main", "level_db": -6.0}]}
        )
        assert apart_db(samples(wanted), samples(made)) < -120.0

    def test_tail_of_what_is_sent_to_is_heard_to_its_end(self):
        room = {"id": "room", "kind": "room", "decay_s": 2.0, "mix": 1.0}
        bus = {"id": "bus", "name": "Bus", "chain": [room]}
        made = sound([layer("a")], buses=[bus], sends=[{"id": "s", "source": "a", "to": "bus"}])
        audio = render(made)
        assert audio.end_reason == "silence"
        assert audio.samples.shape[1] > 2 * RATE

    BAD: ClassVar = [
        ([{"id": "s", "source": "gone", "to": "bus"}], "there is nothing 'gone' to send from"),
        ([{"id": "s", "source": "a", "to": "gone"}], "there is no bus 'gone' to go to"),
        ([{"id": "s", "source": "a", "to": "none"}], "a send needs a bus"),
        ([{"id": "a", "source": "a", "to": "bus"}], "'a' is used twice"),
        ([{"id": "s", "source": "bus", "to": "bus"}], "routes go round: bus goes to bus"),
        ([{"id": "s", "source": "in-bus", "to": "bus"}], "routes go round: bus goes to bus"),
        ([{"id": "s", "source": "in-main", "to": "bus"}], "routes go round: .*main"),
        (
            [
                {"id": "s", "source": "bus", "to": "other"},
                {"id": "t", "source": "other", "to": "bus"},
            ],
            "routes go round: (bus goes to other goes to bus|other goes to bus goes to other)",
        ),
    ]

    @pytest.mark.parametrize(("sends", "words"), BAD)
    def test_sends_that_cannot_be_are_refused(self, sends, words):
        buses = [
            {"id": "bus", "name": "Bus", "chain": [{"id": "in-bus", "kind": "gain"}]},
            {"id": "other", "name": "Other", "to": "output"},
        ]
        with pytest.raises(DocumentError, match=words):
            sound(
                [layer("a")],
                buses=buses,
                sends=sends,
                main={"chain": [{"id": "in-main", "kind": "gain"}]},
            )


class TestEachNoteApart:
    NOTES = (36, 43, 48, 52, 55, 60, 64, 67)

    def chord(self, *, each_note: bool, new: bool = True, **bus: Any) -> Any:
        comb = {"id": "comb", "kind": "comb", "frequency_hz": 500.0, "feedback": 0.98}
        return load_sound(
            {
                "name": "S",
                "hit": {
                    "note": self.NOTES[0],
                    "hold_s": 8.0,
                    "further": [
                        {"note": note, "at_s": float(n)} for n, note in enumerate(self.NOTES[1:], 1)
                    ],
                },
                "layers": [
                    {
                        "id": "a",
                        "name": "A",
                        "source": {"kind": "noise"},
                        "level": SHORT,
                        "to": "bus",
                    }
                ],
                "buses": [
                    {"id": "bus", "name": "Bus", "each_note": each_note, "chain": [comb], **bus}
                ],
                "movers": [{"id": "r", "name": "R", "kind": "random", "each_note": new}],
                "links": [{"mover": "r", "target": "comb.frequency_hz", "amount": 1.0}],
            }
        )

    def tunings(self, made: Any) -> list[float]:
        heard = render(made, settings=RenderSettings(length_s=8.0)).samples[0]
        return [
            peak_frequency(heard[round((n + 0.15) * RATE) : round((n + 0.6) * RATE)], RATE)
            for n in range(8)
        ]

    def fundamentals(self, made: Any) -> list[float]:
        """Of each note's ring the lowest of its equally spaced partials."""
        heard = render(made, settings=RenderSettings(length_s=8.0)).samples[0]
        found = []
        for n in range(8):
            part = heard[round((n + 0.15) * RATE) : round((n + 0.65) * RATE)]
            hz, size = spectrum(part, RATE)
            power = np.log(size + 1e-9)
            power -= power.mean()
            # The spacing of a comb's teeth is the peak of the spectrum's own spectrum.
            candidates = np.geomspace(240.0, 1010.0, 4000)
            score = [
                np.interp(np.arange(1, 11) * one, hz, power).mean()
                - np.interp((np.arange(1, 11) - 0.5) * one, hz, power).mean()
                for one in candidates
            ]
            found.append(float(candidates[int(np.argmax(score))]))
        return found

    def test_eight_notes_have_eight_tunings_by_the_seed(self):
        apart = self.fundamentals(self.chord(each_note=True))
        assert all(240.0 < one < 1010.0 for one in apart)
        assert len({round(12.0 * np.log2(one / 440.0), 1) for one in apart}) == 8
        assert self.fundamentals(self.chord(each_note=True)) == apart

    def test_together_they_have_one(self):
        together = self.fundamentals(self.chord(each_note=False))
        assert max(together) / min(together) < 1.01

    def test_one_note_is_the_same_either_way(self):
        ways = []
        for each_note in (True, False):
            made = self.chord(each_note=each_note)
            alone = made.model_copy(update={"hit": made.hit.model_copy(update={"further": ()})})
            ways.append(render(alone, settings=RenderSettings(length_s=1.0)).samples)
        np.testing.assert_array_equal(*ways)

    def test_key_tracking_on_the_bus_knows_the_note(self):
        filt = {"id": "f", "kind": "comb", "follows_note": True, "feedback": 0.98}
        made = load_sound(
            {
                "name": "S",
                "hit": {"note": 57, "hold_s": 2.0, "further": [{"note": 69, "at_s": 1.0}]},
                "layers": [
                    {
                        "id": "a",
                        "name": "A",
                        "source": {"kind": "noise"},
                        "level": SHORT,
                        "to": "bus",
                    }
                ],
                "buses": [{"id": "bus", "name": "Bus", "each_note": True, "chain": [filt]}],
            }
        )
        heard = render(made, settings=RenderSettings(length_s=2.0)).samples[0]
        for start_s, hz in ((0.2, 220.0), (1.2, 440.0)):
            part = heard[round(start_s * RATE) : round((start_s + 0.5) * RATE)]
            found, size = spectrum(part, RATE)
            near = size[np.abs(found - 3 * hz) < 8].max()
            between = size[np.abs(found - 3.5 * hz) < 8].max()
            assert near > 10.0 * between

    def test_movers_begin_with_each_note(self):
        ramp = {"points": [{"time_s": 0.0, "value": 1.0}, {"time_s": 0.5, "value": 0.0}]}
        made = load_sound(
            {
                "name": "S",
                "hit": {"note": 60, "hold_s": 2.0, "further": [{"note": 60, "at_s": 1.0}]},
                "layers": [
                    {
                        "id": "a",
                        "name": "A",
                        "to": "bus",
                        "level": {
                            "points": [{"time_s": 0, "value": 1}, {"time_s": 0.9, "value": 0}]
                        },
                    }
                ],
                "buses": [{"id": "bus", "name": "Bus", "each_note": True}],
                "movers": [{"id": "m", "name": "M", "kind": "curve", "curve": ramp}],
                "links": [
                    {"mover": "m", "target": "bus.level_db", "amount": 1.0, "law": "amplitude"}
                ],
            }
        )
        heard = render(made, settings=RenderSettings(length_s=2.0)).samples[0]
        first, second = heard[: round(0.9 * RATE)], heard[RATE : RATE + round(0.9 * RATE)]
        np.testing.assert_allclose(first, second, atol=1e-9)

    def test_what_hears_all_notes_cannot_lead_to_it(self):
        with pytest.raises(DocumentError, match="bus: hears each note apart, but 'other'"):
            sound(
                [layer("a", to="other")],
                buses=[
                    {"id": "bus", "name": "Bus", "each_note": True},
                    {"id": "other", "name": "Other", "to": "bus"},
                ],
            )

    def test_buses_apart_may_follow_each_other_and_send(self):
        made = load_sound(
            {
                "name": "S",
                "hit": {"note": 60, "hold_s": 0.5, "further": [{"note": 67, "at_s": 0.25}]},
                "layers": [{"id": "a", "name": "A", "to": "one", "level": SHORT}],
                "buses": [
                    {"id": "one", "name": "One", "each_note": True, "to": "two"},
                    {"id": "two", "name": "Two", "each_note": True},
                    {"id": "all", "name": "All"},
                ],
                "sends": [
                    {"id": "s", "source": "one", "to": "two"},
                    {"id": "t", "source": "two", "to": "all"},
                ],
            }
        )
        plain = made.model_copy(
            update={
                "buses": (),
                "sends": (),
                "layers": (made.layers[0].model_copy(update={"to": "main"}),),
            }
        )
        # Twice into the second bus, and twice out of it.
        assert apart_db(4.0 * samples(plain), samples(made)) < -120.0

    def test_sixty_four_notes_cost_what_they_cost_and_are_refused_beyond(self):
        rooms = [{"id": f"room-{n}", "kind": "shimmer"} for n in range(32)]
        made = self.chord(each_note=True)
        bus = made.buses[0].model_copy(
            update={"chain": load_sound({"name": "R", "main": {"chain": rooms}}).main.chain}
        )
        pattern = made.pattern.model_copy(update={"order": "repeat", "notes": 64})
        many = made.model_copy(update={"buses": (bus,), "pattern": pattern, "links": ()})
        with pytest.raises(DocumentError, match="This would take"):
            render(many)


class TestLimiterOnEverything:
    def made(self, *, limit_all: bool, **limiter: Any) -> Any:
        return sound(
            [layer("a", level_db=6.0), layer("past", level_db=6.0, to="output")],
            main={
                "limit_all": limit_all,
                "chain": [{"id": "lim", "kind": "ceiling", "ceiling_db": -6.0, **limiter}],
            },
        )

    def test_what_goes_past_main_passes_its_last_limiter_where_chosen(self):
        ceiling = 10.0 ** (-6.0 / 20.0)
        assert np.abs(samples(self.made(limit_all=False))).max() > 1.5
        assert np.abs(samples(self.made(limit_all=True))).max() <= ceiling * 1.001

    def test_without_a_limiter_at_the_end_nothing_changes(self):
        for off in ({"on": False}, {"kind": "gain"}):
            chain = {"id": "lim", "kind": "ceiling", **off}
            ways = [
                sound(
                    [layer("a"), layer("past", to="output")],
                    main={"limit_all": choice, "chain": [chain]},
                )
                for choice in (True, False)
            ]
            np.testing.assert_array_equal(samples(ways[0]), samples(ways[1]))
