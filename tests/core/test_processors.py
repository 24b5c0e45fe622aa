"""What all processors have in common, in whole sounds: bounds, tails, bands, loudness, sides."""

from dataclasses import replace

import numpy as np
import pytest

from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs
from nest_crate.core.engine import Audio, RenderSettings, render
from nest_crate.core.engine.context import ProcessContext
from nest_crate.core.engine.effects import PROCESSORS
from nest_crate.core.engine.plan import make_plan
from nest_crate.core.engine.processor_stages import process
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.kinds import PROCESSOR_KINDS
from nest_crate.core.sound.parameters import declared_parameters
from nest_crate.core.sound.recipe import recipe
from tests.core.test_movers import HELD

RATE = 48000
KINDS = sorted(PROCESSOR_KINDS)
CONTEXT = ProcessContext(RenderSettings())


def part(kind, **fields):
    return PROCESSOR_KINDS[kind](id="x", **fields)


def sound(chain, source=None, **fields):
    layer = {
        "id": "a",
        "name": "A",
        "source": source or {"kind": "noise", "width": 1},
        "level": {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.2, "value": 0, "bend": 3}]},
        "chain": chain,
    }
    return load_sound({"name": "S", "layers": [layer], "hit": {"hold_s": 0.1}, **fields})


def noise(seconds, channels=2, level=0.2):
    return level * np.random.default_rng(4).normal(size=(channels, round(seconds * RATE)))


def extreme(kind, end):
    """A processor with every number at one end of its range."""
    declared = declared_parameters(PROCESSOR_KINDS[kind])
    values = {one.name: getattr(one, end) for one in declared}
    whole = {one.name: round(values[one.name]) for one in declared if one.whole}
    return part(kind, **{**values, **whole})


@pytest.mark.parametrize("kind", KINDS)
class TestEachKind:
    @pytest.mark.parametrize("channels", [1, 2])
    def test_silence_stays_silence(self, kind, channels):
        out = process(np.zeros((channels, 3000)), part(kind), CONTEXT)
        assert out.shape[1] == 3000
        assert not out.any()

    def test_what_goes_in_is_not_written_to(self, kind):
        """Results are remembered and shared between renders."""
        given = noise(0.1)
        kept = given.copy()
        process(given, part(kind, band="below"), CONTEXT)
        process(given, part(kind, keep_loudness=True), CONTEXT)
        np.testing.assert_array_equal(given, kept)

    @pytest.mark.parametrize("frames", [0, 1, 2])
    def test_hardly_any_input_is_taken(self, kind, frames):
        out = process(np.full((2, frames), 0.5), part(kind), CONTEXT)
        assert out.shape[1] == frames
        assert np.all(np.isfinite(out))

    def test_a_full_scale_square_wave_stays_bounded(self, kind):
        square = np.sign(np.sin(2 * np.pi * 100.3 * np.arange(RATE) / RATE))[np.newaxis]
        out = process(square, part(kind), CONTEXT)
        assert np.all(np.isfinite(out))
        assert np.abs(out).max() < 32.0

    @pytest.mark.parametrize("end", ["minimum", "maximum"])
    def test_the_ends_of_all_ranges_are_bounded(self, kind, end):
        out = process(noise(0.5), extreme(kind, end), CONTEXT)
        assert np.all(np.isfinite(out))
        # 24 dB of output level and 48 dB of drive or gain are asked for by some.
        assert np.abs(out).max() < 1e6

    def test_its_tail_is_as_long_as_it_rings(self, kind):
        """What is rendered beyond the computed tail lies below -90 dBFS."""
        one = part(kind)
        given = noise(0.1)
        tail_s = PROCESSORS[kind].tail_s(one)
        frames = round((0.1 + tail_s + 1.0) * RATE)
        long = np.zeros((2, frames))
        long[:, : given.shape[1]] = given
        out = process(long, one, CONTEXT)
        rest = out[:, round((0.1 + tail_s) * RATE) + 1 :]
        assert np.abs(rest).max() < 10 ** (-88 / 20)

    def test_switched_off_it_is_no_stage_at_all(self, kind):
        plain, off = (
            make_plan(sound(chain), sound(chain).hit, RenderSettings())
            for chain in ([], [{"id": "x", "kind": kind, "on": False}])
        )
        assert off.output.key == plain.output.key

    def test_it_works_on_a_band_alone_and_the_other_nulls_against_dry(self, kind):
        """The half that passes by is the signal's own, to the last bit."""
        given = noise(0.5)
        dry = process(given, part(kind, mix=0.0, band="above", split_hz=2000.0), CONTEXT)
        np.testing.assert_allclose(dry, given, atol=1e-12)
        if kind in ("equaliser", "filter", "comb", "gain", "width"):
            out = process(given, part(kind, band="above", split_hz=2000.0), CONTEXT)
            window = np.hanning(given.shape[1])
            left, low = (
                np.abs(np.fft.rfft(one * window, axis=1))[:, 20:60].max()
                for one in (out - given, given)
            )
            assert left < 1e-3 * low


