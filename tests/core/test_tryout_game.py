"""A game's run of a variation group, kits and patterns, against plain arithmetic and a reader of
SFZ written for the tests."""

import re

import numpy as np
import pytest

from nest_crate.core.errors import DocumentError
from nest_crate.core.tryout import load_tryout, placed
from nest_crate.core.tryout.document import GameTest, PlaysGroup, PlaysSound
from nest_crate.core.tryout.game import (
    Trigger,
    distance_gain_db,
    distance_high_cut_hz,
    figures_of_run,
    run_of,
    variations_needed,
)
from nest_crate.core.tryout.kit import KitSample, keys_of, kit_text, matched_levels
from nest_crate.core.tryout.patterns import PATTERNS, begin_tryout
from nest_crate.core.tryout.picking import picked

RATE = 48000


def group(count=6, choice="no_repeat", avoid=2, seed=1):
    samples = tuple(range(1, count + 1))
    return PlaysGroup(samples=samples, choice=choice, avoid=avoid, seed=seed)


class TestPicking:
    @pytest.mark.parametrize("choice", ["in_turn", "random", "no_repeat"])
    def test_where_the_asking_begins_changes_nothing(self, choice):
        whole = picked(group(choice=choice, seed=9), 0, 300)
        parts = [picked(group(choice=choice, seed=9), n, 7) for n in range(0, 294, 7)]
        assert [one for part in parts for one in part] == whole[:294]

    def test_a_round_does_not_repeat_the_last_of_the_round_before(self):
        hits = [{"at_s": 0.1 * n, "chance": 0.6} for n in range(9)]
        plays = {"kind": "group", "samples": list(range(1, 6)), "avoid": 3}
        part = {"id": "g", "name": "G", "plays": plays, "hits": hits}
        made = load_tryout({"name": "Rounds", "length_s": 1.0, "parts": [part]})
        order = [event.sample for n in range(60) for event in placed(made, n)]
        for n in range(3, len(order)):
            assert order[n] not in order[n - 3 : n]


class TestRuns:
    def test_intervals_pitch_and_level_stay_within_what_is_set(self):
        game = GameTest(
            part="a", every_from_s=0.18, every_to_s=0.42, pitch_semitones=0.8, level_db=4.0
        )
        run = run_of(game, group(), seed=3)
        gaps = np.diff([one.at_s for one in run])
        assert gaps.min() >= 0.18
        assert gaps.max() <= 0.42
        assert np.mean(gaps) == pytest.approx(0.3, abs=0.02)
        pitches = np.array([one.pitch_semitones for one in run])
        assert np.abs(pitches).max() <= 0.8
        assert pitches.mean() == pytest.approx(0.0, abs=0.12)
        gains = [one.gain_db for one in run]
        assert -4.0 <= min(gains) <= max(gains) <= 0.0
        assert run == run_of(game, group(), seed=3)
        assert run != run_of(game, group(), seed=4)

    def test_figures_are_counted_by_hand(self):
        run = [Trigger(float(n), v, 0.0, 0.0) for n, v in enumerate([0, 1, 0, 2, 1, 0])]
        # On a line: distances are differences.
        vectors = np.array([[0.0], [0.3], [2.0]], dtype=np.float32)
        found = figures_of_run(run, vectors, apart=0.5)
        assert found.distances == pytest.approx([0.3, 0.3, 2.0, 1.7, 0.3])
        assert found.below == 3
        first = found.alike[0]
        assert (first.first, first.second, first.times) == (0, 1, 3)
        assert first.distance == pytest.approx(0.3)
        assert (found.soonest_repeat, found.median_repeat) == (2, 3.0)
        assert found.apart_count == 2

    def test_a_repeated_file_is_no_distance_away(self):
        run = [Trigger(0.0, 0, 0.0, 0.0), Trigger(1.0, 0, 0.0, 0.0)]
        found = figures_of_run(run, np.zeros((1, 2), dtype=np.float32), apart=0.5)
        assert found.distances == (0.0,)
        assert found.soonest_repeat_s == 1.0

    def test_what_is_needed_grows_as_the_group_is_crowded(self):
        # Points thrown evenly on a line of length 10: about 10 / apart of them can be apart.
        chance = np.random.default_rng(4)
        points = chance.uniform(0, 10, 40)
        table = np.abs(points[:, None] - points[None, :]).astype(np.float32)
        assert variations_needed(table, 0.0) == 40
        wide, close = variations_needed(table, 0.4), variations_needed(table, 0.15)
        assert close is not None
        assert close > 40
        assert wide is None or wide > close

    @pytest.mark.parametrize(("metres", "db"), [(1, 0.0), (2, -6.02), (10, -20.0), (0.2, 0.0)])
    def test_level_falls_by_six_db_for_each_doubling(self, metres, db):
        assert distance_gain_db(metres) == pytest.approx(db, abs=0.01)

    def test_the_high_cut_falls_with_distance(self):
        cuts = [distance_high_cut_hz(one) for one in (1, 21, 41, 201)]
        assert cuts == pytest.approx([20000, 10000, 20000 / 3, 20000 / 11])

    def test_intervals_the_wrong_way_round_are_refused(self):
        game = {"part": "a", "every_from_s": 0.5, "every_to_s": 0.2}
        part = {"id": "a", "name": "A", "plays": {"kind": "sample", "sample": 1}}
        with pytest.raises(DocumentError, match="longest interval"):
            load_tryout({"name": "G", "parts": [part], "game": game})


