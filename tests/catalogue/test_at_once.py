"""Several people at once, each in a transaction of their own: nothing is lost, nothing is doubled,
and what must hold of a library holds in any order."""

import threading
from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from sqlalchemy import func, select

from nest_crate.catalogue.db.errors import DatabaseBusy, NotFound, NotPossible, StaleSave
from nest_crate.catalogue.db.models import Account, Member, Sample, Sound, SoundRevision
from nest_crate.catalogue.people.accounts import account_by_handle, create_account
from nest_crate.catalogue.people.keys import accept_invitation, invite
from nest_crate.catalogue.people.libraries import members_of, remove_member, set_member
from nest_crate.catalogue.people.vocabularies import Vocabularies
from nest_crate.catalogue.releases.releases import make_release, releases_of
from nest_crate.catalogue.samples import imports
from nest_crate.catalogue.samples.edits import (
    bin_samples,
    change_sample,
    change_samples,
    edits_of,
    move_samples,
    samples_for,
)
from nest_crate.catalogue.samples.fields import SampleChanges
from nest_crate.catalogue.samples.imports import ImportRules, import_sample
from nest_crate.catalogue.samples.measurement import measure_into
from nest_crate.catalogue.samples.takes import require_sample
from nest_crate.catalogue.samples.undo import undo_gesture
from nest_crate.catalogue.sounds.sounds import (
    create_sound,
    keep_revision,
    require_sound,
    save_draft,
)
from nest_crate.catalogue.upkeep.duplicates import merge_samples
from nest_crate.core.engine import Audio
from nest_crate.core.errors import DocumentError, NestCrateError
from nest_crate.core.formats.wav import encode_wav
from nest_crate.demo.sounds import ensure_people

TONE = 0.5 * np.sin(np.arange(2400) / 9)[None]
TURNS = 3


def at_once(*jobs):
    """Run jobs in threads that begin together; answers the results, or the errors of our own."""
    gate = threading.Barrier(len(jobs))

    def run(job):
        gate.wait()
        try:
            return job()
        except NestCrateError as error:
            return error

    with ThreadPoolExecutor(len(jobs)) as pool:
        return list(pool.map(run, jobs))


def failed(results):
    return [one for one in results if isinstance(one, NestCrateError)]


@pytest.fixture
def crew(store):
    ensure_people(store.database)
    return store


def add_samples(store, count, **facts):
    digest = store.files.put(encode_wav(TONE, 48000, sample_format="float32"))
    made = []
    with store.database.session() as session:
        for n in range(count):
            sample = Sample(library_id=store.library_id, created_by_id=store.account.id)
            sample.name, sample.file_digest = f"Gong {n}", digest
            measure_into(sample, Audio(TONE, 48000))
            for name, value in facts.items():
                setattr(sample, name, value)
            session.add(sample)
            made.append(sample)
        session.flush()
        return [one.id for one in made]


def in_session(store, work):
    """A job that does its work in a session of its own."""

    def run():
        with store.database.session() as session:
            return work(session)

    return run


class TestOwners:
    @pytest.fixture
    def two_owners(self, crew):
        with crew.database.session() as session:
            set_member(session, crew.account, crew.library_id, handle="isolde", role="owner")
            return crew, account_by_handle(session, "isolde")

    @pytest.mark.parametrize("turn", range(TURNS))
    @pytest.mark.parametrize("way", ["demote", "leave"])
    def test_a_library_keeps_an_owner_whoever_is_quicker(self, two_owners, way, turn):
        store, other = two_owners
        library = store.library_id

        def away(account, handle):
            def work(session):
                if way == "leave":
                    return remove_member(session, account, library, account.id)
                return set_member(session, account, library, handle=handle, role="editor")

            return in_session(store, work)

        at_once(away(store.account, "demo"), away(other, "isolde"))
        with store.database.session() as session:
            owners = select(func.count()).where(
                Member.library_id == library, Member.role == "owner"
            )
            assert session.scalar(owners) >= 1

    def test_two_bring_in_the_same_member_at_once(self, crew):
        with crew.database.session() as session:
            create_account(session, handle="moth", name="Ash Moth")

        def work(session):
            set_member(session, crew.account, crew.library_id, handle="moth", role="listener")

        at_once(*[in_session(crew, work)] * 4)
        with crew.database.session() as session:
            listed = members_of(session, crew.account, crew.library_id)
            assert sum(one.account.handle == "moth" for one in listed) == 1


