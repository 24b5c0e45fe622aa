from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import pytest

from nest_crate.catalogue.db.errors import NotAllowed, NotFound, StaleSave
from nest_crate.catalogue.db.models import Member, Sound
from nest_crate.catalogue.db.shared_models import Wish
from nest_crate.catalogue.people.accounts import create_account
from nest_crate.catalogue.people.libraries import (
    create_library,
    libraries_of,
    library_for_new_sounds,
)
from nest_crate.catalogue.releases.links import share_sound
from nest_crate.catalogue.samples.comments import answer_wish, make_wish
from nest_crate.catalogue.sounds.sounds import (
    FORGOTTEN_AFTER,
    create_sound,
    keep_revision,
    move_sound,
    require_sound,
    save_draft,
    sounds_of,
)
from nest_crate.core.sound import dump_sound


@pytest.fixture
def sound_id(store, kick):
    with store.database.session() as session:
        return create_sound(session, store.account, library_id=store.library_id, document=kick).id


def save(store, sound_id, document, base_version):
    with store.database.session() as session:
        return save_draft(
            session, store.account, sound_id, base_version=base_version, document=document
        ).draft_version


def named(kick, name):
    return kick.model_copy(update={"name": name})


def test_a_save_raises_the_version_and_an_equal_one_does_not(store, sound_id, kick):
    assert save(store, sound_id, named(kick, "Second"), 1) == 2
    assert save(store, sound_id, named(kick, "Second"), 2) == 2
    with store.database.session() as session:
        (sound,) = sounds_of(session, store.account)
        assert (sound.name, sound.library.name) == ("Second", "Glasshouse Clockworks")


def test_a_stale_save_changes_nothing_and_carries_both_versions(store, sound_id, kick):
    save(store, sound_id, named(kick, "Theirs"), 1)
    with pytest.raises(StaleSave, match="saved this sound in the meantime") as caught:
        save(store, sound_id, named(kick, "Mine"), 1)
    details = caught.value.details
    assert (details["saved"]["version"], details["saved"]["document"]["name"]) == (2, "Theirs")
    assert (details["yours"]["version"], details["yours"]["document"]["name"]) == (1, "Mine")
    with store.database.session() as session:
        assert require_sound(session, store.account, sound_id).draft["name"] == "Theirs"


def test_a_save_repeated_after_a_lost_answer_is_no_conflict(store, sound_id, kick):
    assert save(store, sound_id, named(kick, "Once"), 1) == 2
    assert save(store, sound_id, named(kick, "Once"), 1) == 2


def test_of_many_saves_at_once_exactly_one_wins(store, sound_id, kick):
    def attempt(number):
        try:
            return save(store, sound_id, named(kick, f"Number {number}"), 1)
        except StaleSave:
            return None

    with ThreadPoolExecutor(6) as pool:
        results = list(pool.map(attempt, range(6)))
    assert sorted(r for r in results if r is not None) == [2]


def test_revisions_are_numbered_and_only_kept_where_something_changed(store, sound_id, kick):
    numbers = []
    for name, version in (("A", 1), ("A", 2), ("B", 2)):
        save(store, sound_id, named(kick, name), version)
        with store.database.session() as session:
            sound = require_sound(session, store.account, sound_id)
            numbers.append(keep_revision(session, store.account, sound).number)
    assert numbers == [1, 1, 2]
    with store.database.session() as session:
        sound = require_sound(session, store.account, sound_id)
        assert [r.document["name"] for r in sound.revisions] == ["A", "B"]


def test_documents_come_back_from_the_database_unchanged(store, sound_id, kick):
    with store.database.session() as session:
        assert require_sound(session, store.account, sound_id).draft == dump_sound(kick)


def test_strangers_see_nothing_and_readers_change_nothing(store, sound_id, kick):
    with store.database.session() as session:
        stranger = create_account(session, handle="moth", name="Ash Moth")
        reader = create_account(session, handle="fern", name="Fern Reader")
        member = Member(library_id=store.library_id, account_id=reader.id, role="listener")
        session.add(member)
    with store.database.session() as session:
        assert sounds_of(session, stranger) == []
        with pytest.raises(NotFound, match="There is no library"):
            require_sound(session, stranger, sound_id)
        assert require_sound(session, reader, sound_id).id == sound_id
        with pytest.raises(NotAllowed, match="editor"):
            save_draft(session, reader, sound_id, base_version=1, document=kick)


def test_failed_session_leaves_nothing(store):
    def fail():
        with store.database.session() as session:
            create_library(session, store.account, name="Half made")
            raise LookupError("in between")

    with pytest.raises(LookupError, match="in between"):
        fail()
    with store.database.session() as session:
        assert len(libraries_of(session, store.account)) == 1


