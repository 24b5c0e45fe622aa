"""Test phrases, stock shapes, the common pitch curve, and a sound as a list."""

import numpy as np
import pytest

from nest_crate.core.analysis.measures.pitch import pitch_track
from nest_crate.core.dsp.util.curves import curve_signal
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.engine.phrases import PHRASES, render_phrase
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.kinds import declarations
from nest_crate.core.sound.recipe import recipe
from nest_crate.core.sound.shapes import STOCK_SHAPES
from nest_crate.core.units import note_to_hz
from tests.core.test_judging import points

RATE = 48000


def pitch_at(signal, time_s):
    track = pitch_track(signal, RATE)
    return track.pitch_hz[np.argmin(np.abs(track.time_s - time_s))]


class TestPhrases:
    def test_each_is_a_sum_of_its_hits(self, kick):
        tap = kick.hit.model_copy(update={"hold_s": 0.03})
        hold = kick.hit.model_copy(update={"hold_s": 4 * 60 / 96, "number": 2})
        phrase = render_phrase(kick, "tap_and_hold", RenderSettings()).samples
        start = round(4 * 60 / 96 * RATE)
        first, second = render(kick, tap).samples, render(kick, hold).samples
        np.testing.assert_array_equal(phrase[:, : first.shape[1]], first)
        length = second.shape[1] - 600
        np.testing.assert_array_equal(phrase[:, start : start + length], second[:, :length])

    def test_scale_goes_up_by_its_steps(self):
        layer = {"id": "a", "name": "A", "source": {"kind": "tone"}}
        sound = load_sound({"name": "S", "tempo_bpm": 60, "layers": [layer]})
        audio = render_phrase(sound, "scale", RenderSettings())
        for n, step in enumerate((0, 2, 4, 5, 7, 9, 11, 12)):
            assert pitch_at(audio.samples, 0.5 * n + 0.2) == pytest.approx(
                note_to_hz(60 + step), rel=2e-3
            )

    @pytest.mark.parametrize("name", PHRASES)
    def test_every_phrase_ends_in_silence_within_30_s(self, name):
        layer = {"id": "a", "name": "A", "source": {"kind": "tone"}}
        layer["level"] = {"points": points((0, 1))}
        sound = load_sound({"name": "S", "tempo_bpm": 20, "layers": [layer], "hit": {"note": 120}})
        audio = render_phrase(sound, name, RenderSettings(quality="draft"))
        assert audio.length_s <= 30.0
        assert np.abs(audio.samples[:, -1]).max() < 1e-6

    def test_unknown_phrase_is_refused(self, kick):
        with pytest.raises(DocumentError, match="none of"):
            render_phrase(kick, "solo", RenderSettings())


class TestStockShapes:
    @pytest.mark.parametrize("shape", STOCK_SHAPES, ids=lambda shape: shape.name)
    def test_fills_its_unit_square(self, shape):
        times = [point.time_s for point in shape.curve.points]
        values = curve_signal(shape.curve, frames=1001, sample_rate=1000, hold_s=0.0)
        assert (times[0], times[-1]) == (0.0, 1.0)
        assert values.min() >= 0.0
        assert values.max() == pytest.approx(1.0, abs=0.02)
        assert shape.curve.points[-1].value in (0.0, 1.0)

    def test_names_are_each_their_own(self):
        assert len({shape.name for shape in STOCK_SHAPES}) == len(STOCK_SHAPES)


class TestCommonPitch:
    def sound(self, *, follows, delay_s=0.0):
        source = {"kind": "tone"}
        layer = {"id": "a", "name": "A", "source": source, "follows_pitch": follows}
        layer["delay_s"] = delay_s
        common = {"points": points((0, 0), (0.4, 0), (0.4, 12), (2, 12))}
        hit = {"hold_s": 1.0, "note": 60}
        return load_sound({"name": "S", "pitch": common, "layers": [layer], "hit": hit})

    def test_layer_follows_or_not(self):
        for follows, expected in ((True, note_to_hz(72)), (False, note_to_hz(60))):
            samples = render(self.sound(follows=follows)).samples
            assert pitch_at(samples, 0.2) == pytest.approx(note_to_hz(60), rel=1e-3)
            assert pitch_at(samples, 0.8) == pytest.approx(expected, rel=1e-3)

    def test_runs_from_the_start_of_the_hit_not_of_the_layer(self):
        late = render(self.sound(follows=True, delay_s=0.3)).samples
        assert pitch_at(late, 0.7) == pytest.approx(note_to_hz(72), rel=1e-3)

    def test_adds_to_the_layers_own_curve(self):
        sound = self.sound(follows=True)
        down = {"points": points((0, -12))}
        layer = sound.layers[0].model_copy(
            update={"pitch": load_sound({"name": "x", "pitch": down}).pitch}
        )
        moved = sound.model_copy(update={"layers": (layer,)})
        assert pitch_at(render(moved).samples, 0.8) == pytest.approx(note_to_hz(60), rel=1e-3)


class TestRecipe:
    def test_names_every_parameter_with_its_unit(self, kick):
        text = recipe(kick)
        assert "Note: G1 (49.0 Hz)" in text
        assert "Hold: 180 ms" in text
        assert "Start phase: 0°" in text
        assert "28 ms: +7 st, bend 2.5" in text
        tone = declarations()["sources"]["tone"]["parameters"]
        for parameter in tone:
            assert f"{parameter['label']}: " in text

    def test_loops_releases_partials_and_common_pitch_are_written(self):
        layer = {
            "id": "a",
            "name": "A",
            "source": {
                "kind": "tone",
                "cycle": "partials",
                "partials": {"amplitudes": [1, 0, 0.5]},
                "unison": {"voices": 3},
            },
            "level": {
                "points": points((0, 0), (0.1, 1), (0.2, 0.5)),
                "release": points((1.5, 0, 3)),
                "loop": {"start": 1, "end": 2},
            },
        }
        text = recipe(
            load_sound({"name": "S", "layers": [layer], "pitch": {"points": points((0, 2))}})
        )
        for line in (
            "Amplitudes: 1: 100 %, 3: 50 %",
            "Voices: 3",
            "after the hold 1.5 s: 0 %, bend 3",
            "loops from point 2 to 3 while held",
            "Common pitch curve",
        ):
            assert line in text

    def test_movers_say_what_they_move_and_how_far(self, kick):
        movers = [
            {"id": "w", "name": "Wobble", "kind": "lfo", "rate_hz": 3},
            {"id": "d", "name": "Depth", "kind": "macro", "value": 0.4},
        ]
        links = [
            {"mover": "w", "target": "tone-down.cutoff_hz", "amount": -2, "scaled_by": "d"},
            {"mover": "d", "target": "body.pitch_st", "amount": 5, "bend": 2},
        ]
        data = {**kick.model_dump(mode="json"), "movers": movers, "links": links}
        text = recipe(load_sound(data))
        assert "Mover: Wobble (LFO)" in text
        assert "Moves Filter, Cutoff: -2 oct, scaled by Depth" in text
        assert "Moves Body, Pitch: +5 st, bend 2" in text
