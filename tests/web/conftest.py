import pytest

from nest_crate.core.sound import dump_sound
from nest_crate.settings import Settings
from nest_crate.web import create_app


@pytest.fixture
def app(store, tmp_path):
    front_end = tmp_path / "dist"
    (front_end / "assets").mkdir(parents=True)
    (front_end / "index.html").write_text("<title>Nest Crate</title>")
    (front_end / "assets" / "a.js").write_text("1")
    settings = Settings(
        database_url=store.url,
        audio_url=f"file://{store.files_folder}",
        static_folder=str(front_end),
    )
    app = create_app(settings)
    yield app
    app.extensions["nest_crate"].database.engine.dispose()


@pytest.fixture
def client(app):
    return app.test_client()


@pytest.fixture
def kick_document(kick):
    return dump_sound(kick)
