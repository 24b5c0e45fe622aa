"""Demo sounds with effects, measured: each does what it was built to show."""

from itertools import pairwise

import numpy as np
import pytest
from scipy.signal import welch

from nest_crate.core.analysis.measures.ring_time import ringing
from nest_crate.core.analysis.measures.stereo import stereo_figures
from nest_crate.core.analysis.pictures.processor_look import look_at_processor
from nest_crate.core.dsp.dynamics.loudness import true_peak_db
from nest_crate.core.engine import RenderSettings, render, render_with_trace
from nest_crate.core.sound import load_sound
from tests.core.spectra import spectrum
from tests.core.test_demo_sounds import RATE, band_db, demo, test_no_check_complains

NAMES = (
    "collapsing-arch-boom",
    "lily-squelch-zap",
    "cistern-wash-drone",
    "coal-hatch-kick",
    "dew-chime-mallet",
    "bent-vane-bell",
    "foundry-tail-horn",
    "night-moth-pad",
)


@pytest.mark.parametrize("name", NAMES)
def test_no_check_complains_of_effects(name):
    test_no_check_complains(name)


def changed(sound, identifier, **fields):
    """The sound with one processor of the main chain or of a layer's set otherwise."""
    data = sound.model_dump(mode="json")
    chains = [data["main"]["chain"], *(layer["chain"] for layer in data["layers"])]
    part = next(one for chain in chains for one in chain if one["id"] == identifier)
    part.update(fields)
    return load_sound(data)


def with_macro(sound, identifier, value):
    data = sound.model_dump(mode="json")
    next(one for one in data["movers"] if one["id"] == identifier)["value"] = value
    return load_sound(data)


def level_db(signal):
    return 10 * np.log10(np.mean(signal**2) + 1e-20)


class TestBoom:
    def test_its_low_end_is_mono_and_its_tail_wide_and_long(self):
        samples = render(demo("collapsing-arch-boom")).samples
        figures = stereo_figures(samples, RATE)
        assert figures.low_correlation > 0.999
        assert figures.mono_loss_db > -0.1
        late = samples[:, RATE : 2 * RATE]
        assert np.corrcoef(late - late.mean(axis=1, keepdims=True))[0, 1] < 0.999
        assert ringing(samples, RATE).falls_s[2] > 2.0

    def test_the_slow_compressor_lets_the_hit_through_and_the_ceiling_holds(self):
        sound = demo("collapsing-arch-boom")
        looked = look_at_processor(sound, sound.hit, RenderSettings(), "hold")
        assert looked.after.transient_db > looked.before.transient_db - 1.0
        gain = looked.gains[0].gain_db
        assert gain.min() < -2.0
        assert looked.gains[0].time_s[np.argmin(gain)] > 0.05
        louder = changed(sound, "top", gain_db=12)
        assert true_peak_db(render(louder).samples) <= -1.0

    def test_the_low_lift_lifts(self):
        sound = demo("collapsing-arch-boom")
        flat = changed(sound, "lift", on=False)
        raised, before = (
            look_at_processor(one, one.hit, RenderSettings(), "lift").after.spectrum_db
            for one in (sound, flat)
        )
        assert raised[8] - before[8] == pytest.approx(4.5, abs=1.0)


