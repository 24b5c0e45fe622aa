"""Remarks on effects speak where something is wrong, are quiet elsewhere, and their fixes fix."""

import numpy as np
import pytest

from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.checks.register import look_over_keys
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.measures.spectra import (
    band_middles_hz,
    band_spectrum_db,
    resonances,
    standing_out,
)
from nest_crate.core.analysis.measures.stereo import stereo_figures
from nest_crate.core.analysis.pictures.processor_look import look_at_processor
from nest_crate.core.dsp.dynamics.transients import transient_db
from nest_crate.core.engine import RenderSettings, render, render_with_trace
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import dump_sound, load_sound

RATE = 48000
N = np.arange(RATE)
SHORT = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.4, "value": 0, "bend": 3}]}


def sound(chain=(), source=None, **main):
    layer = {
        "id": "a",
        "name": "A",
        "source": source or {"kind": "noise"},
        "level_db": -12,
        "level": SHORT,
    }
    return load_sound(
        {
            "name": "S",
            "layers": [layer],
            "main": {"chain": list(chain), **main},
            "hit": {"note": 33},
        }
    )


def remarks(one):
    rendering = render_with_trace(one)
    found = check_sound(one, rendering, measure(rendering.audio.samples, RATE))
    return {remark.code: remark for remark in found}


def fixed(one, remark, which=0):
    """The sound with a remark's fix made, as the screen makes it."""
    data = one.model_dump(mode="json")
    for edit in remark.fixes[which].edits:
        *way, last = edit.path.split(".")
        node = data
        for key in way:
            node = node[int(key)] if isinstance(node, list) else node[key]
        node[int(last) if isinstance(node, list) else last] = edit.value
    return load_sound(data)


class TestRemarks:
    CODES = ("stereo_low", "resonance", "long_tail", "lost_hit", "over_ceiling", "idle_processor")

    def test_they_are_quiet_where_nothing_is_wrong(self):
        assert not set(self.CODES) & set(remarks(sound([{"id": "d", "kind": "delay"}])))

    def test_stereo_in_the_low_end_is_made_mono(self):
        tone = {"kind": "tone", "fixed_hz": 60, "follows_note": False}
        one = sound([{"id": "c", "kind": "chorus", "mix": 1, "depth_s": 0.005}], tone)
        found = remarks(one)["stereo_low"]
        assert "mono loses" in found.text
        assert "stereo_low" not in remarks(fixed(one, found))

    def test_a_resonance_is_cut(self):
        peak = {"id": "p", "kind": "filter", "response": "peak", "cutoff_hz": 1800}
        one = sound([{**peak, "resonance": 30, "gain_db": 30}])
        found = remarks(one)["resonance"]
        assert float(found.text.split(" at ")[1].split(" ")[0]) == pytest.approx(1800, rel=0.02)
        before, after = (
            standing_out(render_with_trace(each).audio.samples, RATE, tonal=False)
            for each in (one, fixed(one, found))
        )
        assert after is None or after.over_db < before.over_db - 6

    def test_a_long_room_that_rings_is_found(self):
        room = {"id": "r", "kind": "room", "mix": 1, "size_m": 3, "damping_hz": 20000}
        one = sound([{**room, "decay_s": 20}])
        found = remarks(one)["rings"]
        hz = float(found.text.split()[-2])
        tail = render(one, settings=RenderSettings(length_s=12.0)).samples[0, 2 * RATE :]
        power = np.abs(np.fft.rfft(tail * np.hanning(tail.size))) ** 2
        at = np.fft.rfftfreq(tail.size, 1 / RATE)
        around = np.abs(np.log2(np.maximum(at, 1.0) / hz)) < 1 / 6
        line = np.abs(at - hz) < 1.0
        assert 10 * np.log10(power[line].max() / np.median(power[around])) > 18.0
        # Moved, at most what is too low for that is left.
        moved = remarks(fixed(one, found)).get("rings")
        assert hz > 1000
        assert moved is None or float(moved.text.split()[-2]) < 1000
        half = fixed(one, found, -1)
        assert half.main.chain[0].decay_s == 10.0
        assert "rings" not in remarks(sound([{**room, "decay_s": 20, "on": False}]))

    @pytest.mark.parametrize("size_m", [1, 12, 60])
    def test_shorter_rooms_ring_nowhere(self, size_m):
        for decay_s in (0.3, 1.4, 4.0, 5.0):
            room = {"id": "r", "kind": "room", "size_m": size_m, "decay_s": decay_s}
            assert "rings" not in remarks(sound([room]))

    def test_partials_of_a_tone_are_no_resonance(self):
        assert "resonance" not in remarks(sound((), {"kind": "tone", "shape": 2}))

    def test_a_tail_longer_than_asked_is_faded(self):
        one = sound([{"id": "r", "kind": "room", "decay_s": 2}], end_by_s=0.8)
        found = remarks(one)["long_tail"]
        assert found.at_s == 0.8
        repaired = fixed(one, found)
        assert "long_tail" not in remarks(repaired)
        assert render_with_trace(repaired).audio.length_s < 0.87

    def test_a_hit_lost_in_a_ceiling_gets_less_gain(self):
        tick = {
            "points": [
                {"time_s": 0, "value": 1},
                {"time_s": 0.01, "value": 0.1},
                {"time_s": 0.4, "value": 0.1},
                {"time_s": 0.5, "value": 0},
            ]
        }
        one = sound([{"id": "c", "kind": "ceiling", "gain_db": 24}])
        data = one.model_dump(mode="json")
        data["layers"][0]["level"] = tick
        one = load_sound(data)
        found = remarks(one)["lost_hit"]
        again = fixed(one, found)
        assert again.main.chain[0].gain_db < 24
        assert remarks(one)["lost_hit"].text != getattr(remarks(again).get("lost_hit"), "text", "")

    def test_a_ceiling_that_is_passed_goes_last(self):
        ceiling = {"id": "c", "kind": "ceiling", "ceiling_db": -6, "gain_db": 12}
        one = sound([ceiling, {"id": "g", "kind": "gain", "gain_db": 5}])
        found = remarks(one)["over_ceiling"]
        assert "over the limiter's ceiling of -6 dB" in found.text
        assert "over_ceiling" not in remarks(fixed(one, found))

    def test_a_processor_that_does_nothing_is_named_and_switched_off(self):
        quiet = {"id": "k", "kind": "compressor", "threshold_db": 0}
        one = sound([quiet])
        found = remarks(one)["idle_processor"]
        assert found.text == "Main compressor has no effect"
        assert not fixed(one, found).main.chain[0].on

    def test_a_processor_that_a_macro_brings_in_has_an_effect(self):
        part = {"id": "d", "kind": "drive", "drive_db": 24, "mix": 0.0}
        data = sound([part]).model_dump(mode="json")
        data["movers"] = [{"id": "m", "name": "More", "kind": "macro", "value": 0.0}]
        data["links"] = [{"mover": "m", "target": "d.mix", "amount": 1.0}]
        assert "idle_processor" in remarks(load_sound(data))
        data["movers"][0]["value"] = 1.0
        assert "idle_processor" not in remarks(load_sound(data))


