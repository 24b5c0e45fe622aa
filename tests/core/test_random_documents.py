"""Sounds made at random: every one renders, ends, and is the same twice. The same dozens in each
run; hundreds of others with HYPOTHESIS_PROFILE=exploring."""

import os
from dataclasses import replace

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
# No sound of legal numbers is louder: 24 dB from each of several gains, and some more.
MOST = 1e9
EXPLORING = os.environ.get("HYPOTHESIS_PROFILE") == "exploring"


def is_whole(sound, audio):
    """A longer render is the same up to the fade at the end, and then silent."""
    longer_s = min(60.0, audio.length_s + 0.4)
    longer = render(sound, settings=replace(DRAFT, length_s=longer_s)).samples
    end = audio.samples.shape[1]
    same = max(0, end - round(0.011 * audio.sample_rate))
    loudest = max(1.0, float(np.abs(longer).max()))
    np.testing.assert_allclose(audio.samples[:, :same], longer[:, :same], atol=1e-5 * loudest)
    after = longer[:, end : longer.shape[1] - round(0.011 * audio.sample_rate)]
    assert np.abs(after).max(initial=0.0) < 10.0 ** (-90.0 / 20.0)


@settings(
    max_examples=2000 if EXPLORING else 45,
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow],
)
@given(st.integers(0, 2**32))
def test_any_document_renders_finite_comes_to_its_end_and_is_the_same_twice(seed):
    sound = load_sound(random_document(seed))
    memory = StageMemory()
    audio = render(sound, settings=DRAFT, memory=memory)
    assert np.all(np.isfinite(audio.samples))
    assert np.abs(audio.samples).max(initial=0.0) < MOST
    assert audio.end_reason == "silence" or audio.length_s > 59.9
    if audio.end_reason == "silence":
        is_whole(sound, audio)
    reloaded = load_sound(dump_sound(sound))
    np.testing.assert_array_equal(render(reloaded, settings=DRAFT).samples, audio.samples)
    targets = targets_of(sound)
    for target, trace in traces(sound, sound.hit, DRAFT, memory=memory).items():
        assert trace[:, 1].min() >= targets[target].minimum - 1e-9
        assert trace[:, 1].max() <= targets[target].maximum + 1e-9
    assert recipe(sound)