def test_only_the_highs_are_driven_where_that_is_asked():
    """A low tone passes a drive of the highs as it is, without harmonics."""
    n = np.arange(RATE)
    low, high = (np.sin(2 * np.pi * hz * n / RATE)[np.newaxis] for hz in (100, 6000))
    out = process(0.4 * (low + high), part("drive", drive_db=30, band="above"), CONTEXT)
    window = np.hanning(RATE)
    found, dry = (np.abs(np.fft.rfft(one[0] * window)) for one in (out, 0.4 * low))
    assert found[100] == pytest.approx(dry[100], rel=2e-3)
    assert found[[200, 300, 400]].max() < 1e-3 * dry[100]
    assert found[18000] > 0.05 * found[6000]


class TestLoudness:
    @pytest.mark.parametrize("drive_db", [6.0, 24.0, 40.0])
    def test_a_drive_that_keeps_loudness_is_judged_by_its_tone(self, drive_db):
        given = noise(1.0)
        plain, kept = (
            process(given, part("drive", drive_db=drive_db, keep_loudness=keep), CONTEXT)
            for keep in (False, True)
        )
        before, loud, same = (integrated_loudness_lufs(one, RATE) for one in (given, plain, kept))
        assert loud - before > 3
        assert same == pytest.approx(before, abs=0.05)

    def test_a_room_that_makes_two_sides_of_one_is_as_loud_too(self):
        given = noise(1.0, channels=1)
        out = process(given, part("room", mix=1.0, keep_loudness=True), CONTEXT)
        both = np.concatenate([given, given])
        assert integrated_loudness_lufs(out, RATE) == pytest.approx(
            integrated_loudness_lufs(both, RATE), abs=0.1
        )