class TestStereoFigures:
    def test_they_are_the_formulas(self):
        left, right = np.random.default_rng(2).normal(size=(2, RATE))
        both = np.stack([left, 0.5 * left + right])
        found = stereo_figures(both, RATE)
        wanted = np.sum(both[0] * both[1]) / np.sqrt(np.prod(np.sum(both**2, axis=1)))
        assert found.correlation == pytest.approx(wanted, abs=1e-3)
        middle, side = both.sum(axis=0) / 2, (both[0] - both[1]) / 2
        ratio = 10 * np.log10(np.sum(side**2) / np.sum(middle**2))
        assert found.side_db[3] == pytest.approx(ratio, abs=0.3)

    def test_opposite_sides_vanish_in_mono_and_equal_ones_do_not(self):
        tone = np.sin(2 * np.pi * 70 * N / RATE)
        assert stereo_figures(np.stack([tone, -tone]), RATE).mono_loss_db < -60
        same = stereo_figures(np.stack([tone, tone]), RATE)
        assert same.mono_loss_db == pytest.approx(0, abs=0.01)
        assert same.low_correlation == pytest.approx(1)
        quarter = np.cos(2 * np.pi * 70 * N / RATE)
        assert stereo_figures(np.stack([tone, quarter]), RATE).mono_loss_db == pytest.approx(
            -3.01, abs=0.05
        )


class TestSpectra:
    def test_pink_noise_is_level_and_a_full_scale_sine_reads_0_db(self):
        rng = np.random.default_rng(8)
        hz = np.fft.rfftfreq(8 * RATE, 1 / RATE)
        shape = np.where(hz > 10, 1 / np.sqrt(np.maximum(hz, 1)), 0)
        pink = np.fft.irfft(np.fft.rfft(rng.normal(size=8 * RATE)) * shape)[np.newaxis]
        at = band_middles_hz(RATE, bands=40)
        level = band_spectrum_db(pink, RATE, bands=40)
        assert np.std(level[(at > 100) & (at < 15000)]) < 0.7
        tone = np.sin(2 * np.pi * 1000 * N / RATE)[np.newaxis]
        level = band_spectrum_db(tone, RATE)
        assert level.max() == pytest.approx(0.0, abs=0.3)

    def test_resonances_are_found_where_they_are(self):
        from scipy.signal import iirpeak, lfilter

        noise = np.random.default_rng(1).normal(size=RATE) * 0.05
        rung = noise + sum(40 * lfilter(*iirpeak(hz, 300, fs=RATE), noise) for hz in (900, 3300))
        found = sorted(one.hz for one in resonances(rung[np.newaxis], RATE)[:2])
        assert found == pytest.approx([900, 3300], rel=0.02)

    def test_silence_has_none(self):
        assert resonances(np.zeros((1, RATE)), RATE) == []