class TestInvitations:
    def test_an_invitation_makes_one_account_however_many_use_it(self, crew):
        with crew.database.session() as session:
            _, secret = invite(session, crew.account, library_id=crew.library_id)

        def use(n):
            return in_session(
                crew,
                lambda session: accept_invitation(
                    session, secret, handle=f"guest{n}", name=f"Guest {n}", password="copper-kettle"
                ),
            )

        results = at_once(*(use(n) for n in range(5)))
        assert len(failed(results)) == 4
        assert all(isinstance(one, NotFound) for one in failed(results))
        with crew.database.session() as session:
            made = select(func.count()).where(Account.handle.startswith("guest"))
            assert session.scalar(made) == 1

    def test_one_name_to_sign_in_with_is_given_once(self, crew):
        secrets = []
        with crew.database.session() as session:
            secrets = [invite(session, crew.account)[1] for _ in range(4)]

        def use(secret):
            return in_session(
                crew,
                lambda session: accept_invitation(
                    session, secret, handle="pim", name="Pim Alder", password="copper-kettle"
                ),
            )

        results = at_once(*map(use, secrets))
        assert len(failed(results)) == 3
        assert all(one.problems[0].path == "handle" for one in failed(results))


class TestSamples:
    def test_changes_of_different_fields_all_stay(self, crew):
        (sample_id,) = add_samples(crew, 1)
        changes = [
            {"licence": "house"},
            {"author": "Wren"},
            {"description": "large"},
            {"tags": ["brass"]},
            {"tempo_bpm": 96.0},
            {"rating": 3},
        ]

        def change(given):
            return in_session(
                crew,
                lambda session: change_sample(
                    session,
                    crew.account,
                    sample_id,
                    SampleChanges(**given),
                    base_version=1,
                    vocabularies=Vocabularies(),
                ),
            )

        assert failed(at_once(*map(change, changes))) == []
        with crew.database.session() as session:
            sample = session.get_one(Sample, sample_id)
            for given in changes:
                for name, value in given.items():
                    assert getattr(sample, name) == value
            assert sample.version == 1 + len(changes)
            assert len(edits_of(session, crew.account, sample_id)) == len(changes)

    def test_of_many_changes_of_one_field_one_is_taken_and_the_others_are_told(self, crew):
        (sample_id,) = add_samples(crew, 1)

        def change(n):
            return in_session(
                crew,
                lambda session: change_sample(
                    session,
                    crew.account,
                    sample_id,
                    SampleChanges(licence=f"licence {n}"),
                    base_version=1,
                    vocabularies=Vocabularies(),
                ),
            )

        results = at_once(*(change(n) for n in range(6)))
        refused = failed(results)
        assert len(refused) == 5
        with crew.database.session() as session:
            kept = session.get_one(Sample, sample_id).licence
        for error in refused:
            assert isinstance(error, StaleSave)
            assert error.details["saved"] == {"licence": kept}
            assert error.details["yours"]["licence"] != kept

    @pytest.mark.parametrize("turn", range(TURNS))
    def test_many_samples_in_any_order_wait_for_each_other(self, crew, turn):
        """Rows are locked in one order, so that nobody waits in a circle."""
        ids = add_samples(crew, 12)

        def tag(word, order):
            return in_session(
                crew,
                lambda session: change_samples(
                    session,
                    crew.account,
                    order,
                    SampleChanges(),
                    add_tags=[word],
                    vocabularies=Vocabularies(),
                ),
            )

        jobs = [tag("a", ids), tag("b", ids[::-1]), tag("c", ids[6:] + ids[:6]), tag("d", ids[::2])]
        assert failed(at_once(*jobs)) == []
        with crew.database.session() as session:
            rows = session.scalars(select(Sample).where(Sample.id.in_(ids))).all()
        for row in rows:
            wanted = {"a", "b", "c"} | ({"d"} if row.id in ids[::2] else set())
            assert set(row.tags) == wanted

    def test_what_was_done_once_is_undone_once(self, crew):
        ids = add_samples(crew, 3)
        with crew.database.session() as session:
            gesture = bin_samples(session, crew.account, ids, binned=True)

        def undo(session):
            return undo_gesture(session, crew.files, crew.account, gesture)

        results = at_once(*[in_session(crew, undo)] * 4)
        assert len(failed(results)) == 3
        with crew.database.session() as session:
            for sample_id in ids:
                assert not session.get_one(Sample, sample_id).binned
                # Put away, and restored a single time.
                assert len(edits_of(session, crew.account, sample_id)) == 2

    def test_what_is_locked_is_read_anew(self, crew):
        (sample_id,) = add_samples(crew, 1)
        with crew.database.session() as session:
            seen = samples_for(session, crew.account, [sample_id])[0]
            assert (seen.version, seen.licence) == (1, "")
            with crew.database.session() as other:
                change_sample(
                    other,
                    crew.account,
                    sample_id,
                    SampleChanges(licence="house"),
                    base_version=1,
                    vocabularies=Vocabularies(),
                )
            locked = samples_for(session, crew.account, [sample_id], lock=True)[0]
            assert (locked.version, locked.licence) == (2, "house")
            again = require_sample(session, crew.account, sample_id, "sample.edit", lock=True)
            assert again.version == 2

    def test_who_waits_in_a_circle_is_told_and_changes_nothing(self, crew):
        """Two that lock the same two rows the other way round: one of them has to give way."""
        first, second = add_samples(crew, 2)
        met = threading.Barrier(2)

        def cross(one, other, word):
            def work(session):
                session.get_one(Sample, one, with_for_update=True).licence = word
                session.flush()
                met.wait()
                session.get_one(Sample, other, with_for_update=True).licence = word

            return in_session(crew, work)

        results = at_once(cross(first, second, "a"), cross(second, first, "b"))
        (refused,) = failed(results)
        assert isinstance(refused, DatabaseBusy)
        with crew.database.session() as session:
            kept = {session.get_one(Sample, one).licence for one in (first, second)}
        assert kept in ({"a"}, {"b"})

    def test_many_undo_what_each_did_at_once(self, crew):
        groups = [add_samples(crew, 3) for _ in range(5)]
        with crew.database.session() as session:
            gestures = [bin_samples(session, crew.account, ids, binned=True) for ids in groups]

        def undo(gesture):
            return in_session(
                crew, lambda session: undo_gesture(session, crew.files, crew.account, gesture)
            )

        assert failed(at_once(*map(undo, gestures))) == []
        with crew.database.session() as session:
            assert not any(session.get_one(Sample, one).binned for ids in groups for one in ids)

    def test_two_samples_are_not_merged_into_each_other(self, crew):
        first, second = add_samples(crew, 2)

        def merge(keep, other):
            return in_session(
                crew, lambda session: merge_samples(session, crew.account, keep, [other])
            )

        results = at_once(merge(first, second), merge(second, first))
        assert len(failed(results)) == 1
        with crew.database.session() as session:
            binned = [session.get_one(Sample, one).binned for one in (first, second)]
        assert sorted(binned) == [False, True]


