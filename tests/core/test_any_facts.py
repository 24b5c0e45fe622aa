"""Whatever is said of a sound, its files hold the sound whole and say it again to others."""

import io
import struct

import numpy as np
import pytest
import soundfile
from hypothesis import example, given, settings
from hypothesis import strategies as st
from mutagen.flac import FLAC
from mutagen.oggvorbis import OggVorbis
from wavinfo import WavInfoReader

from nest_crate.core.formats.aiff import aiff_file
from nest_crate.core.formats.broadcast_wav import broadcast_wav
from nest_crate.core.formats.metadata import read_facts
from nest_crate.core.formats.packed_files import flac_file, ogg_file
from nest_crate.core.formats.quantisation import quantised
from nest_crate.core.formats.sfz import Region, sfz_text
from nest_crate.core.formats.tagged import Mark, SoundFacts

RATE = 44100

# What people type, and what they would not: other scripts, signs, what markup and tables use.
words = st.text(
    alphabet=st.characters(codec="utf-8", exclude_categories=("Cs",)), max_size=60
) | st.sampled_from(["<b>&amp;", "=1+2", "a\x00b", "\r\nx: y", "名前 🔔", "x" * 3000, "'\";--"])
plain_tags = st.lists(
    st.from_regex(r"[a-z0-9#][a-z0-9#-]{0,9}( [a-z0-9#-]{1,9})?", fullmatch=True),
    max_size=8,
    unique=True,
)
seconds = st.none() | st.floats(0.0, 2.0)
some_facts = st.builds(
    SoundFacts,
    title=words,
    description=words,
    author=words,
    licence=words,
    library=words,
    category=st.sampled_from(["", "drum", "tonal"]),
    subcategory=st.sampled_from(["", "kick"]),
    tags=plain_tags.map(tuple),
    root_note=st.none() | st.integers(1, 127),
    root_cent=st.floats(-49.0, 49.0),
    tempo_bpm=st.none() | st.integers(20, 400).map(float),
    loop_start_s=seconds,
    loop_end_s=seconds,
    variation_group=words.filter(lambda text: len(text) <= 80),
    variation=st.none() | st.integers(1, 9999),
    follows_key=st.booleans(),
    loudness_lufs=st.none() | st.floats(-144.0, 20.0),
    true_peak_db=st.none() | st.floats(-144.0, 20.0),
    marks=st.lists(st.builds(Mark, at_s=st.floats(0.0, 2.0), label=words), max_size=4).map(tuple),
)
signals = st.builds(
    lambda frames, channels, seed: np.random.default_rng(seed).uniform(
        -0.9, 0.9, (channels, frames)
    ),
    st.sampled_from([1, 2, 100, 1001, 4800]),
    st.sampled_from([1, 2]),
    st.integers(0, 99),
)


def made(kind, signal, facts):
    if kind == "wav24":
        return broadcast_wav(signal, RATE, numbers="pcm24", facts=facts)
    if kind == "wav32":
        return broadcast_wav(signal, RATE, numbers="float32", facts=facts)
    if kind == "ogg":
        return ogg_file(signal, RATE, facts=facts)
    writer = flac_file if kind == "flac24" else aiff_file
    return writer(signal, RATE, bits=24, facts=facts)


def as_read(text):
    """A text as it comes back: up to its first zero, on one line, not endless."""
    plain = text.split("\0", 1)[0]
    shown = "".join(one if one.isprintable() else " " for one in plain)
    return " ".join(shown.split())[:120]


@pytest.mark.parametrize("kind", ["wav24", "wav32", "flac24", "aiff24"])
@given(signal=signals, facts=some_facts)
@settings(max_examples=20, deadline=None)
def test_the_sound_is_whole_whatever_is_said_of_it(kind, signal, facts):
    data = made(kind, signal, facts)
    frames, rate = soundfile.read(io.BytesIO(data), always_2d=True)
    assert rate == RATE
    np.testing.assert_allclose(frames.T, signal, atol=2**-23)
    assert made(kind, signal, facts) == data


@given(signal=signals, facts=some_facts)
@settings(max_examples=15, deadline=None)
def test_ogg_has_all_frames_whatever_is_said_of_it(signal, facts):
    data = made("ogg", signal, facts)
    found = soundfile.info(io.BytesIO(data))
    assert (found.frames, found.channels) == (signal.shape[1], signal.shape[0])
    assert made("ogg", signal, facts) == data


@pytest.mark.parametrize("kind", ["wav24", "flac24", "aiff24", "ogg"])
@given(facts=some_facts)
@example(facts=SoundFacts(licence="0\x1f0", variation_group="a\x02b\uffffc", author="x\x0by"))
@example(facts=SoundFacts(root_cent=-1.0, loop_start_s=0.0, loop_end_s=1.0))
@settings(max_examples=20, deadline=None)
def test_what_was_said_is_read_again(kind, facts):
    frames = 4800
    signal = np.full((1, frames), 0.25)
    found = read_facts(io.BytesIO(made(kind, signal, facts)), frames, RATE)
    for name in ("title", "author", "licence"):
        assert getattr(found, name) == as_read(getattr(facts, name)), name
    # A sign that XML cannot hold is a blank there, as it is everywhere where it cannot be shown.
    assert found.variation_group == as_read(facts.variation_group)[:80].rstrip()
    assert found.variation == facts.variation
    assert found.follows_key == facts.follows_key
    assert found.tempo_bpm == facts.tempo_bpm
    assert found.genre == facts.genre
    assert found.tags == facts.tags
    loop = facts.loop_frames(RATE, frames)
    assert (found.loop_start, found.loop_end) == (loop or (None, None))
    if facts.root_note is None:
        # A loop may need a note beside it, which is then the one in the middle.
        assert (found.root_note, found.root_cent) in ((None, 0.0), (60, 0.0))
    elif kind.startswith(("wav", "aiff")):
        cents = 1.0 if kind.startswith("aiff") else 0.01
        sounded = 100 * found.root_note + found.root_cent
        assert sounded == pytest.approx(100 * facts.root_note + facts.root_cent, abs=cents)
    else:
        assert found.root_note == facts.root_note