class TestLook:
    def test_a_compressors_look_tells_levels_gain_and_the_lost_hit(self):
        chain = [{"id": "k", "kind": "compressor", "threshold_db": -40, "ratio": 8, "attack_s": 0}]
        one = sound(chain)
        looked = look_at_processor(one, one.hit, RenderSettings(), "k")
        assert looked.after.peak_db < looked.before.peak_db - 5
        assert looked.after.transient_db < looked.before.transient_db - 2
        assert min(looked.gains[0].gain_db) < -10
        assert looked.change_db > 5

    def test_off_it_is_the_same_before_and_after(self):
        one = sound([{"id": "k", "kind": "drive", "on": False}])
        looked = look_at_processor(one, one.hit, RenderSettings(), "k")
        assert looked.before.peak_db == looked.after.peak_db
        assert looked.change_db == 0.0
        assert looked.gains == []

    def test_a_room_with_a_low_cut_keeps_lows_out_of_its_tail(self):
        lows = []
        for low_cut_hz in (10, 400):
            room = {"id": "r", "kind": "room", "mix": 1, "low_cut_hz": low_cut_hz, "decay_s": 2}
            one = sound([room], {"kind": "noise", "colour_db": -6})
            lows.append(look_at_processor(one, one.hit, RenderSettings(), "r").after.low_tail_db)
        assert lows[1] < lows[0] - 6

    def test_multiband_has_a_curve_for_each_band(self):
        one = sound([{"id": "m", "kind": "multiband"}])
        looked = look_at_processor(one, one.hit, RenderSettings(), "m")
        assert [one.band for one in looked.gains] == ["low", "middle", "high"]

    def test_one_that_is_not_there_is_told(self):
        with pytest.raises(DocumentError, match="no processor 'gone'"):
            look_at_processor(sound(), sound().hit, RenderSettings(), "gone")


def test_the_hit_over_what_follows_is_measured():
    fall = np.where(N < 480, 1.0, 0.1) * np.sign(np.sin(2 * np.pi * 500 * N / RATE))
    assert transient_db(fall[np.newaxis], RATE) == pytest.approx(20, abs=0.2)
    assert transient_db(np.zeros((2, 100)), RATE) is None


def test_a_sound_that_gets_harsh_upwards_is_tilted_by_key():
    harsh = {"kind": "tone", "shape": 2}
    one = sound((), harsh)
    settings = RenderSettings()
    found = look_over_keys(one, one.hit, settings)
    by_note = {reading.note: reading for reading in found.readings}
    assert by_note[90].harsh_db > by_note[36].harsh_db + 6
    assert by_note[24].low_db > by_note[90].low_db + 20
    data = one.model_dump(mode="json")
    for edit in found.fixes[0].edits:
        where, _, name = edit.path.partition(".")
        target = data[where] if name else data
        target[name or where] = edit.value
    again = look_over_keys(load_sound(data), one.hit, settings)
    after = {reading.note: reading for reading in again.readings}
    # Nothing changes where it was made; the top is softer.
    assert after[30].loudness_lufs == pytest.approx(by_note[30].loudness_lufs, abs=0.5)
    assert after[96].loudness_lufs < by_note[96].loudness_lufs - 3


class TestLowEnd:
    """Against what a library holds of the same kind."""

    def remark(self, sound, **typical):
        from nest_crate.core.analysis.checks.low_end import check_low_end
        from nest_crate.core.analysis.measures.figures import measure

        facts = {"median_db": -2.0, "count": 5, "kind": "kick", **typical}
        audio = render(sound)
        return check_low_end(sound, measure(audio.samples, audio.sample_rate), **facts)

    def thin(self):
        """A tone at 90 Hz 12 dB below one at 700 Hz."""
        layers = [
            {
                "id": name,
                "name": name,
                "level_db": level_db,
                "source": {"kind": "tone", "follows_note": False, "fixed_hz": hz},
            }
            for name, hz, level_db in (("low", 90.0, -24.0), ("high", 700.0, -12.0))
        ]
        return load_sound({"name": "Thin kick", "layers": layers, "hit": {"hold_s": 0.5}})

    def test_a_thin_one_is_told_and_its_fix_raises_the_low_end(self):
        sound = self.thin()
        found = self.remark(sound)
        assert found.code == "thin_low_end"
        assert "−12 dB" in found.text
        document = dump_sound(sound)
        document["main"]["chain"] = found.fixes[0].edits[0].value
        from nest_crate.core.analysis.measures.stereo import stereo_figures

        shares = [
            stereo_figures(render(one).samples, 48000).low_share_db
            for one in (sound, load_sound(document))
        ]
        # A shelf's corner lies at half its gain; 90 Hz lies a little below it.
        assert shares[1] - shares[0] > 4.0

    def test_it_is_quiet_where_little_is_known_or_little_is_missing(self, kick):
        assert self.remark(self.thin(), count=2) is None
        assert self.remark(self.thin(), median_db=-20.0) is None
        assert self.remark(self.thin(), median_db=-8.0) is None
        assert self.remark(kick) is None
