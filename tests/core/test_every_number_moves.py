"""Every declared number can be moved: all through the hit, or once at its start."""

import numpy as np
import pytest
from scipy.signal import freqs

from nest_crate.core.dsp.distortion.driven_filter import driven_filter_signal
from nest_crate.core.dsp.filters.formant import formant_signal
from nest_crate.core.dsp.filters.state_variable import filter_signal
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.engine.settled_values import base_value, settled
from nest_crate.core.engine.traces import traces
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import load_sound
from nest_crate.core.sound.kinds import PROCESSOR_KINDS
from nest_crate.core.sound.movers import Link
from nest_crate.core.sound.targets import is_followed, moved_unit, targets_of
from tests.core.spectra import alias_dbc, spectrum
from tests.core.test_movers import HELD, RATE, control, link, sound_with

MACRO = {"id": "z", "kind": "macro", "value": 1.0}


def everything(kinds=("comb", "filter", "formant")):
    """One of each part, so that every kind of target is there; of processors these alone."""
    layers = [
        {
            "id": "t",
            "name": "T",
            "source": {
                "kind": "tone",
                "shape": 2.5,
                "feedback": 0.1,
                "vibrato_st": 0.5,
                "unison": {"voices": 3},
            },
            "modulation": {"by": "n", "way": "phase", "amount": 0.1},
            "level": HELD,
            "chain": [{"id": kind.replace("_", "-"), "kind": kind} for kind in kinds],
            "to": "b",
        },
        {
            "id": "n",
            "name": "N",
            "source": {"kind": "noise", "texture": "stepped", "width": 0.5},
            "level": HELD,
        },
        {
            "id": "p",
            "name": "P",
            "source": {"kind": "tone", "cycle": "partials", "partials": {"amplitudes": [1, 1, 1]}},
            "level": HELD,
        },
    ]
    movers = ("lfo", "steps", "random", "note", "hold", "curve", "velocity")
    return load_sound(
        {
            "name": "Everything",
            "layers": layers,
            "buses": [{"id": "b", "name": "B", "split": True}],
            "movers": [
                {**MACRO, "name": "Z"},
                *({"id": kind, "kind": kind, "name": kind} for kind in movers),
                {"id": "follower", "kind": "follower", "name": "F"},
            ],
            "links": [
                link(kind, "t.pan", 0.1) for kind in ("lfo", "steps", "random", "note", "hold")
            ]
            + [link("follower", "main.level_db", -3)],
            "hit": {"note": 52, "hold_s": 0.1, "number": 3},
        }
    )


def moved(sound, target, mover="z"):
    """The sound with a target moved by a third of its range, away from where it stands."""
    parameter = targets_of(sound)[target]
    base = base_value(sound, target)
    if moved_unit(parameter) == "octave":
        amount = 1.0 if base * 2.0 <= parameter.maximum else -1.0
    else:
        span = (parameter.maximum - parameter.minimum) / 3.0
        amount = span if base + span <= parameter.maximum else -span
    added = Link(mover=mover, target=target, amount=max(-240.0, min(240.0, amount)))
    return sound.model_copy(update={"links": (*sound.links, added)})


EVERYTHING = everything()
PROCESSORS = {kind.replace("_", "-"): kind for kind in PROCESSOR_KINDS}
TARGETS = sorted(targets_of(everything(tuple(PROCESSOR_KINDS))))


def sound_for(target):
    """The sound with the one processor that a target belongs to, or with a few."""
    kind = PROCESSORS.get(target.split(".")[0])
    return everything((kind,)) if kind else EVERYTHING


def test_every_declared_number_is_a_target():
    assert len(TARGETS) > 110
    assert {"lfo.delay_s", "z.value", "t.source.unison.voices", "b.crossover_hz"} <= set(TARGETS)


@pytest.mark.parametrize("target", TARGETS)
def test_a_macro_moves_it_within_its_range_and_says_where_it_stands(target):
    sound = moved(sound_for(target), target, mover="velocity" if target == "z.value" else "z")
    parameter = targets_of(sound)[target]
    settings = RenderSettings(quality="draft", length_s=0.4)
    reached = traces(sound, sound.hit, settings)[target][:, 1]
    assert parameter.minimum - 1e-9 <= reached.min() <= reached.max() <= parameter.maximum + 1e-9
    audio = render(sound, settings=settings)
    assert np.all(np.isfinite(audio.samples))
    if not is_followed(sound, target):
        assert np.ptp(reached) == 0.0
        assert target not in {one.target for one in settled(sound, sound.hit, settings).links}