@given(facts=some_facts)
@settings(max_examples=20, deadline=None)
def test_wav_chunks_fill_the_file_and_each_begins_even(facts):
    data = made("wav24", np.full((1, 101), 0.1), facts)
    assert struct.unpack("<4sI4s", data[:12]) == (b"RIFF", len(data) - 8, b"WAVE")
    at, names = 12, []
    while at < len(data):
        assert at % 2 == 0
        name, size = struct.unpack("<4sI", data[at : at + 8])
        names.append(name)
        at += 8 + size + size % 2
    assert at == len(data)
    assert {b"bext", b"fmt ", b"data", b"iXML"} <= set(names)


@given(facts=some_facts)
@settings(max_examples=15, deadline=None)
def test_wavinfo_reads_what_every_wav_says(facts, tmp_path_factory):
    path = tmp_path_factory.mktemp("wav") / "a.wav"
    path.write_bytes(made("wav24", np.full((1, 100), 0.1), facts))
    read = WavInfoReader(str(path))
    assert read.data.frame_count == 100
    for value, noted in (
        (facts.loudness_lufs, read.bext.loudness_value),
        (facts.true_peak_db, read.bext.max_true_peak),
    ):
        if value is not None:
            assert noted == pytest.approx(value, abs=0.0051)
    # Cue points that lie within the sound, by time, with the loop's two.
    inside = [round(mark.at_s * RATE) for mark in facts.marks]
    loop = facts.loop_frames(RATE, 100)
    wanted = sorted(at for at in [*inside, *(loop or ())] if at < 100)
    assert [cue.position for cue in (read.cues.cues if read.cues else [])] == wanted


@given(facts=some_facts)
@settings(max_examples=15, deadline=None)
def test_mutagen_reads_the_words_of_flac_and_ogg_to_the_letter(facts):
    signal = np.full((1, 300), 0.1)
    for kind, reader in (("flac24", FLAC), ("ogg", OggVorbis)):
        tags = reader(io.BytesIO(made(kind, signal, facts))).tags
        for name, text in (
            ("title", facts.title),
            ("artist", facts.author),
            ("description", facts.description),
            ("album", facts.library),
        ):
            assert tags.get(name, [""]) == [text]
        assert tuple(tags.get("keywords", [])) == facts.tags


@given(
    hits=st.lists(
        st.tuples(st.integers(0, 127), st.none() | st.integers(1, 127)), min_size=1, max_size=30
    ),
    follows=st.booleans(),
)
@settings(max_examples=50, deadline=None)
def test_an_instrument_answers_every_key_at_every_velocity_once_and_plays_every_file(hits, follows):
    regions = [
        Region(f"hit {n}.wav", note, velocity, follows) for n, (note, velocity) in enumerate(hits)
    ]
    text = sfz_text("Any", regions)
    times = np.zeros((128, 128), dtype=int)
    turns, played, waiting = [], [], 0
    for line in text.splitlines():
        if line.startswith("<group>"):
            assert waiting == 0
            group = dict(part.split("=") for part in line.split()[1:])
            low, high = int(group["lokey"]), int(group["hikey"])
            soft, loud = int(group["lovel"]), int(group["hivel"])
            times[low : high + 1, soft : loud + 1] += 1
            # The note that was recorded is played by its own group, as it is.
            assert low <= int(group["pitch_keycenter"]) <= high
            waiting = int(group["seq_length"])
            turns = list(range(1, waiting + 1))
        elif line.startswith("<region>"):
            assert int(line.split("seq_position=")[1].split()[0]) == turns.pop(0)
            waiting -= 1
            played.append(line.split("sample=")[1])
    assert waiting == 0
    assert np.all(times[:, 1:] == 1)
    assert sorted(played) == sorted(region.path for region in regions)


@given(
    signal=signals.map(lambda one: 3.0 * one),
    bits=st.sampled_from([16, 24]),
    dither=st.booleans(),
)
@settings(max_examples=40, deadline=None)
def test_whole_numbers_lie_within_their_bits_and_near_the_sound(signal, bits, dither):
    steps = quantised(signal, bits, dither=dither)
    scale = 2 ** (bits - 1)
    assert steps.min() >= -scale
    assert steps.max() <= scale - 1
    held = np.clip(signal * scale, -scale, scale - 1)
    # Half a step of rounding, and one of dither at most.
    assert np.abs(steps - held).max() <= (1.5 if dither else 0.5) + 1e-6
    np.testing.assert_array_equal(steps, quantised(signal, bits, dither=dither))
