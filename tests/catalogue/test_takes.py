import numpy as np
import pytest
from sqlalchemy import func, select, text

from nest_crate.catalogue.db.database import Database, migrate
from nest_crate.catalogue.db.errors import DatabaseGone, StaleSave
from nest_crate.catalogue.db.models import Base, Sample, SoundRevision, Take, utc_now
from nest_crate.catalogue.releases.releases import releases_of
from nest_crate.catalogue.samples.measurement import measure_again
from nest_crate.catalogue.samples.takes import (
    keep_take,
    require_sample,
    sample_file,
    samples_of,
    sweep_orphans,
)
from nest_crate.catalogue.sounds.sounds import create_sound, made_from
from nest_crate.core.engine import ENGINE_VERSION, cpu_family, render
from nest_crate.core.formats.wav import decode_wav
from nest_crate.core.sound import load_sound
from nest_crate.demo import sounds as demo
from nest_crate.local_database import LocalDatabase
from nest_crate.storage import StorageError


@pytest.fixture
def sound_id(store, kick):
    with store.database.session() as session:
        return create_sound(session, store.account, library_id=store.library_id, document=kick).id


def keep(store, sound_id, kick, *, base_version=1, name="Kick take", database=None):
    return keep_take(
        database or store.database,
        store.files,
        store.account,
        sound_id,
        base_version=base_version,
        document=kick,
        hit=kick.hit,
        library_id=store.library_id,
        name=name,
    )


def counts(store):
    with store.database.session() as session:
        return [
            session.scalar(select(func.count()).select_from(table))
            for table in (SoundRevision, Take, Sample)
        ]


def test_a_take_holds_the_rendered_samples_and_its_lineage(store, sound_id, kick):
    sample_id = keep(store, sound_id, kick)
    expected = render(kick).samples
    with store.database.session() as session:
        sample = require_sample(session, store.account, sample_id)
        stored, rate = decode_wav(store.files.get(sample.file_digest))
        assert rate == 48000
        np.testing.assert_array_equal(stored, expected.astype(np.float32))
        assert sample.take.engine_version == ENGINE_VERSION
        assert sample.take.hit == kick.hit.model_dump(mode="json")
        # Whatever is kept of how it was made makes the same samples again.
        again = render(load_sound(sample.take.revision.document)).samples
        np.testing.assert_array_equal(again, expected)
        assert sample.length_s == pytest.approx(expected.shape[1] / 48000)
        assert sample.peak_db == pytest.approx(20 * np.log10(np.abs(expected).max()), abs=1e-4)
        assert sample.note == "G1"
        assert sample.pitch_confidence > 0.5
        assert not sample.several_notes
        assert sample.take.cpu_family == cpu_family()


def test_a_sound_looks_as_its_newest_sample_does(store, sound_id, kick):
    first = keep(store, sound_id, kick)
    newest = keep(store, sound_id, kick, name="Second take")
    with store.database.session() as session:
        assert made_from(session, [sound_id])[sound_id].newest.id == newest
        require_sample(session, store.account, newest).deleted = utc_now()
    with store.database.session() as session:
        found = made_from(session, [sound_id, sound_id + 1])
        assert list(found) == [sound_id]
        assert (found[sound_id].count, found[sound_id].newest.id) == (1, first)


@pytest.mark.parametrize(("rate", "step"), [(48000, 2**-23), (44100, None)])
def test_download_has_the_asked_rate_in_24_bits(store, sound_id, kick, rate, step):
    sample_id = keep(store, sound_id, kick)
    with store.database.session() as session:
        sample = require_sample(session, store.account, sample_id)
        data = sample_file(store.files, sample, sample_rate=rate, sample_format="pcm24")
    samples, file_rate = decode_wav(data)
    expected = render(kick).samples
    assert file_rate == rate
    assert samples.shape[1] == pytest.approx(expected.shape[1] * rate / 48000, abs=1)
    if step:
        np.testing.assert_allclose(samples, expected, atol=step)


def test_two_takes_of_one_state_share_file_and_revision(store, sound_id, kick):
    keep(store, sound_id, kick, name="One")
    keep(store, sound_id, kick, name="Two")
    assert counts(store) == [1, 2, 2]
    assert len(store.files.digests()) == 1
    with store.database.session() as session:
        listed = samples_of(session, store.account, store.library_id)
        assert [sample.name for sample in listed] == ["One", "Two"]


def test_stale_take_catalogues_nothing(store, sound_id, kick):
    keep(store, sound_id, kick.model_copy(update={"name": "Newer"}))
    before = counts(store)
    with pytest.raises(StaleSave, match="saved this sound in the meantime"):
        keep(store, sound_id, kick, base_version=1)
    assert counts(store) == before


