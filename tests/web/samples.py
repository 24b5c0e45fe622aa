"""Made-up samples for tests of the catalogue, through the services."""

from __future__ import annotations

import json

import numpy as np
from werkzeug.sansio.multipart import Data, Epilogue, Field, File, MultipartDecoder

from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.samples.measurement import measure_into
from nest_crate.core.engine import Audio
from nest_crate.core.formats.wav import decode_wav, encode_wav

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


def send_file(client, url, data, name="Tin tub.wav", **query):
    """A file sent as a form sends it; answers the answer."""
    # Put together here, for the test client leaves the temporary files of large bodies open.
    head = f'--b\r\nContent-Disposition: form-data; name="file"; filename="{name}"\r\n\r\n'
    return client.post(
        url,
        query_string=query,
        data=head.encode() + data + b"\r\n--b--\r\n",
        content_type="multipart/form-data; boundary=b",
    )


def make_sound(people, document, **take):
    """A sound and its takes; answers the sound's id and what keeping answered."""
    body = {"library_id": people.library_id, "document": document}
    sound = people.editor.post("/api/sounds", json=body).json["id"]
    body = {"base_version": 1, "document": document, "hit": document["hit"], "name": "Kick"}
    kept = people.editor.post(
        f"/api/sounds/{sound}/takes", json={**body, "library_id": people.library_id, **take}
    )
    assert kept.status_code == 201, kept.json
    return sound, kept.json


def bring(client, library_id, name, data=None, **changes):
    """A sample put into a library as if it had been imported, and changes of its fields;
    answers it. The decoding process is left out, which takes its time."""
    signal, rate = decode_wav(wav() if data is None else data)
    sample = Sample(library_id=library_id, name=name, created_by_id=client.account.id)
    measure_into(sample, Audio(signal, rate))
    sample.file_digest = client.store.files.put(encode_wav(signal, rate, sample_format="float32"))
    with client.store.database.session() as session:
        session.add(sample)
        session.flush()
        identifier = sample.id
    made = client.get(f"/api/samples/{identifier}").json
    if not changes:
        return made
    body = {"base_version": made["version"], "changes": changes}
    changed = client.patch(f"/api/samples/{identifier}", json=body)
    assert changed.status_code == 200, changed.json
    return changed.json


def search(client, **query):
    answer = client.post("/api/samples/search", json={"query": query})
    assert answer.status_code == 200, answer.json
    return answer.json


def names(client, **query):
    return [one["name"] for one in search(client, **query)["samples"]]


def heard(client, sample):
    data = client.get(f"/api/samples/{sample['id']}/file?sample_format=float32").data
    return decode_wav(data)[0]


def one(client, sample):
    return client.get(f"/api/samples/{sample['id']}").json


def audition_parts(client, body):
    """An audition as it comes to the Bench: the parts of its answer by name, JSON read."""
    answer = client.post("/api/auditions", json=body, headers={"Accept": "multipart/mixed"})
    return parts_in(answer, answer.data)


def parts_in(answer, data):
    """The parts of an answer by name, JSON read; ``data`` is its body, unpacked."""
    assert answer.status_code == 200, answer.text
    boundary = answer.mimetype_params["boundary"]
    decoder = MultipartDecoder(boundary.encode(), max_parts=20)
    decoder.receive_data(data)
    decoder.receive_data(None)
    found, name = {}, ""
    while not isinstance(event := decoder.next_event(), Epilogue):
        if isinstance(event, File | Field):
            name = event.name
            found[name] = b""
            if isinstance(event, File):
                found["digest"] = event.filename.partition(".")[0]
        elif isinstance(event, Data):
            found[name] += event.data
    return {
        name: value if name in ("audio", "digest") else json.loads(value)
        for name, value in found.items()
    }
