"""Several notes in one hit: chords, one at a time, slurred, and in patterns."""

import numpy as np
import pytest

from nest_crate.core.engine import render
from nest_crate.core.engine.notes import played_notes
from nest_crate.core.errors import DocumentError
from nest_crate.core.sound import load_hit, load_sound
from nest_crate.core.units import note_to_hz
from tests.core.spectra import spectrum

RATE = 48000
HELD = {
    "points": [{"time_s": 0, "value": 0}, {"time_s": 0.002, "value": 1}],
    "release": [{"time_s": 0.02, "value": 0}],
}


def sound_of(way="poly", glide_s=0.0, further=(), hold_s=1.0, note=57, **parts):
    layer = {"id": "a", "name": "A", "source": {"kind": "tone"}, "level": HELD}
    layer |= parts.pop("layer", {})
    return load_sound(
        {
            "name": "S",
            "layers": [layer],
            "playing": {"way": way, "glide_s": glide_s},
            "hit": {
                "note": note,
                "hold_s": hold_s,
                "further": [{"note": n, "at_s": t} for n, t in further],
            },
            **parts,
        }
    )


def pattern(**changes):
    return {"order": "repeat", "notes": 4, "sync": False, "every_s": 0.1, "gate": 0.5, **changes}


def starts_and_notes(sound):
    return [(round(one.start_s, 6), one.note) for one in played_notes(sound, sound.hit)]


def level_at(samples, hz, from_s, to_s):
    cut = samples[round(from_s * RATE) : round(to_s * RATE)]
    found, magnitudes = spectrum(cut, RATE)
    scale = spectrum(np.sin(2 * np.pi * hz * np.arange(cut.size) / RATE), RATE)[1].max()
    return 20 * np.log10(magnitudes[np.abs(found - hz) < 12].max() / scale + 1e-12)


def pitch_at(samples, at_s):
    """From the times of the upward passages through 0 nearest to a moment."""
    cut = samples[round((at_s - 0.02) * RATE) : round((at_s + 0.02) * RATE)]
    before = np.flatnonzero((cut[:-1] < 0) & (cut[1:] >= 0))
    exact = before + cut[before] / (cut[before] - cut[before + 1])
    return RATE * (len(exact) - 1) / (exact[-1] - exact[0])


def test_a_chord_is_the_sum_of_its_notes_and_can_be_a_take():
    chord = render(sound_of(further=[(61, 0), (64, 0)])).samples[0]
    alone = [render(sound_of(note=n)).samples[0] for n in (57, 61, 64)]
    frames = min(one.size for one in (chord, *alone)) - 500
    np.testing.assert_allclose(
        chord[:frames], sum(one[:frames] for one in alone), rtol=0, atol=1e-12
    )


def test_every_note_is_let_go_at_the_end_of_the_hold():
    samples = render(sound_of(further=[(69, 0.5)])).samples[0]
    assert level_at(samples, note_to_hz(69), 0.1, 0.45) < -80
    assert level_at(samples, note_to_hz(69), 0.55, 0.95) == pytest.approx(0, abs=0.1)
    assert level_at(samples, note_to_hz(57), 0.55, 0.95) == pytest.approx(0, abs=0.1)
    assert samples.size < 1.2 * RATE


def test_mono_ends_the_note_before_without_a_click():
    samples = render(sound_of("mono", further=[(69, 0.5)])).samples[0]
    assert level_at(samples, note_to_hz(57), 0.1, 0.45) == pytest.approx(0, abs=0.1)
    assert level_at(samples, note_to_hz(57), 0.55, 0.95) < -80
    # A cut would jump; here the largest step is a sine's own and that of the fades.
    steps = np.abs(np.diff(samples))
    assert steps.max() < 2 * np.pi * note_to_hz(69) / RATE + 0.02


@pytest.mark.parametrize("way", ["mono", "legato"])
def test_of_notes_at_once_only_the_newest_sounds(way):
    samples = render(sound_of(way, further=[(69, 0)])).samples[0]
    assert level_at(samples, note_to_hz(69), 0.1, 0.9) == pytest.approx(0, abs=0.1)
    assert level_at(samples, note_to_hz(57), 0.1, 0.9) < -80


def test_legato_goes_on_with_the_curves_and_slides_in_semitones():
    """From A3 up an octave at 0.4 s in 200 ms: 6 st after half the way, level never touched."""
    sound = sound_of("legato", 0.2, further=[(69, 0.4)])
    samples = render(sound).samples[0]
    for at_s, note in ((0.3, 57), (0.5, 63), (0.7, 69)):
        assert pitch_at(samples, at_s) == pytest.approx(note_to_hz(note), rel=0.004)
    envelope = np.abs(samples[4800:43200]).reshape(-1, 480).max(axis=1)
    assert envelope.min() > 0.98


def test_legato_begins_anew_after_a_gap_and_mono_slides_from_the_note_before():
    gate = pattern(order="up", notes=2, every_s=0.4, gate=0.5, octaves=2)
    apart = render(sound_of("legato", 0.1, pattern=gate)).samples[0]
    assert np.abs(apart[round(0.25 * RATE) : round(0.38 * RATE)]).max() < 1e-3
    slid = render(sound_of("mono", 0.2, pattern={**gate, "gate": 1.0})).samples[0]
    assert pitch_at(slid, 0.5) == pytest.approx(note_to_hz(63), rel=0.005)
    assert pitch_at(slid, 0.7) == pytest.approx(note_to_hz(69), rel=0.005)