class TestSquelch:
    def test_echoes_come_by_dotted_eighths_from_side_to_side(self):
        sound = demo("lily-squelch-zap")
        samples = render(sound).samples
        dotted_s = 0.75 * 60 / sound.tempo_bpm
        dry = render(changed(sound, "across", on=False)).samples
        wet = samples[:, : dry.shape[1]] * 1.0
        assert wet.shape[0] == 2
        sides = []
        for echo in (1, 2, 3):
            start = round(echo * dotted_s * RATE)
            cut = samples[:, start : start + round(0.15 * RATE)]
            sides.append(level_db(cut[0]) - level_db(cut[1]))
        assert sides[0] > 3
        assert sides[1] < -3
        assert sides[2] > 3

    def test_the_reducer_folds_what_it_cannot_carry(self):
        sound = demo("lily-squelch-zap")
        plain, cut = (
            render(changed(changed(sound, "across", on=False), "grit", on=on)).samples
            for on in (False, True)
        )
        assert band_db(cut, 6000, 16000) > band_db(plain, 6000, 16000) + 12

    def test_the_band_falls_with_the_curve(self):
        samples = render(changed(demo("lily-squelch-zap"), "across", on=False)).samples[0]
        tops = []
        for start in (0.005, 0.1):
            cut = samples[round(start * RATE) :][:2400]
            hz, power = welch(cut, RATE, nperseg=1200)
            tops.append((hz * power).sum() / power.sum())
        assert tops[0] > 2 * tops[1]


class TestWash:
    def test_the_chorus_rings_at_its_delay_and_moves(self):
        sound = demo("cistern-wash-drone")
        looked = look_at_processor(sound, sound.hit, RenderSettings(), "pipes")
        ringing_db = np.ptp(looked.after.spectrum_db - looked.before.spectrum_db)
        assert ringing_db > 12

    def test_the_tide_goes_through_the_hard_drive(self):
        samples = render(demo("cistern-wash-drone")).samples
        shares = [
            band_db(samples[:, n * RATE : (n + 1) * RATE], 1500, 6000)
            - band_db(samples[:, n * RATE : (n + 1) * RATE], 60, 300)
            for n in range(2, 7)
        ]
        assert np.ptp(shares) > 4

    def test_the_room_goes_on_for_seconds(self):
        samples = render(demo("cistern-wash-drone")).samples
        assert samples.shape[1] > 12 * RATE


class TestCoalHatch:
    def test_the_ratio_is_at_its_most_and_what_is_loud_comes_out_level(self):
        sound = demo("coal-hatch-kick")
        looked = look_at_processor(sound, sound.hit, RenderSettings(), "crush")
        assert sound.main.chain[0].ratio == 50
        assert min(looked.gains[0].gain_db) < -12
        body = []
        for one in (sound, changed(sound, "crush", on=False)):
            samples = render(one).samples
            body.append(level_db(samples[:, 960:2400]) - level_db(samples[:, 5760:8640]))
        assert body[0] < body[1] - 6

    def test_the_beater_clicks_first_and_is_soon_gone(self):
        samples = render(demo("coal-hatch-kick")).samples
        early, late = samples[:, :720], samples[:, 2400:4800]
        assert band_db(early, 2000, 8000) - band_db(early, 30, 200) > -22
        assert band_db(late, 2000, 8000) - band_db(late, 30, 200) < -45

    def test_three_bands_do_what_they_say(self):
        sound = demo("coal-hatch-kick")
        looked = look_at_processor(sound, sound.hit, RenderSettings(), "cut")
        change = looked.after.spectrum_db - looked.before.spectrum_db
        at = [int(np.argmin(np.abs(looked.spectrum_hz - hz))) for hz in (340, 3200)]
        np.testing.assert_allclose(change[at], [-5.5, 4.5], atol=1.2)