@pytest.mark.parametrize(
    "target",
    [
        "comb.damping_hz",
        "comb.feedback",
        "comb.forward",
        "filter.key_follow",
        "filter.drive_db",
        "formant.shift_st",
        "formant.second_db",
        "t.source.width",
        "t.source.skew",
        "t.source.feedback",
        "t.source.unison.detune_cent",
        "t.source.unison.voices",
        "t.source.vibrato_st",
        "t.source.ratio",
        "t.source.phase_deg",
        "n.source.colour_db",
        "n.source.rate_hz",
        "p.source.partials.tilt_db",
        "p.delay_s",
        "t.velocity_sense",
        "b.crossover_hz",
        "b.low_db",
        "lfo.phase_deg",
        "lfo.delay_s",
        "steps.glide",
        "note.low",
        "hold.longest_s",
        "follower.release_s",
        "random.rate_hz",
        "equaliser.band_4.gain_db",
        "drive.asymmetry",
        "drive.high_cut_hz",
        "reducer.bits",
        "reducer.rate_hz",
        "resonators.ring_s",
        "compressor.threshold_db",
        "multiband.amount",
        "multiband.low.level_db",
        "multiband.middle.above_db",
        "transient.sustain_db",
        "gate.threshold_db",
        "flanger.feedback",
        "phaser.centre_hz",
        "vibrato.depth_cent",
        "delay.wobble_s",
        "pitch-delay.shift_st",
        "room.decay_s",
        "shimmer.amount",
        "convolution.size",
        "blur.time_s",
        "gain.pan",
        "fade.in_s",
        "ceiling.ceiling_db",
    ],
)
def test_moving_it_is_the_same_as_setting_it(target):
    """A macro that stands still moves a value to where it could have been set by hand."""
    sound = sound_for(target).model_copy(
        update={"hit": EVERYTHING.hit.model_copy(update={"velocity": 64})}
    )
    if target.endswith("width"):
        # Feedback bends each of the two sawtooths of a moved pulse by itself.
        sound = _set(sound, "t.source.feedback", 0.0)
    settings = RenderSettings(quality="draft", length_s=0.4)
    by_link = moved(sound, target)
    value = traces(by_link, by_link.hit, settings)[target][0, 1]
    by_hand = _set(sound, target, value)
    a, b = (render(one, settings=settings).samples for one in (by_link, by_hand))
    plain = render(sound, settings=settings).samples
    frames = min(a.shape[1], b.shape[1], plain.shape[1]) - 600
    difference = np.abs(a[:, :frames] - b[:, :frames]).max()
    change = np.abs(a[:, :frames] - plain[:, :frames]).max()
    assert change > 1e-3, "it is heard"
    # A moved pulse or skew is made another way than one that stands still.
    assert difference < (0.25 if target.split(".")[-1] in ("width", "skew") else 0.02) * change


def _set(sound, target, value):
    part, path = target.split(".", 1)
    data = sound.model_dump(mode="json")
    chains = [one["chain"] for one in (*data["layers"], *data["buses"], data["main"])]
    every = [*data["layers"], *data["buses"], *data["movers"]]
    every += [one for chain in chains for one in chain]
    node = next(one for one in every if one["id"] == part)
    *way, last = path.split(".")
    for name in way:
        node = node[name]
    node[last] = value
    return load_sound(data)


def test_random_once_a_hit_gives_each_hit_its_own_start_time():
    movers = [{"id": "r", "kind": "random"}]
    sound = sound_with(movers, [link("r", "a.delay_s", 0.1)], layer={"delay_s": 0.15})
    starts = []
    for number in range(1, 6):
        hit = sound.hit.model_copy(update={"number": number})
        samples = render(sound, hit).samples[0]
        starts.append(np.flatnonzero(np.abs(samples) > 0)[0] / RATE)
    assert len({round(one, 4) for one in starts}) == 5
    assert 0.05 <= min(starts) <= max(starts) <= 0.25


