"""What slow clients do to others, by the server that stands in front of the application.

The same application on the same database and render workers is served by this program's own front
(waitress with limits), by gunicorn with threads, by that behind nginx, and by granian, each with
two processes. Those that are not installed are left out: they are no part of the program.

    .venv/bin/pip install gunicorn granian
    .venv/bin/python -m benchmarks.front_doors
"""

from __future__ import annotations

import http.client
import importlib.util
import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from contextlib import closing, contextmanager
from pathlib import Path

from nest_crate.local_database import free_port
from nest_crate.settings import Settings
from nest_crate.web import create_app
from tests.load.conftest import database_url, tokens_for
from tests.load.designers import Designer, HalfOpen, figures
from tests.program import Running, start_program, stop_program

_HEAD = b"POST /api/auditions HTTP/1.1\r\nHost: nest\r\nContent-Type: application/json\r\n"
_SLOW = (_HEAD, _HEAD + b"Content-Length: 9000\r\n\r\n{", b"", b"GET / HT")
_OF_EACH = 50
_CHANGES = 25
_THREADS = 12


def application():  # type: ignore[no-untyped-def]
    """What gunicorn and granian serve."""
    return create_app(Settings())


def main() -> None:
    """Serve by each in turn, and measure."""
    with tempfile.TemporaryDirectory(prefix="nest-crate-") as place:
        folder = Path(place)
        running = start_program(folder / "data", "--no-demo")
        try:
            (token,) = tokens_for(running, 1)
            environment = _environment(running)
            print("server                      median ms   with 200 half open   a page's file, 1/s")
            # Workers read their kernels from the disk before anything is measured.
            for _ in range(3):
                _changes(Designer(_address(running.url), token))
            _line("waitress with limits", running.url, token)
            if importlib.util.find_spec("gunicorn"):
                with _gunicorn(environment) as url:
                    _line("gunicorn, threads", url, token)
                    if program := shutil.which("nginx", path="/usr/sbin:/usr/bin"):
                        with _nginx(program, folder, url) as before:
                            _line("nginx before gunicorn", before, token)
            if importlib.util.find_spec("granian"):
                with _granian(environment) as url:
                    _line("granian", url, token)
        finally:
            stop_program(running)


def _environment(running: Running) -> dict[str, str]:
    """Lets another server work with the program's database, files and render workers."""
    return {
        **os.environ,
        "NEST_CRATE_DATABASE_URL": database_url(running),
        "NEST_CRATE_AUDIO_URL": f"file://{running.data / 'audio'}",
        "NEST_CRATE_RUN_FOLDER": str(running.data / "run"),
        "NEST_CRATE_SECRET_KEY": (running.data / "secret-key").read_text().strip(),
    }


@contextmanager
def _served(command: list[str], port: int, environment: dict[str, str]) -> Iterator[str]:
    with subprocess.Popen(
        command, env=environment, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL
    ) as process:
        try:
            _wait_for(port)
            yield f"http://127.0.0.1:{port}"
        finally:
            process.terminate()


def _wait_for(port: int) -> None:
    deadline = time.monotonic() + 60
    while time.monotonic() < deadline:
        try:
            with closing(http.client.HTTPConnection("127.0.0.1", port, timeout=5)) as connection:
                connection.request("GET", "/api/health")
                connection.getresponse().read()
                return
        except (OSError, http.client.HTTPException):
            time.sleep(0.1)
    raise TimeoutError(f"nothing answers on port {port}")


def _gunicorn(environment: dict[str, str]):  # type: ignore[no-untyped-def]
    port = free_port()
    threads = ["--workers", "2", "--threads", str(_THREADS), "--timeout", "120"]
    command = [sys.executable, "-m", "gunicorn", "--bind", f"127.0.0.1:{port}", *threads]
    return _served([*command, "benchmarks.front_doors:application()"], port, environment)


def _granian(environment: dict[str, str]):  # type: ignore[no-untyped-def]
    port = free_port()
    command = [sys.executable, "-m", "granian", "--interface", "wsgi", "--port", str(port)]
    threads = ["--workers", "2", "--blocking-threads", str(_THREADS), "--factory"]
    return _served([*command, *threads, "benchmarks.front_doors:application"], port, environment)


def _nginx(program: str, folder: Path, behind: str):  # type: ignore[no-untyped-def]
    port = free_port()
    places = "".join(
        f"{kind}_temp_path {folder / kind};"
        for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    file = folder / "nginx.conf"
    file.write_text(
        f"daemon off; pid {folder / 'nginx.pid'}; error_log {folder / 'nginx.log'};"
        f"events {{}} http {{ access_log off; {places} server {{ listen 127.0.0.1:{port};"
        f"location / {{ proxy_pass {behind}; proxy_buffering off; proxy_http_version 1.1; }} }} }}"
    )
    return _served([program, "-c", str(file)], port, dict(os.environ))


def _address(url: str) -> tuple[str, int]:
    host, port = url.removeprefix("http://").split(":")
    return host, int(port)


def _line(name: str, url: str, token: str) -> None:
    address = _address(url)
    designer = Designer(address, token)
    alone = figures(_changes(designer))[0]
    rate = _files_a_second(address)
    held = [HalfOpen(address, _OF_EACH, sent) for sent in _SLOW]
    try:
        meanwhile = f"{figures(_changes(designer))[0]:.0f} ms"
    except OSError:
        meanwhile = "no answer in 2 min"
    finally:
        for one in held:
            one.close()
        designer.close()
    print(f"{name:26} {alone:10.0f} {meanwhile:>20} {rate:20.0f}", flush=True)


def _changes(designer: Designer) -> list[float]:
    for _ in range(3):
        designer.change()
        designer.finish()
    took = []
    for _ in range(_CHANGES):
        took.append(designer.change())
        designer.finish()
    return took


def _files_a_second(address: tuple[str, int], count: int = 300) -> float:
    connection = http.client.HTTPConnection(*address, timeout=20)
    began = time.perf_counter()
    for _ in range(count):
        connection.request("GET", "/")
        connection.getresponse().read()
    connection.close()
    return count / (time.perf_counter() - began)


if __name__ == "__main__":
    main()
