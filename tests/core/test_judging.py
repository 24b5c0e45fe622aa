"""What the program says about a sound, on signals whose truth is known."""

import numpy as np
import pytest

from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.checks.clicks import ends_with_click
from nest_crate.core.analysis.checks.silence import probe_silence
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.measures.reached_pitch import reached_pitch_hz
from nest_crate.core.analysis.measures.repeats import compare_repeats
from nest_crate.core.analysis.measures.ring_time import ringing
from nest_crate.core.analysis.pictures.details import details
from nest_crate.core.engine import RenderSettings, StageMemory, render, render_with_trace
from nest_crate.core.sound import load_sound
from nest_crate.core.units import note_to_hz
from tests.core.test_analysis import remarks_on, sine, sound_with, with_edits

RATE = 48000
FINAL = RenderSettings()


def points(*rows):
    keys = ("time_s", "value", "bend")
    return [dict(zip(keys, row, strict=False)) for row in rows]


class TestRinging:
    @pytest.mark.parametrize("rate", [44100, 48000, 96000])
    @pytest.mark.parametrize("t60_s", [0.2, 1.5])
    def test_exponential_decay_falls_by_its_definition(self, t60_s, rate):
        t = np.arange(round(1.2 * t60_s * rate)) / rate
        signal = (10.0 ** (-3.0 * t / t60_s) * np.sin(2 * np.pi * 3000.0 * t))[np.newaxis]
        rang = ringing(signal, rate)
        assert rang.falls_s == pytest.approx([t60_s / 3, 2 * t60_s / 3, t60_s], abs=0.003)
        assert rang.ring_s == pytest.approx(t60_s, abs=0.003)

    def test_silence_has_none(self):
        assert ringing(np.zeros((1, 100)), RATE) is None
        assert ringing(np.zeros((2, 0)), RATE) is None


class TestReachedPitch:
    @pytest.mark.parametrize("rate", [44100, 48000, 96000])
    @pytest.mark.parametrize("frequency_hz", [41.2, 220.0, 1760.0])
    def test_steady_tone_within_two_cents(self, frequency_hz, rate):
        signal = sine(frequency_hz, rate=rate, level=0.4)
        expected = np.full(signal.shape[1], frequency_hz * 1.05)
        reached = reached_pitch_hz(signal, expected, rate, np.linspace(0.1, 0.8, 9))
        cents = 1200 * np.log2(reached / frequency_hz)
        assert np.abs(cents).max() < 2.0

    def test_sweep_is_followed_and_noise_has_no_pitch(self):
        t = np.arange(RATE) / RATE
        hz = 400.0 * 2.0 ** (-2.0 * t)
        signal = np.sin(2 * np.pi * np.cumsum(hz) / RATE)[np.newaxis]
        times = np.linspace(0.05, 0.9, 20)
        reached = reached_pitch_hz(signal, hz, RATE, times)
        expected = 400.0 * 2.0 ** (-2.0 * times)
        assert np.abs(12 * np.log2(reached / expected)).max() < 0.3
        noise = np.random.default_rng(3).normal(size=(1, RATE))
        assert np.isnan(reached_pitch_hz(noise, hz, RATE, times)).mean() > 0.9

    def test_knock_of_25_ms_is_seen_on_the_way_down(self):
        pitch = points((0, 24), (0.025, 0, 2))
        level = {"points": points((0, 0), (0.001, 1), (0.6, 0, 2))}
        sound = sound_with(level=level, pitch={"points": pitch})
        looked = details(sound, sound.hit, FINAL).layers["a"]
        early = [st for t, st in looked.track if t < 0.008]
        late = [st for t, st in looked.track if t > 0.05]
        assert max(early) > 8.0
        assert np.abs(late).max() < 0.1
        assert looked.landing_hz == pytest.approx(note_to_hz(60), rel=1e-3)

    def test_pitch_that_never_rests_lands_where_it_ends(self):
        level = {"points": points((0, 0), (0.001, 1), (0.5, 1), (0.51, 0))}
        sound = sound_with(level=level, pitch={"points": points((0, 0), (0.5, 24))})
        landed = details(sound, sound.hit, FINAL).layers["a"].landing_hz
        assert 12 * np.log2(landed / note_to_hz(60)) == pytest.approx(24, abs=0.7)