def test_a_moved_pulse_width_is_met_at_every_moment():
    """The share of time above the middle is the width, which goes from 20 to 80 % in a second."""
    ramp = {"points": [{"time_s": 0, "value": 0}, {"time_s": 1, "value": 1}]}
    sound = sound_with(
        [{"id": "c", "kind": "curve", "curve": ramp}],
        [link("c", "a.source.width", 0.6)],
        layer={"source": {"kind": "tone", "shape": 3, "width": 0.2}},
        hit={"note": 45},
    )
    samples = render(sound).samples[0]
    for at_s in (0.1, 0.5, 0.9):
        period = RATE / 110.0
        cut = samples[
            round(at_s * RATE) - round(5 * period) : round(at_s * RATE) + round(5 * period)
        ]
        middle = 0.5 * (np.percentile(cut, 2) + np.percentile(cut, 98))
        assert np.mean(cut > middle) == pytest.approx(0.2 + 0.6 * at_s, abs=0.02)


def test_a_moved_pulse_width_does_not_alias():
    sound = sound_with(
        [MACRO],
        [link("z", "a.source.width", 0.2)],
        layer={
            "source": {
                "kind": "tone",
                "shape": 3,
                "width": 0.2,
                "follows_note": False,
                "fixed_hz": 5000,
            }
        },
    )
    samples = render(sound).samples[0, 4800:43200]
    assert alias_dbc(samples, 5000.0, RATE) < -90.0


@pytest.mark.parametrize(
    ("response", "slope"), [("peak", 12), ("low_shelf", 12), ("high_shelf", 6), ("low_shelf", 24)]
)
def test_a_gain_that_moves_passes_through_every_gain_that_stands(response, slope):
    noise = np.random.default_rng(2).normal(size=(1, 48000)) * 0.1
    shape = {
        "response": response,
        "slope_db": slope,
        "cutoff_hz": 900.0,
        "resonance": 1.2,
        "sample_rate": RATE,
    }
    for gain_db in (-13.0, 7.7):
        moving = filter_signal(noise, gain_db=np.full(3003, gain_db), **shape)
        still = filter_signal(noise, gain_db=gain_db, **shape)
        np.testing.assert_allclose(moving, still, atol=1e-9)


def test_formants_peak_where_they_are_set():
    impulse = np.zeros((1, RATE))
    impulse[0, 0] = 1.0
    out = formant_signal(
        impulse, first_hz=500.0, second_hz=2400.0, sharpness=12.0, second_db=-6.0, sample_rate=RATE
    )
    found = 20 * np.log10(np.abs(np.fft.rfft(out[0])))
    assert (found[500], found[2400]) == pytest.approx((0.0, -6.0), abs=0.15)
    assert found[1100] < -20.0
    assert int(np.argmax(found[:1000])) == pytest.approx(500, abs=2)
    assert 1000 + int(np.argmax(found[1000:6000])) == pytest.approx(2400, abs=8)


