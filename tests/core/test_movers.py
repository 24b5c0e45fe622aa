"""Movers and links: what moves arrives where, when and as far as it says."""

from typing import ClassVar

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy.signal import lfilter

from nest_crate.core.analysis.measures.pitch import pitch_track
from nest_crate.core.dsp.filters.state_variable import filter_signal
from nest_crate.core.dsp.util.movement import CONTROL_FRAMES, at_frames, cycle_values, step_values
from nest_crate.core.engine import RenderSettings, StageMemory, render, render_with_trace
from nest_crate.core.engine.plan import make_plan
from nest_crate.core.engine.stages import StageRunner
from nest_crate.core.engine.traces import TRACE_POINTS, traces
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import load_sound
from nest_crate.core.units import note_to_hz
from tests.core.spectra import spectrum
from tests.core.test_judging import points

RATE = 48000
HELD = {"points": points((0, 0), (0.002, 1)), "release": points((0.05, 0))}


def sound_with(movers, links, *, layer=None, chain=(), hit=None, **changes):
    base = {"id": "a", "name": "A", "source": {"kind": "tone"}, "level": HELD, **(layer or {})}
    return load_sound(
        {
            "name": "S",
            "tempo_bpm": 120,
            "layers": [base],
            "movers": [{"name": mover["id"], **mover} for mover in movers],
            "links": links,
            "main": {"chain": list(chain)},
            "hit": {"hold_s": 1.0, "note": 69, **(hit or {})},
            **changes,
        }
    )


def link(mover, target, amount, **changes):
    return {"mover": mover, "target": target, "amount": amount, **changes}


def control(sound, mover, hit=None):
    """A mover's values and their times."""
    plan = make_plan(sound, hit or sound.hit, RenderSettings())
    values = StageRunner(None).result(plan.movers[mover])[0]
    if values.size > plan.frames:
        values = values[::CONTROL_FRAMES]
    return np.arange(values.size) * CONTROL_FRAMES / RATE, values