def regions_of(text):
    """(group opcodes, region opcodes) of each region: groups hold until the next."""
    found, head = [], {}
    for line in text.splitlines():
        line = line.split("//")[0].strip()
        kind = re.match(r"<(\w+)>", line)
        if not kind:
            continue
        rest = line[kind.end() :]
        sample = re.search(r"sample=(.*)$", rest)
        opcodes = dict(re.findall(r"(\w+)=(\S+)", rest[: sample.start()] if sample else rest))
        if sample:
            opcodes["sample"] = sample[1]
        if kind[1] == "group":
            head = opcodes
        else:
            found.append((head, opcodes))
    return found


class TestKits:
    def kit(self):
        parts = [
            {"id": "kick", "name": "Kick", "plays": {"kind": "sound", "sound": 1}, "key": 40},
            {
                "id": "hat",
                "name": "Open hat",
                "plays": {"kind": "sample", "sample": 2},
                "choke": 3,
                "level_db": -7.5,
                "pan": -0.25,
            },
            {
                "id": "tick",
                "name": "Ticks",
                "plays": {"kind": "group", "samples": [3, 4, 5], "choice": "in_turn"},
                "choke": 3,
            },
            {
                "id": "soft",
                "name": "Soft and hard",
                "plays": {"kind": "group", "samples": [6, 7], "choice": "velocity"},
            },
            {
                "id": "any",
                "name": "Any",
                "plays": {"kind": "group", "samples": [8, 9, 10, 11], "choice": "random"},
            },
            {"id": "bed", "name": "Bed", "plays": {"kind": "bed", "sample": 12}},
        ]
        return load_tryout({"name": "Kit", "parts": parts})

    def samples(self):
        velocities = (40, 72, 100, 127)
        files = [KitSample("kick", f"k {v}.wav", v) for v in velocities]
        files += [KitSample("hat", "hat.wav")]
        files += [KitSample("tick", f"t{n}.wav", None, n) for n in range(3)]
        files += [KitSample("soft", f"s{n}.wav", None, n) for n in range(2)]
        return files + [KitSample("any", f"a{n}.wav", None, n) for n in range(4)]

    def test_keys_are_the_parts_own_or_the_next_free(self):
        assert keys_of(self.kit()) == {"kick": 40, "hat": 36, "tick": 37, "soft": 38, "any": 39}

    def test_an_independent_reader_finds_what_each_key_plays(self):
        found = regions_of(kit_text(self.kit(), self.samples()))
        by_key = {}
        for head, region in found:
            by_key.setdefault(int(head["key"]), []).append((head, region))
        assert {key: len(own) for key, own in by_key.items()} == {40: 4, 36: 1, 37: 3, 38: 2, 39: 4}
        # Every velocity plays one layer of the kick, and the file rendered nearest to it.
        for velocity in range(1, 128):
            hit = [
                one["sample"]
                for _, one in by_key[40]
                if int(one["lovel"]) <= velocity <= int(one["hivel"])
            ]
            nearest = min((40, 72, 100, 127), key=lambda one: abs(one - velocity))
            assert len(hit) == 1
            assert abs(int(hit[0].split()[1][:-4]) - velocity) <= abs(nearest - velocity) + 1
        head, _ = by_key[36][0]
        # At velocity 100 an SFZ player lowers a sample by 4.15 dB (its curve is the square of
        # velocity over 127), where the try-out plays it as it is.
        lowered_db = 20 * np.log10((100 / 127) ** 2)
        assert float(head["volume"]) + lowered_db == pytest.approx(-7.5, abs=0.01)
        assert float(head["pan"]) == -25.0
        assert float(by_key[40][0][0]["volume"]) == 0.0
        assert {one["amp_veltrack"] for _, one in by_key[40]} == {"0"}
        for key in (36, 37):
            assert (by_key[key][0][0]["group"], by_key[key][0][0]["off_by"]) == ("3", "3")
        turns = [int(one["seq_position"]) for _, one in by_key[37]]
        assert turns == [1, 2, 3]
        assert {one["seq_length"] for _, one in by_key[37]} == {"3"}
        layers = [(one["lovel"], one["hivel"]) for _, one in by_key[38]]
        assert layers == [("1", "63"), ("64", "127")]
        shares = [(float(one["lorand"]), float(one["hirand"])) for _, one in by_key[39]]
        assert shares == [(0.0, 0.25), (0.25, 0.5), (0.5, 0.75), (0.75, 1.0)]

    def test_matched_levels_bring_every_part_to_the_middle_one(self):
        time_s = np.arange(RATE) / RATE
        tone = np.tile(np.sin(2 * np.pi * 440 * time_s), (2, 1))
        parts = [
            {"id": key, "name": key, "plays": {"kind": "sample", "sample": 1}, "level_db": level}
            for key, level in (("a", 0.0), ("b", -6.0), ("c", -20.0))
        ]
        made = load_tryout({"name": "M", "parts": parts})
        hits = {"a": tone, "b": 0.5 * tone, "c": 0.1 * tone}
        found = matched_levels(made, hits, RATE)
        # Heard now at 0, -12 and -40 dB: the middle one is -12 dB of the plain tone.
        assert found == pytest.approx({"a": -12.04, "b": -6.02, "c": 7.96}, abs=0.05)

    def test_what_is_silent_keeps_its_level(self):
        part = {"id": "a", "name": "A", "plays": {"kind": "sample", "sample": 1}}
        made = load_tryout({"name": "M", "parts": [part]})
        assert matched_levels(made, {"a": np.zeros((2, RATE))}, RATE) == {}


