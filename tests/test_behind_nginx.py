"""The example for nginx and TLS in the documents, run as it stands there."""

from __future__ import annotations

import datetime
import http.client
import json
import re
import shutil
import socket
import ssl
import subprocess
import time
from collections.abc import Iterator
from contextlib import closing
from dataclasses import dataclass
from pathlib import Path
from typing import Any

import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec

from nest_crate.demo.people import DEMO_PASSWORD
from nest_crate.local_database import free_port
from tests.load.conftest import tokens_for
from tests.load.designers import half_second
from tests.program import PROJECT, start_program, stop_program

NAME = "sounds.example"


def write_certificate(folder: Path) -> tuple[Path, Path]:
    """A certificate of the example's name, signed by itself, and its key."""
    key = ec.generate_private_key(ec.SECP256R1())
    name = x509.Name([x509.NameAttribute(x509.NameOID.COMMON_NAME, NAME)])
    now = datetime.datetime.now(datetime.UTC)
    certificate = (
        x509.CertificateBuilder()
        .subject_name(name)
        .issuer_name(name)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - datetime.timedelta(hours=1))
        .not_valid_after(now + datetime.timedelta(days=2))
        .add_extension(x509.SubjectAlternativeName([x509.DNSName(NAME)]), critical=False)
        .sign(key, hashes.SHA256())
    )
    held = folder / "sounds.pem", folder / "sounds.key"
    held[0].write_bytes(certificate.public_bytes(serialization.Encoding.PEM))
    held[1].write_bytes(
        key.private_bytes(
            serialization.Encoding.PEM,
            serialization.PrivateFormat.PKCS8,
            serialization.NoEncryption(),
        )
    )
    return held


def configuration(folder: Path, port: int, behind: str, certificate: Path, key: Path) -> str:
    """The block of the documents with the test's own port and files."""
    page = (PROJECT / "docs" / "operating.md").read_text()
    (block,) = re.findall(r"```nginx\n(.*?)```", page, re.DOTALL)
    for old, new in (
        ("listen 443 ssl", f"listen 127.0.0.1:{port} ssl"),
        ("/etc/ssl/sounds.example.pem", str(certificate)),
        ("/etc/ssl/sounds.example.key", str(key)),
        ("http://127.0.0.1:8460", behind),
    ):
        assert old in block
        block = block.replace(old, new)
    places = "".join(
        f"  {kind}_temp_path {folder / kind};\n"
        for kind in ("client_body", "proxy", "fastcgi", "uwsgi", "scgi")
    )
    return (
        f"daemon off;\npid {folder / 'nginx.pid'};\nerror_log {folder / 'error.log'};\n"
        f"events {{}}\nhttp {{\n  access_log off;\n{places}{block}}}\n"
    )


@dataclass(frozen=True)
class Proxied:
    port: int
    certificate: Path
    token: str

    def ask(
        self,
        method: str,
        path: str,
        body: Any = None,
        source: str = "127.0.0.1",
        host: str = NAME,
        **headers: str,
    ) -> tuple[int, http.client.HTTPMessage, bytes]:
        """One request through the proxy, over TLS whose certificate is checked."""
        context = ssl.create_default_context(cafile=str(self.certificate))
        plain = socket.create_connection(("127.0.0.1", self.port), 60, source_address=(source, 0))
        with closing(http.client.HTTPSConnection(NAME)) as connection:
            connection.sock = context.wrap_socket(plain, server_hostname=NAME)
            data = body if body is None or isinstance(body, bytes) else json.dumps(body)
            sent = {"Host": host, "Content-Type": "application/json"}
            sent |= {name.replace("_", "-"): value for name, value in headers.items()}
            connection.request(method, path, data, sent)
            answer = connection.getresponse()
            return answer.status, answer.headers, answer.read()


