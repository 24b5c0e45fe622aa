"""What a library lacks, what in it is alike, who may still open it: by the definition of each."""

import os
import time
from datetime import timedelta

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from nest_crate.catalogue.db.errors import NotAllowed, NotFound, NotSignedIn
from nest_crate.catalogue.db.models import ApiToken, Invitation, Library, Sample, utc_now
from nest_crate.catalogue.db.shared_models import ShareLink
from nest_crate.catalogue.people.accounts import create_account, set_disabled
from nest_crate.catalogue.people.keys import (
    accept_invitation,
    account_of_token,
    invitations_of,
    invite,
    make_token,
    open_invitation,
    secret_digest,
    tokens_of,
    withdraw_invitation,
)
from nest_crate.catalogue.people.libraries import create_library, role_in
from nest_crate.catalogue.people.vocabulary import load_vocabulary
from nest_crate.catalogue.releases.links import links_of, open_link, revoke_link, share_sample
from nest_crate.catalogue.samples.takes import sweep_orphans
from nest_crate.catalogue.search import SampleIndex
from nest_crate.catalogue.upkeep.duplicates import _BANDS, _NEAR, _near, duplicates_in
from nest_crate.catalogue.upkeep.gaps import gaps_in
from nest_crate.core.analysis.features.features import FEATURE_COUNT
from nest_crate.core.errors import DocumentError
from nest_crate.demo.sounds import ensure_people

WELL = {
    "category": "drum",
    "tags": ["low"],
    "licence": "house",
    "peak_db": -1.0,
    "true_peak_db": -0.9,
    "loudness_lufs": -12.0,
    "length_s": 1.0,
    "channels": 1,
    "sample_rate": 48000,
    "fundamental_hz": 110.0,
}


WORDS = load_vocabulary()


def add(store, name, *, vector=None, digest="0" * 64, **facts):
    made = np.zeros(FEATURE_COUNT, np.float32) if vector is None else vector
    with store.database.session() as session:
        sample = Sample(
            library_id=store.library_id,
            created_by_id=store.account.id,
            name=name,
            file_digest=digest,
            features=made.astype(np.float32).tobytes(),
            outline=b"",
            **{**WELL, **facts},
        )
        session.add(sample)
        session.flush()
        return sample.id


class TestGaps:
    @pytest.mark.parametrize(
        ("code", "facts"),
        [
            ("no_category", {"category": ""}),
            ("no_tags", {"tags": []}),
            ("no_licence", {"licence": ""}),
            ("other_words", {"category": "drumset"}),
            ("other_words", {"subcategory": "gong"}),
            ("silent", {"peak_db": -200.0}),
            ("over", {"true_peak_db": 0.1}),
            ("group_without_number", {"variation_group": "Gong"}),
            ("odd_loop", {"loop_start_s": 0.5}),
            ("odd_loop", {"loop_end_s": 0.5}),
            ("odd_loop", {"loop_start_s": 0.5, "loop_end_s": 0.4}),
            ("odd_loop", {"loop_start_s": 0.5, "loop_end_s": 1.5}),
            ("root_far", {"follows_key": True, "root_note": 48}),
        ],
    )
    def test_each_is_found_and_nothing_else(self, store, code, facts):
        add(store, "Well kept")
        odd = add(store, "Odd", **facts)
        with store.database.session() as session:
            found = gaps_in(session, store.account, store.library_id, WORDS)
        assert [(one.code, one.sample_ids) for one in found] == [(code, (odd,))]

    @pytest.mark.parametrize(
        "facts",
        [
            {"true_peak_db": 0.0},
            {"variation_group": "Gong", "variation": 1},
            {"loop_start_s": 0.0, "loop_end_s": 1.0},
            # An octave off is a matter of taste; 110 Hz is A2, note 45.
            {"follows_key": True, "root_note": 57},
            {"follows_key": True, "root_note": 45},
            # Off its root, but always played as it is.
            {"follows_key": False, "root_note": 48},
            {"follows_key": True, "root_note": 48, "fundamental_hz": None},
        ],
    )
    def test_what_is_well_is_not_complained_of(self, store, facts):
        add(store, "Well kept", **facts)
        with store.database.session() as session:
            assert gaps_in(session, store.account, store.library_id, WORDS) == []

    def test_names_are_the_same_whatever_their_letters_and_not_in_the_bin(self, store):
        ids = tuple(add(store, name) for name in ("Gong", "GONG"))
        add(store, "gong", deleted=utc_now())
        add(store, "Bell", deleted=utc_now())
        add(store, "bell")
        with store.database.session() as session:
            (found,) = gaps_in(session, store.account, store.library_id, WORDS)
        assert (found.code, found.sample_ids) == ("same_name", ids)


