import hashlib
import json
import subprocess
import sys
import zipfile

import numpy as np
import pytest
import soundfile
from click.testing import CliRunner

from nest_crate.catalogue.upkeep import age_files
from nest_crate.cli import main
from nest_crate.core.engine import render
from nest_crate.core.formats.metadata import read_facts
from nest_crate.core.formats.wav import decode_wav, encode_wav
from nest_crate.demo.sounds import SOUNDS_FOLDER

KICK = str(SOUNDS_FOLDER / "kiln-door-kick.json")


def run(*arguments):
    return CliRunner().invoke(main, list(arguments))


def test_render_writes_the_samples_of_a_take(tmp_path, kick):
    path = tmp_path / "kick.wav"
    result = run("render", KICK, "--note", "G1", "-o", str(path))
    assert result.exit_code == 0, result.output
    samples, rate = decode_wav(path.read_bytes())
    assert rate == 48000
    np.testing.assert_allclose(samples, render(kick).samples, atol=2**-23)


def test_render_follows_its_options(tmp_path, kick):
    path = tmp_path / "kick.wav"
    options = ["--note", "C2", "--velocity", "50", "--rate", "44100", "--format", "float32"]
    assert run("render", KICK, *options, "-o", str(path)).exit_code == 0
    samples, rate = decode_wav(path.read_bytes())
    assert rate == 44100
    assert 0 < np.abs(samples).max() < np.abs(render(kick).samples).max()


@pytest.mark.parametrize(
    ("content", "options", "words"),
    [
        ("{}", [], "name"),
        ('{"name": "x", "tempo_bpm": 1}', [], "tempo_bpm: 1 is out of range"),
        ('{"name": "x"}', ["--note", "H1"], "is not a note name"),
    ],
)
def test_render_says_what_is_wrong(tmp_path, content, options, words):
    path = tmp_path / "bad.json"
    path.write_text(content)
    result = run("render", str(path), *options, "-o", str(tmp_path / "x.wav"))
    # What is wrong with the command itself ends with 2.
    assert result.exit_code == (2 if options else 1)
    assert words in result.output
    assert not (tmp_path / "x.wav").exists()


def test_exported_contract_is_json(tmp_path):
    assert run("export-contract", "--folder", str(tmp_path)).exit_code == 0
    assert json.loads((tmp_path / "openapi.json").read_text())["info"]["title"] == "Nest Crate"


def test_backup_restore_and_doctor(store, kick, tmp_path, monkeypatch):
    from nest_crate.catalogue.sounds.sounds import create_sound

    with store.database.session() as session:
        create_sound(session, store.account, library_id=store.library_id, document=kick)
    store.files.put(b"RIFF")
    monkeypatch.setenv("NEST_CRATE_DATABASE_URL", store.url)
    monkeypatch.setenv("NEST_CRATE_AUDIO_URL", f"file://{store.files_folder}")
    file = tmp_path / "all.nest-crate"
    written = run("backup", str(file))
    assert written.exit_code == 0, written.output
    assert "1 audio files" in written.output
    assert "1 audio files match their names" in run("doctor").output
    refused = run("restore", str(file))
    assert refused.exit_code == 1
    assert "not empty" in refused.output
    (spoilt,) = store.files_folder.rglob("*.wav")
    spoilt.write_bytes(b"other")
    ill = run("doctor")
    assert ill.exit_code == 1
    assert "damaged" in ill.output


def test_a_folder_is_backed_up_and_brought_back_in_another(tmp_path, kick, monkeypatch):
    """Each folder by a MariaDB of its own, started for as long as it takes; encrypted between."""
    first, second = tmp_path / "first", tmp_path / "second"
    from nest_crate.catalogue.db.database import Database, migrate
    from nest_crate.demo.sounds import ensure_account
    from nest_crate.local_database import LocalDatabase

    with LocalDatabase(first / "database").running() as url:
        database = Database(url)
        migrate(database.engine)
        ensure_account(database)
        file = tmp_path / "all.nest-crate"
        database.engine.dispose()
    monkeypatch.setattr(age_files, "_WORK_LOG2", 10)
    words = tmp_path / "words"
    words.write_text("moss under the pendulum\n")
    sealed = ("--passphrase-file", str(words))
    made = run("backup", str(file), *sealed, "--data", str(first))
    assert made.exit_code == 0, made.output
    assert "encrypted" in made.output
    held = file.read_bytes()
    again = run("backup", str(file), *sealed, "--data", str(first))
    assert "give --overwrite" in again.output
    assert file.read_bytes() == held
    monkeypatch.setenv("NEST_CRATE_BACKUP_PASSPHRASE", "another one altogether")
    wrong = run("restore", str(file), "--data", str(second))
    assert "The passphrase is not the one" in wrong.output
    done = run("restore", str(file), *sealed, "--data", str(second))
    assert done.exit_code == 0, done.output
    assert "3 rows" in done.output


