"""Exported files, read by programs and packages that are not ours."""

import dataclasses
import io
import json
import subprocess
import xml.etree.ElementTree as ElementTree

import numpy as np
import pytest
import soundfile
from mutagen.aiff import AIFF
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

RATE = 48000
FACTS = SoundFacts(
    title="Kiln door <kick> & thump",
    description="Ofentür, schwer",
    author="Wren Halloway",
    licence="CC0",
    date="2026-11-01",
    library="Glasshouse Clockworks",
    category="drum",
    subcategory="kick",
    tags=("low", "dark"),
    root_note=31,
    tempo_bpm=96.0,
    loop_start_s=0.1,
    loop_end_s=0.5,
    variation=3,
    reference="nest-crate-7",
    loudness_lufs=-13.24,
    true_peak_db=-1.02,
    marks=(Mark(0.12, "the hinge"),),
)


def sound(channels=2):
    time_s = np.arange(RATE) / RATE
    sides = [0.5 * np.sin(2 * np.pi * hz * time_s) for hz in (220.0, 330.0)]
    return np.array(sides[:channels])


def made(kind, channels=2, facts=FACTS, **options):
    signal = sound(channels)
    if kind.startswith("wav"):
        numbers = {"wav16": "pcm16", "wav24": "pcm24", "wav32": "float32"}[kind]
        return broadcast_wav(signal, RATE, numbers=numbers, facts=facts, **options)
    if kind == "ogg":
        return ogg_file(signal, RATE, facts=facts)
    bits = int(kind[-2:])
    writer = flac_file if kind.startswith("flac") else aiff_file
    return writer(signal, RATE, bits=bits, facts=facts, **options)


KINDS = ("wav16", "wav24", "wav32", "flac16", "flac24", "aiff16", "aiff24", "ogg")


@pytest.fixture(scope="module")
def folder(tmp_path_factory):
    folder = tmp_path_factory.mktemp("files")
    for kind in KINDS:
        (folder / f"{kind}.{kind.rstrip('0123456789')}").write_bytes(made(kind))
    return folder


def path_of(folder, kind):
    return folder / f"{kind}.{kind.rstrip('0123456789')}"


@pytest.mark.parametrize("channels", [1, 2])
@pytest.mark.parametrize("kind", KINDS)
def test_samples_are_those_of_the_sound(kind, channels):
    frames, rate = soundfile.read(io.BytesIO(made(kind, channels)), always_2d=True)
    assert (rate, frames.shape) == (RATE, (RATE, channels))
    steps = {"16": 2**-15, "24": 2**-23, "32": 2**-24}
    # Ogg is no copy: it is heard as the same, which is to be near in level.
    step = steps.get(kind[-2:], 0.02)
    np.testing.assert_allclose(frames.T, sound(channels), atol=step)


@pytest.mark.parametrize("kind", KINDS)
def test_the_same_sound_is_the_same_bytes(kind):
    assert made(kind) == made(kind)


@pytest.mark.parametrize("kind", KINDS)
def test_ffprobe_reads_format_and_words(folder, kind):
    command = ["ffprobe", "-v", "error", "-of", "json", "-show_format", "-show_streams"]
    found = subprocess.run(
        [*command, str(path_of(folder, kind))], capture_output=True, check=True, text=True
    )
    assert found.stderr == ""
    shown = json.loads(found.stdout)
    stream = shown["streams"][0]
    assert (stream["sample_rate"], stream["channels"]) == ("48000", 2)
    assert float(shown["format"]["duration"]) == pytest.approx(1.0, abs=1e-3)
    tags = shown["format"].get("tags", {}) | stream.get("tags", {})
    tags = {key.lower(): value for key, value in tags.items()}
    assert tags["title"] == FACTS.title
    assert FACTS.author in (tags.get("artist"), tags.get("author"))


@pytest.mark.parametrize("kind", KINDS)
def test_mediainfo_reads_title_and_length(folder, kind):
    command = ["mediainfo", "--Output=JSON", str(path_of(folder, kind))]
    shown = json.loads(subprocess.run(command, capture_output=True, check=True, text=True).stdout)
    general, audio = shown["media"]["track"][:2]
    assert float(audio["SamplingRate"]) == RATE
    assert float(general["Duration"]) == pytest.approx(1.0, abs=0.01)
    assert FACTS.title in (general.get("Title"), general.get("Track"), general.get("Title_More"))