class TestMallet:
    @pytest.mark.parametrize(("echo", "beats"), [("straight", 0.5), ("dotted", 0.75)])
    def test_echoes_come_when_they_should(self, echo, beats):
        """What a delay adds begins its own time after the hit."""
        sound = changed(demo("dew-chime-mallet"), "glasshouse", on=False)
        silent = changed(sound, echo, level_db=0, mix=0)
        data = silent.model_dump(mode="json")
        data["links"] = [one for one in data["links"] if one["target"] != f"{echo}.mix"]
        wet, dry = (render(one).samples for one in (sound, load_sound(data)))
        frames = min(wet.shape[1], dry.shape[1])
        # The mix takes from the dry sound what it gives to the echoes.
        before = slice(0, 4800)
        share = np.sum(wet[0, before] * dry[0, before]) / np.sum(dry[0, before] ** 2)
        added = np.abs(wet[:, :frames] - share * dry[:, :frames]).max(axis=0) / np.abs(wet).max()
        start = round(beats * 60 / sound.tempo_bpm * RATE)
        assert added[: start - 48].max() < 1e-3
        assert added[start : start + 960].max() > 0.02

    def test_macros_bring_echoes_and_distance(self):
        sound = demo("dew-chime-mallet")
        tails = []
        for echoes, distance in ((0.0, 0.0), (1.0, 0.0), (0.0, 1.0)):
            one = with_macro(with_macro(sound, "echoes", echoes), "distance", distance)
            samples = render(one).samples
            tails.append(level_db(samples[:, RATE:]) - level_db(samples[:, : RATE // 4]))
        assert tails[1] > tails[0] + 3
        assert tails[2] > tails[0] + 3


class TestBentBell:
    @pytest.mark.parametrize("value", [0.0, 0.5, 1.0])
    def test_the_macro_moves_every_partial_by_the_same_hertz(self, value):
        sound = changed(with_macro(demo("bent-vane-bell"), "bent", value), "yard", on=False)
        hz, magnitudes = spectrum(render(sound).samples[0, 2400 : 2400 + RATE], RATE)
        hum_hz = 440 * 2 ** ((64 - 69) / 12)
        shift_hz = 1.0 * 2 ** (9.5 * value)
        for ratio in (1.0, 2.4):
            near = np.abs(hz - ratio * hum_hz - shift_hz) < 20
            found = hz[near][np.argmax(magnitudes[near])]
            assert found == pytest.approx(ratio * hum_hz + shift_hz, abs=1.5)


class TestFoundryHorn:
    def test_the_tail_is_distorted_with_the_horn(self):
        """With the drive before the room the tail is clean, and falls sooner."""
        sound = demo("foundry-tail-horn")
        chain = sound.main.chain
        other = sound.model_copy(
            update={"main": sound.main.model_copy(update={"chain": (chain[1], chain[0], chain[2])})}
        )
        falls = []
        for one in (sound, other):
            samples = render(one).samples
            start = round(1.2 * RATE)
            falls.append(
                level_db(samples[:, start:][:, : RATE // 2])
                - level_db(samples[:, RATE // 4 : RATE // 2])
            )
        assert falls[0] > falls[1] + 4

    def test_its_low_end_stays_in_the_middle(self):
        samples = render(demo("foundry-tail-horn")).samples
        assert stereo_figures(samples, RATE).mono_loss_db > -0.5


class TestNightPad:
    def test_strings_ring_a_tritone_apart(self):
        sound = demo("night-moth-pad")
        rendering = render_with_trace(sound)
        hz, magnitudes = spectrum(rendering.layers["breath"][0, RATE : 4 * RATE], RATE)
        note_hz = 440 * 2 ** ((50 - 69) / 12)
        for semitones in (0, 6, 12, 18):
            wanted = note_hz * 2 ** (semitones / 12)
            near = (hz > wanted * 2 ** (-1 / 24)) & (hz < wanted * 2 ** (1 / 24))
            beside = (hz > wanted * 2 ** (2.5 / 12)) & (hz < wanted * 2 ** (3.5 / 12))
            assert magnitudes[near].max() > 4 * magnitudes[beside].max(), semitones

    def test_its_room_takes_nine_seconds(self):
        sound = demo("night-moth-pad")
        room = next(part for part in sound.main.chain if part.kind == "room")
        assert room.decay_s == 9
        samples = render(sound).samples
        end_s = samples.shape[1] / RATE
        # The hold of 4 s and its release, and then most of the nine seconds.
        assert 10.0 < end_s < 16.0
        late = [level_db(samples[:, n * RATE : (n + 1) * RATE]) for n in (7, 8, 9)]
        assert all(-11 < after - before < -4 for before, after in pairwise(late))
