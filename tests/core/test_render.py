import subprocess
import sys

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from scipy.signal import hilbert

from nest_crate.core.engine import RenderSettings, StageMemory, render, render_with_trace
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import Hit, load_sound, load_sound_text
from nest_crate.core.sound.kinds import PROCESSOR_KINDS, SOURCE_KINDS
from nest_crate.core.sound.parameters import declared_parameters
from nest_crate.demo.sounds import SOUNDS_FOLDER
from tests.core.demo_recordings import demo_settings
from tests.core.test_document import document


def held(value=1.0, release_s=0.05):
    return {
        "points": [{"time_s": 0, "value": 0}, {"time_s": 0.002, "value": value}],
        "release": [{"time_s": release_s, "value": 0, "bend": 3}],
    }


def one_layer(**changes):
    layer = {"id": "a", "name": "A", "source": {"kind": "tone"}, "level": held(), **changes}
    return load_sound({"name": "One", "layers": [layer], "hit": {"note": 69, "hold_s": 0.3}})


def test_pitch_follows_note_transpose_and_curve():
    source = {"kind": "tone", "transpose_st": -12, "fine_cent": 50}
    pitch = {"points": [{"time_s": 0, "value": 7}]}
    samples = render(one_layer(source=source, pitch=pitch)).samples[0]
    expected = 440.0 * 2 ** ((-12 + 0.5 + 7) / 12)
    crossings = np.flatnonzero((samples[:-1] < 0) & (samples[1:] >= 0))
    at = crossings + samples[crossings] / (samples[crossings] - samples[crossings + 1])
    used = at[(at > 480) & (at < 14000)]
    measured = 48000 * (used.size - 1) / (used[-1] - used[0])
    assert abs(1200 * np.log2(measured / expected)) < 0.05


def test_octave_and_ratio_multiply_the_pitch():
    higher = one_layer(source={"kind": "tone", "octave": 1, "ratio": 1.5})
    same = one_layer(source={"kind": "tone", "transpose_st": 12 + 12 * np.log2(1.5)})
    np.testing.assert_allclose(render(higher).samples, render(same).samples, atol=1e-8)


def test_vibrato_swings_by_its_depth_at_its_rate():
    source = {"kind": "tone", "vibrato_hz": 4.0, "vibrato_st": 1.0}
    settings = RenderSettings(length_s=1.0)
    sound = one_layer(source=source).model_copy(update={"hit": Hit(note=93, hold_s=1.0)})
    phase = np.unwrap(np.angle(hilbert(render(sound, settings=settings).samples[0])))
    pitch_st = 12 * np.log2(np.diff(phase)[2000:-2000] * 48000 / (2 * np.pi) / 1760.0)
    expected = np.sin(2 * np.pi * 4.0 * np.arange(2000, 45999) / 48000)
    np.testing.assert_allclose(pitch_st, expected, atol=0.02)


def test_random_phase_strays_from_hit_to_hit_and_only_if_asked():
    for amount, alike in ((0.0, True), (1.0, False)):
        sound = one_layer(source={"kind": "tone", "phase_random": amount})
        hits = [sound.hit.model_copy(update={"number": n}) for n in (1, 2)]
        first, second = (render(sound, hit).samples[0, 1000:5000] for hit in hits)
        assert np.allclose(first, second) is alike
        np.testing.assert_array_equal(first, render(sound, hits[0]).samples[0, 1000:5000])


def test_fixed_pitch_ignores_the_note():
    sound = one_layer(source={"kind": "tone", "follows_note": False, "fixed_hz": 200.0})
    low, high = (sound.hit.model_copy(update={"note": note}) for note in (30, 90))
    np.testing.assert_array_equal(render(sound, low).samples, render(sound, high).samples)


def test_same_in_same_out_in_another_process(kick):
    code = (
        "import sys,hashlib;from nest_crate.core.engine import render;"
        "from nest_crate.core.sound import load_sound_text;"
        "s=load_sound_text(open(sys.argv[1]).read());"
        "print(hashlib.sha256(render(s).samples.tobytes()).hexdigest())"
    )
    path = str(SOUNDS_FOLDER / "kiln-door-kick.json")
    digests = {
        subprocess.run(
            [sys.executable, "-c", code, path], capture_output=True, text=True, check=True
        ).stdout
        for _ in range(2)
    }
    import hashlib

    digests.add(hashlib.sha256(render(kick).samples.tobytes()).hexdigest() + "\n")
    assert len(digests) == 1