class TestHolds:
    def test_tap_and_long_hold_are_looked_at(self):
        level = {"points": points((0, 0), (0.002, 1)), "release": points((0.3, 0, 6))}
        sound = sound_with(level=level)
        tap, normal, long = details(sound, sound.hit, FINAL).holds
        assert details(sound, sound.hit, FINAL, holds=False).holds == []
        assert (tap.name, normal.name, long.name) == ("tap", "as set", "long")
        assert tap.length_s < normal.length_s < long.length_s
        assert long.hold_s == 3.0
        assert (normal.ringing.falls_s[2] - 0.25) == pytest.approx(0.3, abs=0.02)

    def test_a_hold_as_short_as_a_tap_is_looked_at_once(self):
        sound = load_sound({"name": "S", "hit": {"hold_s": 0.02}, "layers": []})
        assert [hold.name for hold in details(sound, sound.hit, FINAL).holds] == ["as set", "long"]


class TestClickAtTheEnd:
    def test_cut_sine_clicks_and_decayed_one_does_not(self):
        tone = sine(98.0, seconds=0.2, level=0.5)
        crest = round(0.1 * RATE / 98.0 * 98.0) + round(RATE / 98.0 / 4)
        assert ends_with_click(tone[:, :crest], RATE)
        fade = np.linspace(1.0, 0.0, tone.shape[1])
        assert not ends_with_click(tone * fade, RATE)

    @pytest.mark.parametrize(
        ("phase_deg", "level"),
        [
            (120.0, {"points": points((0, 0), (0.002, 1)), "release": points((0, 0))}),
            (40.0, {"points": points((0, 0), (0.002, 1), (0.2525, 1), (0.2525, 0))}),
        ],
    )
    def test_each_fix_removes_it(self, phase_deg, level):
        source = {"kind": "tone", "phase_deg": phase_deg}
        sound = sound_with(source=source, level=level)
        remark = remarks_on(sound)["click_end"]
        assert remark.at_s == pytest.approx(0.25, abs=0.005)
        assert remark.fixes
        for fix in remark.fixes:
            fixed = with_edits(sound, fix)
            assert "click_end" not in remarks_on(fixed), fix.label


class TestTuning:
    @pytest.mark.parametrize("cents", [31.0, -44.0])
    def test_off_pitch_is_told_and_retuned(self, cents):
        sound = sound_with(source={"kind": "tone", "fine_cent": cents})
        remark = remarks_on(sound)["off_pitch"]
        assert f"C4 {cents:+.0f} cents" in remark.text
        (fix,) = remark.fixes
        fixed = with_edits(sound, fix)
        assert "off_pitch" not in remarks_on(fixed)
        assert abs(measure(render(fixed).samples, RATE).cents) < 2.0

    def test_fine_pitch_beyond_its_range_moves_by_a_semitone(self):
        """What lies under the note by a curve is retuned upwards, whatever fine pitch is left."""
        source = {"kind": "tone", "fine_cent": 90.0}
        sound = sound_with(source=source, pitch={"points": points((0, -1.3))})
        fixed = with_edits(sound, remarks_on(sound)["off_pitch"].fixes[0])
        assert abs(measure(render(fixed).samples, RATE).cents) < 2.0
        assert abs(fixed.layers[0].source.fine_cent) <= 100.0

    def test_fixed_pitch_may_lie_anywhere(self):
        source = {"kind": "tone", "follows_note": False, "fixed_hz": 450.0}
        remarks = remarks_on(sound_with(source=source))
        assert "off_pitch" not in remarks
        assert "450.0 Hz" in remarks["tuning"].text

    def test_kick_is_told_where_kicks_lie(self, kick):
        assert "kicks: 35 to 70 Hz" in remarks_on(kick)["tuning"].text


