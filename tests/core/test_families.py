"""Batch plans, what is drawn by them, members as audio, and judging a family."""

import math

import numpy as np
import pyloudnorm
import pytest
from scipy import stats

from nest_crate.core.dsp.dynamics.loudness import true_peak_db
from nest_crate.core.dsp.util.trim import apply_edits
from nest_crate.core.engine import Audio, RenderSettings, StageMemory, render
from nest_crate.core.errors import DocumentError
from nest_crate.core.families import (
    Family,
    MemberRules,
    base_values,
    finishing,
    load_batch,
    made_of,
    overridden,
    render_member,
)
from nest_crate.core.families.document import Spread
from nest_crate.core.families.drawing import SpreadRange, shaped
from nest_crate.core.families.judging import (
    by_likeness,
    neighbours,
    outliers,
    thin_along,
    thin_apart,
)
from nest_crate.core.families.suggesting import measured_moves, suggested
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.core.sound.targets import targets_of

SETTINGS = RenderSettings(sample_rate=48000)


def tone(**layer):
    points = [{"time_s": 0, "value": 1}, {"time_s": 0.2, "value": 0}]
    layer = {"id": "body", "name": "Body", "source": {"kind": "tone"}, **layer}
    layer.setdefault("level", {"points": points})
    chain = [{"kind": "filter", "id": "cut", "response": "low_pass", "cutoff_hz": 2000.0}]
    layer.setdefault("chain", chain)
    macro = {"kind": "macro", "id": "open", "name": "Open", "value": 0.0}
    link = {"mover": "open", "target": "cut.cutoff_hz", "amount": 2.0}
    return load_sound(
        {
            "name": "Bell",
            "layers": [layer],
            "movers": [macro],
            "links": [link],
            "hit": {"note": 60, "hold_s": 0.2},
        }
    )


def plan(*, axes=(), spreads=(), draws=1, **more):
    sound = {"id": "a", "axes": list(axes), "spreads": list(spreads), "draws": draws}
    return load_batch({"name": "Bells", "sounds": [sound], **more})


CUTOFF = {"target": "cut.cutoff_hz", "low": 500.0, "high": 8000.0, "shape": "even"}


def family(sound=None, **given):
    return Family(plan(**given), {"a": sound or tone()})