def test_memory_changes_nothing_but_the_work(kick):
    memory = StageMemory()
    first = render_with_trace(kick, memory=memory)
    drive = kick.main.chain[1].model_copy(update={"drive_db": 9.0})
    main = kick.main.model_copy(update={"chain": (kick.main.chain[0], drive)})
    changed = kick.model_copy(update={"main": main})
    second = render_with_trace(changed, memory=memory)
    np.testing.assert_array_equal(second.audio.samples, render(changed).samples)
    worked = {name for name, seconds in second.stage_seconds.items() if seconds > 0}
    assert worked == {"warm drive", "main level"}
    assert not np.array_equal(first.audio.samples[:, :20000], second.audio.samples[:, :20000])


def test_memory_stays_within_its_bound(kick):
    memory = StageMemory(limit_bytes=1_000_000)
    for seed in range(6):
        render(kick.model_copy(update={"seed": seed}), memory=memory)
        assert memory.held_bytes <= 1_000_000


def test_noise_is_the_same_each_hit_unless_asked_otherwise():
    for new_each_hit in (False, True):
        sound = one_layer(source={"kind": "noise", "new_each_hit": new_each_hit})
        second = sound.hit.model_copy(update={"number": 2})
        same = np.array_equal(render(sound).samples, render(sound, second).samples)
        assert same is not new_each_hit


def test_velocity_100_plays_the_level_as_set():
    sound = one_layer(velocity_sense=1.0)
    peaks = {}
    for velocity in (10, 100, 127):
        hit = sound.hit.model_copy(update={"velocity": velocity})
        peaks[velocity] = np.abs(render(sound, hit).samples).max()
    assert peaks[100] == pytest.approx(1.0, abs=1e-3)
    assert 20 * np.log10(peaks[10]) == pytest.approx(-40.0, abs=0.1)
    assert 20 * np.log10(peaks[127]) == pytest.approx(40 * np.log10(1.27), abs=0.1)


def test_pan_keeps_the_power_and_the_centre_is_untouched():
    centre = render(one_layer()).samples
    assert centre.shape[0] == 1
    for pan in (-1.0, -0.4, 0.7):
        stereo = render(one_layer(pan=pan)).samples
        power = (stereo**2).sum()
        assert power == pytest.approx(2 * (centre**2).sum(), rel=1e-6)
    left, right = np.abs(render(one_layer(pan=-1.0)).samples).max(axis=1)
    assert right < 1e-9 < left


def test_layer_start_is_delayed_to_the_sample():
    early, late = render(one_layer()).samples[0], render(one_layer(delay_s=0.05)).samples[0]
    assert not late[:2400].any()
    # Its hold ends with the hit's, so only the time before that is the same.
    np.testing.assert_allclose(late[2400:14000], early[: 14000 - 2400], atol=1e-12)


def test_mute_and_solo():
    def peak(**flags):
        data = document(layers__0__level=held(), layers__1__level=held(), main={"chain": []})
        for name, value in flags.items():
            layer, flag = name.split("_")
            data["layers"]["ab".index(layer)][flag] = value
        return {key: s.shape[1] for key, s in render_with_trace(load_sound(data)).layers.items()}

    assert set(peak()) == {"a", "b"}
    assert set(peak(a_mute=True)) == {"b"}
    assert set(peak(a_solo=True)) == {"a"}
    assert set(peak(a_solo=True, a_mute=True)) == set()


def test_switched_off_processor_leaves_the_signal(kick):
    off = tuple(part.model_copy(update={"on": False}) for part in kick.main.chain)
    bare = kick.model_copy(update={"main": kick.main.model_copy(update={"chain": off})})
    none = kick.model_copy(update={"main": kick.main.model_copy(update={"chain": ()})})
    np.testing.assert_array_equal(render(bare).samples, render(none).samples)


def test_mix_0_is_the_dry_signal():
    drive = {"id": "d", "kind": "drive", "drive_db": 30, "mix": 0.0}
    sound = one_layer()
    wet = sound.model_copy(update={"main": load_sound(document(main={"chain": [drive]})).main})
    frames = render(sound).samples.shape[1]
    np.testing.assert_allclose(
        render(wet).samples[:, : frames - 600], render(sound).samples[:, :-600], atol=1e-12
    )


