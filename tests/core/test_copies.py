"""Copies of one sound are known as that; neighbours a semitone apart are not."""

import io
import json
from functools import lru_cache

import numpy as np
import pytest
import soundfile
import soxr

from nest_crate.core.analysis.features.copies import are_copies, overlay, reduced
from nest_crate.core.engine import RenderSettings, render
from nest_crate.core.sound import load_sound
from tests.program import PROJECT

RATE = 48000
# Of each class one that follows the key.
SOUNDS = [
    "kiln-door-kick",
    "glass-pane-bell",
    "potting-bench-snare",
    "fuse-zap-backwards",
    "brass-gear-tick",
    "dew-chime-mallet",
    "trellis-pluck-bass",
    "lamp-zap",
]


@lru_cache
def rendered(name, semitones=0):
    sound = load_sound(json.loads((PROJECT / "demo" / "sounds" / f"{name}.json").read_text()))
    hit = sound.hit.model_copy(update={"note": sound.hit.note + semitones})
    return render(sound, hit, RenderSettings(sample_rate=RATE)).samples[:, : 3 * RATE]


def through_mp3(signal):
    buffer = io.BytesIO()
    soundfile.write(buffer, np.clip(0.5 * signal.T, -1.0, 1.0), RATE, format="MP3")
    buffer.seek(0)
    return soundfile.read(buffer, always_2d=True)[0].T, RATE


COPIES = {
    "softer": lambda signal: (0.25 * signal, RATE),
    "turned over": lambda signal: (-signal, RATE),
    "trimmed at the start": lambda signal: (signal[:, round(0.005 * RATE) :], RATE),
    "trimmed at the end": lambda signal: (signal[:, : -signal.shape[1] // 4], RATE),
    "later": lambda signal: (np.pad(signal, ((0, 0), (round(0.05 * RATE), 0))), RATE),
    "at 44.1 kHz": lambda signal: (soxr.resample(signal.T, RATE, 44100).T, 44100),
    "through MP3": through_mp3,
    "as mono": lambda signal: (signal.mean(axis=0, keepdims=True), RATE),
}


@pytest.mark.parametrize("kind", COPIES)
@pytest.mark.parametrize("name", SOUNDS)
def test_copies_are_found(name, kind):
    signal = rendered(name)
    copy, rate = COPIES[kind](signal)
    one, other = reduced(signal, RATE), reduced(copy, rate)
    assert are_copies(one, other), overlay(one, other)
    assert are_copies(other, one)


@pytest.mark.parametrize("semitones", [-1, 1])
@pytest.mark.parametrize("name", SOUNDS)
def test_neighbours_are_not(name, semitones):
    one, other = reduced(rendered(name), RATE), reduced(rendered(name, semitones), RATE)
    assert not are_copies(one, other), overlay(one, other)


def test_different_sounds_are_not():
    found = [reduced(rendered(name), RATE) for name in SOUNDS]
    for n, one in enumerate(found):
        for other in found[:n]:
            assert not are_copies(one, other)


def test_silence_and_next_to_nothing_are_copies_of_none():
    nothing = reduced(np.zeros((2, 4800)), RATE)
    assert nothing.size == 0
    click = reduced(np.eye(1, 30), RATE)
    sound = reduced(rendered("kiln-door-kick"), RATE)
    for one in (nothing, click):
        assert not are_copies(one, sound)
        assert not are_copies(one, one)
