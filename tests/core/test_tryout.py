"""A try-out's mix against plain arithmetic: places, levels, pans, cuts, chokes, ducking, beds."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from nest_crate.core.cancellation import Cancelled
from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.errors import DocumentError, NestCrateError
from nest_crate.core.sound import Hit, Sound, load_sound
from nest_crate.core.tryout import PlaysSound, dump_tryout, load_tryout, placed, render_tryout

RATE = 48000


class Gone(NestCrateError):
    """What a part plays is not there."""


class Shelf:
    """Samples by number, and one sound."""

    def __init__(self, samples: dict[int, Audio], sound: Sound | None = None) -> None:
        self._samples, self._sound = samples, sound

    def sample(self, identifier: int) -> Audio:
        if identifier not in self._samples:
            raise Gone(f"sample {identifier} is not there any more")
        return self._samples[identifier]

    def sound(self, plays: PlaysSound) -> Sound:
        assert self._sound is not None
        return self._sound


def click(value: float = 1.0) -> Audio:
    return Audio(np.full((1, 1), value), RATE)


def steady(seconds: float = 4.0, hz: float = 440.0, rate: int = RATE) -> Audio:
    return Audio(np.sin(2 * np.pi * hz * np.arange(round(seconds * rate)) / rate)[None], rate)


def ones(seconds: float = 2.0) -> Audio:
    return Audio(np.ones((1, round(seconds * RATE))), RATE)


def part(key: str, sample: int = 1, hits: list[dict[str, Any]] | None = None, **more: Any):
    plays = {"kind": "sample", "sample": sample}
    hits = [{"at_s": 0.0}] if hits is None else hits
    return {"id": key, "name": key, "plays": plays, "hits": hits, "pan": 0.0, **more}


def tryout(*parts: dict[str, Any], **more: Any):
    return load_tryout({"name": "Groove", "tempo_bpm": 120, "parts": list(parts), **more})


def in_beats(*beats: float) -> list[dict[str, Any]]:
    return [{"at_s": 0.0, "in_beats": {"at_s": one}} for one in beats]


MIDDLE = np.cos(np.pi / 4)


class TestPlaces:
    @pytest.mark.parametrize("tempo", [60, 97, 180])
    def test_hits_lie_on_the_nearest_frame_of_their_beat(self, tempo):
        beats = [0.0, 1.0, 2.5, 3.75]
        mix = render_tryout(
            tryout(part("a", hits=in_beats(*beats)), tempo_bpm=tempo), Shelf({1: click()})
        )
        found = np.flatnonzero(mix.samples[0])
        assert found.tolist() == [round(one * 60 / tempo * RATE) for one in beats]
        assert mix.samples[:, found] == pytest.approx(MIDDLE)

    def test_the_second_of_two_steps_is_swung_and_seconds_are_not(self):
        hits = [*in_beats(0.0, 0.25, 0.5, 0.75, 0.125), {"at_s": 0.125}]
        made = tryout(part("a", hits=hits), tempo_bpm=60, swing=2 / 3, swing_beats=0.25)
        at = {event.hit: event.at_s for event in placed(made)}
        assert [at[n] for n in range(6)] == pytest.approx(
            [0, 1 / 3, 0.5, 0.5 + 1 / 3, 1 / 6, 0.125]
        )

    def test_an_offset_moves_all_hits_and_what_is_past_the_end_is_left_out(self):
        made = tryout(part("a", hits=in_beats(0, 1, 2, 9), offset_s=0.012), length_s=2.0)
        assert [one.at_s for one in placed(made)] == pytest.approx([0.012, 0.512, 1.012])

    def test_chance_is_thrown_anew_each_round_and_is_the_same_by_seed(self):
        hits = [{"at_s": n * 0.05, "chance": 0.3} for n in range(100)]
        made = tryout(part("a", hits=hits), seed=7)
        rounds = [[one.hit for one in placed(made, n)] for n in range(40)]
        assert rounds == [[one.hit for one in placed(made, n)] for n in range(40)]
        assert len({tuple(one) for one in rounds}) == 40
        assert sum(map(len, rounds)) / 4000 == pytest.approx(0.3, abs=0.03)

    def test_changing_one_hit_leaves_the_chances_of_the_others(self):
        hits = [{"at_s": n * 0.05, "chance": 0.5} for n in range(60)]
        before = {one.hit for one in placed(tryout(part("a", hits=hits)))}
        hits[3] = {**hits[3], "chance": 1.0}
        after = {one.hit for one in placed(tryout(part("a", hits=hits)))}
        assert after == before | {3}


class TestGroups:
    def group(self, choice: str, count: int = 5, hits: int = 200, **more: Any):
        plays = {"kind": "group", "samples": list(range(1, count + 1)), "choice": choice, **more}
        many = [
            {"at_s": n * 0.05, "velocity": 1 + n * 126 // max(1, hits - 1)} for n in range(hits)
        ]
        return tryout(part("g", hits=many, plays=plays), length_s=60.0)

    def chosen(self, made: Any, round_number: int = 0) -> list[int]:
        return [one.sample for one in placed(made, round_number)]

    def test_in_turn_goes_on_in_the_next_round(self):
        made = self.group("in_turn", hits=7)
        assert self.chosen(made) + self.chosen(made, 1) == [n % 5 + 1 for n in range(14)]

    @pytest.mark.parametrize("avoid", [1, 3, 4, 20])
    def test_without_repeats_none_of_the_last_comes_again(self, avoid):
        order = self.chosen(self.group("no_repeat", avoid=avoid))
        kept = min(avoid, 4)
        for n in range(kept, len(order)):
            assert order[n] not in order[n - kept : n]
        assert set(order) == {1, 2, 3, 4, 5}

    def test_at_random_all_come_about_as_often(self):
        counts = np.bincount(self.chosen(self.group("random", hits=1200)))[1:]
        assert counts.sum() == 1200
        assert counts.min() > 190

    def test_by_velocity_the_first_is_the_softest(self):
        order = self.chosen(self.group("velocity", hits=127))
        assert order == sorted(order)
        assert set(np.bincount(order)[1:]) == {25, 26}


class TestMix:
    def level(self, velocity: int = 100, **more: Any) -> float:
        hits = [{"at_s": 0.0, "velocity": velocity}]
        mix = render_tryout(tryout(part("a", hits=hits, **more)), Shelf({1: click()}))
        return float(mix.samples[0, 0])

    def test_level_and_velocity(self):
        assert self.level(level_db=-6.0) == pytest.approx(MIDDLE * 10 ** (-6 / 20))
        assert self.level(velocity=50) == pytest.approx(MIDDLE / 4)

    @pytest.mark.parametrize("pan", [-1.0, -0.5, 0.0, 0.3, 1.0])
    def test_a_pan_keeps_the_power_of_one_channel(self, pan):
        mix = render_tryout(tryout(part("a", pan=pan)), Shelf({1: click()}))
        left, right = mix.samples[:, 0]
        assert left**2 + right**2 == pytest.approx(1.0)
        assert left == pytest.approx(np.cos((pan + 1) * np.pi / 4))

    def test_two_channels_in_the_middle_stay_as_they_are(self):
        both = Audio(np.array([[0.5], [-0.25]]), RATE)
        mix = render_tryout(tryout(part("a")), Shelf({1: both}))
        assert mix.samples[:, 0] == pytest.approx([0.5, -0.25])

    def test_mute_and_solo_are_of_the_mix_and_stems_keep_all(self):
        shelf = Shelf({1: click(1.0), 2: click(2.0), 3: click(4.0)})
        parts = [part("a", 1), part("b", 2, mute=True), part("c", 3)]
        mix = render_tryout(tryout(*parts), shelf)
        assert mix.samples[0, 0] == pytest.approx(5 * MIDDLE)
        parts[1]["solo"] = True
        solo = render_tryout(tryout(*parts), shelf)
        assert solo.samples[0, 0] == pytest.approx(2 * MIDDLE)
        assert sum(one[0, 0] for one in solo.stems.values()) == pytest.approx(7 * MIDDLE)

    @pytest.mark.parametrize("rate", [44100, 48000, 96000])
    @pytest.mark.parametrize(("name", "hz"), [("low_cut_hz", 300.0), ("high_cut_hz", 3000.0)])
    def test_cuts_are_three_db_down_at_their_frequency_and_twelve_an_octave(self, rate, name, hz):
        sweep = Audio(np.eye(1, rate, 0), rate)
        made = tryout(part("a", **{name: hz}))
        out = render_tryout(made, Shelf({1: sweep}), RenderSettings(sample_rate=rate)).samples[0]
        response = 20 * np.log10(np.abs(np.fft.rfft(out[:rate])) / MIDDLE + 1e-12)
        assert response[round(hz)] == pytest.approx(-3.01, abs=0.05)
        # A Butterworth of two poles; towards half the rate the bilinear map is steeper.
        beyond, times, near = (75, 4, 0.1) if name == "low_cut_hz" else (6000, 2, 1.5)
        assert response[beyond] == pytest.approx(-10 * np.log10(1 + times**4), abs=near)

    def test_fades_are_of_the_round(self):
        made = tryout(part("a", fade_in_s=0.5, fade_out_s=1.0), length_s=2.0)
        out = render_tryout(made, Shelf({1: ones()})).samples[0] / MIDDLE
        for at, wanted in ((0.0, 0.0), (0.25, 0.5), (0.75, 1.0), (1.25, 0.75), (1.75, 0.25)):
            assert out[round(at * RATE)] == pytest.approx(wanted, abs=1e-4)


class TestChokes:
    def test_a_hit_ends_those_before_it_of_its_group_within_5_ms(self):
        open_hat = part("open", 1, [{"at_s": 0.0}, {"at_s": 1.0}], choke=1)
        closed = part("closed", 2, [{"at_s": 0.5}], choke=1)
        other = part("other", 3, [{"at_s": 0.2}], choke=2)
        shelf = Shelf({1: ones(), 2: click(0.0), 3: click(0.0)})
        out = render_tryout(tryout(open_hat, closed, other), shelf).samples[0] / MIDDLE
        at = round(0.5 * RATE)
        assert out[:at] == pytest.approx(1.0)
        fall = out[at : at + 240]
        assert np.all(np.diff(fall) < 0)
        assert not out[at + 240 : RATE].any()
        assert out[RATE + 100] == pytest.approx(1.0), "the second is not ended by what was before"


class TestDucking:
    def test_each_hit_pulls_down_holds_and_lets_go(self):
        kick = part("kick", 2, [{"at_s": 0.5}, {"at_s": 1.5}])
        duck = {"part": "bass", "by": "kick", "amount_db": 9, "attack_s": 0.01, "hold_s": 0.05}
        made = tryout(part("bass", 1), kick, ducks=[{**duck, "release_s": 0.2}], length_s=2.0)
        out = render_tryout(made, Shelf({1: ones(), 2: click(0.0)})).samples[0] / MIDDLE
        gain = 20 * np.log10(out)
        times = {0.4: 0, 0.505: -4.5, 0.51: -9, 0.55: -9, 0.66: -4.5, 0.8: 0, 1.54: -9}
        for at, wanted in times.items():
            assert gain[round(at * RATE)] == pytest.approx(wanted, abs=0.02), at

    def test_a_hit_within_a_release_begins_where_that_was(self):
        kick = part("kick", 2, [{"at_s": 0.5}, {"at_s": 0.65}])
        duck = {"part": "bass", "by": "kick", "amount_db": 12, "attack_s": 0.02, "hold_s": 0.03}
        made = tryout(part("bass", 1), kick, ducks=[{**duck, "release_s": 0.2}], length_s=2.0)
        out = render_tryout(made, Shelf({1: ones(), 2: click(0.0)})).samples[0] / MIDDLE
        gain = 20 * np.log10(out)
        assert gain[round(0.65 * RATE)] == pytest.approx(-6.0, abs=0.02)
        assert np.abs(np.diff(gain)).max() < 12 / (0.02 * RATE) * 1.01, "no step"

    def test_parts_that_duck_each_other_are_refused_with_the_way_round(self):
        ducks = [{"part": "a", "by": "b"}, {"part": "b", "by": "c"}, {"part": "c", "by": "a"}]
        with pytest.raises(DocumentError, match=r"in a circle: . ducks . ducks . ducks ."):
            tryout(part("a"), part("b"), part("c"), ducks=ducks)


class TestSounds:
    def riser(self) -> Sound:
        points = [{"time_s": 0, "value": 0.1}, {"time_s": 0, "value": 1, "in_beats": {"time_s": 2}}]
        level = {"points": points, "release": [{"time_s": 0.01, "value": 0}]}
        link = {"mover": "m", "target": "a.level_db", "amount": -20}
        return load_sound(
            {
                "name": "Riser",
                "tempo_bpm": 90,
                "layers": [{"id": "a", "name": "A", "level": level}],
                "movers": [{"id": "m", "name": "M", "kind": "macro", "value": 0}],
                "links": [link],
                "hit": {"note": 60, "hold_s": 0.1, "in_beats": {"hold_s": 2}},
            }
        )

    def test_a_hit_is_the_engines_own_at_the_tempo_of_the_try_out(self):
        sound = self.riser()
        plays = {"kind": "sound", "sound": 4}
        made = tryout(part("a", plays=plays, hits=[{"at_s": 0.25, "notes": [67], "velocity": 80}]))
        out = render_tryout(made, Shelf({}, sound)).samples
        at_120 = load_sound({**sound.model_dump(mode="json"), "tempo_bpm": 120})
        assert at_120.hit.hold_s == 1.0
        hit = Hit(note=67, velocity=80, hold_s=1.0)
        wanted = render(at_120, hit).samples
        begin = round(0.25 * RATE)
        heard = out[0, begin : begin + wanted.shape[1]]
        assert np.abs(heard - wanted[0] * MIDDLE).max() < 1e-12

    def test_the_same_hits_are_rendered_once_and_macros_set(self):
        asked: list[tuple[Any, ...]] = []

        def noting(sound: Sound, hit: Hit, settings: RenderSettings) -> Audio:
            asked.append((sound.movers[0].value, hit.note, hit.velocity, hit.hold_s))
            return click()

        plays = {"kind": "sound", "sound": 4}
        hits = [{"at_s": n / 10, "notes": [60 + n % 2]} for n in range(10)]
        hits += [{"at_s": 1.5, "macros": {"m": 0.5}}, {"at_s": 1.6, "hold_s": 0.3}]
        made = tryout(part("a", plays=plays, hits=hits))
        render_tryout(made, Shelf({}, self.riser()), render_hit=noting)
        assert sorted(asked) == sorted(
            [(0, 60, 100, 1.0), (0, 61, 100, 1.0), (0.5, 60, 100, 1.0), (0, 60, 100, 0.3)]
        )

    def test_a_render_that_is_cancelled_is_no_missing_part(self):
        def stopped(*_: object) -> Audio:
            raise Cancelled("nobody waits")

        made = tryout(part("a", plays={"kind": "sound", "sound": 4}))
        with pytest.raises(Cancelled):
            render_tryout(made, Shelf({}, self.riser()), render_hit=stopped)

    def test_what_is_gone_is_silent_and_named(self):
        mix = render_tryout(tryout(part("a", 1), part("b", 2)), Shelf({1: click()}))
        assert mix.missing == {"b": "sample 2 is not there any more"}
        assert mix.samples[0, 0] == pytest.approx(MIDDLE)
        assert not mix.stems["b"].any()


class TestBeds:
    def bed(self, **more: Any):
        plays = {"kind": "bed", "sample": 1, **more}
        return part("bed", plays=plays, hits=[])

    def test_it_loops_from_its_first_beat_without_a_gap(self):
        steps = Audio(np.arange(1.0, 101.0)[None] / 100, RATE)
        made = tryout(self.bed(first_beat_s=20 / RATE), length_s=0.1)
        out = render_tryout(made, Shelf({1: steps})).samples[0] / MIDDLE
        wanted = np.resize(np.arange(21.0, 101.0) / 100, 4800)
        assert out == pytest.approx(wanted)

    @pytest.mark.parametrize(("own", "tempo"), [(120.0, 90.0), (96.0, 120.0)])
    def test_it_follows_the_tempo_at_its_own_pitch(self, own, tempo):
        """Eight beats of a tone: eight beats after it, of the same tone."""
        made = tryout(
            self.bed(tempo_bpm=own, loop=False), tempo_bpm=tempo, length_s=20.0, loop=False
        )
        eight = steady(8 * 60 / own)
        out = render_tryout(made, Shelf({1: eight})).samples[0]
        lasts = np.flatnonzero(np.abs(out) > 0.05)[-1] / RATE
        assert lasts == pytest.approx(8 * 60 / tempo, abs=0.05)
        middle = out[RATE : RATE + 96000] * np.hanning(96000)
        peak = np.argmax(np.abs(np.fft.rfft(middle))) / 2
        assert peak == pytest.approx(440.0, abs=0.5)

    def test_ten_minutes_are_no_more_work_than_what_is_heard(self):
        long = Audio(np.zeros((2, 600 * RATE), dtype=np.float32), RATE)
        mix = render_tryout(tryout(self.bed(), length_s=1.0), Shelf({1: long}))
        assert mix.samples.shape == (2, RATE)


@pytest.mark.parametrize(
    ("wrong", "path"),
    [
        ({"tempo_bpm": 0}, "tempo_bpm"),
        ({"parts": [part("a", hits=[{"at_s": -1}])]}, "parts.0.hits.0.at_s"),
        ({"parts": [part("a", hits=[{"at_s": 0, "notes": [60] * 64}])]}, "parts.0.hits.0.notes"),
        ({"parts": [part("a", plays={"kind": "choir"})]}, "parts.0.plays.kind"),
        ({"parts": [part("a"), part("a")]}, ""),
        ({"ducks": [{"part": "a", "by": "b"}]}, ""),
        ({"schema_version": 99}, "schema_version"),
        ({"parts": [part(f"p{n}") for n in range(25)]}, "parts"),
    ],
)
def test_what_is_wrong_is_named_at_its_place(wrong, path):
    with pytest.raises(DocumentError) as refused:
        load_tryout({"name": "Groove", **wrong})
    assert [one.path for one in refused.value.problems] == [path]


def test_a_document_comes_back_as_it_went():
    made = tryout(part("a", hits=in_beats(0, 1.5)), part("b", 2), ducks=[{"part": "a", "by": "b"}])
    assert load_tryout(dump_tryout(made)) == made
    faster = load_tryout({**dump_tryout(made), "tempo_bpm": 60})
    assert faster.parts[0].hits[1].at_s == 1.5
