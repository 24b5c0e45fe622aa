"""Made-up samples for tests of the catalogue, through the services."""

from __future__ import annotations

import io

import numpy as np

from nest_crate.core.formats.wav import encode_wav

RATE = 48000


def hit(hz=220.0, seconds=0.3, level=0.5, decay_s=0.1, channels=1, seed=None):
    """A decaying sine, or noise where a seed is given: (channels, frames)."""
    time_s = np.arange(round(seconds * RATE)) / RATE
    tone = np.sin(2 * np.pi * hz * time_s)
    if seed is not None:
        tone = np.random.default_rng(seed).normal(size=time_s.size) * 0.3
    return np.tile(level * tone * np.exp(-time_s / decay_s), (channels, 1))


def wav(signal=None, **facts):
    signal = hit(**facts) if signal is None else signal
    return encode_wav(signal, RATE, sample_format="float32")


def bring(client, library_id, name, data=None, **changes):
    """Bring in a sample and change fields of it; answers it."""
    file = (io.BytesIO(wav() if data is None else data), f"{name}.wav")
    made = client.post(f"/api/libraries/{library_id}/samples", data={"file": file})
    assert made.status_code == 201, made.json
    if not changes:
        return made.json
    body = {"base_version": made.json["version"], "changes": changes}
    changed = client.patch(f"/api/samples/{made.json['id']}", json=body)
    assert changed.status_code == 200, changed.json
    return changed.json


def search(client, **query):
    answer = client.post("/api/samples/search", json={"query": query})
    assert answer.status_code == 200, answer.json
    return answer.json


def names(client, **query):
    return [one["name"] for one in search(client, **query)["samples"]]