class TestDriveInsideAFilter:
    @staticmethod
    def driven(signal, drive_db, response="low_pass", **changes):
        shape = {"slope_db": 12, "cutoff_hz": 2000.0, "resonance": 2.0, "gain_db": 0.0, **changes}
        return driven_filter_signal(
            signal, response=response, drive_db=drive_db, sample_rate=RATE, **shape
        )

    def test_a_quiet_signal_meets_the_analogue_filter(self):
        """Done at four times the rate, it is within 0.2 dB of H(s) = 1 / (s^2 + s / Q + 1)."""
        impulse = np.zeros((1, RATE))
        impulse[0, 100] = 1e-4
        found = np.abs(np.fft.rfft(self.driven(impulse, 0.001)[0])) * 1e4
        hz = np.arange(100, 10000, 50)
        _, expected = freqs([1], [1, 0.5, 1], hz / 2000.0)
        np.testing.assert_allclose(
            20 * np.log10(found[hz]), 20 * np.log10(np.abs(expected)), atol=0.2
        )

    @pytest.mark.parametrize("drive_db", [6.0, 24.0, 36.0])
    def test_full_scale_stays_about_full_scale(self, drive_db):
        sine = np.sin(2 * np.pi * 100.0 * np.arange(RATE) / RATE)[np.newaxis]
        peak = np.abs(self.driven(sine, drive_db, resonance=0.707)[0, 4800:]).max()
        assert 20 * np.log10(peak) == pytest.approx(0.0, abs=2.5)

    @pytest.mark.parametrize("response", ["low_pass", "high_pass", "band_pass"])
    def test_it_adds_odd_partials_and_nothing_else(self, response):
        sine = np.sin(2 * np.pi * 3000.0 * np.arange(RATE) / RATE)[np.newaxis]
        out = self.driven(sine, 24.0, response)[0, 4800:43200]
        assert alias_dbc(out, 3000.0, RATE) < -80.0
        hz, magnitudes = spectrum(out, RATE)
        third = magnitudes[np.abs(hz - 9000) < 20].max() / magnitudes.max()
        assert 20 * np.log10(third) > -40.0

    def test_resonance_is_held_and_never_blows_up(self):
        noise = np.random.default_rng(3).normal(size=(1, RATE))
        cutoff = np.geomspace(20.0, 20000.0, 3002)
        out = self.driven(noise, 36.0, cutoff_hz=cutoff, resonance=40.0)
        assert np.all(np.isfinite(out))
        assert np.abs(out).max() < 20.0


def test_a_follower_of_pulses_ducks_on_every_beat():
    """Pulses at full on each beat at 120 bpm: up in the attack, half gone after ln 2 releases."""
    mover = {
        "id": "f",
        "kind": "follower",
        "pulses": [1.0, 0.0, 0.0, 0.0],
        "beats": 0.25,
        "pulse_s": 0.03,
        "attack_s": 0.001,
        "release_s": 0.1,
    }
    sound = sound_with([mover], [link("f", "a.level_db", -40)], hit={"hold_s": 1.5})
    time_s, values = control(sound, "f")
    for beat in (0.0, 0.5, 1.0):
        top = values[np.abs(time_s - beat - 0.03) < 0.001].max()
        assert top == pytest.approx(1.0, abs=0.01)
        half = values[np.argmin(np.abs(time_s - beat - 0.03 - 0.1 * np.log(2)))]
        assert half == pytest.approx(0.5, abs=0.01)
        before = values[(time_s > beat + 0.4) & (time_s < beat + 0.49)]
        assert before.max() < 0.03
    samples = render(sound).samples[0]
    quiet = np.abs(samples[round(0.51 * RATE) : round(0.53 * RATE)]).max()
    loud = np.abs(samples[round(0.9 * RATE) : round(0.98 * RATE)]).max()
    assert 20 * np.log10(quiet / loud) < -30.0


def test_voices_differ_in_what_a_voice_mover_moves():
    """Three voices without detune, an octave from one to the next by the mover alone."""
    sound = sound_with(
        [{"id": "v", "kind": "voice"}],
        [link("v", "a.pitch_st", 12)],
        layer={
            "source": {
                "kind": "tone",
                "unison": {"voices": 3, "detune_cent": 0, "phase_spread": 1.0, "width": 0},
            }
        },
        hit={"note": 69},
    )
    samples = render(sound).samples[0, 4800:43200]
    hz, magnitudes = spectrum(samples, RATE)
    found = [magnitudes[np.abs(hz - one) < 8].max() for one in (220, 440, 880, 660)]
    np.testing.assert_allclose(np.array(found[:3]) / found[0], 1.0, atol=0.02)
    assert found[3] < 1e-4 * found[0]
    one = sound_with([{"id": "v", "kind": "voice"}], [link("v", "a.pitch_st", 12)])
    plain = sound_with([], [])
    np.testing.assert_array_equal(render(one).samples, render(plain).samples)


@pytest.mark.parametrize("target", ["a.level_db", "a.source.phase_random", "main.level_db"])
def test_voices_cannot_differ_in_what_comes_after_them(target):
    with pytest.raises(DocumentError, match="voices cannot differ in"):
        sound_with([{"id": "v", "kind": "voice"}], [link("v", target, 1)])