class TestPlan:
    def test_a_whole_keyboard_is_three_lines(self):
        axes = [
            {"kind": "note", "first": 21, "last": 108},
            {"kind": "velocity", "values": [32, 64, 96, 127]},
            {"kind": "hit", "first": 1, "last": 4},
        ]
        made = family(axes=axes)
        assert made.count == 88 * 4 * 4
        first, second, last = made.member(1), made.member(2), made.member(made.count)
        assert (first.hit.note, first.hit.velocity, first.hit.number) == (21, 32, 1)
        assert (second.hit.note, second.hit.number) == (21, 2)
        assert (last.hit.note, last.hit.velocity, last.hit.number) == (108, 127, 4)
        seen = {(m.hit.note, m.hit.velocity, m.hit.number) for m in made.members()}
        assert len(seen) == made.count

    @pytest.mark.parametrize(
        ("given", "path", "words"),
        [
            (
                {"axes": [{"kind": "note", "first": 0, "last": 127}], "draws": 20000},
                "sounds.0.draws",
                "2,560,000 members, at most 20,000; shorten the draws",
            ),
            (
                {"axes": [{"kind": "macro", "macro": "gone", "values": [0]}]},
                "sounds.0.axes.0",
                "no macro",
            ),
            (
                {"spreads": [{**CUTOFF, "target": "cut.gone"}]},
                "sounds.0.spreads.0",
                "remove the spread",
            ),
            ({"axes": [{"kind": "rate", "values": [47999]}]}, "sounds.0.axes.0", "rates are"),
        ],
    )
    def test_what_cannot_be_run_is_refused_at_its_field(self, given, path, words):
        given.setdefault("spreads", [CUTOFF])
        with pytest.raises(DocumentError) as found:
            family(**given)
        problem = found.value.problems[0]
        assert problem.path == path
        assert words in problem.message

    @pytest.mark.parametrize(
        ("axis", "words"),
        [
            ({"kind": "note", "values": [128]}, "not between 0 and 127"),
            ({"kind": "note", "values": [60.5]}, "whole numbers"),
            ({"kind": "note", "first": 60}, "belong together"),
            ({"kind": "note", "first": 60, "last": 59}, "below"),
            ({"kind": "note"}, "at least one value"),
            ({"kind": "velocity", "values": [5, 5]}, "twice"),
            ({"kind": "macro", "values": [0]}, "names its macro"),
            ({"kind": "hit", "first": 1, "last": 2_000_000}, "not between"),
        ],
    )
    def test_axes_are_checked(self, axis, words):
        with pytest.raises(DocumentError) as found:
            plan(axes=[axis])
        assert words in found.value.problems[0].message

    def test_a_plan_of_the_future_is_refused(self):
        with pytest.raises(DocumentError) as found:
            load_batch({"schema_version": 2, "name": "A", "sounds": [{"id": "a"}]})
        assert "newer than this program" in found.value.problems[0].message

    def test_axes_reach_hit_macro_and_rate(self):
        axes = [
            {"kind": "hold", "values": [0.05, 0.5]},
            {"kind": "macro", "macro": "open", "values": [0, 1]},
            {"kind": "rate", "values": [44100, 96000]},
        ]
        members = list(family(axes=axes).members())
        assert [m.hit.hold_s for m in members] == [0.05] * 4 + [0.5] * 4
        assert [m.values["open.value"] for m in members[:4]] == [0, 0, 1, 1]
        assert [m.sample_rate for m in members[:2]] == [44100, 96000]

    def test_a_chord_moves_with_its_note(self):
        sound = tone()
        hit = {**dump_sound(sound)["hit"], "further": [{"note": 64}, {"note": 127}]}
        sound = load_sound({**dump_sound(sound), "hit": hit})
        made = family(sound, axes=[{"kind": "note", "values": [62]}]).member(1)
        assert [one.note for one in made.hit.further] == [66, 127]


