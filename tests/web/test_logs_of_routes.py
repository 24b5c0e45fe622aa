"""Whatever goes wrong in a route, the log tells nobody's secrets."""

import io
import re
import sys

import pytest
import structlog
from sqlalchemy.engine import make_url

from nest_crate.demo.people import DEMO_PASSWORD
from nest_crate.logs import configure_log
from tests.web.every_route import requests_of

PASSWORD = "a moth in a lampshade"
SECRETS = {
    kind: f"nest-{kind}-Zq3vX9w7Lk2mN8bR4tYc6HdFsGj1Pa5e"
    for kind in ("link", "invitation", "token")
}
# A body that fits no route holds what must not be told either.
ANY = {
    "handle": "isolde",
    "password": PASSWORD,
    "old": DEMO_PASSWORD,
    "new": PASSWORD,
    "name": "Any",
    "secret": SECRETS["invitation"],
}
BODIES = {
    "session.enter": {"handle": "isolde", "password": PASSWORD},
    "session.new_password": {"current": DEMO_PASSWORD, "wanted": PASSWORD},
    "session.accept": {"handle": "new", "name": "New", "password": PASSWORD},
}


class Broken(Exception):
    """A mistake of the program's own."""


@pytest.fixture
def log(monkeypatch):
    """What was logged."""
    said = io.StringIO()
    monkeypatch.setattr(sys, "stderr", said)
    configure_log()
    yield said
    structlog.reset_defaults()


@pytest.fixture
def broken(people, world, monkeypatch):
    """Every view fails at its first look at the database, with what was sent in its variables."""

    def breaking(endpoint, view):
        def fails(**options):
            held = people.app.extensions["nest_crate"]

            def session():
                raise Broken(f"in {endpoint}")

            with monkeypatch.context() as patched:
                patched.setattr(held.database, "session", session)
                return view(**options)

        return fails

    views = {name: breaking(name, view) for name, view in people.app.view_functions.items()}
    monkeypatch.setattr(people.app, "view_functions", views)
    return people


def everywhere(app):
    """A request to each route, whether it fits or not."""
    for rule in app.url_map.iter_rules():
        path = re.sub(r"<int:[^>]+>", "1", str(rule))
        path = re.sub(r"<[^>]+>", SECRETS["link"], path)
        for method in sorted(rule.methods - {"HEAD", "OPTIONS"}):
            yield rule.endpoint, method, path, BODIES.get(rule.endpoint, ANY)


def secrets_of(people):
    cookie = people.owner.get_cookie("nest_crate_session").value
    database = make_url(people.store.url).password
    return [PASSWORD, DEMO_PASSWORD, cookie, database, *SECRETS.values()]


def test_errors_in_every_route_leave_no_secret_in_the_log(broken, world, log):
    secrets = secrets_of(broken)
    for _, _, method, path, options in requests_of(world):
        broken.owner.open(path, method=method, **options).close()
    token = {"Authorization": f"Bearer {SECRETS['token']}"}
    for _, method, path, body in everywhere(broken.app):
        for headers in ({}, token):
            given = {} if method == "GET" else {"json": body}
            broken.owner.open(path, method=method, headers=headers, **given).close()
        said = log.getvalue()
    failed = set(re.findall(r"Broken: in ([\w.]+)", said))
    # Most of them come as far as the database, else this would show nothing.
    assert len(failed) > 90, sorted(failed)
    assert set(BODIES) <= failed, failed
    for secret in secrets:
        assert secret not in said
