import subprocess
from pathlib import Path

import numpy as np
import pyloudnorm
import pytest
from scipy.signal import firwin, lfilter, resample_poly

from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.measures.pitch import landing_pitch_hz, pitch_track
from nest_crate.core.analysis.pictures.outlines import FLOOR_DB, outline, spectrogram
from nest_crate.core.dsp.dynamics.loudness import integrated_loudness_lufs, true_peak_db
from nest_crate.core.engine import render, render_with_trace
from nest_crate.core.formats.wav import encode_wav
from nest_crate.core.sound import Hit, dump_sound, load_sound
from nest_crate.core.units import SILENCE_DB


def sine(frequency_hz, *, seconds=1.0, rate=48000, level=1.0, phase=0.0):
    t = np.arange(int(seconds * rate)) / rate
    return level * np.sin(2 * np.pi * frequency_hz * t + phase)[np.newaxis]


class TestLoudness:
    def test_full_scale_997_hz_in_one_channel_is_minus_3_01(self):
        """The standard's own example (BS.1770-5, Annex 1)."""
        signal = sine(997, seconds=5)
        assert integrated_loudness_lufs(signal, 48000) == pytest.approx(-3.01, abs=0.02)

    @pytest.mark.parametrize("rate", [44100, 48000, 96000])
    @pytest.mark.parametrize("channels", [1, 2])
    def test_agrees_with_an_independent_meter(self, rate, channels):
        rng = np.random.default_rng(3)
        signal = rng.uniform(-1, 1, (channels, 3 * rate)) * np.geomspace(1, 1e-3, 3 * rate)
        theirs = pyloudnorm.Meter(rate, filter_class="DeMan").integrated_loudness(signal.T)
        assert integrated_loudness_lufs(signal, rate) == pytest.approx(theirs, abs=0.05)

    def test_short_sound_is_measured_as_one_padded_block(self):
        """A tenth of a block of steady tone is 6 dB below four tenths of it."""
        short, longer = (sine(1000, seconds=s) for s in (0.1, 0.4))
        difference = integrated_loudness_lufs(longer, 48000) - integrated_loudness_lufs(
            short, 48000
        )
        assert difference == pytest.approx(10 * np.log10(4), abs=0.05)

    def test_silence_has_the_stated_level(self):
        assert integrated_loudness_lufs(np.zeros((1, 100)), 48000) == SILENCE_DB


class TestTruePeak:
    def test_peak_between_samples_is_found(self):
        """A quarter-rate sine at 45 degrees: samples at -3.01 dB, the wave at 0 dB."""
        signal = sine(12000, phase=np.pi / 4)
        assert measure(signal, 48000).peak_db == pytest.approx(-3.01, abs=0.01)
        # The standard allows 4 times oversampling 0.688 dB of under-reading; ends of the tone ring.
        assert true_peak_db(signal[:, 100:-100]) == pytest.approx(0.0, abs=0.7)

    def test_agrees_with_an_independent_resampler(self):
        noise = np.random.default_rng(7).uniform(-0.5, 0.5, (1, 9600))
        # Both resamplers are flat up to here, so they must find the same peak.
        signal = lfilter(firwin(301, 16000, fs=48000), 1.0, noise, axis=1)
        theirs = np.abs(resample_poly(signal[0], 4, 1, window=("kaiser", 12.0))).max()
        assert true_peak_db(signal) == pytest.approx(20 * np.log10(theirs), abs=0.1)

    def test_agrees_with_another_program(self, kick, tmp_path):
        audio = render(kick)
        path: Path = tmp_path / "kick.wav"
        # It hears whole steps of 100 ms alone; ours takes silence to follow up to the next.
        whole = np.pad(audio.samples, ((0, 0), (0, -audio.samples.shape[1] % 4800)))
        path.write_bytes(encode_wav(whole, 48000))
        command = [
            "ffmpeg",
            "-nostats",
            "-i",
            str(path),
            "-af",
            "ebur128=peak=true",
            "-f",
            "null",
            "-",
        ]
        text = subprocess.run(command, capture_output=True, text=True, check=True).stderr
        summary = text[text.rindex("Summary:") :]
        theirs = float(summary.split("Peak:")[-1].split()[0])
        assert true_peak_db(audio.samples) == pytest.approx(theirs, abs=0.11)
        loudness = float(summary.split("I:")[1].split()[0])
        assert integrated_loudness_lufs(audio.samples, 48000) == pytest.approx(loudness, abs=0.3)


