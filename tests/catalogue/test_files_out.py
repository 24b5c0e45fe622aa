"""Files of samples in every form that can be asked for, against soxr and plain arithmetic."""

import csv
import hashlib
import io
import itertools
import json
import zipfile

import numpy as np
import pytest
import soundfile
import soxr
from hypothesis import given, settings
from hypothesis import strategies as st

from nest_crate.catalogue.db.models import Library, Sample, utc_now
from nest_crate.catalogue.releases.exports import (
    ExportPlan,
    FilePlan,
    export_files,
    file_of,
    paths_of,
)
from nest_crate.catalogue.releases.manifests import ExportedFile, manifests
from nest_crate.catalogue.samples.measurement import measure_into
from nest_crate.core.engine import Audio
from nest_crate.core.errors import DocumentError
from nest_crate.core.formats.wav import encode_wav
from nest_crate.storage import AudioStore
from nest_crate.storage.archives import zip_pieces

FORMATS = ("wav16", "wav24", "wav32", "flac16", "flac24", "ogg", "aiff16", "aiff24")
RATES = (0, 44100, 48000, 88200, 96000, 192000)
ENDINGS = {"wav": "wav", "flac": "flac", "ogg": "ogg", "aiff": "aiff"}


@pytest.fixture(scope="module")
def files(tmp_path_factory):
    return AudioStore(f"file://{tmp_path_factory.mktemp('audio')}")


def tones(rate, channels, seconds=0.2):
    """Two tones a side that decay, low enough for every rate."""
    time_s = np.arange(round(seconds * rate)) / rate
    sides = [
        sum(0.2 * np.sin(2 * np.pi * hz * time_s) for hz in pair)
        for pair in ((220.0, 1800.0), (330.0, 2500.0))
    ]
    return np.array(sides[:channels]) * np.exp(-time_s / 0.05)


def sample_of(files, rate=48000, channels=2, **facts):
    signal = tones(rate, channels)
    sample = Sample(id=facts.pop("id", 1), name="Gong", category="impact", tags=["brass"], edits={})
    sample.library = Library(name="Glasshouse Clockworks")
    for name in ("subcategory", "description", "licence", "author", "variation_group"):
        setattr(sample, name, "")
    sample.created = utc_now()
    measure_into(sample, Audio(signal, rate))
    sample.file_digest = files.put(encode_wav(signal, rate, sample_format="float32"))
    for name, value in facts.items():
        setattr(sample, name, value)
    return sample


def wanted_signal(rate, channels, plan):
    """What a file should hold, by another package's conversion of the rate."""
    signal = tones(rate, channels)
    if plan.sample_rate not in (0, rate):
        signal = soxr.resample(signal.T, rate, plan.sample_rate, quality="VHQ").T
    if plan.channels == "mono":
        signal = signal.mean(axis=0, keepdims=True)
    if plan.channels == "stereo" and channels == 1:
        signal = np.repeat(signal, 2, axis=0)
    return signal


@pytest.mark.parametrize("file_format", FORMATS)
@given(
    rate=st.sampled_from([44100, 48000, 96000]),
    channels=st.sampled_from([1, 2]),
    to_rate=st.sampled_from(RATES),
    width=st.sampled_from(["as_is", "mono", "stereo"]),
    dither=st.booleans(),
)
@settings(max_examples=8, deadline=None)
def test_a_file_holds_the_sound_at_the_rate_and_width_asked_for(
    files, file_format, rate, channels, to_rate, width, dither
):
    plan = FilePlan(file_format=file_format, sample_rate=to_rate, channels=width, dither=dither)
    sample = sample_of(files, rate, channels)
    data = file_of(files, sample, plan)
    frames, found_rate = soundfile.read(io.BytesIO(data), always_2d=True)
    wanted = wanted_signal(rate, channels, plan)
    assert found_rate == (to_rate or rate)
    assert frames.shape[1] == wanted.shape[0]
    assert abs(frames.shape[0] - wanted.shape[1]) <= 1
    count = min(frames.shape[0], wanted.shape[1])
    # The very ends are where two converters may differ.
    inner = slice(64, count - 64)
    error = frames.T[:, inner] - wanted[:, inner]
    noise = {"16": 2**-15, "24": 2e-6, "32": 2e-6}.get(file_format[-2:], 0.03)
    assert np.sqrt(np.mean(error**2)) < noise
    assert file_of(files, sample, plan) == data


@given(
    names=st.lists(st.text(max_size=30), min_size=1, max_size=12),
    template=st.sampled_from(["{name}", "{category}/{name}", "{name:snake}", "x", "{number:03}"]),
    file_format=st.sampled_from(FORMATS),
)
@settings(max_examples=60, deadline=None)
def test_every_sample_has_a_path_of_its_own(files, names, template, file_format):
    samples = [Sample(id=n, name=name, category="impact") for n, name in enumerate(names)]
    paths = paths_of(samples, template, file_format)
    assert list(paths) == [sample.id for sample in samples]
    # Not on any system do two of them meet.
    assert len({path.casefold() for path in paths.values()}) == len(names)
    ending = ENDINGS[file_format.rstrip("0123456789")]
    for path in paths.values():
        assert path.endswith(f".{ending}")
        assert len(path) <= 200
        assert ".." not in path.split("/")