class VectorsAlone:
    """As much of an index as comparing needs."""

    def __init__(self, vectors):
        self._vectors = vectors

    def vectors(self, ids):
        return self._vectors[np.array(ids)]


def near_by_definition(vectors, near):
    """Each with all later ones that are near to it and in no group yet."""
    free = np.any(vectors != 0.0, axis=1)
    groups = []
    for n in range(len(vectors)):
        if not free[n]:
            continue
        far = np.linalg.norm((vectors - vectors[n])[:, _BANDS], axis=1)
        others = [k for k in range(n + 1, len(vectors)) if free[k] and far[k] < near]
        if others:
            groups.append((n, *others))
            free[others] = False
    return groups


class TestDuplicates:
    @given(
        count=st.integers(0, 60),
        spread=st.sampled_from([0.02, 0.08, 0.3, 2.0]),
        silent=st.floats(0.0, 0.3),
        seed=st.integers(0, 999),
    )
    @settings(max_examples=60, deadline=None)
    def test_groups_are_those_of_the_definition(self, count, spread, silent, seed):
        rng = np.random.default_rng(seed)
        centres = rng.normal(size=(5, FEATURE_COUNT))
        vectors = centres[rng.integers(0, 5, count)]
        vectors = (vectors + spread * rng.normal(size=vectors.shape)).astype(np.float32)
        vectors[rng.random(count) < silent] = 0.0
        found = _near(list(range(count)), VectorsAlone(vectors), lambda one, other: True)
        assert all(not one.exact for one in found)
        assert [one.sample_ids for one in found] == near_by_definition(vectors, _NEAR)

    def test_the_same_file_with_other_edits_is_not_the_same(self, store):
        same = [add(store, f"Gong {n}", digest="a" * 64) for n in range(2)]
        add(store, "Gong softer", digest="a" * 64, edits={"gain_db": -6.0})
        add(store, "Gong binned", digest="a" * 64, deleted=utc_now())
        with store.database.session() as session:
            found = duplicates_in(
                session, store.files, store.account, SampleIndex(), store.library_id
            )
        assert [(one.exact, one.sample_ids) for one in found.groups] == [(True, tuple(same))]
        assert found.complete

    def test_far_more_than_a_few_thousand_are_all_compared(self, store):
        """The last two of a large library are found as well as the first."""
        rng = np.random.default_rng(7)
        vectors = 5.0 * rng.normal(size=(9000, FEATURE_COUNT)).astype(np.float32)
        vectors[-1] = vectors[-2] + 0.01
        (found,) = _near(list(range(9000)), VectorsAlone(vectors), lambda one, other: True)
        assert found.sample_ids == (8998, 8999)

    def test_what_is_near_is_compared_and_no_copy_is_left_out(self):
        vectors = np.ones((4, FEATURE_COUNT), np.float32)
        copies = {(0, 2), (1, 3)}
        found = _near(
            [0, 1, 2, 3], VectorsAlone(vectors), lambda one, other: (one, other) in copies
        )
        assert [one.sample_ids for one in found] == [(0, 2), (1, 3)]


@pytest.fixture
def crew(store):
    ensure_people(store.database)
    return store


def past(session, model, identifier):
    session.get_one(model, identifier).expires = utc_now() - timedelta(seconds=1)