class TestPitch:
    @pytest.mark.parametrize("frequency_hz", [27.5, 49.0, 110.0, 440.0, 1760.0, 4186.0])
    @pytest.mark.parametrize("decay_s", [np.inf, 0.2])
    @pytest.mark.parametrize("rate", [44100, 96000])
    def test_is_within_half_a_cent(self, frequency_hz, decay_s, rate):
        signal = sine(frequency_hz, rate=rate)
        signal *= np.exp(-np.arange(signal.shape[1]) / rate / decay_s)
        pitch = landing_pitch_hz(pitch_track(signal, rate))
        assert abs(1200 * np.log2(pitch / frequency_hz)) < 0.5

    def test_of_a_kick_is_where_it_settles(self, kick):
        measures = measure(render(kick).samples, 48000)
        assert measures.note == "G1"
        assert abs(measures.cents) < 2.0

    @pytest.mark.parametrize("signal", [np.zeros((1, 48000)), np.zeros((1, 10))])
    def test_silence_has_none(self, signal):
        assert measure(signal, 48000).fundamental_hz is None

    def test_noise_has_none(self):
        noise = np.random.default_rng(1).uniform(-1, 1, (1, 48000))
        assert measure(noise, 48000).fundamental_hz is None


def test_offset_and_length_are_measured():
    signal = np.full((2, 24000), 0.1)
    measures = measure(signal, 48000)
    assert (measures.length_s, measures.channels) == (0.5, 2)
    assert measures.offset_db == pytest.approx(-20.0)


class TestDrawing:
    def test_outline_holds_every_extreme(self):
        signal = np.random.default_rng(2).uniform(-0.5, 0.5, (2, 10_007))
        drawn = outline(signal, 100)
        starts = (np.arange(100) * 10_007) // 100
        for n, (start, stop) in enumerate(zip(starts, [*starts[1:], 10_007], strict=True)):
            part = signal[:, start:stop]
            low, high = drawn.data[n] / 127 * drawn.scale
            assert low <= part.min() <= low + drawn.scale / 120
            assert high >= part.max() >= high - drawn.scale / 120

    def test_outline_of_nothing_and_of_silence(self):
        assert outline(np.zeros((1, 0)), 10).data.shape == (0, 2)
        assert not outline(np.zeros((1, 100)), 10).data.any()

    @pytest.mark.parametrize("frequency_hz", [50.0, 700.0, 9000.0])
    @pytest.mark.parametrize("rate", [44100, 48000, 192000])
    def test_spectrogram_shows_a_tone_in_its_row_at_its_level(self, frequency_hz, rate):
        drawn = spectrogram(sine(frequency_hz, rate=rate, level=0.5), rate, rows=96, columns=40)
        middle = drawn.data[:, 20].astype(float)
        row = np.log(frequency_hz / drawn.low_hz) / np.log(drawn.high_hz / drawn.low_hz) * 96
        assert abs(int(np.argmax(middle)) + 0.5 - row) <= 3.0
        level_db = middle.max() / 255 * -FLOOR_DB + FLOOR_DB
        # Between two bins a Hann window reads 1.42 dB low; a step of the drawing is 0.38 dB.
        assert level_db == pytest.approx(-6.0, abs=1.8)


def sound_with(**layer):
    base = {"id": "a", "name": "A", "source": {"kind": "tone"}, **layer}
    return load_sound({"name": "S", "layers": [base]})


def remarks_on(sound):
    rendering = render_with_trace(sound)
    return {
        r.code: r for r in check_sound(sound, rendering, measure(rendering.audio.samples, 48000))
    }


def with_edits(sound, fix):
    """The sound as the screen makes it from a fix's edits, checked again as a save is."""
    data = dump_sound(sound)
    for edit in fix.edits:
        *parents, last = edit.path.split(".")
        node = data
        for key in parents:
            node = node[int(key) if isinstance(node, list) else key]
        if isinstance(node, list) and int(last) == len(node):
            node.append(edit.value)
        else:
            node[int(last) if isinstance(node, list) else last] = edit.value
    return load_sound(data)


