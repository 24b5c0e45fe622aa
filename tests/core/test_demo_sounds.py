"""The demo sounds that a designer builds by typing numbers are what those numbers say."""

import numpy as np
import pytest
from scipy.signal import welch

from nest_crate.core.analysis.checks import check_sound
from nest_crate.core.analysis.details import details
from nest_crate.core.analysis.measures import measure
from nest_crate.core.analysis.pitch import pitch_track
from nest_crate.core.analysis.ringing import ringing
from nest_crate.core.engine import RenderSettings, render, render_with_trace
from nest_crate.core.sound import load_sound_text
from nest_crate.core.units import note_to_hz
from nest_crate.demo import SOUNDS_FOLDER

RATE = 48000
NAMED = (
    "sluice-sub-hit",
    "undergrowth-bass-hit",
    "lift-riser",
    "fuse-zap",
    "fuse-zap-backwards",
    "glass-pane-bell",
    "pendulum-heartbeat",
)


def demo(name):
    return load_sound_text((SOUNDS_FOLDER / f"{name}.json").read_bytes())


def semitones(hz, base_hz):
    return 12.0 * np.log2(np.asarray(hz) / base_hz)


def envelope(signal, window_s=0.01):
    size = round(window_s * RATE)
    count = signal.shape[1] // size
    return np.abs(signal[:, : count * size]).max(axis=0).reshape(count, size).max(axis=1)


@pytest.mark.parametrize("name", NAMED)
def test_no_check_complains(name):
    sound = demo(name)
    rendering = render_with_trace(sound)
    remarks = check_sound(sound, rendering, measure(rendering.audio.samples, RATE))
    assert [remark.text for remark in remarks if remark.severity != "good"] == []


@pytest.mark.parametrize("rate", [44100, 48000, 96000])
def test_sub_hit_lands_two_octaves_below_the_note_from_twenty_semitones_up(rate):
    sound = demo("sluice-sub-hit")
    samples = render(sound, settings=RenderSettings(sample_rate=rate)).samples
    landed = measure(samples, rate).fundamental_hz
    assert landed == pytest.approx(note_to_hz(sound.hit.note - 24), rel=3e-4)
    # From the first quarter period (a sine from phase 0 to its crest) to the first zero.
    first_zero = np.flatnonzero(samples[0, 10:] <= 0.0)[0] + 10
    started = rate / (2.0 * first_zero)
    assert 12.0 < semitones(started, landed) < 20.0
    assert sound.layers[0].pitch.points[0].value == 20.0


def test_long_bass_hit_holds_260_ms_decays_1900_ms_and_knocks_within_30_ms():
    sound = demo("undergrowth-bass-hit")
    samples = render(sound).samples
    # Crests of every period show the level: flat over the hold, silent at its end.
    level = envelope(samples, 1.0 / 55.0)
    held = level[1 : int(0.26 * 55)]
    assert held.max() / held.min() < 1.03
    rows = sound.layers[0].level.points
    assert rows[2].time_s - rows[1].time_s == pytest.approx(0.26)
    assert rows[3].time_s - rows[2].time_s == pytest.approx(1.9)
    assert ringing(samples, RATE).falls_s[2] == pytest.approx(2.164, abs=0.1)
    track = details(sound, sound.hit, RenderSettings()).layers["root"].track
    assert max(np.abs(st) for t, st in track if t > 0.06) < 0.1
    spectrum_hz, power = welch(samples[0, :960], RATE, nperseg=960)
    share = power[spectrum_hz > 2000].sum() / power.sum()
    assert 10 * np.log10(share) < -40.0


@pytest.mark.parametrize("rate", [44100, 48000])
def test_riser_takes_exactly_sixteen_beats_for_nineteen_semitones(rate):
    sound = demo("lift-riser")
    beats_s = 16 * 60 / sound.tempo_bpm
    samples = render(sound, settings=RenderSettings(sample_rate=rate)).samples
    loudest = np.argmax(np.abs(samples).max(axis=0)) / rate
    assert loudest == pytest.approx(beats_s, abs=0.05)
    assert np.abs(samples[:, round((beats_s + 0.031) * rate) :]).max() < 1e-4
    track = pitch_track(samples, rate)
    base_hz = note_to_hz(sound.hit.note)
    for part in (0.25, 0.5, 0.75):
        near = np.argmin(np.abs(track.time_s - part * beats_s))
        expected = 19.0 * track.time_s[near] / beats_s
        assert semitones(track.pitch_hz[near], base_hz) == pytest.approx(expected, abs=0.15)


def test_zap_falls_and_its_reverse_rises_alike():
    sound, reverse = demo("fuse-zap"), demo("fuse-zap-backwards")
    down = details(sound, sound.hit, RenderSettings()).layers["fuse"].track
    up = details(reverse, reverse.hit, RenderSettings()).layers["fuse"].track
    falling = np.array([st for _, st in down])
    rising = np.array([st for _, st in up])
    assert np.all(np.diff(falling) < 0.5)
    assert np.all(np.diff(rising) > -0.5)
    at = dict(up)
    for t, st in down:
        if 0.05 < t < 0.35:
            near = min(at, key=lambda one: abs(one - (0.45 - t)))
            if abs(near - (0.45 - t)) < 0.002:
                assert at[near] == pytest.approx(st, abs=1.0)
    first, second = render(sound).samples, render(reverse).samples
    ahead = envelope(first[:, : round(0.45 * RATE)])
    back = envelope(second[:, : round(0.45 * RATE)])[::-1]
    np.testing.assert_allclose(ahead[2:-4], back[2:-4], atol=0.06)


def test_bell_has_odd_partials_only_and_rings_alike_tapped_and_held():
    sound = demo("glass-pane-bell")
    samples = render(sound).samples[0, : RATE // 2]
    spectrum = np.abs(np.fft.rfft(samples * np.hanning(samples.size)))
    base_hz = note_to_hz(sound.hit.note)

    def level_db(partial):
        middle = round(partial * base_hz * samples.size / RATE)
        return 20 * np.log10(spectrum[middle - 3 : middle + 4].max())

    odd = [level_db(k) for k in (1, 3, 5, 7)]
    even = [level_db(k) for k in (2, 4, 6)]
    assert min(odd) - max(even) > 40.0
    looked = details(sound, sound.hit, RenderSettings())
    rings = {hold.name: hold.ringing.ring_s for hold in looked.holds}
    assert rings["tap"] == pytest.approx(rings["long"], rel=0.02)
    assert rings["as set"] == pytest.approx(rings["long"], rel=0.02)


def test_heartbeat_is_two_low_thumps():
    sound = demo("pendulum-heartbeat")
    samples = render(sound).samples
    level = envelope(samples)
    lub, dub = level[:20], level[24:45]
    between = level[20:25].min()
    assert min(lub.max(), dub.max()) > 4.0 * between
    assert np.argmax(level[:20]) * 0.01 < 0.1
    assert (24 + np.argmax(dub)) * 0.01 == pytest.approx(0.28, abs=0.06)
    spectrum_hz, power = welch(samples[0], RATE, nperseg=8192)
    assert power[spectrum_hz < 200].sum() / power.sum() > 0.9