class TestDrawing:
    def test_values_fill_their_range_evenly_on_their_scale(self):
        made = family(spreads=[CUTOFF], draws=256)
        found = np.log([m.values["cut.cutoff_hz"] for m in made.members()])
        place = (found - math.log(500)) / math.log(16)
        assert place.min() >= -1e-9
        assert place.max() <= 1 + 1e-9
        # Far more even than chance, whose distance would be about 1/sqrt(n).
        assert stats.kstest(place, "uniform").statistic < 0.02

    def test_bells_and_slopes_have_their_densities(self):
        even = (np.arange(20000) + 0.5) / 20000
        bell = shaped(even, "bell")
        assert stats.kstest(bell[(bell > 0) & (bell < 1)], "norm", (0.5, 0.2)).statistic < 0.01
        for shape, cdf in (("low", lambda x: 1 - (1 - x) ** 2), ("high", lambda x: x**2)):
            assert stats.kstest(shaped(even, shape), cdf).statistic < 1e-3

    def test_the_same_seed_draws_the_same_and_more_draws_begin_alike(self):
        few = [m.values for m in family(spreads=[CUTOFF], draws=10).members()]
        more = [m.values for m in family(spreads=[CUTOFF], draws=100).members()]
        other = [m.values for m in family(spreads=[CUTOFF], draws=10, seed=2).members()]
        assert few == more[:10]
        assert all(a != b for a, b in zip(few, other, strict=True))

    def test_difference_scales_around_the_sounds_own_value(self):
        same = family(spreads=[CUTOFF], draws=8, difference=0.0)
        assert {round(m.values["cut.cutoff_hz"], 6) for m in same.members()} == {2000.0}
        half = family(spreads=[CUTOFF], draws=8, difference=0.5).ranges["a"][0]
        assert half.low == pytest.approx(1000.0)
        assert half.high == pytest.approx(4000.0)
        wide = family(spreads=[{**CUTOFF, "low": 1, "high": 1e6}], draws=2).ranges["a"][0]
        assert wide.clipped
        declared = targets_of(tone())["cut.cutoff_hz"]
        assert (wide.low, wide.high) == pytest.approx((declared.minimum, declared.maximum))

    def test_numbers_kept_together_rise_together(self):
        spreads = [
            {**CUTOFF, "together": "t"},
            {"target": "cut.resonance", "low": 0.1, "high": 0.9, "shape": "even", "together": "t"},
            {"target": "body.pitch_st", "low": -1, "high": 1, "shape": "even"},
        ]
        members = list(family(spreads=spreads, draws=64).members())
        cut, resonance, pitch = ([m.values[one["target"]] for m in members] for one in spreads)
        assert stats.spearmanr(cut, resonance).statistic > 0.999
        assert abs(stats.spearmanr(cut, pitch).statistic) < 0.3

    def test_a_round_around_picked_members_stays_near_and_mixes_them(self):
        spreads = [CUTOFF, {"target": "body.pitch_st", "low": -12, "high": 12, "shape": "even"}]
        centres = [
            {"values": {"cut.cutoff_hz": 700.0, "body.pitch_st": -9.0}},
            {"values": {"cut.cutoff_hz": 6000.0, "body.pitch_st": 9.0}},
        ]
        made = family(spreads=spreads, draws=64, around=centres, narrow=0.1)
        kinds = set()
        for member in made.members():
            cut, pitch = member.values["cut.cutoff_hz"], member.values["body.pitch_st"]
            assert min(abs(math.log(cut / one)) for one in (700, 6000)) < 0.06 * math.log(16)
            assert min(abs(pitch - one) for one in (-9, 9)) < 0.06 * 24
            kinds.add((cut > 2000, pitch > 0))
        # Both parents and both crossings.
        assert len(kinds) == 4

    def test_drawn_away_lies_farther_than_drawn_at_will(self):
        spreads = [CUTOFF, {"target": "body.pitch_st", "low": -12, "high": 12, "shape": "even"}]
        centre = [{"values": {"cut.cutoff_hz": 2000.0, "body.pitch_st": 0.0}}]

        def mean_distance(**more):
            made = family(spreads=spreads, draws=64, **more)
            return np.mean(
                [
                    math.hypot(
                        math.log(m.values["cut.cutoff_hz"] / 2000) / math.log(16),
                        m.values["body.pitch_st"] / 24,
                    )
                    for m in made.members()
                ]
            )

        assert mean_distance(away=centre) > 1.25 * mean_distance()

    def test_drawing_one_anew_leaves_the_others(self):
        before = family(spreads=[CUTOFF], draws=12)
        after = Family(before.plan, before.sounds, redrawn={5: 1, 9: 2})
        changed = [n for n in range(1, 13) if before.member(n).values != after.member(n).values]
        assert changed == [5, 9]
        again = Family(before.plan, before.sounds, redrawn={5: 2})
        assert again.member(5).values != after.member(5).values

    @pytest.mark.parametrize("target", ["cut.cutoff_hz", "body.level_db", "body.source.phase_deg"])
    def test_places_and_values_are_each_others_inverse(self, target):
        parameter = targets_of(tone())[target]
        spread = Spread(target=target, low=parameter.minimum, high=parameter.maximum)
        ranged = SpreadRange(spread, parameter, 0.0, parameter.minimum, parameter.maximum, False)
        for value in np.linspace(parameter.minimum, parameter.maximum, 9):
            assert ranged.value(ranged.place(float(value))) == pytest.approx(value, abs=1e-9)


