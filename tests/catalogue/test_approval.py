"""Whatever editors and reviewers do and take back: what is approved is what a reviewer heard."""

import secrets

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from sqlalchemy import select

from nest_crate.catalogue.db.errors import NotAllowed, NotFound, NotPossible
from nest_crate.catalogue.db.models import Sample
from nest_crate.catalogue.people.accounts import account_by_handle
from nest_crate.catalogue.samples.edits import edits_of, move_samples
from nest_crate.catalogue.samples.measurement import measure_into
from nest_crate.catalogue.samples.undo import undo_gesture
from nest_crate.catalogue.upkeep.batch_changes import set_edits
from nest_crate.core.dsp.util.trim import SoundEdits
from nest_crate.core.engine import Audio
from nest_crate.core.formats.wav import encode_wav
from nest_crate.demo.sounds import ensure_people

RATE = 48000
SIGNAL = np.sin(np.arange(2400) / 20)[None] * np.exp(-np.arange(2400) / 500)

moves = st.sampled_from(["draft", "in_review", "approved", "retired"])
steps = st.one_of(
    st.tuples(st.just("move"), st.sampled_from(["isolde", "tam"]), moves),
    st.tuples(st.just("edit"), st.just("isolde"), st.sampled_from([-6.0, -3.0, 0.0])),
    # The n-th entry of the history, the newest first.
    st.tuples(st.just("undo"), st.sampled_from(["isolde", "tam"]), st.integers(0, 5)),
)


@pytest.fixture
def crew(store):
    ensure_people(store.database)
    with store.database.session() as session:
        people = {name: account_by_handle(session, name) for name in ("isolde", "tam")}
    return store, people


def fresh_sample(store, people):
    audio = Audio(SIGNAL, RATE)
    sample = Sample(library_id=store.library_id, created_by_id=people["isolde"].id)
    sample.name = secrets.token_hex(4)
    measure_into(sample, audio)
    sample.file_digest = store.files.put(encode_wav(SIGNAL, RATE, sample_format="float32"))
    with store.database.session() as session:
        session.add(sample)
        session.flush()
        return sample.id


def step(session, store, people, sample_id, taken):
    what, who, value = taken
    account = people[who]
    if what == "move":
        move_samples(session, account, [sample_id], value)
    elif what == "edit":
        version = session.scalar(select(Sample.version).where(Sample.id == sample_id))
        wanted = SoundEdits(gain_db=value)
        set_edits(session, store.files, account, sample_id, wanted, base_version=version)
    else:
        entries = edits_of(session, account, sample_id)
        if value < len(entries):
            undo_gesture(session, store.files, account, entries[value].gesture)


@given(st.lists(steps, min_size=4, max_size=10))
@settings(
    max_examples=30,
    deadline=None,
    suppress_health_check=[HealthCheck.function_scoped_fixture],
)
def test_what_is_approved_was_heard_by_a_reviewer(crew, taken):
    store, people = crew
    sample_id = fresh_sample(store, people)
    heard = []
    for one in [("move", "isolde", "in_review"), ("move", "tam", "approved"), *taken]:
        try:
            with store.database.session() as session:
                step(session, store, people, sample_id, one)
        except (NotAllowed, NotPossible, NotFound):
            continue
        with store.database.session() as session:
            sample = session.get_one(Sample, sample_id)
            if one[:2] == ("move", "tam") and sample.status == "approved":
                heard.append(dict(sample.edits))
            assert sample.status != "approved" or sample.edits in heard, one
            # What is measured is always of what is heard.
            gain_db = sample.edits.get("gain_db", 0.0)
            peak_db = 20 * np.log10(np.abs(SIGNAL).max())
            assert sample.peak_db == pytest.approx(peak_db + gain_db, abs=0.01)
    assert heard