class TestReleases:
    def test_a_number_is_given_once(self, crew):
        add_samples(crew, 2, status="approved")

        def release():
            return make_release(
                crew.database, crew.files, crew.account, crew.library_id, number="1.0.0", note=""
            )

        results = at_once(*[release] * 4)
        assert len(failed(results)) == 3
        for error in failed(results):
            assert isinstance(error, DocumentError)
            assert error.problems[0].path == "number"
        with crew.database.session() as session:
            (made,) = releases_of(session, crew.account, crew.library_id)
            assert len(made.items) == 2

    def test_numbers_rise_also_for_those_who_come_at_once(self, crew):
        add_samples(crew, 2, status="approved")

        def release(number):
            return lambda: make_release(
                crew.database, crew.files, crew.account, crew.library_id, number=number, note=""
            )

        at_once(*(release(number) for number in ("1.1.0", "1.0.0", "1.2.0")))
        with crew.database.session() as session:
            made = releases_of(session, crew.account, crew.library_id)
            in_time = sorted(made, key=lambda one: one.id)
            assert [one.number for one in in_time] == sorted(one.number for one in made)

    def test_a_release_holds_no_sample_that_was_changed_meanwhile(self, crew):
        ids = add_samples(crew, 4, status="approved")

        def release():
            return make_release(
                crew.database, crew.files, crew.account, crew.library_id, number="1.0.0", note=""
            )

        retire = in_session(
            crew, lambda session: move_samples(session, crew.account, ids[:1], "retired")
        )
        made, moved = at_once(release, retire)
        assert not isinstance(moved, NestCrateError)
        with crew.database.session() as session:
            releases = releases_of(session, crew.account, crew.library_id)
            held = {item.sample_id for one in releases for item in one.items}
            retired = session.get_one(Sample, ids[0])
            if isinstance(made, NotPossible):
                assert releases == []
            # It was made wholly before, or wholly after.
            elif ids[0] in held:
                assert releases[0].created < retired.changed
            else:
                assert held == set(ids[1:])