class TestMoverValues:
    @pytest.mark.parametrize(
        ("shape", "expected"),
        [
            ("sine", lambda x: np.sin(2 * np.pi * x)),
            ("triangle", lambda x: 2 / np.pi * np.arcsin(np.sin(2 * np.pi * x))),
            ("saw_up", lambda x: 2 * ((x + 0.5) % 1) - 1),
            ("saw_down", lambda x: 1 - 2 * ((x + 0.5) % 1)),
            ("square", lambda x: np.where(x % 1 < 0.3, 1.0, -1.0)),
        ],
    )
    def test_shapes_at_their_rate(self, shape, expected):
        sound = sound_with(
            [{"id": "l", "kind": "lfo", "shape": shape, "rate_hz": 3.0, "width": 0.3}], []
        )
        time_s, values = control(sound, "l")
        away = np.abs((3 * time_s * 20) % 1 - 0.5) < 0.45
        np.testing.assert_allclose(values[away], expected(3 * time_s)[away], atol=1e-6)
        x = np.linspace(0, 2, 1001)
        np.testing.assert_allclose(
            cycle_values("sine", x, width=0.5), np.sin(2 * np.pi * x), atol=1e-12
        )

    def test_beats_delay_fade_once_and_one_side(self):
        lfo = {"id": "l", "kind": "lfo", "sync": True, "beats": 0.5, "phase_deg": 90}
        time_s, values = control(sound_with([lfo], []), "l")
        np.testing.assert_allclose(values, np.cos(2 * np.pi * 4 * time_s), atol=1e-9)
        late = {**lfo, "delay_s": 0.2, "fade_s": 0.4, "one_sided": True}
        time_s, values = control(sound_with([late], []), "l")
        assert not values[time_s < 0.2].any()
        expected = (0.5 + 0.5 * np.cos(2 * np.pi * 4 * (time_s - 0.2))) * np.clip(
            (time_s - 0.2) / 0.4, 0, 1
        )
        np.testing.assert_allclose(values[time_s > 0.2], expected[time_s > 0.2], atol=1e-3)
        _, once = control(sound_with([{**lfo, "phase_deg": 0, "once": True}], []), "l")
        assert np.abs(once[-100:]).max() < 1e-6

    def test_steps_hold_skip_glide_and_go_round(self):
        steps = {"id": "s", "kind": "steps", "values": [1, -1, 0.5], "beats": 0.25}
        time_s, values = control(sound_with([steps], []), "s")
        for n in range(8):
            at = np.argmin(np.abs(time_s - 0.125 * (n + 0.5)))
            assert values[at] == [1, -1, 0.5][n % 3]
        _, skipped = control(sound_with([{**steps, "skipped": [False, True]}], []), "s")
        assert -1 not in skipped
        glided = step_values(np.array([1.0, 1.25, 1.5]), np.array([0.0, 1.0]), glide=0.5)
        np.testing.assert_allclose(glided, [0.0, 0.5, 1.0])

    def test_random_is_the_hits_own_and_the_same_again(self):
        sound = sound_with([{"id": "r", "kind": "random"}], [])
        values = []
        for number in range(1, 200):
            hit = sound.hit.model_copy(update={"number": number})
            _, one = control(sound, "r", hit)
            assert np.ptp(one) == 0.0
            values.append(one[0])
        assert control(sound, "r")[1][0] == values[0]
        assert np.abs(np.mean(values)) < 0.15
        assert np.std(values) == pytest.approx(1 / np.sqrt(3), rel=0.12)
        normal = sound_with([{"id": "r", "kind": "random", "spread": "normal"}], [])
        spread = [
            control(normal, "r", normal.hit.model_copy(update={"number": n}))[1][0]
            for n in range(1, 200)
        ]
        assert np.std(spread) == pytest.approx(1 / 3, rel=0.15)

    @pytest.mark.parametrize(
        ("mover", "hit", "expected"),
        [
            ({"kind": "note", "low": 57, "high": 81}, {}, 0.0),
            ({"kind": "note", "low": 60, "high": 65}, {}, 1.0),
            ({"kind": "velocity"}, {"velocity": 127}, 1.0),
            ({"kind": "velocity"}, {"velocity": 1}, 0.0),
            ({"kind": "hold", "longest_s": 2.0}, {}, 0.5),
            ({"kind": "macro", "value": 0.3}, {}, 0.3),
        ],
    )
    def test_what_stands_still_in_a_hit(self, mover, hit, expected):
        _, values = control(sound_with([{"id": "m", **mover}], [], hit=hit), "m")
        np.testing.assert_allclose(values, expected)

    def test_follower_rises_and_falls_with_its_layer(self):
        follower = {"kind": "follower", "id": "f", "layer": "a", "attack_s": 0.01}
        sound = sound_with([{**follower, "release_s": 0.05}], [], hit={"note": 100})
        time_s, values = control(sound, "f")
        # A sine's magnitude is at its crest only for an instant.
        assert 0.75 < values[np.argmin(np.abs(time_s - 0.5))] <= 1.0
        # 50 ms after the release has ended it has fallen by 1/e.
        end, later = (values[np.argmin(np.abs(time_s - t))] for t in (1.07, 1.12))
        assert later / end == pytest.approx(np.exp(-1), rel=0.05)