def test_full_disk_catalogues_nothing(store, sound_id, kick, monkeypatch):
    def full(_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr("nest_crate.storage.files.os.fsync", full)
    with pytest.raises(StorageError, match="No space left"):
        keep(store, sound_id, kick)
    assert counts(store) == [0, 0, 0]
    assert not [p for p in store.files_folder.rglob("*") if p.is_file()]


def test_orphans_are_swept_and_what_is_used_stays(store, sound_id, kick):
    keep(store, sound_id, kick)
    used = store.files.digests()
    orphan = store.files.put(b"left behind by a dead worker")
    assert sweep_orphans(store.database, store.files) == 0, "too young: its rows may be on the way"
    assert sweep_orphans(store.database, store.files, older_than_s=0) == 1
    assert store.files.digests() == used
    assert orphan not in used


def test_database_that_dies_says_so_and_serves_again_when_it_is_back(tmp_path, kick):
    server = LocalDatabase(tmp_path / "db")
    server.start()
    database = Database(server.url)
    migrate(database.engine)
    server.kill()
    with (
        pytest.raises(DatabaseGone, match="does not answer") as caught,
        database.session() as session,
    ):
        session.execute(text("SELECT 1"))
    assert caught.value.code == "database_gone"
    server.start()
    with database.session() as session:
        assert session.scalar(text("SELECT 1")) == 1
    database.engine.dispose()
    server.stop()


def test_demo_is_built_through_the_services(store, tmp_path, monkeypatch):
    # A part of it, for the pages' tests build it whole.
    paths = sorted(demo.SOUNDS_FOLDER.glob("*.json"))[:6]
    for path in (*paths, demo.SOUNDS_FOLDER / "kiln-door-kick.json"):
        (tmp_path / path.name).write_bytes(path.read_bytes())
    monkeypatch.setattr(demo, "SOUNDS_FOLDER", tmp_path)
    shown = []
    made = demo.build_demo(store.database, store.files, lambda done, of: shown.append((done, of)))
    with store.database.session() as session:
        listed = samples_of(session, store.account, store.library_id)
        (release,) = releases_of(session, store.account, store.library_id)
        approved = {one.id for one in listed if one.status == "approved"}
        assert {item.sample_id for item in release.items} == approved
    assert len(listed) == made == 7
    assert shown == [(n, 7) for n in range(1, 8)]
    assert "Kiln door kick" in {one.name for one in listed}
    assert {one.status for one in listed} == {"approved", "in_review", "draft"}


def test_migrations_go_up_to_the_models_and_down_to_nothing(tmp_path):
    from alembic.autogenerate import compare_metadata
    from alembic.migration import MigrationContext

    server = LocalDatabase(tmp_path / "db")
    server.start()
    engine = Database(server.url).engine
    migrate(engine)
    with engine.connect() as connection:
        context = MigrationContext.configure(connection, opts={"compare_type": True})
        assert compare_metadata(context, Base.metadata) == []
    migrate(engine, "base")
    with engine.connect() as connection:
        tables = connection.execute(text("SHOW TABLES")).scalars().all()
    assert tables == ["alembic_version"]
    engine.dispose()
    server.stop()


def test_links_of_an_earlier_database_stay_and_its_libraries_get_keys(tmp_path):
    server = LocalDatabase(tmp_path / "db")
    server.start()
    engine = Database(server.url).engine
    migrate(engine, "0010")
    now = "'2026-01-01'"

    def link(number, column, key):
        return (
            "INSERT INTO share_links (token_digest, library_id, note, expires, revoked,"
            f" ended_because, created, created_by_id, {column}) VALUES ('{number:064}', 1, '',"
            f" {now}, 0, '', {now}, 1, {key})"
        )

    with engine.begin() as connection:
        for statement in (
            "INSERT INTO accounts (id, handle, name, administrator, disabled, created)"
            f" VALUES (1, 'demo', 'Demo', 0, 0, {now})",
            "INSERT INTO libraries (id, name, description, visibility, created)"
            f" VALUES (1, 'Moths', '', 'shared', {now}), (2, 'Größe & moths', '', 'shared', {now}),"
            f" (3, 'Moths', '', 'shared', {now}), (4, '2026', '', 'shared', {now})",
            link(1, "sound_id", "NULL"),
        ):
            connection.execute(text(statement))
    migrate(engine)
    with engine.begin() as connection:
        connection.execute(
            text(f"INSERT INTO tryouts VALUES (1, 1, 'Groove', '{{}}', 1, NULL, {now}, {now}, 1)")
        )
        connection.execute(text(link(2, "tryout_id", "1")))
        assert connection.scalar(text("SELECT COUNT(*) FROM share_links")) == 2
        keys = connection.scalars(text("SELECT `key` FROM libraries ORDER BY id")).all()
        assert keys == ["moths", "grosse-moths", "moths-2", "library-2026"]
    migrate(engine, "base")
    engine.dispose()
    server.stop()


def test_samples_of_an_earlier_version_are_measured_again(store, sound_id, kick):
    sample_id, other = (keep(store, sound_id, kick, name=name) for name in ("Old", "Lost"))
    with store.database.session() as session:
        for one in (sample_id, other):
            sample = require_sample(session, store.account, one)
            sample.pitch_confidence, sample.note, sample.cents = None, "A7", 0.0
        sample.file_digest = "0" * 64
    count, problems = measure_again(store.database, store.files)
    assert count == 1
    assert [problem.split(":")[0] for problem in problems] == ["Lost"]
    with store.database.session() as session:
        sample = require_sample(session, store.account, sample_id)
        assert sample.note == "G1"
        assert sample.pitch_confidence > 0.5
    assert measure_again(store.database, store.files)[0] == 0
    assert measure_again(store.database, store.files, everything=True)[0] == 1
