"""The demo sounds that a designer builds by typing numbers are what those numbers say."""

import json

import numpy as np
import pytest
from scipy.signal import welch

from nest_crate.core.analysis.checks.all_checks import check_sound
from nest_crate.core.analysis.measures.figures import measure
from nest_crate.core.analysis.measures.pitch import pitch_track
from nest_crate.core.analysis.measures.ring_time import ringing
from nest_crate.core.analysis.pictures.details import details
from nest_crate.core.engine import RenderSettings, render, render_with_trace
from nest_crate.core.engine.traces import traces
from nest_crate.core.sound import load_sound, load_sound_text
from nest_crate.core.units import note_to_hz
from nest_crate.demo.sounds import SOUNDS_FOLDER

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


MOVING = (
    "trellis-pluck-bass",
    "kiln-triple-kick",
    "root-cellar-drone",
    "creaking-boiler",
    "furnace-growl-bass",
    "gatehouse-horn-hit",
    "orrery-hoist-riser",
)


@pytest.mark.parametrize("name", MOVING)
def test_no_check_complains_of_what_moves(name):
    test_no_check_complains(name)


def band_db(signal, low_hz, high_hz):
    spectrum_hz, power = welch(signal.mean(axis=0), RATE, nperseg=min(8192, signal.shape[1]))
    return 10 * np.log10(power[(spectrum_hz >= low_hz) & (spectrum_hz < high_hz)].sum() + 1e-20)


def test_pluck_bass_closes_and_is_wide_only_above_its_mono_low_layer():
    sound = demo("trellis-pluck-bass")
    rendering = render_with_trace(sound)
    samples = rendering.audio.samples
    early, late = samples[:, 480:4800], samples[:, 14400:19200]
    opened = band_db(early, 1000, 4000) - band_db(early, 40, 200)
    closed = band_db(late, 1000, 4000) - band_db(late, 40, 200)
    assert opened - closed > 20.0
    assert rendering.layers["low"].shape[0] == 1
    left, right = rendering.layers["wide"]
    assert np.corrcoef(left, right)[0, 1] < 0.9


def test_triple_kick_has_a_clean_sub_and_each_part_its_own_band():
    sound = demo("kiln-triple-kick")
    layers = render_with_trace(sound).layers
    assert all(
        layer.source.kind == "noise" or layer.source.phase_deg == 0 for layer in sound.layers
    )
    sub = layers["sub"][:, 4800:]
    assert band_db(sub, 20, 120) - band_db(sub, 300, 20000) > 50.0
    tear, punch = layers["tear"][:, :4800], layers["punch"][:, :4800]
    assert band_db(tear, 1500, 7000) - band_db(tear, 20, 500) > 12.0
    assert band_db(punch, 150, 600) - band_db(punch, 20, 100) > 12.0


def test_drone_beats_by_a_semitone_and_breathes_slowly():
    sound = demo("root-cellar-drone")
    samples = render(sound).samples
    spectrum = np.abs(np.fft.rfft(samples.mean(axis=0)[2 * RATE : 6 * RATE] * np.hanning(4 * RATE)))
    hz = np.fft.rfftfreq(4 * RATE, 1 / RATE)

    def level(at_hz):
        return spectrum[np.abs(hz - at_hz) < 0.6].max()

    for note in (33, 34):
        around = spectrum[np.abs(hz - note_to_hz(note)) < 8].mean()
        assert level(note_to_hz(note)) > 4 * around
    bright = [band_db(samples[:, n * RATE : (n + 1) * RATE], 500, 2000) for n in range(2, 6)]
    assert np.ptp(bright) > 6.0


def test_boiler_creaks_at_another_pitch_each_hit_and_its_sub_hangs_on_the_macro():
    sound = demo("creaking-boiler")
    short = sound.hit.model_copy(update={"hold_s": 1.0})
    hits = [short.model_copy(update={"number": n}) for n in (1, 2)]
    first, second = (render_with_trace(sound, hit).layers for hit in hits)

    def centre(signal):
        spectrum_hz, power = welch(signal.mean(axis=0), RATE, nperseg=8192)
        return (spectrum_hz * power).sum() / power.sum()

    # All three plates ring in the one comb; the sub goes past it to the output.
    one, other = (centre(render(sound, hit, listen_at="creak").samples) for hit in hits)
    assert abs(np.log2(one / other)) > 0.05
    assert [layer.to for layer in sound.layers] == ["main", "main", "main", "output"]
    # The combs' tails differ in length, and with them the renders.
    shared = min(first["sub"].shape[1], second["sub"].shape[1]) - 600
    np.testing.assert_array_equal(first["sub"][:, :shared], second["sub"][:, :shared])
    movers = tuple(
        mover.model_copy(update={"value": 1.0}) if mover.kind == "macro" else mover
        for mover in sound.movers
    )
    full = render_with_trace(sound.model_copy(update={"movers": movers}), short).layers["sub"]
    assert 20 * np.log10(np.abs(full).max() / np.abs(first["sub"]).max()) == pytest.approx(
        9, abs=0.1
    )


