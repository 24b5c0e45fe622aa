"""A hundred files of all formats, by independent writers: imported, reviewed, released, pulled,
exported in every format and imported again. What is kept by format is the table of docs/import.md.
"""

import hashlib
import io
import re
import struct
import zipfile
from pathlib import Path

import pytest
import soundfile
from mutagen.aiff import AIFF
from mutagen.flac import FLAC
from mutagen.id3 import CHAP, COMM, TBPM, TCON, TCOP, TDRC, TIT2, TKEY, TPE1, TXXX
from mutagen.mp3 import MP3
from mutagen.oggvorbis import OggVorbis
from mutagen.wave import WAVE

from tests.web import samples
from tests.web.samples import hit

DOC = Path(__file__).parents[2] / "docs" / "import.md"
ID3_KINDS = {"wav": WAVE, "aiff": AIFF, "mp3": MP3}
COMMENT_KINDS = {"flac": FLAC, "ogg": OggVorbis}
SOURCES = [*ID3_KINDS, *COMMENT_KINDS, "wav chunks"]
FORMATS = ["wav16", "wav24", "wav32", "flac16", "flac24", "aiff16", "aiff24", "ogg"]
COUNT = 100


def said_of(n):
    """What file number n says, in words that occur once."""
    return {
        "title": f"Größe {n:03}: leaf/“rake”",
        "author": f"Wren Halloway {n}",
        "licence": f"CC BY 4.{n}",
        "comment": f"Struck {n} times.\nThe last is <softer> & 鐘.",
        "genre": "tonal / bell",
        "tags": ["brass", f"tag {n}"],
        "tempo": 60.0 + n,
        "key": "F#m",
        "date": f"2024-02-{1 + n % 28:02}",
        "mark": f"stroke {n} é",
    }


def chunk(name, content):
    return name + struct.pack("<I", len(content)) + content + b"\0" * (len(content) % 2)


def by_chunks(data, said):
    """INFO, cue points, loop note and tempo and the broadcast extension, put together by hand."""
    words = {
        b"INAM": said["title"],
        b"IART": said["author"],
        b"ICOP": said["licence"],
        b"ICMT": said["comment"],
        b"IGNR": said["genre"],
        b"IKEY": "; ".join(said["tags"]),
        b"ICRD": said["date"],
    }
    info = b"INFO" + b"".join(chunk(name, text.encode() + b"\0") for name, text in words.items())
    acid = struct.pack("<IHHfIHHf", 2, 57, 0x8000, 0.0, 4, 4, 4, said["tempo"])
    cue = struct.pack("<III4sIII", 1, 1, 4800, b"data", 0, 0, 4800)
    label = b"adtl" + chunk(b"labl", struct.pack("<I", 1) + said["mark"].encode() + b"\0")
    bext = b"kept".ljust(256, b"\0") + b"Field kit".ljust(32, b"\0") + b"FK3-17".ljust(32, b"\0")
    bext += b"2024-02-01" + b"00:00:00" + bytes(602 - 338)
    ixml = f"<BWFXML><TAPE>MOTH_07</TAPE><USER><KEY>{said['key']}</KEY></USER></BWFXML>"
    made = b"WAVE" + chunk(b"bext", bext) + data[12:]
    for name, content in (
        (b"acid", acid),
        (b"cue ", cue),
        (b"LIST", label),
        (b"LIST", info),
        (b"iXML", ixml.encode()),
    ):
        made += chunk(name, content)
    return b"RIFF" + struct.pack("<I", len(made)) + made


def source(n):
    """File number n: its name and its bytes."""
    kind, said = SOURCES[n % len(SOURCES)], said_of(n)
    ending = kind.split()[0]
    buffer = io.BytesIO()
    # Audio that no other file has.
    soundfile.write(buffer, hit(seed=n)[0], samples.RATE, format=ending.upper())
    name = f"DR_{n:03}.{ending}"
    if kind == "wav chunks":
        return name, by_chunks(buffer.getvalue(), said)
    buffer.seek(0)
    if kind in COMMENT_KINDS:
        file = COMMENT_KINDS[kind](buffer)
        file["TITLE"], file["ARTIST"], file["COPYRIGHT"] = (
            said["title"],
            said["author"],
            said["licence"],
        )
        file["DESCRIPTION"], file["GENRE"], file["KEYWORDS"] = (
            said["comment"],
            said["genre"],
            said["tags"],
        )
        file["BPM"], file["INITIALKEY"], file["DATE"] = (
            f"{said['tempo']:g}",
            said["key"],
            said["date"],
        )
        file["CHAPTER001"], file["CHAPTER001NAME"] = "00:00:00.100", said["mark"]
    else:
        file = ID3_KINDS[kind](buffer)
        if file.tags is None:
            file.add_tags()
        mark = CHAP(
            element_id="m", start_time=100, end_time=100, sub_frames=[TIT2(3, text=said["mark"])]
        )
        for frame in (
            TIT2(3, text=said["title"]),
            TPE1(3, text=said["author"]),
            TCOP(3, text=said["licence"]),
            COMM(3, lang="eng", desc="", text=said["comment"]),
            TCON(3, text=said["genre"]),
            TXXX(3, desc="Keywords", text="; ".join(said["tags"])),
            TBPM(3, text=f"{said['tempo']:g}"),
            TKEY(3, text=said["key"]),
            TDRC(3, text=said["date"]),
            mark,
        ):
            file.tags.add(frame)
    buffer.seek(0)
    file.save(buffer)
    return name, buffer.getvalue()