@pytest.mark.parametrize(
    ("changes", "expected"),
    [
        ({}, [(0, 57), (0, 60), (0.1, 57), (0.1, 60), (0.2, 57), (0.2, 60), (0.3, 57), (0.3, 60)]),
        ({"order": "up"}, [(0, 57), (0.1, 60), (0.2, 57), (0.3, 60)]),
        ({"order": "down", "octaves": 2}, [(0, 72), (0.1, 69), (0.2, 60), (0.3, 57)]),
        (
            {"order": "up_down", "octaves": 2, "notes": 7},
            [(0, 57), (0.1, 60), (0.2, 69), (0.3, 72), (0.4, 69), (0.5, 60), (0.6, 57)],
        ),
        ({"order": "up", "sync": True, "beats": 0.5, "notes": 2}, [(0, 57), (0.25, 60)]),
        ({"order": "up", "notes": 0, "every_s": 0.3}, [(0, 57), (0.3, 60), (0.6, 57), (0.9, 60)]),
    ],
)
def test_patterns_play_their_notes_in_order_and_time(changes, expected):
    sound = sound_of(further=[(60, 0)], pattern=pattern(**changes))
    assert starts_and_notes(sound) == expected


def test_a_roll_grows_by_what_is_set_and_its_notes_are_held_by_the_gate():
    sound = sound_of(pattern=pattern(notes=5, fade_db=12, every_s=0.2, gate=0.5))
    samples = render(sound).samples[0]
    peaks = [np.abs(samples[n * 9600 : n * 9600 + 9600]).max() for n in range(5)]
    np.testing.assert_allclose(20 * np.log10(peaks), [-12, -9, -6, -3, 0], atol=0.05)
    assert np.abs(samples[round(0.13 * RATE) : round(0.199 * RATE)]).max() < 1e-3
    fading = [one.gain_db for one in played_notes(*_hit(sound, fade_db=-12))]
    np.testing.assert_allclose(fading, [0, -3, -6, -9, -12])


def _hit(sound, **changes):
    changed = sound.model_copy(update={"pattern": sound.pattern.model_copy(update=changes)})
    return changed, changed.hit


def test_notes_of_a_pattern_differ_by_chance_but_the_first_is_the_plain_hit():
    movers = [{"id": "r", "name": "R", "kind": "random"}]
    links = [{"mover": "r", "target": "a.level_db", "amount": 6}]
    parts = {"movers": movers, "links": links}
    roll = render(sound_of(pattern=pattern(), **parts)).samples[0]
    plain = render(sound_of(hold_s=0.05, **parts)).samples[0]
    frames = 2400
    np.testing.assert_allclose(roll[:frames], plain[:frames], atol=1e-12)
    peaks = {round(float(np.abs(roll[n * 4800 : n * 4800 + 4800]).max()), 4) for n in range(4)}
    assert len(peaks) == 4


def test_the_common_pitch_curve_is_one_line_over_all_notes():
    """Up an octave in a second: the note at 0.8 s sounds 9.6 st higher than the curve's start."""
    line = {"points": [{"time_s": 0, "value": 0}, {"time_s": 1, "value": 12}]}
    roll = pattern(notes=2, every_s=0.8, gate=0.2)
    samples = render(sound_of(pattern=roll, pitch=line)).samples[0]
    assert pitch_at(samples, 0.86) == pytest.approx(note_to_hz(57 + 12 * 0.86), rel=0.005)


def test_a_filter_that_follows_the_note_follows_each_one_and_slides():
    """A band-pass at 100 % key follow lets every note through alike, while it slides too."""
    band = {
        "id": "f",
        "kind": "filter",
        "response": "band_pass",
        "resonance": 10,
        "cutoff_hz": note_to_hz(60),
        "key_follow": 1.0,
    }
    for way, glide in (("poly", 0.0), ("legato", 0.1)):
        sound = sound_of(way, glide, further=[(81, 0.5)], layer={"chain": [band]})
        samples = render(sound).samples[0]
        assert level_at(samples, note_to_hz(81), 0.7, 0.95) == pytest.approx(0.0, abs=0.1)
        middle = (
            np.abs(samples[round(0.2 * RATE) : round(0.95 * RATE)]).reshape(-1, 480).max(axis=1)
        )
        assert middle.min() > 0.6


@pytest.mark.parametrize(
    ("further", "path"),
    [
        ([{"note": 200}], "hit.further.0.note"),
        ([{"note": 60, "at_s": -1}], "hit.further.0.at_s"),
        ([{"note": 60}] * 16, "hit.further"),
    ],
)
def test_bad_further_notes_are_refused_at_their_place(further, path):
    with pytest.raises(DocumentError) as refused:
        load_hit({"further": further})
    assert [problem.path for problem in refused.value.problems] == [path]


def test_at_most_64_notes_are_played_however_short_the_steps():
    sound = sound_of(
        hold_s=10.0,
        further=[(n, 0) for n in range(60, 68)],
        pattern=pattern(notes=0, every_s=0.005),
    )
    assert len(played_notes(sound, sound.hit)) == 64