@pytest.mark.parametrize("seed", [2, 4, 10, 25])
def test_low_thumps_of_noise_do_not_settle_at_a_high_pitch(seed):
    """A slow signal is like itself a moment later, which is no period."""
    sound = demo("pendulum-heartbeat")
    flat = sound.main.chain[0].model_copy(update={"resonance": 0.707})
    main = sound.main.model_copy(update={"chain": (flat,), "level_db": 0.0})
    played = sound.model_copy(update={"seed": seed, "main": main})
    fundamental_hz = measure(render(played).samples, RATE).fundamental_hz
    assert fundamental_hz is None or fundamental_hz < 500.0


def moved(sound, target, points=4000):
    trace = traces(sound, sound.hit, RenderSettings(), points=points)[target]
    return trace[:, 0], trace[:, 1]


def test_growl_bass_ducks_on_every_beat_and_opens_by_its_macro():
    sound = demo("furnace-growl-bass")
    assert sound.layers[0].source.unison.voices == 8
    beat = round(60 / sound.tempo_bpm * RATE)
    samples = render(sound).samples.mean(axis=0)
    for n in range(1, 7):
        ducked = samples[n * beat + 900 : n * beat + 2000]
        full = samples[n * beat + beat // 2 : n * beat + beat - 200]
        assert 20 * np.log10(np.std(ducked) / np.std(full)) < -12.0
    closed, opened = (
        render(
            sound.model_copy(
                update={
                    "movers": tuple(
                        one.model_copy(update={"value": value}) if one.kind == "macro" else one
                        for one in sound.movers
                    )
                }
            )
        ).samples
        for value in (0.0, 1.0)
    )
    brightness = [band_db(one, 800, 5000) - band_db(one, 20, 120) for one in (closed, opened)]
    assert brightness[1] - brightness[0] > 15.0


def test_growl_bass_drives_its_top_and_leaves_its_sub_clean():
    sound = demo("furnace-growl-bass")
    sub = render(sound, listen_at="sub").samples
    # What is left above is the ducking itself.
    assert band_db(sub, 30, 80) - band_db(sub, 150, 20000) > 30.0
    assert {layer.id: layer.to for layer in sound.layers}["sub"] == "output"


def test_horn_falls_five_semitones_with_its_modulation_and_snarls_in_beats():
    sound = demo("gatehouse-horn-hit")
    time_s, shift_st = moved(sound, "horn.pitch_st")
    assert shift_st[0] == pytest.approx(5.0)
    assert shift_st[time_s > 1.2].max() == pytest.approx(0.0, abs=1e-6)
    _, amount = moved(sound, "horn-mod.amount")
    np.testing.assert_allclose((amount - 0.05) / 0.55, shift_st / 5.0, atol=1e-6)
    _, cutoff_hz = moved(sound, "bell.cutoff_hz")
    np.testing.assert_allclose(np.log2(cutoff_hz / 420) / 3, shift_st / 5.0, atol=1e-6)
    # Each trace has the times that show it best.
    time_s, shape = moved(sound, "horn.source.shape")
    ups = np.flatnonzero((shape[:-1] < 1.9) & (shape[1:] >= 1.9))
    period_s = np.diff(time_s[ups]).mean()
    assert period_s == pytest.approx(0.25 * 60 / sound.tempo_bpm, rel=0.01)
    samples = render(sound).samples
    early, late = samples[:, 2400:14400], samples[:, 48000:72000]
    assert band_db(early, 1500, 8000) - band_db(early, 60, 400) > 6.0 + (
        band_db(late, 1500, 8000) - band_db(late, 60, 400)
    )
    before, after = (render(sound, listen_at=key).samples for key in ("bell", "hollow"))
    assert band_db(after, 860, 940) - band_db(before, 860, 940) < -12.0
    assert band_db(after, 80, 300) - band_db(before, 80, 300) > -1.5


def test_hoist_riser_climbs_nineteen_semitones_in_sixteen_beats_and_gets_wilder():
    sound = demo("orrery-hoist-riser")
    length_s = 16 * 60 / sound.tempo_bpm
    assert (sound.hit.hold_s, sound.pitch.points[-1].time_s) == (length_s, length_s)
    assert sound.pitch.points[-1].value == 19
    _, amount = moved(sound, "hoist-mod.amount")
    assert (amount[0], amount.max()) == pytest.approx((0.0, 1.0), abs=0.01)
    _, vibrato_st = moved(sound, "hoist.source.vibrato_st")
    assert np.all(np.diff(vibrato_st) >= -1e-12)
    time_s, cutoff_hz = moved(sound, "lens.cutoff_hz")
    ups = time_s[1:][(cutoff_hz[:-1] < 2200) & (cutoff_hz[1:] >= 2200) & (time_s[1:] < length_s)]
    periods = np.diff(ups)
    assert periods[0] / periods[-1] > 6.0
    samples = render(sound).samples
    flatness = []
    for part in np.array_split(samples[:, : round(length_s * RATE)], 4, axis=1):
        _, power = welch(part.mean(axis=0), RATE, nperseg=8192)
        heard = power[20:2000]
        flatness.append(np.exp(np.mean(np.log(heard))) / np.mean(heard))
    # It is bright from the start; what is between its partials fills up.
    assert flatness[3] > 1.5 * flatness[0]
    # The third, sixth and eighth of eight steps are gated.
    step = round(0.25 * 60 / sound.tempo_bpm * RATE)
    loud, gated = (samples[:, n * step + step // 3 : (n + 1) * step - 200] for n in (32, 34))
    assert 20 * np.log10(np.std(gated) / np.std(loud)) < -25.0


@pytest.mark.parametrize("tempo_bpm", [60, 90, 120])
def test_hoist_riser_follows_the_tempo_alone(tempo_bpm):
    data = json.loads((SOUNDS_FOLDER / "orrery-hoist-riser.json").read_text())
    sound = load_sound({**data, "tempo_bpm": tempo_bpm})
    length_s = 16 * 60 / tempo_bpm
    samples = render(sound).samples
    # What remains after the hold are the 30 ms of the release and the silence that ends it.
    assert samples.shape[1] / RATE == pytest.approx(length_s + 0.085, abs=0.02)
    time_s, shift_st = moved(sound, "hoist-mod.amount")
    assert np.interp(length_s, time_s, shift_st) == pytest.approx(1.0, abs=0.01)
    assert sound.layers[0].level.points[1].time_s == 0.05


def test_hornet_is_the_string_beside_its_own_buzz():
    sound = demo("wire-keys-hornet")
    rendering = render_with_trace(sound)
    string, sting = (rendering.levels_db[one] for one in ("string", "sting"))
    assert string > -20
    assert sting > -30
    bare = sound.layers[0].model_copy(update={"chain": ()})
    plain = sound.model_copy(update={"layers": (bare,), "links": ()})
    up = sound.model_copy(update={"movers": (sound.movers[0].model_copy(update={"value": 1.0}),)})

    def sting_db(one):
        made = render(one).samples
        return band_db(made, 800, 2000) - band_db(made, 100, 400)

    # The macro brings more of the branch, and of it alone.
    assert sting_db(plain) < sting_db(sound) < sting_db(up) - 1.5
    assert sting_db(up) - sting_db(plain) > 2.5


def test_creak_has_one_comb_for_all_layers_that_follows_the_pin():
    sound = demo("hatch-hinge-creak")
    assert {layer.to for layer in sound.layers} == {"hinge"}
    time_s, comb_hz = moved(sound, "iron.frequency_hz")
    _, cutoff_hz = moved(sound, "wood.cutoff_hz")
    drawn = np.interp(0.5, time_s, comb_hz) / np.interp(0.0, time_s, comb_hz)
    assert 12 * np.log2(drawn) == pytest.approx(5.0, abs=0.1)
    assert np.log2(cutoff_hz.max() / 900.0) == pytest.approx(1.2, abs=0.02)
    # Each note has another hinge: the random share of the tuning differs.
    hit = sound.hit.model_copy(update={"number": 2})
    other = traces(sound, hit, RenderSettings())["iron.frequency_hz"][:, 1]
    assert abs(12 * np.log2(other[0] / comb_hz[0])) > 0.1
    # The send reaches the yard: the end is a room's.
    assert render(sound).length_s > 1.5