class TestTargets:
    def test_pitch_moves_by_its_semitones(self):
        lfo = {"id": "l", "kind": "lfo", "rate_hz": 1.0}
        sound = sound_with([lfo], [link("l", "a.pitch_st", 7)])
        track = pitch_track(render(sound).samples, RATE)
        for time_s in (0.25, 0.75):
            near = np.argmin(np.abs(track.time_s - time_s))
            expected = 7 * np.sin(2 * np.pi * track.time_s[near])
            measured = 12 * np.log2(track.pitch_hz[near] / note_to_hz(69))
            assert measured == pytest.approx(expected, abs=0.25)

    def test_level_moves_by_its_decibels(self):
        macro = {"id": "m", "kind": "macro", "value": 0.5}
        still = render(sound_with([macro], [])).samples
        moved = render(sound_with([macro], [link("m", "a.level_db", -12)])).samples
        np.testing.assert_allclose(moved, still * 10 ** (-6 / 20), atol=1e-12)
        whole = render(sound_with([macro], [link("m", "main.level_db", -12)])).samples
        np.testing.assert_allclose(whole, still * 10 ** (-6 / 20), atol=1e-12)

    def test_shape_on_its_way_is_the_shape_itself(self):
        macro = {"id": "m", "kind": "macro", "value": 0.75}
        moved = sound_with([macro], [link("m", "a.source.shape", 2)])
        still = sound_with([], [], layer={"source": {"kind": "tone", "shape": 1.5}})
        np.testing.assert_allclose(render(moved).samples, render(still).samples, atol=1e-9)

    def test_pan_goes_from_side_to_side(self):
        curve = {"points": points((0, -1), (1, 1))}
        sound = sound_with(
            [{"id": "c", "kind": "curve", "curve": curve}], [link("c", "a.pan", 1.0)]
        )
        left, right = render(sound).samples
        early, late = slice(2000, 6000), slice(42000, 46000)
        assert np.abs(left[early]).max() > 5 * np.abs(right[early]).max()
        assert np.abs(right[late]).max() > 5 * np.abs(left[late]).max()

    def test_mix_of_a_processor_is_moved(self):
        drive = {"id": "d", "kind": "drive", "drive_db": 24}
        macro = {"id": "m", "kind": "macro", "value": 1.0}
        dry = render(sound_with([], [])).samples
        moved = render(sound_with([macro], [link("m", "d.mix", -1)], chain=[drive])).samples
        np.testing.assert_allclose(moved[:, : dry.shape[1]], dry, atol=1e-12)

    def test_a_second_mover_scales_and_a_bend_bends(self):
        movers = [
            {"id": "m", "kind": "macro", "value": 0.5},
            {"id": "s", "kind": "macro", "value": 0.5},
        ]
        plain = render(sound_with([], [], layer={"level_db": -6})).samples
        scaled = [link("m", "a.level_db", -24, scaled_by="s")]
        moved = render(sound_with(movers, scaled)).samples
        np.testing.assert_allclose(moved, plain, atol=1e-12)
        bent = [link("m", "a.level_db", -12, bend=4.0)]
        way = np.expm1(-2) / np.expm1(-4)
        expected = render(sound_with([], [], layer={"level_db": -12 * way})).samples
        np.testing.assert_allclose(render(sound_with(movers, bent)).samples, expected, atol=1e-12)

    def test_rate_of_a_mover_is_moved_by_another(self):
        rise = {"points": points((0, 0), (1, 1))}
        movers = [
            {"id": "l", "kind": "lfo", "rate_hz": 1.0},
            {"id": "c", "kind": "curve", "curve": rise},
        ]
        time_s, values = control(sound_with(movers, [link("c", "l.rate_hz", 3)]), "l")
        cycles = (np.exp2(3 * np.minimum(time_s, 1)) - 1) / (3 * np.log(2))
        inside = time_s < 1.0
        np.testing.assert_allclose(values[inside], np.sin(2 * np.pi * cycles[inside]), atol=0.02)

    def test_ducking_pulls_one_layer_under_another(self):
        kick = {
            "id": "k",
            "name": "K",
            "mute": True,
            "source": {"kind": "tone"},
            "level": {"points": points((0, 1), (0.5, 1), (0.51, 0))},
        }
        bass = {"id": "a", "name": "A", "source": {"kind": "tone"}, "level": HELD}
        data = {
            "name": "S",
            "layers": [kick, bass],
            "movers": [{"id": "f", "name": "F", "kind": "follower", "layer": "k"}],
            "links": [link("f", "a.level_db", -24)],
            "hit": {"hold_s": 1.5},
        }
        samples = render(load_sound(data)).samples[0]
        ducked = np.abs(samples[round(0.3 * RATE) : round(0.4 * RATE)]).max()
        free = np.abs(samples[round(1.3 * RATE) : round(1.4 * RATE)]).max()
        assert 20 * np.log10(ducked / free) == pytest.approx(-24 * 0.97, abs=1.5)


def test_traces_are_what_is_reached():
    rise = {"points": points((0, 0), (1, 1))}
    movers = [{"id": "c", "kind": "curve", "curve": rise}]
    links = [link("c", "f.cutoff_hz", 3), link("c", "a.pitch_st", -12)]
    chain = [{"id": "f", "kind": "filter", "cutoff_hz": 250}]
    sound = sound_with(movers, links, chain=chain)
    found = traces(sound, sound.hit, RenderSettings())
    time_s, cutoff_hz = found["f.cutoff_hz"].T
    np.testing.assert_allclose(cutoff_hz, 250 * np.exp2(3 * np.minimum(time_s, 1)), rtol=1e-6)
    time_s, pitch_st = found["a.pitch_st"].T
    np.testing.assert_allclose(pitch_st, -12 * np.minimum(time_s, 1), atol=1e-9)