class TestOverrides:
    def test_a_member_renders_as_the_sound_with_its_numbers_typed_in(self):
        data = dump_sound(tone())
        data["layers"][0]["chain"][0]["cutoff_hz"] = 700.0
        data["layers"][0]["pitch"] = {"points": [{"time_s": 0, "value": 3.0}]}
        typed = load_sound(data)
        made = overridden(tone(), {"cut.cutoff_hz": 700.0, "body.pitch_st": 3.0})
        np.testing.assert_array_equal(render(made).samples, render(typed).samples)
        assert base_values(made, ["cut.cutoff_hz"]) == {"cut.cutoff_hz": 700.0}

    def test_a_time_kept_as_beats_is_in_seconds_then_and_stays_so(self):
        delay = {"kind": "delay", "id": "echo", "in_beats": {"time_s": 0.5}, "time_s": 0.25}
        sound = load_sound({**dump_sound(tone()), "tempo_bpm": 120.0, "main": {"chain": [delay]}})
        target = "echo.time_s"
        assert target in targets_of(sound)
        made = overridden(sound, {target: 0.1})
        again = load_sound(dump_sound(made))
        assert base_values(again, [target])[target] == pytest.approx(0.1)

    def test_what_is_gone_from_the_sound_is_left_out(self):
        assert overridden(tone(), {"gone.level_db": 1.0}) == tone()

    @pytest.mark.parametrize("end", ["minimum", "maximum"])
    def test_every_number_at_either_end_is_a_document(self, end):
        sound = tone()
        for target, parameter in targets_of(sound).items():
            if parameter.unit != "s":
                overridden(sound, {target: getattr(parameter, end)})


class TestMembers:
    def test_each_gets_its_loudness_end_and_fade(self):
        made = family(spreads=[CUTOFF], draws=3)
        rules = MemberRules(loudness_lufs=-30.0, ceiling_db=-1.0, fade_s=0.01)
        for member in made.members():
            audio = render_member(made.sounds, member, SETTINGS)
            heard = apply_edits(audio.samples, 48000, finishing(audio, rules))
            # An independent meter; its blocks are as long as short hits, so the hit is padded.
            meter = pyloudnorm.Meter(48000, block_size=0.4)
            padded = np.pad(heard, ((0, 0), (0, max(0, 19200 - heard.shape[1])))).T
            assert meter.integrated_loudness(padded) == pytest.approx(-30.0, abs=0.6)
            assert abs(heard[:, -1]).max() < 1e-4

    def test_the_ceiling_goes_before_loudness_and_is_said(self):
        sound = tone()
        audio = render(sound)
        made = made_of(audio, MemberRules(loudness_lufs=-3.0, ceiling_db=-6.0))
        heard = apply_edits(audio.samples, 48000, made.edits)
        assert true_peak_db(heard) == pytest.approx(-6.0, abs=0.2)
        assert "soft" in made.flags

    def test_silence_and_overload_are_flags(self):
        silent = made_of(render(tone(level_db=-72.0, mute=True)), MemberRules(loudness_lufs=-23.0))
        assert silent.flags == ("silent",)
        assert silent.edits.gain_db == 0.0
        loud = made_of(render(tone(level_db=12.0)), MemberRules())
        assert "over" in loud.flags
        cut = np.zeros((1, 9600))
        cut[0] = np.sin(np.arange(9600) * 0.05)
        flags = made_of(Audio(cut, 48000), MemberRules(trim=False, fade_s=0.0)).flags
        assert "click_end" in flags

    def test_remembered_stages_give_the_same_bytes(self):
        made = family(spreads=[CUTOFF], draws=4)
        memory = StageMemory()
        for member in made.members():
            with_memory = render_member(made.sounds, member, SETTINGS, memory)
            alone = render_member(made.sounds, member, SETTINGS)
            np.testing.assert_array_equal(with_memory.samples, alone.samples)