def test_a_path_that_is_too_long_is_told_at_the_template():
    samples = [Sample(id=1, name="n" * 99, category="impact")]
    with pytest.raises(DocumentError, match="200 at most") as caught:
        paths_of(samples, "{name}/{name}/{name}")
    assert [one.path for one in caught.value.problems] == ["template"]


def plan_of(samples, **given):
    return ExportPlan(sample_ids=[one.id for one in samples], **given)


def test_lists_tell_of_every_file_and_come_last(files):
    samples = [sample_of(files, id=n, name=f"Gong {n}", root_note=40 + n) for n in (1, 2, 3)]
    made = list(export_files(files, samples, plan_of(samples, sfz=True)))
    kinds = [one.path.rsplit(".", 1)[1] for one in made]
    assert kinds == ["wav"] * 3 + ["sfz"] * 3 + ["json", "csv"]
    listed = json.loads(made[-2].data)["files"]
    for row, one in zip(listed, made, strict=False):
        assert (row["path"], row["bytes"]) == (one.path, len(one.data))
        assert row["sha256"] == hashlib.sha256(one.data).hexdigest() == one.digest
        is_sample = one.path.endswith(".wav")
        assert row["root_note"] == (40 + row["id"] if is_sample else None)
        assert (row["category"] == "instrument") != is_sample
    assert len(listed) == 6


@pytest.mark.parametrize(
    ("wanted", "names"),
    [
        ("none", []),
        ("csv", ["manifest.csv"]),
        ("json", ["manifest.json"]),
        ("both", ["manifest.json", "manifest.csv"]),
    ],
)
def test_lists_are_those_asked_for(wanted, names):
    assert [one.path for one in manifests([{"path": "a.wav"}], wanted)] == names


@pytest.mark.parametrize("text", ["=1+2", "+1", "-1", "@x", "\tx", "\rx", "plain", "a=b", ""])
def test_no_cell_of_a_table_is_a_formula(text):
    (made,) = manifests([{"path": "a.wav", "name": text, "tags": ["x", "y"]}], "csv")
    row = next(iter(csv.DictReader(io.StringIO(made.data.decode(), newline=""))))
    assert row["name"].lstrip("'") == text
    assert not row["name"].startswith(("=", "+", "-", "@", "\t", "\r"))
    assert row["tags"] == "x; y"


@given(
    st.lists(
        st.tuples(st.from_regex(r"[a-z]{1,8}\.(wav|txt)", fullmatch=True), st.binary(max_size=400)),
        max_size=8,
        unique_by=lambda one: one[0],
    )
)
@settings(max_examples=60, deadline=None)
def test_an_archive_comes_in_pieces_and_is_whole(held):
    pieces = list(zip_pieces(iter(held)))
    assert b"".join(pieces) == b"".join(zip_pieces(iter(held)))
    with zipfile.ZipFile(io.BytesIO(b"".join(pieces))) as archive:
        assert archive.testzip() is None
        assert [(name, archive.read(name)) for name in archive.namelist()] == held
        assert all(one.date_time == (1980, 1, 1, 0, 0, 0) for one in archive.infolist())


def test_an_archive_holds_one_file_at_a_time():
    """Each file is handed on before the next is made."""
    order = []

    def files():
        for n in range(3):
            order.append(f"made {n}")
            yield f"{n}.wav", bytes(1000)

    for n, piece in enumerate(itertools.islice(zip_pieces(files()), 3)):
        order.append(f"sent {n}")
        assert len(piece) >= 1000
    assert order == ["made 0", "sent 0", "made 1", "sent 1", "made 2", "sent 2"]


def test_edits_are_heard_in_the_file_and_told_in_the_list(files):
    plain = sample_of(files)
    edited = sample_of(files, edits={"start_s": 0.05, "gain_db": -6.0, "fade_out_s": 0.01})
    plan = plan_of([plain], file_format="wav32", template="{name}", manifest="json")
    (whole, whole_list), (part, part_list) = (
        list(export_files(files, [one], plan)) for one in (plain, edited)
    )
    frames = [soundfile.read(io.BytesIO(one.data), always_2d=True)[0].T for one in (whole, part)]
    start = round(0.05 * 48000)
    kept = frames[0][:, start:-500] * 10 ** (-6 / 20)
    np.testing.assert_allclose(frames[1][:, : kept.shape[1]], kept, atol=1e-6)
    rows = [json.loads(one.data)["files"][0] for one in (whole_list, part_list)]
    # The same file, and still not the same sound.
    assert rows[0]["audio"] != rows[1]["audio"]
    assert rows[1]["audio"].startswith(rows[0]["audio"])


def test_a_file_knows_its_sum():
    data = b"some audio"
    assert ExportedFile("a.wav", data).digest == hashlib.sha256(data).hexdigest()