class TestChecks:
    def test_good_sound_has_only_good_remarks(self, kick):
        assert {r.severity for r in remarks_on(kick).values()} == {"good"}

    def test_over_full_scale_is_fixed_by_its_trim(self):
        sound = sound_with(level_db=9.0)
        remark = remarks_on(sound)["over"]
        (edit,) = remark.fixes[0].edits
        assert edit.path == "main.level_db"
        trimmed = sound.model_copy(
            update={"main": sound.main.model_copy(update={"level_db": edit.value})}
        )
        after = remarks_on(trimmed)
        assert "over" not in after
        assert measure(render(trimmed).samples, 48000).true_peak_db == pytest.approx(-0.15, abs=0.1)

    @pytest.mark.parametrize(
        ("phase_deg", "attack_s", "note", "shape", "clicks"),
        [
            (90.0, 0.0, 31, 0.0, True),
            (0.0, 0.0, 31, 0.0, False),
            (90.0, 0.005, 31, 0.0, False),
            (90.0, 0.0, 43, 1.0, True),
            (90.0, 0.0, 62, 0.0, True),
            # It steps all the time, so a step at its start is none of its own.
            (0.0, 0.0, 43, 3.0, False),
            # It moves by as much in as short a time.
            (90.0, 0.0, 120, 0.0, False),
        ],
    )
    def test_click_at_the_start(self, phase_deg, attack_s, note, shape, clicks):
        points = [{"time_s": 0, "value": 0}] if attack_s else []
        points += [{"time_s": attack_s, "value": 1}, {"time_s": 0.4, "value": 0, "bend": 3}]
        source = {"kind": "tone", "phase_deg": phase_deg, "shape": shape}
        sound = sound_with(source=source, level={"points": points}, level_db=-3)
        sound = sound.model_copy(update={"hit": Hit(note=note)})
        remarks = remarks_on(sound)
        assert ("click_start" in remarks) is clicks
        if clicks:
            phase, attack, tick = remarks["click_start"].fixes
            assert phase.label == "Phase 0°"
            assert [layer.name for layer in with_edits(sound, tick).layers] == ["A", "Tick"]
            for fix in (phase, attack, tick):
                fixed = with_edits(sound, fix)
                assert "click_start" not in remarks_on(fixed), fix.label

    def test_noise_may_start_at_once(self):
        level = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.1, "value": 0}]}
        assert "click_start" not in remarks_on(sound_with(source={"kind": "noise"}, level=level))

    def test_layer_that_does_nothing_is_named_and_one_that_ticks_is_not(self):
        loud = {"id": "a", "name": "A", "source": {"kind": "tone"}}
        short = {"points": [{"time_s": 0, "value": 1}, {"time_s": 0.02, "value": 0}]}
        for level_db, source, idle in (
            (-60, {"kind": "tone"}, True),
            (-30, {"kind": "noise"}, False),
        ):
            quiet = {"id": "b", "name": "B", "level_db": level_db, "source": source, "level": short}
            sound = load_sound({"name": "S", "layers": [loud, quiet], "hit": {"note": 40}})
            remarks = remarks_on(sound)
            assert ("idle_layer" in remarks) is idle
            if idle:
                mute, remove = remarks["idle_layer"].fixes
                assert "idle_layer" not in remarks_on(with_edits(sound, mute))
                assert [layer.id for layer in with_edits(sound, remove).layers] == ["a"]

    def test_offset_is_told_and_filtered_away(self):
        """A tone far below hearing is all offset while it lasts."""
        source = {"kind": "tone", "follows_note": False, "fixed_hz": 1.0}
        level = {
            "points": [{"time_s": 0, "value": 0}, {"time_s": 0.2, "value": 1}, {"time_s": 0.4}]
        }
        sound = sound_with(source=source, level=level)
        remark = remarks_on(sound)["offset"]
        assert "offset" not in remarks_on(with_edits(sound, remark.fixes[0]))
        assert "offset" not in remarks_on(sound_with())

    def test_silence_and_endlessness_are_told(self):
        assert remarks_on(load_sound({"name": "Empty"}))["silent"].severity == "bad"
        quiet = sound_with(level={"points": [{"time_s": 0, "value": 0}]})
        assert remarks_on(quiet)["silent_layer"].layer == "a"
        endless = sound_with(level={"points": [{"time_s": 0, "value": 1}]})
        assert remarks_on(endless)["endless"].layer == "a"