class TestProbe:
    def reasons(self, sound):
        return [step for step in probe_silence(sound, sound.hit, FINAL) if step.reason]

    def test_heard_sound_has_no_reason(self, kick):
        walk = probe_silence(kick, kick.hit, FINAL)
        assert not [step for step in walk if step.reason or step.silent]
        assert walk[-1].where == "Output"

    @pytest.mark.parametrize(
        ("layer", "words"),
        [
            ({"mute": True}, "muted"),
            ({"level": {"points": points((0, 0))}}, "never leaves 0"),
            ({"level_db": -72, "level": {"points": points((0, 0.1), (1, 0))}}, "level is -72 dB"),
            (
                {"source": {"kind": "tone", "cycle": "partials", "partials": {"amplitudes": []}}},
                "no partials left",
            ),
            (
                {"level": {"points": points((0, 0), (9, 1, -10)), "release": points((0.1, 0))}},
                "hold ends before",
            ),
        ],
    )
    def test_first_silent_step_is_named_and_its_fix_is_heard(self, layer, words):
        sound = sound_with(**layer)
        step = self.reasons(sound)[0]
        assert words in step.reason
        fixed = with_edits(sound, step.fixes[0])
        assert measure(render(fixed).samples, RATE).peak_db > -40.0

    def test_filter_main_level_and_solo(self):
        tone = {"id": "a", "name": "A", "source": {"kind": "tone"}}
        cut = {"id": "f", "kind": "filter", "response": "low_pass", "slope_db": 24}
        high = {**tone, "source": {"kind": "tone", "follows_note": False, "fixed_hz": 15000.0}}
        closed = {**cut, "cutoff_hz": 20.0}
        sound = load_sound({"name": "S", "layers": [high], "main": {"chain": [closed]}})
        assert "filter outputs nothing" in self.reasons(sound)[0].reason
        other = {**tone, "id": "b", "name": "B", "solo": True, "mute": True}
        sound = load_sound({"name": "S", "layers": [tone, other]})
        assert [step.reason for step in self.reasons(sound)] == [
            "Another layer is solo",
            "The layer is muted",
        ]
        assert "no layer" in self.reasons(load_sound({"name": "S"}))[0].reason


class TestRepeats:
    def test_same_each_hit_is_identical_and_new_noise_is_not(self):
        level = {"points": points((0, 1), (0.2, 0, 3))}
        same = compare_repeats(sound_with(source={"kind": "noise"}, level=level), FINAL)
        assert same.identical
        assert same.difference_db == -144.0
        source = {"kind": "noise", "new_each_hit": True}
        memory = StageMemory()
        other = compare_repeats(sound_with(source=source, level=level), FINAL, memory=memory)
        # Two noises that share nothing differ by 3 dB more than either.
        assert not other.identical
        assert other.difference_db == pytest.approx(3.0, abs=0.7)
        assert 0.0 < other.loudness_spread_db < 2.0

    def test_random_start_phase_shows_as_unlike_hits(self):
        level = {"points": points((0, 1), (0.02, 0, 3))}
        source = {"kind": "tone", "phase_random": 1.0, "octave": -3}
        compared = compare_repeats(sound_with(source=source, level=level), FINAL)
        assert compared.peak_spread_db > 1.0


def test_checks_take_the_hit_that_was_played(kick):
    played = kick.hit.model_copy(update={"note": 40})
    rendering = render_with_trace(kick, played)
    measures = measure(rendering.audio.samples, RATE)
    remarks = check_sound(kick, rendering, measures, played)
    assert any("E2" in remark.text for remark in remarks)
