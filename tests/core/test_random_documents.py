"""Sounds made at random: every one renders, ends, and is the same twice. The same dozens in each
run; hundreds of others with HYPOTHESIS_PROFILE=exploring."""

import os

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from nest_crate.core.engine import Audio, RenderSettings, StageMemory, render
from nest_crate.core.engine.traces import traces
from nest_crate.core.sound import dump_sound, load_sound
from nest_crate.core.sound.recipe import recipe
from nest_crate.core.sound.targets import targets_of
from tests.core.random_documents import RECORDING, random_document

RECORDINGS = {RECORDING: Audio(np.random.default_rng(1).normal(size=(2, 3000)) * 0.1, 32000)}
DRAFT = RenderSettings(sample_rate=44100, quality="draft", recordings=RECORDINGS)
EXPLORING = os.environ.get("HYPOTHESIS_PROFILE") == "exploring"


@settings(
    max_examples=500 if EXPLORING else 70,
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow],
)
@given(st.integers(0, 2**32))
def test_any_document_renders_finite_ends_in_silence_and_is_the_same_twice(seed):
    sound = load_sound(random_document(seed))
    memory = StageMemory()
    audio = render(sound, settings=DRAFT, memory=memory)
    assert np.all(np.isfinite(audio.samples))
    assert not audio.samples[:, -1].any()
    assert audio.end_reason == "silence"
    reloaded = load_sound(dump_sound(sound))
    np.testing.assert_array_equal(render(reloaded, settings=DRAFT).samples, audio.samples)
    targets = targets_of(sound)
    for target, trace in traces(sound, sound.hit, DRAFT, memory=memory).items():
        assert trace[:, 1].min() >= targets[target].minimum - 1e-9
        assert trace[:, 1].max() <= targets[target].maximum + 1e-9
    assert recipe(sound)