class TestJudging:
    def points(self, count=40, seed=3):
        return np.random.default_rng(seed).normal(size=(count, 27)).astype(np.float32)

    def test_neighbours_are_those_of_all_distances(self):
        points = self.points()
        found = neighbours(points, points[0])
        table = np.linalg.norm(points[:, None].astype(float) - points[None], axis=2)
        np.testing.assert_allclose(found.original_distance, table[:, 0], atol=1e-5)
        np.fill_diagonal(table, np.inf)
        np.testing.assert_allclose(found.nearest_distance, table.min(axis=1), atol=1e-5)
        np.testing.assert_array_equal(found.nearest, table.argmin(axis=1))

    def test_of_two_that_are_the_same_the_later_is_marked(self):
        points = self.points()
        points[30] = points[7]
        figures = [{"length_s": 1.0, "pitch_hz": 440.0} for _ in points]
        marks = outliers(neighbours(points), figures, expected_hz=[440.0] * 40)
        assert [n for n, one in enumerate(marks) if "alike" in one] == [30]

    def test_far_long_and_off_pitch(self):
        points = 0.5 * self.points()
        points[4] += 6.0
        figures = [{"length_s": 1.0, "pitch_hz": 440.0} for _ in points]
        figures[9]["length_s"] = 2.5
        figures[11]["pitch_hz"] = 440.0 * 2 ** (0.6 / 12)
        figures[12]["pitch_hz"] = 440.0 * 2 ** (0.4 / 12)
        figures[13]["pitch_hz"] = None
        near = neighbours(points, np.zeros(27))
        marks = outliers(near, figures, expected_hz=[440.0] * 40)
        assert {n: one for n, one in enumerate(marks) if one} == {
            4: ["far"],
            9: ["long"],
            11: ["off_pitch"],
        }

    def test_thinning_spreads_out(self):
        points = self.points(60)
        chosen = thin_apart(points, 8, keep=[5])
        assert 5 in chosen
        assert len(set(chosen)) == 8

        def least(some):
            table = np.linalg.norm(points[some][:, None] - points[some][None], axis=2)
            np.fill_diagonal(table, np.inf)
            return table.min()

        chance = np.random.default_rng(0)
        others = [least(chance.choice(60, 8, replace=False)) for _ in range(200)]
        assert least(chosen) > np.percentile(others, 95)
        assert thin_apart(points, 100) == list(range(60))

    def test_a_ladder_is_even(self):
        values = [*np.linspace(-40, -10, 50), None]
        chosen = thin_along(values, 5)
        steps = np.diff([values[n] for n in chosen])
        assert np.ptp(steps) < 1.3
        assert (chosen[0], chosen[-1]) == (0, 49)
        assert thin_along([3.0, None, 1.0], 5) == [2, 0]
        # Each once, though all but one are alike.
        assert (
            sorted(thin_along([0.0, 0.0, 0.0, 9.0], 3)) == [0, 1, 3]
            or len(set(thin_along([0.0, 0.0, 0.0, 9.0], 3))) == 3
        )

    def test_the_order_by_likeness_is_shorter_than_the_given_one(self):
        points = self.points(50)
        order = by_likeness(points)
        assert sorted(order) == list(range(50))

        def length(some):
            return np.linalg.norm(np.diff(points[some], axis=0), axis=1).sum()

        assert length(order) < 0.9 * length(list(range(50)))


class TestSuggesting:
    def test_timbre_takes_the_filter_and_level_takes_levels(self):
        memory = StageMemory()
        sound = overridden(tone(), {"cut.cutoff_hz": 300.0})
        moves = list(measured_moves(sound, lambda one: render(one, memory=memory)))
        timbre = [one.target for one in suggested(moves, "timbre")]
        assert "cut.cutoff_hz" in timbre
        assert not any(one.endswith("level_db") for one in timbre)
        other = [one.target for one in suggested(moves, "level_pitch")]
        assert any(one.endswith(("level_db", "pitch_st")) for one in other)
        assert 1 <= len(timbre) <= 6
        for spread in suggested(moves, "timbre"):
            base = base_values(sound, [spread.target])[spread.target]
            assert spread.low <= base <= spread.high