def test_a_short_passphrase_is_refused_before_anything_is_read(tmp_path):
    words = tmp_path / "words"
    words.write_text("moss")
    refused = run("backup", str(tmp_path / "all"), "--passphrase-file", str(words))
    assert refused.exit_code == 1
    assert "fewer than 12 characters" in refused.output


def sampled(tmp_path):
    """A sound with a recording, as JSON beside its recording, and as the exported archive."""
    time_s = np.arange(24000) / 48000
    data = encode_wav(0.5 * np.sin(2 * np.pi * 220 * time_s)[np.newaxis], 48000)
    digest = hashlib.sha256(data).hexdigest()
    source = {"kind": "sample", "recording": digest, "root_note": 57}
    document = {"name": "Recorded", "layers": [{"id": "a", "name": "A", "source": source}]}
    plain, archive = tmp_path / "sound.json", tmp_path / "sound.zip"
    plain.write_text(json.dumps(document))
    folder = tmp_path / "recordings" / "deep"
    folder.mkdir(parents=True)
    (folder / "any name.wav").write_bytes(data)
    (folder / "other.wav").write_bytes(b"something else")
    with zipfile.ZipFile(archive, "w") as made:
        made.writestr("sound.json", json.dumps(document))
        made.writestr(f"recordings/{digest}.wav", data)
    return plain, archive, folder.parent


def test_render_takes_recordings_from_a_folder_or_the_archive(tmp_path):
    plain, archive, folder = sampled(tmp_path)
    made = [tmp_path / "a.wav", tmp_path / "b.wav"]
    assert run("render", str(plain), "--recordings", str(folder), "-o", str(made[0])).exit_code == 0
    assert run("render", str(archive), "-o", str(made[1])).exit_code == 0
    assert made[0].read_bytes() == made[1].read_bytes()
    samples, _ = soundfile.read(made[0])
    assert np.abs(samples).max() > 0.3


def test_render_says_which_recordings_are_missing(tmp_path):
    plain, _, _ = sampled(tmp_path)
    out = str(tmp_path / "x.wav")
    missing = run("render", str(plain), "-o", out)
    assert missing.exit_code == 1
    assert "give their folder with --recordings" in missing.output
    empty = tmp_path / "empty"
    empty.mkdir()
    assert "not in" in run("render", str(plain), "--recordings", str(empty), "-o", out).output


def test_a_drone_is_rendered_as_a_loop_with_its_points(tmp_path):
    drone = str(SOUNDS_FOLDER / "boiler-room-drone.json")
    out = tmp_path / "loop.wav"
    assert run("render", drone, "--loop-bars", "1", "-o", str(out)).exit_code == 0
    with out.open("rb") as file:
        info = soundfile.info(str(out))
        facts = read_facts(file, info.frames, info.samplerate)
    assert (facts.loop_start, facts.loop_end) == (0, info.frames)
    # A bar at 96 bpm.
    assert info.frames == round(4 * 60 / 96 * 48000)


def test_no_command_waits_for_what_it_does_not_use():
    """By what is imported, for a clock says less: the web and the engine are a server's parts."""
    code = (
        "import sys\n"
        "from click.testing import CliRunner\n"
        "from nest_crate.cli import main\n"
        "assert CliRunner().invoke(main, ['completion', 'bash']).exit_code == 0\n"
        "print(sorted({'flask', 'numba', 'scipy', 'distributed', 'sqlalchemy'} & set(sys.modules)))"
    )
    done = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert done.stdout.strip() == "[]"