@pytest.mark.parametrize("name", sorted(PATTERNS))
def test_a_pattern_begins_around_a_sound_with_what_there_is(name):
    found = {"snare": ("Bench snare", PlaysSound(sound=2))}
    made = begin_tryout(name, ("Kiln kick", PlaysSound(sound=1)), found, "Mine")
    again = load_tryout(made.model_dump(mode="json"))
    assert again == made
    assert made.parts[0].plays == PlaysSound(sound=1)
    wanted = {line.kind for line in PATTERNS[name].lines} & {"snare"}
    assert {part.id for part in made.parts} == {"sound", *wanted}
    events = placed(made)
    assert len([one for one in events if one.part == "sound"]) == len(PATTERNS[name].sound)
    assert max(one.at_s for one in events) < made.length_s


def test_a_part_whose_hits_rise_later_is_softer_at_its_start():
    from nest_crate.core.engine import Audio
    from nest_crate.core.tryout import render_tryout

    class Shelf:
        def sample(self, identifier):
            return Audio(np.ones((1, RATE)), RATE)

    hit = {"at_s": 0.0}
    plays = {"kind": "sample", "sample": 1}
    part = {"id": "a", "name": "A", "plays": plays, "hits": [hit], "attack_s": 0.1, "invert": True}
    made = load_tryout({"name": "Rise", "length_s": 0.5, "parts": [part]})
    mix = render_tryout(made, Shelf(), keep_stems=False)
    middle = np.cos(np.pi / 4)
    expected = -middle * np.minimum(1.0, np.arange(RATE) / 4800)
    assert mix.samples[0, :RATE] == pytest.approx(expected)
    assert mix.stems == {}