def words_of(client, sample):
    """What the catalogue says of a sample, by the names of the table."""
    said = client.get(f"/api/samples/{sample['id']}/comments").json["comments"]
    marks = [(round(one["at_s"], 3), one["text"]) for one in said]
    return {
        "Title": sample["name"],
        "Author": sample["author"],
        "Licence": sample["licence"],
        "Description": sample["description"],
        "Category": f"{sample['category']} / {sample['subcategory']}",
        "Tags": sample["tags"],
        "Tempo": sample["tempo_bpm"],
        "Key": sample["details"]["key"],
        "Date": sample["details"]["date"],
        "Marks": marks,
        "Root note": sample["root_note"],
        "Loop": None
        if sample["loop_start_s"] is None
        else [round(sample["loop_start_s"], 3), round(sample["loop_end_s"], 3)],
        "Group and number": [sample["variation_group"], sample["variation"]],
        "Follows the key": sample["follows_key"],
        "Reference": sample["details"]["reference"],
    }


def expected(n):
    said = said_of(n)
    return {
        "Title": said["title"],
        "Author": said["author"],
        "Licence": said["licence"],
        "Description": said["comment"],
        "Category": said["genre"],
        "Tags": said["tags"],
        "Tempo": said["tempo"],
        "Key": said["key"],
        "Date": said["date"],
        "Marks": [(0.1, said["mark"])],
    }


def exported(client, ids, file_format):
    plan = {"sample_ids": ids, "file_format": file_format, "template": "{id}", "manifest": "none"}
    planned = client.post("/api/exports", json=plan).json
    with (
        client.get(planned["path"]) as answer,
        zipfile.ZipFile(io.BytesIO(answer.data)) as archive,
    ):
        return {int(path.split(".")[0]): archive.read(path) for path in archive.namelist()}


def table_of_docs():
    """By format, the fields that docs/import.md says are kept."""
    rows = [
        [cell.strip() for cell in line.strip().strip("|").split("|")]
        for line in DOC.read_text().splitlines()
        if line.startswith("|")
    ]
    head = next(row for row in rows if row[0] == "Field")
    body = [row for row in rows if len(row) == len(head) and not re.match("Field|-", row[0])]
    return {
        kind: {row[0] for row in body if row[column] == "yes"}
        for column, kind in enumerate(head[1:], 1)
    }


@pytest.fixture(scope="module")
def doc():
    return table_of_docs()


def test_every_word_of_a_hundred_files_comes_through(people, doc):
    client, library = people.owner, people.library_id
    path = f"/api/libraries/{library}/samples"
    made = []
    for n in range(COUNT):
        name, data = source(n)
        answer = samples.send_file(client, path, data, name, titles="true", folder=f"tape {n % 3}")
        assert answer.status_code == 201, (name, answer.json)
        found = words_of(client, answer.json)
        assert {key: found[key] for key in expected(n)} == expected(n), name
        assert answer.json["folder"] == f"tape {n % 3}"
        made.append(answer.json)
    ids = [one["id"] for one in made]

    # What a librarian adds, and the review.
    added = {"root_note": 61, "loop_start_s": 0.05, "loop_end_s": 0.2, "follows_key": True}
    added |= {"variation_group": "Pollen bell"}
    changed = client.post("/api/samples/change", json={"ids": ids, "changes": added})
    assert changed.json["changed"] == COUNT
    for status in ("in_review", "approved"):
        moved = client.post("/api/samples/move", json={"ids": ids, "status": status})
        assert moved.status_code == 200, moved.json
    number = {"number": "1.0.0", "note": "All", "sample_ids": ids}
    released = client.post(f"/api/libraries/{library}/releases", json=number)
    assert released.status_code == 201, released.json
    release = f"/api/libraries/{library}/releases/1.0.0"
    manifest = client.get(release).json
    assert len(manifest["files"]) == COUNT

    elsewhere = client.post("/api/libraries", json={"name": "Elsewhere"}).json["id"]
    now = {one["id"]: words_of(client, samples.one(client, one)) for one in made}

    def again(data, name, sample_id, kept):
        url = f"/api/libraries/{elsewhere}/samples"
        answer = samples.send_file(client, url, data, name, titles="true")
        assert answer.status_code == 201, (name, answer.json)
        found, wanted = words_of(client, answer.json), now[sample_id]
        assert {key: found[key] for key in kept} == {key: wanted[key] for key in kept}, name
        return {key for key in found if found[key] == wanted[key] and wanted[key] not in ("", None)}

    # Pulled: the bytes of the manifest, and all words.
    for row in manifest["files"][:20]:
        with client.get(f"{release}/files/{row['sha256']}") as answer:
            data = answer.data
        assert hashlib.sha256(data).hexdigest() == row["sha256"]
        again(data, row["path"], row["id"], doc["WAV"])
    # Exported in every format: what the table says is kept, and what it says is not, is not.
    for place, file_format in enumerate(FORMATS):
        some = ids[20 + 10 * place : 30 + 10 * place]
        ending = file_format.rstrip("0123456789")
        kept = doc[{"wav": "WAV", "aiff": "AIFF", "flac": "FLAC", "ogg": "Ogg"}[ending]]
        through = []
        for sample_id, data in exported(client, some, file_format).items():
            through.append(again(data, f"{sample_id}.{ending}", sample_id, kept))
        assert set.union(*through) <= kept, file_format
