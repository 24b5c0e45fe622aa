"""Hits as MIDI files, read byte by byte as the format says, and back."""

import pytest

from nest_crate.core.errors import FormatError
from nest_crate.core.tryout import load_tryout
from nest_crate.core.tryout.midi import hits_from_midi, hits_to_midi


def groove(**more):
    hits = [
        {"at_s": 0, "in_beats": {"at_s": 0}, "notes": [36], "velocity": 110, "hold_s": 0.25},
        {"at_s": 0, "in_beats": {"at_s": 1.5}, "notes": [36], "velocity": 70, "hold_s": 0.125},
        {"at_s": 0, "in_beats": {"at_s": 2}, "notes": [60, 64, 67], "hold_s": 1.0},
    ]
    plays = {"kind": "sample", "sample": 1}
    parts = [
        {"id": "a", "name": "Kiln", "plays": plays, "hits": hits},
        {"id": "b", "name": "Quiet", "plays": plays},
    ]
    return load_tryout({"name": "Groove", "tempo_bpm": 120, "parts": parts, **more})


def number(data, at):
    """A number of the format's own variable length, and where it ends."""
    value = 0
    while True:
        byte = data[at]
        at += 1
        value = value << 7 | byte & 0x7F
        if byte < 0x80:
            return value, at


def tracks_of(data):
    """(ticks a beat, events of each track as (tick, bytes)), by the format's own description."""
    assert data[:4] == b"MThd"
    kind, count, ticks = (int.from_bytes(data[n : n + 2], "big") for n in (8, 10, 12))
    assert kind == 1
    at, tracks = 14, []
    for _ in range(count):
        assert data[at : at + 4] == b"MTrk"
        end = at + 8 + int.from_bytes(data[at + 4 : at + 8], "big")
        at, now, events, status = at + 8, 0, [], 0
        while at < end:
            wait, at = number(data, at)
            now += wait
            if data[at] >= 0x80:
                status = data[at]
                at += 1
            if status == 0xFF:
                length, begin = number(data, at + 1)
                events.append((now, bytes([status, data[at]]) + data[begin : begin + length]))
                at = begin + length
            else:
                events.append((now, bytes([status]) + data[at : at + 2]))
                at += 2
        tracks.append(events)
    return ticks, tracks


def test_notes_lie_where_they_are_heard():
    ticks, (head, kiln) = tracks_of(hits_to_midi(groove()))
    assert (0, b"\xff\x51" + (500_000).to_bytes(3, "big")) in head
    assert kiln[0] == (0, b"\xff\x03Kiln")
    ons = [(at / ticks, event[1], event[2]) for at, event in kiln if event[0] == 0x90]
    assert ons == [(0, 36, 110), (1.5, 36, 70), (2, 60, 100), (2, 64, 100), (2, 67, 100)]
    offs = [(at / ticks, event[1]) for at, event in kiln if event[0] == 0x80]
    assert offs == [(0.5, 36), (1.75, 36), (4, 60), (4, 64), (4, 67)]


def test_swing_and_offset_are_written_as_heard():
    made = groove(swing=0.75, swing_beats=0.5)
    ticks, (_, kiln) = tracks_of(hits_to_midi(made))
    ons = [at / ticks for at, event in kiln if event[0] == 0x90]
    assert ons[:2] == [0, 1.75]


def test_what_was_written_comes_back():
    (part,) = hits_from_midi(hits_to_midi(groove()), 120)
    assert part.name == "Kiln"
    assert part.hits == groove().parts[0].hits


def test_another_tempo_keeps_the_beats():
    (part,) = hits_from_midi(hits_to_midi(groove()), 60)
    assert [hit.in_beats["at_s"] for hit in part.hits] == [0, 1.5, 2]
    assert [hit.at_s for hit in part.hits] == [0, 1.5, 2]
    assert part.hits[0].hold_s == 0.5


def many(count, apart):
    """A track of so many notes, written by hand."""
    body = b""
    for _ in range(count):
        body += b"\x00\x90\x3c\x40" + bytes([apart]) + b"\x80\x3c\x00"
    body += b"\x00\xff\x2f\x00"
    head = b"MThd" + (6).to_bytes(4, "big") + b"\x00\x00\x00\x01\x00\x60"
    return head + b"MTrk" + len(body).to_bytes(4, "big") + body


@pytest.mark.parametrize(
    ("data", "words"),
    [
        (b"", "not a MIDI file"),
        (b"RIFF" + bytes(100), "not a MIDI file"),
        (many(3, 1)[:-9], "not a MIDI file"),
        (many(0, 1), "no notes"),
        (many(100_000, 1), "more than 200,000 events"),
        (many(3000, 1), "has at most 2,000"),
        (many(1000, 120), "longer than a try-out can"),
        (bytes(3_000_000), "larger than 2 MB"),
    ],
)
def test_what_cannot_be_read_is_said(data, words):
    with pytest.raises(FormatError, match=words):
        hits_from_midi(data, 120)