class TestMovedFilter:
    OPTIONS: ClassVar = {"response": "low_pass", "slope_db": 24, "sample_rate": RATE}

    def test_standing_still_is_the_plain_filter(self):
        noise = np.random.default_rng(1).normal(size=(2, 5000))
        still = filter_signal(noise, cutoff_hz=900.0, resonance=2.0, **self.OPTIONS)
        control = np.full(5000 // CONTROL_FRAMES + 2, 900.0)
        moved = filter_signal(noise, cutoff_hz=control, resonance=2.0, **self.OPTIONS)
        # Coefficients are read between those of a table.
        np.testing.assert_allclose(moved, still, atol=1e-4)

    def test_cutoff_reached_in_the_end_is_the_one_asked_for(self):
        rise = {"points": points((0, 0), (0.3, 1))}
        chain = [{"id": "f", "kind": "filter", "cutoff_hz": 500, "slope_db": 24}]
        noise = {"source": {"kind": "noise"}}
        sound = sound_with(
            [{"id": "c", "kind": "curve", "curve": rise}],
            [link("c", "f.cutoff_hz", 2)],
            layer=noise,
            chain=chain,
        )
        open_chain = [{**chain[0], "cutoff_hz": 2000}]
        still = sound_with([], [], layer=noise, chain=open_chain)
        late = slice(round(0.5 * RATE), round(0.9 * RATE))
        np.testing.assert_allclose(
            render(sound).samples[:, late], render(still).samples[:, late], atol=1e-4
        )

    def test_sweep_adds_no_zipper_noise(self):
        """A sine far below a swept cutoff passes as it is: what is added lies below -80 dB."""
        t = np.arange(RATE) / RATE
        tone = np.sin(2 * np.pi * 100 * t)[np.newaxis]
        at = np.arange(RATE // CONTROL_FRAMES + 2) * CONTROL_FRAMES / RATE
        cutoff = 4000.0 * np.exp2(1.5 * np.sin(2 * np.pi * 3.0 * at))
        out = filter_signal(tone, cutoff_hz=cutoff, resonance=0.707, **self.OPTIONS)[0]
        spectrum = np.abs(np.fft.rfft(out * np.hanning(RATE)))
        loudest = spectrum.max()
        # The movement itself gives sidebands of 3 Hz; steps of control would lie at 3 kHz.
        assert 20 * np.log10(spectrum[1500:].max() / loudest) < -80.0

    @pytest.mark.parametrize("amount", [-10.0, 10.0])
    def test_swept_past_either_end_it_stays_in_range(self, amount):
        chain = [{"id": "f", "kind": "filter", "cutoff_hz": 3000, "resonance": 30}]
        sound = sound_with(
            [{"id": "l", "kind": "lfo", "rate_hz": 50, "shape": "square"}],
            [link("l", "f.cutoff_hz", amount)],
            chain=chain,
        )
        samples = render(sound).samples
        assert np.all(np.isfinite(samples))
        assert np.abs(samples).max() < 100.0


class TestMemory:
    def test_only_what_a_link_moves_is_made_again(self):
        lfo = {"id": "l", "kind": "lfo"}
        chain = [{"id": "f", "kind": "filter"}, {"id": "d", "kind": "drive"}]
        before = sound_with([lfo], [link("l", "d.drive_db", 3)], chain=chain)
        after = sound_with([lfo], [link("l", "d.drive_db", 6)], chain=chain)
        memory = StageMemory()
        render(before, memory=memory)
        traced = render_with_trace(after, memory=memory)
        made = {name for name, seconds in traced.stage_seconds.items() if seconds > 0.0}
        assert made == {"d drive", "main level"}
        np.testing.assert_array_equal(traced.audio.samples, render(after).samples)


class TestBadLinks:
    @pytest.mark.parametrize(
        ("movers", "links", "words"),
        [
            ([], [link("gone", "a.pan", 1)], "no mover 'gone'"),
            ([{"id": "m", "kind": "macro"}], [link("m", "b.pan", 1)], "no parameter 'b.pan'"),
            ([{"id": "m", "kind": "macro"}], [link("m", "a.name", 1)], "no parameter"),
            (
                [{"id": "m", "kind": "macro"}],
                [link("m", "a.pan", 1), link("m", "a.pan", 0.5)],
                "already",
            ),
            (
                [{"id": "l", "kind": "lfo"}, {"id": "s", "kind": "steps"}],
                [link("l", "s.rate_hz", 1), link("s", "l.rate_hz", 1)],
                "links go round",
            ),
            (
                [{"id": "f", "kind": "follower", "layer": "a"}],
                [link("f", "a.level_db", -6)],
                "links go round",
            ),
            ([{"id": "f", "kind": "follower", "layer": "z"}], [], "no layer 'z'"),
            ([{"id": f"m{n}", "kind": "macro"} for n in range(9)], [], "at most 8 macros"),
        ],
    )
    def test_each_is_refused_with_the_reason(self, movers, links, words):
        with pytest.raises(DocumentError) as refused:
            sound_with(movers, links)
        assert words in refused.value.problems[0].message


KINDS = [
    {"kind": "lfo", "shape": "smooth"},
    {"kind": "lfo", "shape": "square", "rate_hz": 50},
    {"kind": "steps"},
    {"kind": "random"},
    {"kind": "velocity"},
]
TARGETS = ["a.pitch_st", "a.level_db", "a.pan", "a.source.shape", "f.cutoff_hz", "f.resonance"]


@settings(deadline=None, max_examples=60)
@given(
    kind=st.sampled_from(KINDS),
    target=st.sampled_from([*TARGETS, "f.mix", "d.drive_db", "main.level_db"]),
    amount=st.floats(-240, 240),
    note=st.integers(0, 127),
)
def test_no_link_breaks_a_render(kind, target, amount, note):
    sound = sound_with(
        [{"id": "m", **kind}],
        [link("m", target, amount)],
        chain=[{"id": "f", "kind": "filter"}, {"id": "d", "kind": "drive"}],
        hit={"note": note, "hold_s": 0.05},
    )
    audio = render(sound, settings=RenderSettings(quality="draft"))
    assert np.all(np.isfinite(audio.samples))
    assert np.abs(audio.samples[:, -1]).max() < 1e-4
    again = render(sound, settings=RenderSettings(quality="draft"))
    np.testing.assert_array_equal(audio.samples, again.samples)


def test_one_pole_of_the_follower_agrees_with_a_filter():
    """While a signal only rises, a peak follower is a one-pole low-pass of its magnitude."""
    ramp = np.linspace(0, 1, 4800)[np.newaxis]
    from nest_crate.core.dsp.util.movement import follow_level

    out = np.zeros(301)
    follow_level(out, ramp, 0.01, 0.001, CONTROL_FRAMES)
    expected = lfilter([0.01], [1, -0.99], ramp[0])
    np.testing.assert_allclose(out[1:300], expected[CONTROL_FRAMES - 1 : 4784 : CONTROL_FRAMES])


@pytest.mark.parametrize(
    ("target", "amount"), [("a.level_db", 12), ("a.pan", 0.9), ("a.pitch_st", 2), ("f.mix", 0.4)]
)
@pytest.mark.parametrize("rate_hz", [20.0, 50.0])
def test_quick_movement_makes_no_zipper_noise(target, amount, rate_hz):
    """The fastest LFO on a 1 kHz sine: far above its own sidebands nothing above -85 dB."""
    sound = sound_with(
        [{"id": "l", "kind": "lfo", "rate_hz": rate_hz}],
        [link("l", target, amount)],
        layer={
            "source": {"kind": "tone", "follows_note": False, "fixed_hz": 1000},
            "chain": [{"id": "f", "kind": "filter", "cutoff_hz": 1000, "mix": 0.5}],
        },
    )
    hz, magnitudes = spectrum(render(sound).samples[0, 4800:43200], RATE)
    far = (hz > 1000 + 40 * rate_hz) & (hz < 20000)
    assert 20 * np.log10(magnitudes[far].max() / magnitudes.max()) < -85.0


def test_between_its_values_a_control_never_overshoots():
    steps = np.repeat([0.0, 1.0, -1.0, 0.25], 4)
    dense = at_frames(steps, 16 * 15, 0)
    assert (dense.min(), dense.max()) == (-1.0, 1.0)
    np.testing.assert_allclose(dense[::16], steps[:15])
    np.testing.assert_array_equal(at_frames(steps, 40, 24), dense[24:64])


def test_a_trace_of_a_fast_movement_is_as_wide_as_it_is():
    """30 Hz over two seconds is more than its points could follow; its least and most are shown."""
    movers = [{"id": "fast", "kind": "lfo", "rate_hz": 30.0}]
    sound = sound_with(movers, [link("fast", "a.pitch_st", 7.0)], hit={"hold_s": 2.0})
    trace = traces(sound, sound.hit, RenderSettings())["a.pitch_st"]
    assert len(trace) <= TRACE_POINTS
    assert np.all(np.diff(trace[:, 0]) > 0)
    for start in np.arange(0.1, 1.8, 0.1):
        within = trace[(trace[:, 0] >= start) & (trace[:, 0] < start + 0.1), 1]
        assert within.max() == pytest.approx(7.0, abs=0.2)
        assert within.min() == pytest.approx(-7.0, abs=0.2)
