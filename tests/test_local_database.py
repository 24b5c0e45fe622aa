import os
import signal
import subprocess
import sys

import pymysql
import pytest
from click.testing import CliRunner
from sqlalchemy import make_url

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
    try:
        os.kill(server, signal.SIGKILL)
    except ProcessLookupError:
        return


def test_server_left_by_a_killed_program_is_taken_over(tmp_path, other_program):
    other_program.kill()
    other_program.wait()
    database = LocalDatabase(tmp_path)
    database.start()
    assert database.is_running()
    database.stop()


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
    import socket

    with socket.socket() as taken:
        taken.bind(("127.0.0.1", 0))
        taken.listen()
        port = str(taken.getsockname()[1])
        result = CliRunner().invoke(main, ["start", "--port", port, "--data", str(tmp_path)])
    assert result.exit_code == 1
    assert "Choose another with --port" in result.output
    assert list(tmp_path.iterdir()) == []