class TestKeys:
    def test_of_every_secret_only_a_digest_is_kept(self, crew):
        with crew.database.session() as session:
            _, invited = invite(session, crew.account)
            _, token = make_token(session, crew.account, name="Build", scope="read", days=1)
            sample = add(crew, "Gong")
            _, link = share_sample(session, crew.account, sample, days=1)
        assert [one.split("-")[1] for one in (invited, token, link)] == [
            "invitation",
            "token",
            "link",
        ]
        with crew.database.session() as session:
            for model, secret in ((Invitation, invited), (ApiToken, token), (ShareLink, link)):
                (row,) = session.query(model).all()
                assert row.token_digest == secret_digest(secret) != secret
                assert len(secret) > 40

    def test_an_invitation_ends_by_time_by_use_and_by_being_withdrawn(self, crew):
        with crew.database.session() as session:
            made = [invite(session, crew.account) for _ in range(3)]
            (late, late_secret), (used, used_secret), (gone, gone_secret) = made
            past(session, Invitation, late.id)
            withdraw_invitation(session, crew.account, gone.id)
            accept_invitation(
                session, used_secret, handle="pim", name="Pim Alder", password="copper-kettle"
            )
            for secret in (late_secret, used_secret, gone_secret, "", "nest-invitation-x"):
                with pytest.raises(NotFound, match="no longer valid"):
                    open_invitation(session, secret)
            with pytest.raises(NotFound, match="no such open invitation"):
                withdraw_invitation(session, crew.account, used.id)
            assert [one.id for one in invitations_of(session, crew.account)] == [used.id, late.id]

    def test_an_invitation_gives_its_role_and_no_other(self, crew):
        with crew.database.session() as session:
            _, secret = invite(session, crew.account, library_id=crew.library_id, role="reviewer")
            guest = accept_invitation(
                session, secret, handle="pim", name="Pim Alder", password="copper-kettle"
            )
            library = session.get_one(Library, crew.library_id)
            assert role_in(session, guest, library) == "reviewer"
            assert not guest.administrator
            with pytest.raises(NotAllowed, match="Only an administrator"):
                invite(session, guest)

    @pytest.mark.parametrize("days", [0, -1, 731])
    def test_a_token_lasts_within_its_limits(self, crew, days):
        with (
            crew.database.session() as session,
            pytest.raises(DocumentError, match="a token lasts"),
        ):
            make_token(session, crew.account, name="Build", scope="read", days=days)

    def test_a_token_ends_with_its_time_and_with_its_account(self, crew):
        with crew.database.session() as session:
            guest = create_account(session, handle="pim", name="Pim", password="copper-kettle")
            token, secret = make_token(session, guest, name="Build", scope="write", days=1)
            _, other = make_token(session, guest, name="Other", scope="write", days=1)
            found = account_of_token(session, secret)
            assert (found.id, found.scope, found.administrator) == (guest.id, "write", False)
            assert [one.name for one in tokens_of(session, guest)] == ["Other", "Build"]
            past(session, ApiToken, token.id)
            with pytest.raises(NotSignedIn, match="expired"):
                account_of_token(session, secret)
            set_disabled(session, crew.account, guest.id, disabled=True)
            with pytest.raises(NotSignedIn, match="not valid"):
                account_of_token(session, other)

    def test_a_link_ends_by_time_and_by_being_revoked(self, crew):
        sample = add(crew, "Gong")
        with crew.database.session() as session:
            made = [share_sample(session, crew.account, sample, days=2) for _ in range(3)]
            (late, late_secret), (gone, gone_secret), (kept, secret) = made
            past(session, ShareLink, late.id)
            revoke_link(session, crew.account, gone.id)
            for one in (late_secret, gone_secret, "nest-link-x"):
                with pytest.raises(NotFound, match="no longer valid"):
                    open_link(session, one)
            assert open_link(session, secret).id == kept.id
            listed = links_of(session, crew.account, crew.library_id)
            assert [one.id for one in listed] == [kept.id, gone.id, late.id]

    def test_a_token_that_may_only_read_makes_nothing(self, crew):
        sample = add(crew, "Gong")
        with crew.database.session() as session:
            _, secret = make_token(session, crew.account, name="Build", scope="read", days=1)
            reader = account_of_token(session, secret)
            for attempt in (
                lambda: make_token(session, reader, name="More", scope="write", days=1),
                lambda: create_library(session, reader, name="Shed"),
                lambda: share_sample(session, reader, sample, days=1),
                lambda: invite(session, reader),
            ):
                with pytest.raises(NotAllowed, match=r"read-only|Only an administrator"):
                    attempt()


class TestSweep:
    def test_what_was_put_again_meanwhile_is_not_removed(self, store):
        digest = store.files.put(b"an orphan of long ago")
        path = next(store.files_folder.rglob(f"{digest}.wav"))
        os.utime(path, (0, 0))
        assert store.files.digests(older_than_s=60) == {digest}
        # Its rows are on the way: it is as if it were new.
        assert store.files.put(b"an orphan of long ago") == digest
        assert store.files.digests(older_than_s=60) == set()
        assert sweep_orphans(store.database, store.files, older_than_s=60) == 0
        assert store.files.exists(digest)

    @pytest.mark.parametrize(("age_s", "removed"), [(0, False), (59, False), (3600, True)])
    def test_only_what_is_old_enough_goes(self, store, age_s, removed):
        digest = store.files.put(b"an orphan")
        path = next(store.files_folder.rglob(f"{digest}.wav"))
        os.utime(path, (time.time() - age_s,) * 2)
        assert store.files.remove_if_older(digest, 60.0) is removed
        assert store.files.exists(digest) is not removed
        if removed:
            assert store.files.remove_if_older(digest, 60.0) is False