class TestSounds:
    def test_of_many_saves_from_one_version_one_is_taken(self, crew, kick):
        with crew.database.session() as session:
            sound_id = create_sound(
                session, crew.account, library_id=crew.library_id, document=kick
            ).id

        def save(n):
            document = kick.model_copy(update={"name": f"Kick {n}"})
            return in_session(
                crew,
                lambda session: save_draft(
                    session, crew.account, sound_id, base_version=1, document=document
                ),
            )

        results = at_once(*(save(n) for n in range(6)))
        assert len(failed(results)) == 5
        with crew.database.session() as session:
            sound = session.get_one(Sound, sound_id)
            assert sound.draft_version == 2
            assert sound.draft["name"] == sound.name
            for error in failed(results):
                assert error.details["saved"]["document"]["name"] == sound.name

    def test_a_state_kept_by_many_at_once_is_one_revision(self, crew, kick):
        with crew.database.session() as session:
            sound_id = create_sound(
                session, crew.account, library_id=crew.library_id, document=kick
            ).id

        def keep(session):
            sound = require_sound(session, crew.account, sound_id, "sound.edit", lock=True)
            return keep_revision(session, crew.account, sound).number

        assert at_once(*[in_session(crew, keep)] * 5) == [1] * 5
        with crew.database.session() as session:
            count = select(func.count()).where(SoundRevision.sound_id == sound_id)
            assert session.scalar(count) == 1


def test_the_same_audio_that_shall_come_in_once_comes_in_once(crew, tmp_path, monkeypatch):
    path = tmp_path / "sent"
    measured = imports.measured
    both = threading.Barrier(2, timeout=30)

    def measure(audio):
        # Both have looked, and found nothing.
        both.wait()
        return measured(audio)

    monkeypatch.setattr(imports, "measured", measure)

    def bring(name):
        return import_sample(
            crew.database,
            crew.files,
            crew.account,
            crew.library_id,
            name=name,
            path=path,
            rules=ImportRules(once=True),
        )

    for turn in range(TURNS):
        # Other audio in each turn.
        louder = TONE * (0.5 + 0.1 * turn)
        path.write_bytes(encode_wav(louder, 48000, sample_format="float32"))
        made = at_once(lambda: bring("First"), lambda: bring("Copy of first"))
        assert sorted(one.new for one in made) == [False, True]
        assert made[0].sample_id == made[1].sample_id
