"""Browsers that are signed in, tries that fail, and under which names the server answers."""

import json
from concurrent.futures import ThreadPoolExecutor
from datetime import timedelta

import pytest

from nest_crate.catalogue.db.models import SignIn, SignInTries, utc_now
from nest_crate.catalogue.people.tries import pause_s
from nest_crate.catalogue.people.trivial_passwords import is_trivial
from nest_crate.demo.people import DEMO_PASSWORD

CHROME = "Mozilla/5.0 (X11; Linux x86_64) Chrome/140.0 Safari/537.36"


def enter(client, handle="isolde", password=DEMO_PASSWORD, **options):
    return client.post("/api/session", json={"handle": handle, "password": password}, **options)


def cookie_of(client):
    return client.get_cookie("nest_crate_session").value


def with_cookie(people, value):
    client = people.app.test_client()
    client.set_cookie("nest_crate_session", value)
    return client


class TestSessions:
    def test_signing_out_ends_what_the_cookie_opened(self, people):
        kept = cookie_of(people.editor)
        assert with_cookie(people, kept).get("/api/libraries").status_code == 200
        people.editor.delete("/api/session")
        assert with_cookie(people, kept).get("/api/libraries").status_code == 401

    def test_each_is_listed_and_ended_by_itself(self, people):
        assert people.editor.get("/api/libraries").status_code == 200
        other = people.app.test_client()
        assert enter(other, headers={"User-Agent": CHROME}).status_code == 200
        listed = people.editor.get("/api/session/sign-ins").json["sign_ins"]
        assert len(listed) == 2
        assert [one["current"] for one in sorted(listed, key=lambda one: one["id"])] == [
            True,
            False,
        ]
        theirs = next(one for one in listed if not one["current"])
        assert (theirs["device"], theirs["address"]) == (CHROME, "127.0.0.1")
        url = f"/api/session/sign-ins/{theirs['id']}"
        assert people.owner.delete(url).status_code == 404, "another's is none of mine"
        assert people.editor.delete(url).status_code == 204
        assert other.get("/api/libraries").status_code == 401
        assert people.editor.get("/api/libraries").status_code == 200

    def test_all_others_end_at_once(self, people):
        others = [people.app.test_client() for _ in range(3)]
        assert [enter(one).status_code for one in others] == [200] * 3
        assert people.editor.delete("/api/session/sign-ins").status_code == 204
        assert [one.get("/api/libraries").status_code for one in others] == [401] * 3
        assert people.editor.get("/api/libraries").status_code == 200

    def test_another_password_ends_the_others_and_tokens_where_asked(self, people):
        other = people.app.test_client()
        enter(other)
        token = people.editor.post("/api/session/tokens", json={"name": "Build"}).json["secret"]
        bearer = {"Authorization": f"Bearer {token}"}
        for wanted, ends, status in (
            ("a fern in a frame", False, 200),
            ("moss on glass", True, 401),
        ):
            current = DEMO_PASSWORD if not ends else "a fern in a frame"
            body = {"current": current, "wanted": wanted, "end_tokens": ends}
            assert people.editor.put("/api/session/password", json=body).status_code == 200
            assert other.get("/api/libraries").status_code == 401
            assert people.editor.get("/api/libraries").status_code == 200
            fresh = people.app.test_client()
            assert fresh.get("/api/libraries", headers=bearer).status_code == status

    def test_a_closed_account_has_nothing_open_and_stays_so(self, people):
        token = people.editor.post("/api/session/tokens", json={"name": "Build"}).json["secret"]
        bearer = {"Authorization": f"Bearer {token}"}
        url = f"/api/accounts/{people.editor.account.id}"
        for disabled in (True, False):
            assert people.owner.put(url, json={"disabled": disabled}).status_code == 204
            assert people.editor.get("/api/libraries").status_code == 401
            assert people.nobody.get("/api/libraries", headers=bearer).status_code == 401

    def test_one_ends_with_its_time(self, people):
        with people.store.database.session() as session:
            for one in session.query(SignIn).filter_by(account_id=people.editor.account.id):
                one.expires = utc_now() - timedelta(seconds=1)
        assert people.editor.get("/api/libraries").status_code == 401

    def test_only_digests_are_kept(self, people):
        with people.store.database.session() as session:
            kept = [one.secret_digest for one in session.query(SignIn)]
        assert all(digest not in cookie_of(people.owner) for digest in kept)