@pytest.mark.parametrize("kind", ["wav16", "wav24", "wav32"])
def test_sndfile_info_finds_nothing_wrong_with_a_wav(folder, kind):
    command = ["sndfile-info", str(path_of(folder, kind))]
    shown = subprocess.run(command, capture_output=True, check=True, text=True).stdout
    assert "Midi Note    : 31" in shown
    assert "Start :  4800  End : 23999" in shown
    assert "labl : 2 : the hinge" in shown
    assert "INAM : Kiln door" in shown
    assert "*** " not in shown


@pytest.mark.parametrize("kind", ["wav16", "wav24", "wav32"])
def test_wavinfo_reads_every_chunk(folder, kind):
    read = WavInfoReader(str(path_of(folder, kind)))
    assert (read.fmt.sample_rate, read.fmt.channel_count) == (RATE, 2)
    assert read.data.frame_count == RATE
    assert read.bext.description.startswith("Kiln door")
    assert read.bext.originator == "Wren Halloway"
    assert read.bext.originator_date == "2026-11-01"
    assert read.bext.loudness_value == pytest.approx(-13.24)
    assert read.bext.max_true_peak == pytest.approx(-1.02)
    assert read.info.title == FACTS.title
    assert read.info.artist == FACTS.author
    assert read.info.keywords == "low; dark"
    assert read.ixml.project == FACTS.library
    assert read.ixml.take == "3"
    assert read.smpl.midi_note == 31
    assert [(loop.start, loop.end) for loop in read.smpl.sample_loops] == [(4800, 23999)]
    assert [cue.position for cue in read.cues.cues] == [4800, 5760, 24000]


def test_ixml_is_xml_whatever_is_said():
    hostile = SoundFacts(title="a\x1b</BWFXML>&\x00gone", tags=("<x>",))
    data = made("wav16", facts=hostile)
    at = data.index(b"iXML")
    size = int.from_bytes(data[at + 4 : at + 8], "little")
    tree = ElementTree.fromstring(data[at + 8 : at + 8 + size])
    assert tree.findtext("SCENE") == "a </BWFXML>&"
    assert tree.findtext("USER/KEYWORDS") == "<x>"


def test_mutagen_reads_the_tags_of_flac_and_ogg(folder):
    for kind, reader in (("flac24", FLAC), ("ogg", OggVorbis)):
        tags = reader(path_of(folder, kind)).tags
        assert tags["title"] == [FACTS.title]
        assert tags["license"] == ["CC0"]
        assert tags["keywords"] == ["low", "dark"]
        assert tags["rootnote"] == ["31"]
        assert (tags["loopstart"], tags["looplength"]) == (["4800"], ["19200"])
    assert AIFF(path_of(folder, "aiff24")).info.bits_per_sample == 24


@pytest.mark.parametrize("kind", KINDS)
def test_what_is_written_comes_back_when_it_is_brought_in(folder, kind):
    with path_of(folder, kind).open("rb") as file:
        facts = read_facts(file, RATE, RATE)
    assert (facts.author, facts.licence, facts.genre) == (FACTS.author, "CC0", "drum / kick")
    assert facts.tags == FACTS.tags
    assert facts.root_note == 31
    assert (facts.loop_start, facts.loop_end) == (4800, 24000)


@pytest.mark.parametrize("cents", [-30.0, 0.0, 30.0])
@pytest.mark.parametrize("kind", ["wav24", "aiff24"])
def test_cents_off_the_note_come_back(kind, cents):
    data = made(kind, facts=SoundFacts(root_note=60, root_cent=cents))
    facts = read_facts(io.BytesIO(data), RATE, RATE)
    assert 100 * facts.root_note + facts.root_cent == pytest.approx(6000 + cents, abs=0.01)


