"""What files of other programs say of themselves: written by independent writers, read by ours."""

import io
import struct
import subprocess
from xml.etree.ElementTree import fromstring

import numpy as np
import pytest
import soundfile
from mutagen.aiff import AIFF
from mutagen.flac import FLAC
from mutagen.id3 import CHAP, COMM, TBPM, TCON, TCOP, TDRC, TIT2, TKEY, TPE1, TXXX
from mutagen.mp3 import MP3
from mutagen.oggvorbis import OggVorbis
from mutagen.wave import WAVE
from wavinfo import WavInfoReader

from nest_crate.core.formats.aiff import aiff_file
from nest_crate.core.formats.broadcast_wav import broadcast_wav
from nest_crate.core.formats.ixml import kept_ixml
from nest_crate.core.formats.metadata import read_facts
from nest_crate.core.formats.packed_files import flac_file, ogg_file
from nest_crate.core.formats.tagged import Mark, SoundFacts

RATE = 44100
FRAMES = RATE
SIGNAL = 0.25 * np.sin(2.0 * np.pi * 220.0 * np.arange(FRAMES) / RATE)
OTHERS_IXML = (
    '<?xml version="1.0" encoding="UTF-8"?><BWFXML><IXML_VERSION>1.61</IXML_VERSION>'
    "<PROJECT>Vine opera</PROJECT><SCENE>12B</SCENE><TAKE>4</TAKE><TAPE>MOTH_07</TAPE>"
    "<NOTE>leaves brush the mast</NOTE><CIRCLED>TRUE</CIRCLED>"
    "<SPEED><TIMECODE_RATE>25/1</TIMECODE_RATE></SPEED></BWFXML>"
)


def facts_in(path):
    info = soundfile.info(path)
    with path.open("rb") as file:
        return read_facts(file, info.frames, info.samplerate)


def plain(path, **options):
    soundfile.write(path, SIGNAL, RATE, **options)
    return path


def with_chunks(*chunks):
    """A plain WAV with chunks behind its samples, put together by hand."""
    buffer = io.BytesIO()
    soundfile.write(buffer, SIGNAL, RATE, format="WAV", subtype="PCM_16")
    body = buffer.getvalue()[12:]
    for name, content in chunks:
        body += name + struct.pack("<I", len(content)) + content + b"\0" * (len(content) % 2)
    return b"RIFF" + struct.pack("<I", 4 + len(body)) + b"WAVE" + body


def facts_of(data, frames=FRAMES):
    return read_facts(io.BytesIO(data), frames, RATE)


def frames_of_id3():
    return [
        TIT2(encoding=3, text="Größe der Motte"),
        TPE1(encoding=3, text="Wren Halloway"),
        TBPM(encoding=3, text="128"),
        TKEY(encoding=3, text="F#m"),
        TCOP(encoding=3, text="CC0"),
        TCON(encoding=3, text="Tonal"),
        TDRC(encoding=3, text="2025-03-09"),
        COMM(encoding=3, lang="eng", desc="", text="struck with a thimble"),
        TXXX(encoding=3, desc="Keywords", text="brass; small"),
        CHAP(element_id="c1", start_time=250, end_time=300, sub_frames=[TIT2(3, text="ring")]),
    ]


@pytest.mark.parametrize("kind", ["mp3", "wav", "aiff"])
def test_id3_of_mp3_wav_and_aiff(tmp_path, kind):
    path = plain(tmp_path / f"a.{kind}")
    file = {"mp3": MP3, "wav": WAVE, "aiff": AIFF}[kind](path)
    if file.tags is None:
        file.add_tags()
    for frame in frames_of_id3():
        file.tags.add(frame)
    file.save()
    found = facts_in(path)
    assert (found.title, found.author, found.licence) == ("Größe der Motte", "Wren Halloway", "CC0")
    assert (found.tempo_bpm, found.key, found.genre) == (128.0, "F#m", "Tonal")
    assert (found.description, found.date) == ("struck with a thimble", "2025-03-09")
    assert found.tags == ("brass", "small")
    assert found.marks == (Mark(0.25, "ring"),)