class TestTries:
    @pytest.fixture
    def strict(self, people, made_app):
        return made_app(sign_ins_a_minute=30)

    def test_after_a_few_each_costs_a_longer_pause(self, strict, people):
        client = strict.test_client()
        answers = [enter(client, password="wrong one here") for _ in range(7)]
        assert [one.status_code for one in answers] == [401] * 5 + [429] * 2
        refused = answers[-1]
        assert 1 <= int(refused.headers["Retry-After"]) <= 300
        assert "Wait" in refused.json["detail"]
        # The right one has to wait too: who guesses learns nothing.
        assert enter(client).status_code == 429
        assert enter(client, "tam").status_code == 200, "others do not wait for it"

    def test_ninety_at_once_from_thirty_addresses_are_not_all_looked_at(self, strict, people):
        def attempt(n):
            address = {"REMOTE_ADDR": f"10.0.0.{n % 30}"}
            return enter(
                strict.test_client(), password=f"wrong {n:04}", environ_base=address
            ).status_code

        with ThreadPoolExecutor(12) as pool:
            codes = list(pool.map(attempt, range(90)))
        assert codes.count(401) <= 7, codes
        assert set(codes) == {401, 429}

    def test_one_address_that_tries_many_names_waits_too(self, strict, people):
        client = strict.test_client()
        codes = [enter(client, f"name{n}", "wrong one here").status_code for n in range(34)]
        assert codes[:30] == [401] * 30
        assert 429 in codes[30:]

    def test_success_forgets_the_name_s_failures(self, strict, people):
        client = strict.test_client()
        for _ in range(3):
            for _ in range(4):
                assert enter(client, password="wrong one here").status_code == 401
            assert enter(client).status_code == 200
        with people.store.database.session() as session:
            assert session.get(SignInTries, "name isolde") is None

    @pytest.mark.parametrize(("failed", "seconds"), [(4, 0), (5, 1), (6, 2), (9, 16), (30, 300)])
    def test_pauses_double(self, failed, seconds):
        assert pause_s(failed, 5) == seconds

    def test_letters_with_accents_are_others(self, people):
        for handle in ("isoldé", "ısolde", "ISOLDÈ"):
            assert enter(people.nobody, handle).status_code == 401
        assert enter(people.nobody, " ISOLDE ").status_code == 200


@pytest.mark.parametrize(
    "password",
    [
        "password123",
        "P4ssw0rd2026!",
        "1234567890",
        "qwertyuiop",
        "aaaaaaaaaaaa",
        "0987654321",
        "letmeinletmein",
        "Welcome2026",
        "iloveyou!!!!",
        "ababababab",
    ],
)
def test_the_first_that_are_tried_are_refused(people, password):
    assert is_trivial(password)
    body = {"current": DEMO_PASSWORD, "wanted": password}
    refused = people.editor.put("/api/session/password", json=body)
    assert refused.status_code == 422
    assert refused.json["problems"][0]["path"] == "wanted"


@pytest.mark.parametrize(
    "password", [DEMO_PASSWORD, "a fern in a frame", "kettle-Moth-31-brass", "Vierzig Uhren ticken"]
)
def test_long_ones_of_any_kind_are_taken(password):
    assert not is_trivial(password)


class TestHosts:
    @pytest.mark.parametrize(
        ("host", "status"),
        [
            ("localhost", 200),
            ("127.0.0.1:8460", 200),
            ("[::1]:8460", 200),
            ("192.168.7.20:8460", 200),
            ("nest.example", 200),
            ("elsewhere.example", 400),
            ("localhost.elsewhere.example", 400),
            ("nest.example.elsewhere.example:80", 400),
            ("[bad", 400),
        ],
    )
    def test_only_known_names_are_answered(self, store, tmp_path, host, status):
        from nest_crate.settings import Settings
        from nest_crate.web import create_app

        app = create_app(
            Settings(database_url=store.url, hosts="nest.example", auto_sign_in="demo")
        )
        for path in ("/api/session", "/api/libraries", "/", "/openapi"):
            with app.test_client().get(path, headers={"Host": host}) as answer:
                refused = answer.status_code == 400
                assert refused == (status == 400), (path, answer.status_code)
        app.extensions["nest_crate"].database.engine.dispose()

    def test_a_proxy_in_front_is_believed_only_where_that_is_set(self, store):
        from nest_crate.settings import Settings
        from nest_crate.web import create_app

        sent = {"X-Forwarded-For": "203.0.113.9", "X-Forwarded-Host": "elsewhere.example"}
        for count, status in ((0, 200), (1, 400)):
            app = create_app(Settings(database_url=store.url, trusted_proxies=count))
            assert app.test_client().get("/api/health", headers=sent).status_code == status
            app.extensions["nest_crate"].database.engine.dispose()


class TestHeaders:
    def test_pages_and_answers_carry_them(self, client):
        for path in ("/", "/api/libraries"):
            with client.get(path) as answer:
                headers = answer.headers
            policy = headers["Content-Security-Policy"]
            for part in ("form-action 'self'", "frame-ancestors 'none'", "object-src 'none'"):
                assert part in policy
            assert headers["Cross-Origin-Opener-Policy"] == "same-origin"
            assert "microphone=()" in headers["Permissions-Policy"]
            assert "Strict-Transport-Security" not in headers
        assert "no-store" in client.get("/api/libraries").headers["Cache-Control"]

    def test_https_is_asked_for_where_cookies_need_it(self, store):
        from nest_crate.settings import Settings
        from nest_crate.web import create_app

        app = create_app(Settings(database_url=store.url, secure_cookies=True))
        with app.test_client().get("/api/health") as answer:
            assert "max-age" in answer.headers["Strict-Transport-Security"]
        app.extensions["nest_crate"].database.engine.dispose()

    @pytest.mark.parametrize("path", ["/..%2fpyproject.toml", "/..%2f..%2fetc%2fpasswd", "/no"])
    def test_what_lies_outside_looks_like_what_is_not_there(self, client, path):
        with client.get("/nothing-of-that-name") as expected, client.get(path) as answer:
            assert (answer.status_code, answer.data) == (expected.status_code, expected.data)


def test_an_answer_to_a_failed_try_tells_nothing_of_the_account(people):
    there = enter(people.nobody, "isolde", "wrong one here").json
    nowhere = enter(people.nobody, "nobody-of-that-name", "wrong one here").json
    assert json.dumps(there) == json.dumps(nowhere)