class TestPrivateDrafts:
    """A new sound is seen by its author alone until it is named, kept or moved."""

    @pytest.fixture
    def other(self, store):
        with store.database.session() as session:
            account = create_account(session, handle="reed", name="Reed Ashby")
            session.add(Member(library_id=store.library_id, account_id=account.id, role="editor"))
            return account

    @pytest.fixture
    def draft_id(self, store, kick):
        with store.database.session() as session:
            return create_sound(
                session, store.account, library_id=store.library_id, document=kick, private=True
            ).id

    def seen(self, store, account):
        with store.database.session() as session:
            return [one.id for one in sounds_of(session, account)]

    def test_is_listed_for_its_author_once_it_was_changed(self, store, other, draft_id, kick):
        assert self.seen(store, store.account) == [] == self.seen(store, other)
        save(store, draft_id, kick.model_copy(update={"seed": kick.seed + 1}), 1)
        assert self.seen(store, store.account) == [draft_id]
        assert self.seen(store, other) == []

    def test_is_not_there_for_others(self, store, other, draft_id):
        with store.database.session() as session, pytest.raises(NotFound):
            require_sound(session, other, draft_id)

    def test_is_everyones_once_it_has_a_name(self, store, other, draft_id, kick):
        save(store, draft_id, named(kick, "Gate latch"), 1)
        assert self.seen(store, other) == [draft_id]

    def test_is_everyones_once_it_is_kept(self, store, other, draft_id):
        with store.database.session() as session:
            sound = require_sound(session, store.account, draft_id)
            keep_revision(session, store.account, sound)
        assert self.seen(store, other) == [draft_id]

    def test_is_everyones_once_it_is_moved(self, store, other, draft_id):
        with store.database.session() as session:
            second = create_library(session, store.account, name="Second").id
            session.add(Member(library_id=second, account_id=other.id, role="listener"))
            moved = move_sound(session, store.account, draft_id, second)
            assert (moved.library.name, moved.private_to_id) == ("Second", None)
        assert self.seen(store, other) == [draft_id]

    def test_is_everyones_once_it_is_shared_or_answers_a_request(self, store, other, kick):
        def draft(session):
            return create_sound(
                session, store.account, library_id=store.library_id, document=kick, private=True
            ).id

        with store.database.session() as session:
            shared, answer = draft(session), draft(session)
            share_sound(session, store.account, shared, days=3)
            wish = make_wish(session, other, store.library_id, title="A latch", text="")
            answer_wish(session, store.account, wish.id, sound_id=answer)
            # However long they are left, they are kept: others hold on to them.
            for one in (shared, answer):
                session.get_one(Sound, one).changed -= 2 * FORGOTTEN_AFTER
        with store.database.session() as session:
            draft(session)
        assert set(self.seen(store, other)) == {shared, answer}
        with store.database.session() as session:
            second = create_library(session, store.account, name="Second").id
            move_sound(session, store.account, answer, second)
            session.flush()
            moved_from = session.get_one(Wish, wish.id)
            assert (moved_from.sound_id, moved_from.state) == (None, "open")

    def test_is_removed_where_it_was_left_untouched(self, store, draft_id, kick):
        with store.database.session() as session:
            session.get_one(Sound, draft_id).changed -= FORGOTTEN_AFTER + timedelta(seconds=1)
            touched = create_sound(
                session, store.account, library_id=store.library_id, document=kick, private=True
            )
            touched.draft_version = 2
            touched.changed -= FORGOTTEN_AFTER + timedelta(seconds=1)
        with store.database.session() as session:
            create_sound(
                session, store.account, library_id=store.library_id, document=kick, private=True
            )
            assert session.get(Sound, draft_id) is None
            assert session.get(Sound, touched.id) is not None


def test_a_sound_moves_with_its_links_where_the_account_may_edit(store, sound_id):
    with store.database.session() as session:
        second = create_library(session, store.account, name="Second").id
        link, _ = share_sound(session, store.account, sound_id, days=3)
        move_sound(session, store.account, sound_id, second)
        session.flush()
        session.refresh(link)
        assert link.library_id == second
        stranger = create_account(session, handle="vane", name="Vane Ashby")
        session.add(Member(library_id=second, account_id=stranger.id, role="editor"))
        with pytest.raises(NotFound):
            move_sound(session, stranger, sound_id, store.library_id)


class TestLibraryForNewSounds:
    def found(self, store, account):
        with store.database.session() as session:
            return library_for_new_sounds(session, account)

    def test_is_the_one_of_the_sound_changed_last(self, store, kick):
        with store.database.session() as session:
            second = create_library(session, store.account, name="A second").id
        assert self.found(store, store.account).id == second, "the first by name"
        with store.database.session() as session:
            create_sound(session, store.account, library_id=store.library_id, document=kick)
        assert self.found(store, store.account).id == store.library_id

    def test_is_a_private_one_of_its_own_for_who_may_only_listen(self, store):
        with store.database.session() as session:
            reader = create_account(session, handle="fern", name="Fern Reader")
            session.add(Member(library_id=store.library_id, account_id=reader.id, role="listener"))
        made = self.found(store, reader)
        assert (made.name, made.visibility) == ("Sounds of Fern Reader", "private")
        assert self.found(store, reader).id == made.id

    def test_two_tabs_make_one(self, store):
        with store.database.session() as session:
            account = create_account(session, handle="fern", name="Fern Reader")
        with ThreadPoolExecutor(4) as pool:
            ids = {one.id for one in pool.map(lambda _: self.found(store, account), range(8))}
        assert len(ids) == 1