class TestOffset:
    @pytest.mark.parametrize("shape", ["tube", "rectify", "drawn", "soft"])
    def test_drives_leave_none(self, shape):
        tone = 0.8 * np.sin(2 * np.pi * 200 * np.arange(RATE) / RATE)[np.newaxis]
        out = process(tone, part("drive", shape=shape, drive_db=12, asymmetry=0.6), CONTEXT)
        # Up to where a tone that is cut off leaves no whole number of cycles to average.
        assert abs(out[0, RATE // 2 : 4 * RATE // 5].mean()) < 10 ** (-60 / 20)


class TestSideInput:
    def two(self, **fields):
        quiet = {"id": "k", "name": "K", "source": {"kind": "tone"}, "mute": True}
        pressed = {"id": "c", "kind": "compressor", "threshold_db": -40, "measure": "rms"}
        beat = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.05, "value": 1}]}
        return {
            "name": "S",
            "layers": [
                {
                    "id": "a",
                    "name": "A",
                    "source": {"kind": "noise"},
                    "level": HELD,
                    "chain": [{**pressed, **fields}],
                },
                {**quiet, "level": {**beat, "release": [{"time_s": 0.01, "value": 0}]}},
            ],
            "hit": {"hold_s": 0.3},
        }

    def test_a_layer_that_is_muted_may_press_another_down(self):
        """As the sidechain says: the gain is the one of the other layer's level."""
        heard, alone = (render(load_sound(self.two(side=side))).samples for side in ("k", None))
        off = render(load_sound(self.two(side="k", on=False))).samples
        at = slice(RATE // 10, RATE // 5)
        levels = [np.sqrt(np.mean(one[:, at] ** 2)) for one in (heard, alone, off)]
        # The tone is at 0 dB, 40 above the threshold: two thirds are taken, 26.7 dB.
        assert 20 * np.log10(levels[0] / levels[2]) == pytest.approx(-26.7, abs=0.7)
        assert 20 * np.log10(levels[1] / levels[2]) > -26.0

    def test_a_layer_that_is_not_there_is_told(self):
        with pytest.raises(DocumentError, match=r"layers\.0\.chain\.0\.side.*no layer 'gone'"):
            load_sound(self.two(side="gone"))

    def test_a_layer_cannot_listen_to_itself(self):
        with pytest.raises(DocumentError, match="go round"):
            load_sound(self.two(side="a"))

    def test_its_gain_can_be_read(self):
        one = load_sound(self.two(side="k"))
        plan = make_plan(one, one.hit, RenderSettings())
        step = plan.taps["c"]
        runner = StageRunner(None)
        gain_db = step.gains_db([runner.result(each) for each in step.inputs])[""]
        assert gain_db[RATE // 5] == pytest.approx(-26.7, abs=0.5)


class TestMoments:
    def test_a_reversed_sound_is_the_sound_from_its_end(self):
        plain = render(sound([])).samples
        turned = render(sound([{"id": "r", "kind": "reverse", "fade_s": 0.0}])).samples
        heard = np.flatnonzero(np.abs(plain).max(axis=0) >= 1e-5)[-1] + 1
        np.testing.assert_array_equal(turned[:, : heard - 600], plain[:, 600:heard][:, ::-1])

    def test_a_reversed_room_begins_with_its_tail(self):
        chain = [{"id": "m", "kind": "room", "mix": 1}, {"id": "r", "kind": "reverse"}]
        samples = render(sound(chain)).samples
        thirds = np.array_split(np.abs(samples).max(axis=0), 3)
        assert thirds[0].max() < thirds[1].max() < thirds[2].max()

    def test_a_fade_ends_what_never_would(self):
        drone = {"points": [{"time_s": 0, "value": 1}]}
        one = load_sound(
            {
                "name": "S",
                "layers": [{"id": "a", "name": "A", "source": {"kind": "tone"}, "level": drone}],
                "main": {"chain": [{"id": "f", "kind": "fade", "end_s": 0.5, "out_s": 0.2}]},
            }
        )
        audio = render(one)
        assert audio.end_reason == "silence"
        assert audio.length_s == pytest.approx(0.55, abs=0.02)

    def test_a_tail_before_a_drive_is_driven_too(self):
        """The tail of a room comes out of a drive behind it as loud as its start."""
        room = {"id": "m", "kind": "room", "mix": 1, "decay_s": 1.5}
        drive = {"id": "d", "kind": "drive", "drive_db": 40}

        def fall_db(chain):
            samples = render(sound(chain)).samples
            early, late = (samples[:, n : n + 4800] for n in (RATE // 5, RATE))
            return 10 * np.log10(np.mean(late**2) / np.mean(early**2))

        assert fall_db([room, drive]) > fall_db([drive, room]) + 12


class TestImportedImpulse:
    HASH = "ab" * 32
    CHAIN = ({"id": "c", "kind": "convolution", "impulse": "imported", "mix": 1},)

    def settings(self, recording):
        return RenderSettings(recordings={self.HASH: recording})

    def chain(self, **fields):
        return [{**self.CHAIN[0], "recording": self.HASH, **fields}]

    def test_one_of_another_rate_keeps_its_echo_where_it_was(self):
        echo = np.zeros((1, 96000))
        echo[0, 0] = echo[0, 48000] = 1.0
        tick = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.002, "value": 0}]}
        data = sound(self.chain(decay_s=20, low_cut_hz=10)).model_dump(mode="json")
        data["layers"][0]["level"] = tick
        one = load_sound(data)
        samples = np.abs(render(one, settings=self.settings(Audio(echo, 96000))).samples).max(
            axis=0
        )
        assert samples[24000:24200].max() > 0.5 * samples[:200].max()
        assert samples[1000:23000].max() < 0.01 * samples[:200].max()

    @pytest.mark.parametrize("seconds", [0, 60])
    def test_an_empty_and_a_very_long_one_are_taken(self, seconds):
        body = np.random.default_rng(1).normal(size=(2, seconds * RATE)) * 0.1
        audio = render(sound(self.chain()), settings=self.settings(Audio(body, RATE)))
        assert np.all(np.isfinite(audio.samples))
        # Faded by 60 dB in 2 s, however long it was.
        assert audio.length_s < 5.0

    def test_one_that_is_not_here_is_told(self):
        with pytest.raises(DocumentError, match="recording abababab is not here"):
            render(sound(self.chain()))

    def test_none_chosen_yet_lets_the_sound_pass(self):
        plain = render(sound([])).samples
        waiting = render(sound(list(self.CHAIN))).samples
        np.testing.assert_array_equal(waiting, plain)


@pytest.mark.parametrize(
    ("kind", "fields"),
    [
        ("delay", {"feedback": 1.0}),
        ("delay", {"time_s": 0.0}),
        ("pitch_delay", {"feedback": 1.0}),
        ("pitch_delay", {"feedback": -0.1}),
        ("flanger", {"feedback": -1.0}),
        ("phaser", {"feedback": 1.5}),
        ("shimmer", {"amount": 1.0}),
        ("convolution", {"recording": "../etc/passwd"}),
        ("drive", {"drawn": [{"x": 0, "y": 0}]}),
        ("drive", {"drawn": [{"x": 0.5, "y": 0}, {"x": 0, "y": 0}]}),
        ("resonators", {"own_st": []}),
        ("equaliser", {"band_1": {"frequency_hz": 0}}),
        ("multiband", {"low": {"above_ratio": 0}}),
    ],
)
def test_what_cannot_be_is_told_at_its_field(kind, fields):
    with pytest.raises(DocumentError) as error:
        sound([{"id": "x", "kind": kind, **fields}])
    assert error.value.problems[0].path.startswith("layers.0.chain.0")


def test_the_list_of_a_sound_tells_bands_curves_and_tunings():
    chain = [
        {"id": "e", "kind": "equaliser", "band_4": {"frequency_hz": 340, "gain_db": -6}},
        {"id": "m", "kind": "multiband"},
        {"id": "d", "kind": "drive", "shape": "drawn"},
        {"id": "r", "kind": "resonators", "tuning": "own", "own_st": [0, 6]},
        {"id": "p", "kind": "pitch_delay"},
    ]
    text = recipe(sound(chain))
    assert "    Band 4\n      Response: peak\n      Frequency: 340 Hz\n      Gain: -6 dB" in text
    assert "Band 1" not in text, "a band that is off says nothing"
    assert "    Middle\n      Upper threshold: -20 dB" in text
    assert "Transfer curve: -1: -1, -0.3: -0.6" in text
    assert "Custom tuning: 0 st, +6 st" in text
    assert "Pitch delay (on)" in text


class TestSeveralNotes:
    """Chains of layers work on each note, those behind them on the sum."""

    def chord(self, layer_chain, main_chain=(), **fields):
        layer = {"id": "a", "name": "A", "source": {"kind": "tone"}, "level": HELD}
        other = {**layer, "id": "k", "name": "K", "mute": True}
        further = [{"note": 64, "at_s": 0.2}]
        return load_sound(
            {
                "name": "S",
                "layers": [{**layer, "level_db": -12, "chain": layer_chain}, other],
                "main": {"chain": list(main_chain)},
                "hit": {"note": 57, "hold_s": 0.6, "further": further},
                **fields,
            }
        )

    def test_each_note_has_its_own_delay_and_main_has_one_for_all(self):
        echo = {"id": "e", "kind": "delay", "time_s": 0.35, "feedback": 0, "mix": 0.5}
        each, all_of_them = (
            render(one).samples for one in (self.chord([echo]), self.chord([], [echo]))
        )
        frames = min(each.shape[1], all_of_them.shape[1])
        # A delay is linear: whether the notes are summed before or behind it is the same.
        assert np.abs(each[:, :frames] - all_of_them[:, :frames]).max() < 2e-3

    def test_notes_driven_together_make_a_difference_tone_and_notes_driven_apart_do_not(self):
        drive = {"id": "d", "kind": "drive", "drive_db": 24, "asymmetry": 0.5}
        levels = []
        for chains in (([drive],), ([], [drive])):
            samples = render(self.chord(*chains)).samples[0]
            cut = samples[round(0.25 * RATE) : round(0.55 * RATE)]
            spectrum = np.abs(np.fft.rfft(cut * np.hanning(cut.size)))
            hz = np.fft.rfftfreq(cut.size, 1 / RATE)
            # E4 less A3: 329.6 - 220 Hz.
            levels.append(spectrum[np.abs(hz - 109.6) < 6].max() / spectrum.max())
        assert levels[1] > 20 * levels[0]

    def test_main_may_listen_to_a_muted_layer_of_all_notes(self):
        side = {
            "id": "c",
            "kind": "compressor",
            "side": "k",
            "threshold_db": -40,
            "attack_s": 0.001,
        }
        pressed, free = (
            render(self.chord([], [{**side, "on": on}])).samples for on in (True, False)
        )
        for start in (0.1, 0.3):
            at = slice(round(start * RATE), round((start + 0.04) * RATE))
            levels = [np.sqrt(np.mean(one[:, at] ** 2)) for one in (pressed, free)]
            assert 20 * np.log10(levels[0] / levels[1]) < -15


class TestMovedEffects:
    @pytest.mark.parametrize(
        ("kind", "field", "amount"),
        [
            ("flanger", "delay_s", 0.004),
            ("phaser", "centre_hz", 2.0),
            ("equaliser", "band_4.frequency_hz", 3.0),
            ("pitch_delay", "shift_st", 12.0),
            ("drive", "asymmetry", 0.8),
            ("reducer", "rate_hz", -3.0),
            ("gain", "pan", 1.0),
        ],
    )
    def test_what_is_moved_all_through_a_hit_makes_no_click(self, kind, field, amount):
        """A held tone's largest step hardly grows where a number goes up over half a second."""
        fields = {"equaliser": {"band_4": {"gain_db": 12, "frequency_hz": 300}}}.get(kind, {})
        one = {"id": "x", "kind": kind, **fields}
        tone = {"id": "a", "name": "A", "source": {"kind": "tone"}, "level": HELD, "chain": [one]}
        rise = {"points": [{"time_s": 0, "value": 0}, {"time_s": 0.5, "value": 1}]}
        data = {
            "name": "S",
            "layers": [tone],
            "hit": {"note": 57, "hold_s": 0.6},
            "movers": [{"id": "m", "name": "M", "kind": "curve", "curve": rise}],
        }
        link = {"mover": "m", "target": f"x.{field}", "amount": amount}
        still, moving = (
            render(load_sound({**data, "links": links})).samples for links in ([], [link])
        )
        inner = slice(RATE // 10, RATE // 2)
        steps = [np.abs(np.diff(one[:, inner], 2, axis=1)).max() for one in (still, moving)]
        if kind == "reducer":
            # Steps are what it is made of; they are no larger than the wave itself.
            assert np.abs(moving).max() <= 1.01
        else:
            assert steps[1] < 6.0 * steps[0] + 1e-3
        assert np.abs(moving[:, inner] - still[:, inner]).max() > 1e-3


class TestNeeds:
    """A kind gets what it declares and nothing else, so that no key of a result can miss it."""

    @pytest.mark.parametrize("asked", ["note", "tempo_bpm", "random_key"])
    def test_what_is_not_declared_is_not_given(self, asked):
        context = ProcessContext(RenderSettings(), given={})
        with pytest.raises(LookupError, match="does not declare"):
            getattr(context, asked)

    def test_a_kind_that_declares_nothing_cannot_read_the_note(self, monkeypatch):
        work = replace(
            PROCESSORS["gain"], apply=lambda signal, part, context: signal * context.note
        )
        monkeypatch.setitem(PROCESSORS, "gain", work)
        chain = [{"id": "p", "kind": "gain"}]
        data = {"name": "N", "layers": [{"id": "a", "name": "A"}], "main": {"chain": chain}}
        with pytest.raises(LookupError, match="'note'"):
            render(load_sound(data))
