import io
import math
import time

import numpy as np
import pytest
import soundfile
from scipy.io import wavfile

from nest_crate.core.dsp.resampling.rates import resample
from nest_crate.core.errors import FormatError
from nest_crate.core.formats.float_wav import float_wav
from nest_crate.core.formats.wav import decode_wav, encode_wav
from nest_crate.core.units import (
    SILENCE_DB,
    db_to_gain,
    gain_to_db,
    hz_to_note,
    note_name,
    note_to_hz,
    parse_note,
)


@pytest.mark.parametrize(
    ("name", "note"),
    [("C4", 60), ("A4", 69), ("G1", 31), ("Bb-1", 10), ("f#2", 42), ("C-1", 0), ("G9", 127)],
)
def test_note_names(name, note):
    assert parse_note(name) == note
    assert parse_note(note_name(note)) == note


@pytest.mark.parametrize("text", ["", "H2", "A", "C10", "G#9", "55", "Cb-1"])
def test_what_is_no_note_is_refused(text):
    with pytest.raises(ValueError, match="note="):
        parse_note(text)


def test_notes_and_frequencies():
    assert note_to_hz(31) == pytest.approx(48.9994, abs=1e-4)
    assert hz_to_note(note_to_hz(31.25)) == pytest.approx(31.25)


def test_levels():
    assert db_to_gain(-6.0206) == pytest.approx(0.5, abs=1e-6)
    assert db_to_gain(SILENCE_DB) == 0.0
    assert gain_to_db(0.0) == SILENCE_DB
    assert gain_to_db(-2.0) == pytest.approx(20 * math.log10(2))


@pytest.mark.parametrize(
    ("kind", "step"), [("pcm16", 2**-15), ("pcm24", 2**-23), ("float32", 2**-24)]
)
@pytest.mark.parametrize("channels", [1, 2])
def test_wav_keeps_samples_to_its_precision(kind, step, channels):
    signal = np.random.default_rng(4).uniform(-0.9, 0.9, (channels, 777))
    back, rate = decode_wav(encode_wav(signal, 44100, sample_format=kind))
    assert rate == 44100
    np.testing.assert_allclose(back, signal, atol=step)


def test_wav_is_what_an_independent_reader_expects():
    data = encode_wav(np.zeros((2, 10)), 96000)
    info = soundfile.info(io.BytesIO(data))
    assert (info.format, info.subtype, info.channels, info.samplerate) == (
        "WAV",
        "PCM_24",
        2,
        96000,
    )


def test_whole_numbers_hold_back_what_is_over_full_scale_and_float_keeps_it():
    signal = np.array([[2.0, -2.0]])
    assert np.abs(decode_wav(encode_wav(signal, 48000))[0]).max() <= 1.0
    np.testing.assert_array_equal(
        decode_wav(encode_wav(signal, 48000, sample_format="float32"))[0], signal
    )


@pytest.mark.parametrize("data", [b"", b"RIFF", b"x" * 5000])
def test_broken_file_is_refused(data):
    with pytest.raises(FormatError, match="WAV"):
        decode_wav(data)


def test_not_finite_samples_are_never_written():
    with pytest.raises(ValueError, match="NaN"):
        encode_wav(np.array([[np.nan]]), 48000)


def test_resampling_keeps_pitch_and_level():
    signal = np.sin(2 * np.pi * 1000 * np.arange(48000) / 48000)[np.newaxis]
    out = resample(signal, 48000, 44100)
    expected = np.sin(2 * np.pi * 1000 * np.arange(44100) / 44100)
    np.testing.assert_allclose(out[0, 500:-500], expected[500:-500], atol=1e-5)
    assert resample(signal, 48000, 48000) is signal


def test_the_same_samples_are_the_same_bytes_at_any_time():
    signal = np.random.default_rng(8).uniform(-1, 1, (2, 300))
    kinds = ("pcm16", "pcm24", "float32")
    first = [encode_wav(signal, 48000, sample_format=kind) for kind in kinds]
    # Into the next second, which a file might hold.
    time.sleep(1.05 - time.time() % 1.0)
    assert [encode_wav(signal, 48000, sample_format=kind) for kind in kinds] == first


@pytest.mark.parametrize("channels", [1, 2])
def test_float_files_are_what_another_library_writes(channels):
    frames = np.random.default_rng(1).normal(size=(101, channels)).astype(np.float32)
    buffer = io.BytesIO()
    wavfile.write(buffer, 44100, frames)
    assert float_wav(frames, 44100) == buffer.getvalue()