@pytest.mark.parametrize("kind", ["flac", "ogg"])
def test_comments_by_the_names_of_other_programs(tmp_path, kind):
    path = plain(tmp_path / f"a.{kind}")
    file = (FLAC if kind == "flac" else OggVorbis)(path)
    names = {
        "COPYRIGHT": "CC BY 4.0",
        "COMMENT": "a dry leaf",
        "INITIALKEY": "Am",
        "TEMPO": "90",
        "DATE": "2024",
        "CHAPTER001": "00:00:00.500",
        "CHAPTER001NAME": "snap",
    }
    for name, text in names.items():
        file[name] = text
    file.save()
    found = facts_in(path)
    assert (found.licence, found.description, found.key) == ("CC BY 4.0", "a dry leaf", "Am")
    assert (found.tempo_bpm, found.date) == (90.0, "2024")
    assert found.marks == (Mark(0.5, "snap"),)


def test_what_ffmpeg_writes_into_a_wav(tmp_path):
    source, path = plain(tmp_path / "in.wav"), tmp_path / "out.wav"
    said = {
        "title": "Rake",
        "artist": "Isolde Marrow",
        "copyright": "CC0",
        "comment": "over slate",
        "genre": "Foley",
        "date": "2023-07-01",
    }
    words = [part for name, text in said.items() for part in ("-metadata", f"{name}={text}")]
    command = ["ffmpeg", "-v", "error", "-i", str(source), *words, str(path)]
    subprocess.run(command, check=True, timeout=60)
    found = facts_in(path)
    assert (found.title, found.author, found.licence) == ("Rake", "Isolde Marrow", "CC0")
    assert (found.description, found.genre, found.date) == ("over slate", "Foley", "2023-07-01")


def test_the_broadcast_extension_of_ffmpeg(tmp_path):
    source, path = plain(tmp_path / "in.wav"), tmp_path / "out.wav"
    said = {
        "description": "Gate in the rain",
        "originator": "Field kit 3",
        "originator_reference": "FK3-000917",
        "origination_date": "2022-11-05",
    }
    words = [part for name, text in said.items() for part in ("-metadata", f"{name}={text}")]
    command = ["ffmpeg", "-v", "error", "-i", str(source), "-write_bext", "1", *words, str(path)]
    subprocess.run(command, check=True, timeout=60)
    found = facts_in(path)
    assert (found.description, found.author) == ("Gate in the rain", "Field kit 3")
    assert (found.reference, found.date) == ("FK3-000917", "2022-11-05")


@pytest.mark.parametrize(
    ("flags", "note", "beats", "tempo", "wanted"),
    [
        (2, 57, 4, 96.5, (57, 96.5)),
        (0, 57, 4, 96.5, (None, 96.5)),
        # One shots say a tempo that means nothing.
        (3, 57, 4, 96.5, (57, None)),
        (2, 200, 0, 96.5, (None, None)),
        (2, 57, 4, float("nan"), (57, None)),
        (2, 57, 4, 5000.0, (57, None)),
    ],
)
def test_note_and_tempo_of_loops(flags, note, beats, tempo, wanted):
    content = struct.pack("<IHHfIHHf", flags, note, 0x8000, 0.0, beats, 4, 4, tempo)
    found = facts_of(with_chunks((b"acid", content)))
    assert (found.root_note, found.tempo_bpm) == wanted


def cue(*places):
    points = b"".join(
        struct.pack("<II4sIII", number, at, b"data", 0, 0, at) for number, at in places
    )
    return b"cue ", struct.pack("<I", len(places)) + points


def labels(*texts):
    content = b"adtl"
    for number, text in texts:
        said = struct.pack("<I", number) + text.encode() + b"\0"
        content += b"labl" + struct.pack("<I", len(said)) + said + b"\0" * (len(said) % 2)
    return b"LIST", content


def test_cue_points_are_marks_with_their_labels():
    data = with_chunks(cue((7, 22050), (3, 4410), (9, 40000)), labels((3, "attack"), (7, "tail é")))
    wanted = (Mark(0.1, "attack"), Mark(0.5, "tail é"), Mark(40000 / RATE, "Mark 9"))
    assert facts_of(data).marks == wanted


def test_marks_behind_the_end_are_left_out():
    data = with_chunks(cue((1, FRAMES), (2, 10)), labels((1, "gone")))
    assert facts_of(data).marks == (Mark(10 / RATE, "Mark 2"),)


