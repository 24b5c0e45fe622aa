import os
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path

import pymysql
import pytest
from click.testing import CliRunner
from sqlalchemy import make_url

from nest_crate import local_database
from nest_crate.cli import main
from nest_crate.local_database import LocalDatabase

START = (
    "import sys, time; from pathlib import Path;"
    "from nest_crate.local_database import LocalDatabase;"
    "LocalDatabase(Path(sys.argv[1])).start(); print('up', flush=True); time.sleep(600)"
)


@pytest.fixture
def other_program(tmp_path):
    """Another program that has started a server on the folder."""
    command = [sys.executable, "-c", START, str(tmp_path)]
    with subprocess.Popen(command, stdout=subprocess.PIPE) as program:
        assert program.stdout.readline() == b"up\n"
        server = int((tmp_path / "owner").read_text().split()[0])
        yield program
        program.kill()
    # The number may belong to another process by now.
    if str(tmp_path).encode() in cmdline(server):
        os.kill(server, signal.SIGKILL)


def cmdline(process_id: int) -> bytes:
    try:
        return Path(f"/proc/{process_id}/cmdline").read_bytes()
    except OSError:
        return b""


def test_server_left_by_a_killed_program_is_taken_over(tmp_path, other_program):
    other_program.kill()
    other_program.wait()
    database = LocalDatabase(tmp_path)
    database.start()
    assert database.is_running()
    database.stop()


def test_server_that_does_not_hear_is_ended_all_the_same(tmp_path, other_program, monkeypatch):
    monkeypatch.setattr(local_database, "_SECOND_SIGNAL_S", 0.2)
    server = int((tmp_path / "owner").read_text().split()[0])
    os.kill(server, signal.SIGSTOP)
    other_program.kill()
    other_program.wait()
    database = LocalDatabase(tmp_path)
    database.start()
    assert database.is_running()
    assert database.process_id != server
    # Ended, whether or not anybody has asked how.
    assert b"mariadbd" not in cmdline(server)
    database.stop()


def test_server_is_not_started_before_another_let_go_of_the_files(tmp_path):
    database = LocalDatabase(tmp_path)
    database.start()
    database.stop()
    hold = (
        "import fcntl, sys, time; tables = open(sys.argv[1], 'rb+');"
        "fcntl.lockf(tables, fcntl.LOCK_EX); print('held', flush=True); time.sleep(1)"
    )
    command = [sys.executable, "-c", hold, str(tmp_path / "data" / "ibdata1")]
    with subprocess.Popen(command, stdout=subprocess.PIPE) as holder:
        assert holder.stdout.readline() == b"held\n"
        database.start()
    assert database.is_running()
    database.stop()


def test_server_hears_that_it_is_to_stop_right_after_its_start(tmp_path, monkeypatch):
    monkeypatch.setattr(local_database, "_LOOK_S", 0.001)
    monkeypatch.setattr(local_database, "_SECOND_SIGNAL_S", 30.0)
    database = LocalDatabase(tmp_path)
    for _ in range(3):
        database.start()
        began = time.monotonic()
        database.stop()
        assert time.monotonic() - began < 30.0, "it had to be asked again"
    assert "Shutdown complete" in (tmp_path / "server.log").read_text().splitlines()[-1]


def test_number_of_an_ended_program_may_be_anothers_by_now(tmp_path, other_program):
    other_program.kill()
    other_program.wait()
    server, _, port, began = (tmp_path / "owner").read_text().split()
    (tmp_path / "owner").write_text(f"{server} {os.getppid()} {port} {began}")
    database = LocalDatabase(tmp_path)
    database.start()
    assert database.is_running()
    database.stop()


def test_program_that_ended_unasked_does_not_hold_the_folder(tmp_path, other_program):
    other_program.kill()
    # Its parent, this test, has not asked yet how it ended.
    os.waitid(os.P_PID, other_program.pid, os.WEXITED | os.WNOWAIT)
    database = LocalDatabase(tmp_path)
    database.start()
    assert database.is_running()
    database.stop()


def test_why_a_server_did_not_start_is_told(tmp_path):
    database = LocalDatabase(tmp_path)
    database.start()
    database.stop()
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", database.port))
        taken.listen()
        with pytest.raises(RuntimeError, match=r"did not start.*\n(.*\n)*.*[Aa]ddress already"):
            LocalDatabase(tmp_path, port=database.port).start()


def test_a_folder_without_its_tables_is_told(tmp_path):
    (tmp_path / "data").mkdir()
    (tmp_path / "password").write_text("x")
    with pytest.raises(RuntimeError, match="did not start"):
        LocalDatabase(tmp_path).start()


def test_folder_of_a_running_program_is_refused(tmp_path, other_program):
    with pytest.raises(RuntimeError, match=f"process {other_program.pid}"):
        LocalDatabase(tmp_path).start()
    assert other_program.poll() is None


def test_only_the_own_account_gets_in_and_only_by_password(tmp_path):
    database = LocalDatabase(tmp_path)
    database.start()
    url = make_url(database.url)
    assert (tmp_path / "password").stat().st_mode & 0o077 == 0
    assert len(url.password) >= 24
    for user, password in (("nest_crate", ""), ("root", ""), ("", ""), ("root", url.password)):
        with pytest.raises(pymysql.err.OperationalError, match="Access denied"):
            pymysql.connect(host="127.0.0.1", port=database.port, user=user, password=password)
    database.stop()


def test_port_in_use_is_told_before_anything_is_started(tmp_path):
    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        result = CliRunner().invoke(main, ["start", "--port", port, "--data", str(tmp_path)])
    assert result.exit_code == 1
    assert "Choose another with --port" in result.output
    assert list(tmp_path.iterdir()) == []


def installer(folder: Path, *, fails: int) -> str:
    """A stand-in for MariaDB's installer that fails the first ``fails`` times."""
    script = folder / "installer"
    script.write_text(
        f"#!/bin/sh\necho x >> {folder}/tries\n"
        f"[ $(wc -l < {folder}/tries) -gt {fails} ] || {{ echo 'no room for tables'; exit 1; }}\n"
    )
    script.chmod(0o755)
    return str(script)


def test_failed_installation_is_tried_once_more(tmp_path, monkeypatch):
    script = installer(tmp_path, fails=1)
    monkeypatch.setattr(local_database, "_program", lambda _: script)
    LocalDatabase(tmp_path / "db")._install()
    assert (tmp_path / "tries").read_text() == "x\nx\n"


def test_failed_installation_says_why(tmp_path, monkeypatch):
    script = installer(tmp_path, fails=9)
    monkeypatch.setattr(local_database, "_program", lambda _: script)
    with pytest.raises(RuntimeError, match="no room for tables"):
        LocalDatabase(tmp_path / "db").start()