@pytest.fixture(scope="module")
def proxied(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Proxied]:
    folder = tmp_path_factory.mktemp("nginx")
    with pytest.MonkeyPatch.context() as patched:
        patched.setenv("NEST_CRATE_HOSTS", NAME)
        patched.setenv("NEST_CRATE_TRUSTED_PROXIES", "1")
        patched.setenv("NEST_CRATE_SECURE_COOKIES", "1")
        running = start_program(folder / "data", "--no-demo")
    (token,) = tokens_for(running, 1)
    certificate, key = write_certificate(folder)
    port = free_port()
    file = folder / "nginx.conf"
    file.write_text(configuration(folder, port, running.url, certificate, key))
    program = shutil.which("nginx", path="/usr/sbin:/usr/bin:/usr/local/bin")
    assert program is not None, "nginx is missing; ./test installs it"
    nginx = subprocess.Popen([program, "-c", str(file), "-e", str(folder / "error.log")])
    found = Proxied(port, certificate, token)
    deadline = time.monotonic() + 20
    while True:
        try:
            found.ask("GET", "/api/health")
            break
        except ConnectionRefusedError:
            assert nginx.poll() is None, (folder / "error.log").read_text()
            assert time.monotonic() < deadline
            time.sleep(0.05)
    yield found
    nginx.terminate()
    nginx.wait(20)
    stop_program(running)


def sign_in(proxied: Proxied, **options: Any) -> tuple[http.client.HTTPMessage, str]:
    """The headers of the answer, and the cookie."""
    body = {"handle": "designer0", "password": DEMO_PASSWORD}
    status, headers, answer = proxied.ask("POST", "/api/session", body, **options)
    assert status == 200, answer
    return headers, headers["Set-Cookie"].split(";")[0]


def test_people_sign_in_over_tls_as_the_addresses_they_come_from(proxied):
    # What the browser says of itself is not believed.
    options = {"source": "127.0.0.2", "X_Forwarded_For": "198.51.100.7"}
    headers, cookie = sign_in(proxied, Origin=f"https://{NAME}", **options)
    for word in ("Secure", "HttpOnly", "SameSite"):
        assert word in headers["Set-Cookie"]
    assert "max-age" in headers["Strict-Transport-Security"]
    status, _, answer = proxied.ask("GET", "/api/session/sign-ins", Cookie=cookie)
    assert status == 200
    assert [one["address"] for one in json.loads(answer)["sign_ins"]] == ["127.0.0.2"]


def test_a_page_of_another_site_changes_nothing(proxied):
    body = {"handle": "designer0", "password": DEMO_PASSWORD}
    status, _, answer = proxied.ask("POST", "/api/session", body, Origin="https://other.example")
    assert status == 403, answer


def test_wrong_passwords_cost_only_their_own_address_a_pause(proxied):
    body = {"handle": "nobody", "password": "wrong as can be"}
    answers = [
        proxied.ask("POST", "/api/session", {**body, "handle": f"nobody{n}"}, source="127.0.0.3")[0]
        for n in range(16)
    ]
    # Ten are free; the pause after each further one is longer than a request takes.
    assert answers[:10] == [401] * 10
    assert 429 in answers[10:]
    sign_in(proxied, source="127.0.0.4")


def test_a_sound_is_heard_through_it(proxied):
    body = {"document": half_second(), "stream": "s", "details": True}
    status, headers, answer = proxied.ask(
        "POST",
        "/api/auditions",
        body,
        Authorization=f"Bearer {proxied.token}",
        Accept="multipart/mixed",
    )
    assert status == 200
    assert headers["Content-Type"].startswith("multipart/mixed")
    assert b"RIFF" in answer[:1000]


def test_a_stranger_sends_no_large_body(proxied):
    status, _, answer = proxied.ask(
        "POST", "/api/recordings", bytes(400_000), Content_Type="multipart/form-data; boundary=b"
    )
    assert status == 401, answer[:200]


def test_other_names_are_no_names_of_this_server(proxied):
    status, _, answer = proxied.ask("GET", "/api/session", host="other.example")
    assert status == 400
    assert b"is no name of this server" in answer