def test_ixml_of_another_program_is_kept_whole_and_written_back(tmp_path):
    found = facts_of(with_chunks((b"iXML", OTHERS_IXML.encode())))
    assert found.description == "leaves brush the mast"
    facts = SoundFacts(title="Brush", description="rewritten", tags=("leaf",), ixml=found.ixml)
    path = tmp_path / "out.wav"
    path.write_bytes(broadcast_wav(SIGNAL[None], RATE, numbers="pcm24", facts=facts))
    tree = fromstring(WavInfoReader(str(path)).ixml.source)
    said = {one: tree.findtext(one) for one in ("PROJECT", "SCENE", "TAKE", "TAPE", "CIRCLED")}
    assert said == {
        "PROJECT": "Vine opera",
        "SCENE": "12B",
        "TAKE": "4",
        "TAPE": "MOTH_07",
        "CIRCLED": "TRUE",
    }
    assert tree.findtext("SPEED/TIMECODE_RATE") == "25/1"
    assert tree.findtext("NOTE") == "rewritten"
    assert tree.findtext("USER/KEYWORDS") == "leaf"
    assert tree.findtext("TRACK_LIST/TRACK_COUNT") == "1"
    again = facts_in(path)
    assert again.ixml.count("MOTH_07") == 1
    assert (again.title, again.description, again.tags) == ("Brush", "rewritten", ("leaf",))


def test_ixml_names_the_channels(tmp_path):
    stereo = np.stack([SIGNAL, -SIGNAL])
    path = tmp_path / "out.wav"
    facts = SoundFacts(title="Two", reference="nest-crate-4")
    path.write_bytes(broadcast_wav(stereo, RATE, numbers="pcm16", facts=facts))
    tracks = [
        (int(one.channel_index), one.name) for one in WavInfoReader(str(path)).ixml.track_list
    ]
    assert tracks == [(1, "Left"), (2, "Right")]
    # What this program writes by itself is not kept as a stranger's.
    assert facts_in(path).ixml == ""


@pytest.mark.parametrize(
    "content",
    [
        b"<BWFXML><NOTE>&#1;</NOTE></BWFXML>",
        b'<!DOCTYPE x [<!ENTITY a "b">]><BWFXML><NOTE>&a;</NOTE></BWFXML>',
        b'<!DOCTYPE x [<!ENTITY a SYSTEM "file:///etc/passwd">]><BWFXML>&a;</BWFXML>',
        b"<BWFXML><NOTE>open",
        b"<OTHER><NOTE>x</NOTE></OTHER>",
        b"\xff\xfe<\x00B\x00",
        b"<BWFXML>" + b"<a>" * 20000,
        b"",
    ],
)
def test_hostile_ixml_is_left_out(content):
    assert kept_ixml(content) == ""
    assert facts_of(with_chunks((b"iXML", content))).description == ""


@pytest.mark.parametrize("kind", ["wav", "aiff", "flac", "ogg"])
def test_key_date_and_marks_come_back(kind):
    facts = SoundFacts(
        title="Bell",
        key="Dm",
        date="2024-02-29",
        marks=(Mark(0.2, "Größe"), Mark(0.75, "x" * 240)),
        root_note=62,
        loop_start_s=0.1,
        loop_end_s=0.9,
    )
    signal = SIGNAL[None]
    if kind == "wav":
        data = broadcast_wav(signal, RATE, numbers="pcm24", facts=facts)
    elif kind == "ogg":
        data = ogg_file(signal, RATE, facts=facts)
    else:
        data = (aiff_file if kind == "aiff" else flac_file)(signal, RATE, bits=24, facts=facts)
    found = facts_of(data)
    assert (found.key, found.date, found.root_note) == ("Dm", "2024-02-29", 62)
    assert (found.loop_start, found.loop_end) == (4410, 39690)
    assert [one.label for one in found.marks] == ["Größe", "x" * 240]
    np.testing.assert_allclose([one.at_s for one in found.marks], [0.2, 0.75], atol=5e-4)


def test_a_reference_of_others_stays_theirs():
    facts = SoundFacts(title="A", reference="nest-crate-9", source_reference="FK3-000917")
    data = broadcast_wav(SIGNAL[None], RATE, numbers="pcm24", facts=facts)
    assert facts_of(data).reference == "FK3-000917"
    own = SoundFacts(title="A", reference="nest-crate-9")
    found = facts_of(broadcast_wav(SIGNAL[None], RATE, numbers="pcm24", facts=own))
    assert (found.reference, found.author, found.description) == ("", "", "")