class TestDither:
    def test_error_is_triangular_and_does_not_follow_the_sound(self):
        # A sine below one step would vanish, or be a square; with dither it is there, in noise.
        time_s = np.arange(4 * RATE) / RATE
        quiet = 0.4 * 2**-15 * np.sin(2 * np.pi * 1000 * time_s)[np.newaxis]
        assert not quantised(quiet, 16, dither=False).any()
        steps = quantised(quiet, 16, dither=True)[0]
        level = 2 * np.abs(np.mean(steps * np.exp(-2j * np.pi * 1000 * time_s)))
        assert level == pytest.approx(0.4, rel=0.03)
        # Two uniform values and the rounding: variance 2/12 + 1/12 of a step.
        assert np.var(steps - quiet[0] * 2**15) == pytest.approx(0.25, rel=0.02)

    def test_silence_stays_silent_and_full_scale_within(self):
        assert not quantised(np.zeros((2, 100)), 16, dither=True).any()
        loud = quantised(np.array([[-2.0, -1.0, 1.0, 2.0]]), 16, dither=True)
        assert loud.min() >= -32768
        assert loud.max() <= 32767


class TestInstrument:
    def test_keys_velocities_and_turns_cover_all_without_overlap(self):
        regions = [
            Region(f"a {note} {velocity} {turn}.wav", note, velocity, True)
            for note in (36, 48, 60)
            for velocity in (60, 100)
            for turn in (1, 2)
        ]
        text = sfz_text("Kick", regions)
        groups = [
            dict(p.split("=") for p in g.split()[1:]) for g in text.splitlines() if "<group>" in g
        ]
        covered = [
            (key, velocity)
            for group in groups
            for key in range(int(group["lokey"]), int(group["hikey"]) + 1)
            for velocity in range(int(group["lovel"]), int(group["hivel"]) + 1)
        ]
        assert len(covered) == len(set(covered)) == 128 * 127
        assert {group["seq_length"] for group in groups} == {"2"}
        played = [line.split("sample=")[1] for line in text.splitlines() if "sample=" in line]
        assert played == [region.path for region in regions]

    def test_one_that_stays_on_its_pitch_and_one_that_loops(self):
        text = sfz_text("x", [Region("a.wav", 60, None, False, loop=(10, 200))])
        assert "pitch_keytrack=0" in text
        assert "loop_mode=loop_sustain loop_start=10 loop_end=199" in text
        assert "lokey=0 hikey=127" in text


@pytest.mark.parametrize("kind", KINDS)
def test_hostile_metadata_is_read_or_left_out_but_never_fails(kind):
    """Bytes changed by chance, and the file cut short, anywhere in the details."""
    whole = made(kind, facts=FACTS)
    chance = np.random.default_rng(len(whole))
    for _ in range(150):
        data = bytearray(whole)
        for at in chance.integers(0, len(data), 12):
            # Where the words are: near either end.
            place = int(at) % 1500
            data[place if chance.random() < 0.6 else len(data) - 1 - place] = chance.integers(256)
        cut = int(chance.integers(12, len(data))) if chance.random() < 0.3 else len(data)
        facts = read_facts(io.BytesIO(bytes(data[:cut])), RATE, RATE)
        assert len(facts.tags) <= 40
        assert max(len(facts.author), len(facts.licence), len(facts.genre)) <= 120
        assert all(one.isprintable() for one in (facts.author, *facts.tags))


@pytest.mark.parametrize(
    ("title", "plain"),
    [
        ("Größe – Æther", "Grosse - Aether"),
        ("鐘 bell", "Zhong bell"),
        ("plain", "plain"),
        ("Żółw “quoted”…", 'Zolw "quoted"...'),
    ],
)
def test_what_is_not_ascii_is_spelled_out_in_bext_and_whole_in_ixml(tmp_path, title, plain):
    facts = dataclasses.replace(FACTS, title=title, description="", author="Jörg Ñandú")
    path = tmp_path / "a.wav"
    path.write_bytes(broadcast_wav(np.zeros((1, 480)), RATE, numbers="pcm16", facts=facts))
    read = WavInfoReader(str(path))
    assert read.bext.description == plain
    assert read.bext.originator == "Jorg Nandu"
    assert title in path.read_bytes().decode("utf-8", "ignore")