class TestEnding:
    def test_ends_50_ms_after_the_last_sound(self):
        audio = render(one_layer())
        loud = np.flatnonzero(np.abs(audio.samples[0]) >= 10 ** (-90 / 20))
        assert audio.end_reason == "silence"
        assert audio.samples.shape[1] - loud[-1] == pytest.approx(0.05 * 48000, abs=2)

    def test_set_length_is_met_without_a_step(self):
        audio = render(one_layer(), settings=RenderSettings(length_s=0.1))
        assert (audio.samples.shape[1], audio.end_reason) == (4800, "length")
        assert audio.samples[0, -1] == 0.0
        assert np.abs(np.diff(audio.samples[0])).max() < 0.07

    def test_endless_sound_stops_at_the_limit_without_a_step(self):
        endless = one_layer(level={"points": [{"time_s": 0, "value": 1}]})
        audio = render(endless, settings=RenderSettings(sample_rate=44100))
        assert (audio.samples.shape[1], audio.end_reason) == (60 * 44100, "limit")
        assert audio.samples[0, -1] == 0.0

    def test_no_layer_gives_a_short_silence(self):
        audio = render(load_sound({"name": "Empty"}))
        assert not audio.samples.any()
        assert 0 < audio.samples.shape[1] <= 4800


@pytest.mark.parametrize(
    "settings", [{"sample_rate": 22050}, {"length_s": 0.0}, {"length_s": 61.0}]
)
def test_unusable_settings_are_refused(settings):
    with pytest.raises(DocumentError, match=r"is not 0.001 to 60 s|is none of"):
        RenderSettings(**settings)


@pytest.mark.parametrize("rate", [44100, 88200, 192000])
def test_other_rates_render_the_same_sound(kick, rate):
    reference = render(kick).samples
    other = render(kick, settings=RenderSettings(sample_rate=rate)).samples
    assert other.shape[1] / rate == pytest.approx(reference.shape[1] / 48000, abs=2e-3)
    assert np.abs(other).max() == pytest.approx(np.abs(reference).max(), rel=0.1)


def _any_part(model):
    numbers = {
        p.name: st.integers(int(p.minimum), int(p.maximum))
        if p.whole
        else st.floats(p.minimum, p.maximum)
        for p in declared_parameters(model)
    }
    return st.fixed_dictionaries(numbers)


sources = st.one_of(
    *(
        _any_part(model).map(lambda d, kind=kind: {**d, "kind": kind})
        for kind, model in SOURCE_KINDS.items()
    )
)
processors = st.one_of(
    *(
        _any_part(model).map(lambda d, kind=kind: {**d, "kind": kind})
        for kind, model in PROCESSOR_KINDS.items()
    )
)


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(sources, st.lists(processors, max_size=3), st.integers(0, 127), st.floats(-60, 60))
def test_no_parameter_in_range_breaks_a_render(source, chain, note, shift):
    pitch = {"points": [{"time_s": 0, "value": shift}, {"time_s": 0.1, "value": -shift, "bend": 5}]}
    data = {
        "name": "Any",
        "layers": [{"id": "a", "name": "A", "source": source, "level": held(), "pitch": pitch}],
        "main": {"chain": [{**part, "id": f"p{n}"} for n, part in enumerate(chain)]},
        "hit": {"note": note, "hold_s": 0.1},
    }
    samples = render(load_sound(data)).samples
    assert np.all(np.isfinite(samples))
    assert samples.shape[1] <= 60 * 48000
    assert not samples[:, -1].any()
    assert np.abs(samples).max() < 1e7


@pytest.mark.parametrize("in_s", [0.0, 5e-324, 2e-309, 1e-6])
def test_a_fade_shorter_than_a_frame_is_none(in_s):
    fade = {"id": "f", "kind": "fade", "in_s": in_s, "end_s": 1.0, "out_s": 0.1}
    layer = {"id": "a", "name": "A", "source": {"kind": "noise"}, "level": held()}
    data = {"name": "S", "layers": [layer], "hit": {"hold_s": 0.1}}
    faded = render(load_sound({**data, "main": {"chain": [fade]}})).samples
    plain = render(load_sound(data)).samples
    np.testing.assert_array_equal(faded[:, :2000], plain[:, :2000])


def test_every_demo_sound_is_valid_and_ends(kick):
    for path in SOUNDS_FOLDER.glob("*.json"):
        sound = load_sound_text(path.read_text())
        audio = render(sound, settings=demo_settings())
        assert audio.end_reason == "silence"
        assert 0.1 < np.abs(audio.samples).max() <= 1.0, path.stem
