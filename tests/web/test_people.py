"""Who gets in, by password, invitation or token; who sees a library."""

import re

import pytest

from nest_crate.catalogue.people.permissions import MEMBER_ROLES, PERMISSIONS
from nest_crate.demo.people import DEMO_PASSWORD
from nest_crate.web.infra.guard import limiter
from tests.web.samples import bring, search


class TestSigningIn:
    def test_a_name_and_its_password_open_a_session_that_ends(self, people):
        client = people.app.test_client()
        body = {"handle": " Isolde ", "password": DEMO_PASSWORD}
        answer = client.post("/api/session", json=body)
        assert answer.json["account"]["name"] == "Isolde Marrow"
        cookie = answer.headers["Set-Cookie"]
        assert "HttpOnly" in cookie
        assert "SameSite=Strict" in cookie
        assert client.get("/api/session").json["account"]["handle"] == "isolde"
        assert client.delete("/api/session").json["account"] is None
        assert client.get("/api/libraries").status_code == 401

    @pytest.mark.parametrize(("handle", "password"), [("isolde", "wrong"), ("gone", "wrong")])
    def test_what_is_wrong_is_not_told_apart(self, people, handle, password):
        answer = people.nobody.post("/api/session", json={"handle": handle, "password": password})
        assert (answer.status_code, answer.json["code"]) == (401, "not_signed_in")
        assert answer.json["detail"] == "Wrong name or password"

    def test_too_many_tries_are_held_up(self, people, made_app):
        app = made_app(sign_ins_a_minute=3)
        limiter.reset()
        client = app.test_client()
        body = {"handle": "isolde", "password": "wrong"}
        codes = [client.post("/api/session", json=body).status_code for _ in range(5)]
        assert codes == [401, 401, 401, 429, 429]
        limiter.reset()

    def test_passwords_are_kept_as_argon2_and_never_told(self, people):
        from nest_crate.catalogue.db.models import Account

        with people.store.database.session() as session:
            row = session.query(Account).filter_by(handle="isolde").one()
            assert row.password_hash.startswith("$argon2id$")
            assert DEMO_PASSWORD not in row.password_hash
        assert "argon2" not in people.owner.get("/api/accounts").text

    def test_a_new_password_ends_other_sessions(self, people):
        other = people.app.test_client()
        other.post("/api/session", json={"handle": "isolde", "password": DEMO_PASSWORD})
        body = {"current": DEMO_PASSWORD, "wanted": "brass-hinge-nine"}
        assert people.editor.put("/api/session/password", json=body).status_code == 200
        assert people.editor.get("/api/libraries").status_code == 200
        assert other.get("/api/libraries").status_code == 401
        wrong = people.editor.put("/api/session/password", json=body)
        assert wrong.json["problems"][0]["path"] == "current"
        short = {"current": "brass-hinge-nine", "wanted": "short"}
        refused = people.editor.put("/api/session/password", json=short)
        assert refused.json["problems"][0]["path"] == "wanted"

    @pytest.mark.parametrize(
        ("headers", "status"),
        [
            ({"Sec-Fetch-Site": "cross-site"}, 403),
            ({"Sec-Fetch-Site": "same-site"}, 403),
            ({"Origin": "http://elsewhere.example"}, 403),
            ({"Sec-Fetch-Site": "same-origin"}, 201),
            ({"Origin": "http://localhost"}, 201),
        ],
    )
    def test_other_sites_change_nothing(self, people, headers, status):
        answer = people.owner.post("/api/libraries", json={"name": "Mine"}, headers=headers)
        assert answer.status_code == status

    def test_pages_come_with_a_policy_against_foreign_scripts(self, people):
        with people.nobody.get("/libraries") as page:
            policy = page.headers["Content-Security-Policy"]
        assert "default-src 'self'" in policy
        assert "unsafe" not in policy


class TestInvitations:
    def invite(self, people, **body):
        return people.owner.post("/api/invitations", json=body)

    def test_a_link_makes_one_account_with_a_role(self, people):
        made = self.invite(people, library_id=people.library_id, role="reviewer", note="For Pim")
        url = made.json["path"].replace("/welcome/", "/api/session/invitations/")
        client = people.app.test_client()
        assert client.get(url).json == {
            "note": "For Pim",
            "library": "Glasshouse Clockworks",
            "role": "reviewer",
            "account": None,
        }
        body = {"handle": "pim", "name": "Pim Alder", "password": "a-good-long-one"}
        assert client.post(url, json=body).json["account"]["handle"] == "pim"
        assert client.get("/api/libraries").json["libraries"][0]["role"] == "reviewer"
        again = people.app.test_client().post(url, json={**body, "handle": "pom"})
        assert again.status_code == 404
        # Only its digest is kept: no list tells the link again.
        assert "path" not in str(people.owner.get("/api/invitations").json).replace(
            "'path': None", ""
        )

    @pytest.mark.parametrize(
        ("changes", "path"),
        [
            ({"handle": "isolde"}, "handle"),
            ({"handle": "Not good!"}, "handle"),
            ({"password": "short"}, "password"),
            ({"name": "  "}, "name"),
        ],
    )
    def test_bad_fields_are_told_and_the_link_stays_good(self, people, changes, path):
        url = self.invite(people).json["path"].replace("/welcome/", "/api/session/invitations/")
        body = {"handle": "pim", "name": "Pim", "password": "a-good-long-one"}
        refused = people.nobody.post(url, json={**body, **changes})
        assert refused.status_code == 422
        assert refused.json["problems"][0]["path"] == path
        assert people.app.test_client().post(url, json=body).status_code == 200

    def test_only_administrators_invite_and_close_accounts(self, people):
        for name in ("editor", "reviewer", "listener", "stranger"):
            client = people.of(name)
            assert client.post("/api/invitations", json={}).status_code == 403
            assert client.get("/api/accounts").status_code == 403
            assert client.put("/api/accounts/1", json={"disabled": True}).status_code == 403
        listed = people.owner.get("/api/accounts").json["people"]
        editor = next(one for one in listed if one["handle"] == "isolde")
        closed = people.owner.put(f"/api/accounts/{editor['id']}", json={"disabled": True})
        assert closed.status_code == 204
        assert people.editor.get("/api/libraries").status_code == 401
        body = {"handle": "isolde", "password": DEMO_PASSWORD}
        assert "closed" in people.nobody.post("/api/session", json=body).json["detail"]
        own = next(one for one in listed if one["handle"] == "demo")
        refused = people.owner.put(f"/api/accounts/{own['id']}", json={"disabled": True})
        assert refused.status_code == 409


class TestLostPassword:
    def link(self, people, handle):
        listed = people.owner.get("/api/accounts").json["people"]
        identifier = next(one["id"] for one in listed if one["handle"] == handle)
        answer = people.owner.post(f"/api/accounts/{identifier}/invitation")
        assert answer.status_code == 201, answer.json
        path = answer.json["path"].replace("/welcome/", "/api/session/invitations/")
        return identifier, path, answer.json["id"]

    def test_a_link_gives_a_new_password_and_ends_what_was_open(self, people):
        _, path, _ = self.link(people, "isolde")
        shown = people.nobody.get(path).json
        assert shown["account"] == "isolde"
        # Nothing has changed yet.
        assert people.editor.get("/api/libraries").status_code == 200
        short = people.nobody.post(path, json={"password": "short"})
        assert short.json["problems"][0]["path"] == "password"
        entered = people.nobody.post(path, json={"password": "quite-another-one"})
        assert entered.json["account"]["handle"] == "isolde"
        assert people.editor.get("/api/libraries").status_code == 401
        for password, code in ((DEMO_PASSWORD, 401), ("quite-another-one", 200)):
            body = {"handle": "isolde", "password": password}
            client = people.app.test_client()
            assert client.post("/api/session", json=body).status_code == code
        # The roles are those of before, and the link opens nothing any more.
        role = people.nobody.get("/api/libraries").json["libraries"][0]["role"]
        assert role == "editor"
        assert people.nobody.get(path).status_code == 404

    def test_it_ends_by_being_withdrawn_and_with_the_account(self, people):
        identifier, path, invitation = self.link(people, "tam")
        assert people.owner.delete(f"/api/invitations/{invitation}").status_code == 204
        assert people.nobody.get(path).status_code == 404
        _, path, _ = self.link(people, "tam")
        people.owner.put(f"/api/accounts/{identifier}", json={"disabled": True})
        body = {"password": "quite-another-one"}
        assert people.nobody.post(path, json=body).status_code == 404
        again = people.owner.post(f"/api/accounts/{identifier}/invitation")
        assert again.status_code == 404

    def test_names_that_are_sent_along_change_nothing(self, people):
        _, path, _ = self.link(people, "juniper")
        body = {"handle": "demo", "name": "Wren Halloway", "password": "quite-another-one"}
        account = people.nobody.post(path, json=body).json["account"]
        assert (account["handle"], account["name"]) == ("juniper", "Juniper Vale")
        assert account["administrator"] is False


class TestTokens:
    def token(self, client, **body):
        made = client.post("/api/session/tokens", json={"name": "Build", **body})
        assert made.status_code == 201
        return made.json

    def with_token(self, people, secret, method, url, **options):
        headers = {"Authorization": f"Bearer {secret}"}
        return people.app.test_client().open(url, method=method, headers=headers, **options)

    def test_a_reading_token_reads_and_changes_nothing(self, people):
        secret = self.token(people.owner)["secret"]
        assert self.with_token(people, secret, "GET", "/api/libraries").status_code == 200
        found = self.with_token(people, secret, "POST", "/api/samples/search", json={})
        assert found.status_code == 200
        for method, url, body in (
            ("POST", "/api/libraries", {"name": "X"}),
            ("POST", "/api/session/tokens", {"name": "X"}),
            ("PATCH", f"/api/libraries/{people.library_id}", {"name": "X"}),
            ("POST", "/api/samples/bin", {"ids": [1]}),
        ):
            refused = self.with_token(people, secret, method, url, json=body)
            assert refused.status_code == 403, url
        assert self.with_token(people, secret, "GET", "/api/accounts").status_code == 403

    def test_a_writing_token_has_its_owners_roles_but_is_no_administrator(self, people):
        secret = self.token(people.owner, scope="write")["secret"]
        body = {"name": "By a script"}
        made = self.with_token(people, secret, "POST", "/api/libraries", json=body)
        assert made.status_code == 201
        assert self.with_token(people, secret, "GET", "/api/accounts").status_code == 403

    def test_tokens_expire_are_removed_and_their_secret_is_told_once(self, people):
        from datetime import timedelta

        from nest_crate.catalogue.db.models import ApiToken, utc_now

        token = self.token(people.owner)
        listed = people.owner.get("/api/session/tokens").json["tokens"]
        assert listed[0]["secret"] is None
        with people.store.database.session() as session:
            session.get(ApiToken, token["id"]).expires = utc_now() - timedelta(seconds=1)
        late = self.with_token(people, token["secret"], "GET", "/api/libraries")
        assert late.status_code == 401
        other = self.token(people.owner)
        stolen = people.editor.delete(f"/api/session/tokens/{other['id']}")
        assert stolen.status_code == 404
        assert people.owner.delete(f"/api/session/tokens/{other['id']}").status_code == 204
        gone = self.with_token(people, other["secret"], "GET", "/api/libraries")
        assert gone.status_code == 401
        assert self.with_token(people, "nonsense", "GET", "/api/libraries").status_code == 401


@pytest.mark.parametrize("role", MEMBER_ROLES)
def test_reviewing_is_for_the_roles_of_the_table_alone(people, role):
    sample = bring(people.owner, people.library_id, "Gong")["id"]
    people.owner.post("/api/samples/move", json={"ids": [sample], "status": "in_review"})
    approve = {"ids": [sample], "status": "approved"}
    code = people.of(role).post("/api/samples/move", json=approve).status_code
    assert code == (200 if role in PERMISSIONS["sample.review"] else 403)


def test_no_route_but_a_few_answers_nobody(people):
    open_to_all = {"session", "shared", "reference", "openapi"}
    seen = 0
    for rule in people.app.url_map.iter_rules():
        if not str(rule).startswith("/api/") or rule.endpoint.split(".")[0] in open_to_all:
            continue
        url = re.sub(r"<string:digest>", "0" * 64, str(rule))
        url = re.sub(r"<[^>]+>", "1", url)
        for method in rule.methods - {"HEAD", "OPTIONS"}:
            code = people.nobody.open(url, method=method, json={}).status_code
            # A body that does not fit is refused before anybody is asked who they are.
            assert code in (401, 415, 422), (method, url, code)
            seen += 1
    assert seen > 80


def test_ids_of_other_libraries_open_nothing(people):
    mine = people.stranger.post("/api/libraries", json={"name": "Moth's own"}).json["id"]
    hidden = bring(people.stranger, mine, "Secret")["id"]
    for name in ("owner", "editor"):
        client = people.of(name)
        for method, url, body in (
            ("GET", f"/api/samples/{hidden}", None),
            ("GET", f"/api/samples/{hidden}/file", None),
            ("GET", f"/api/samples/{hidden}/history", None),
            ("GET", f"/api/libraries/{mine}/map", None),
            ("GET", f"/api/libraries/{mine}/releases", None),
            ("POST", "/api/samples/bin", {"ids": [hidden]}),
            ("POST", "/api/exports", {"sample_ids": [hidden]}),
            ("POST", "/api/samples/search", {"query": {"like": hidden}}),
        ):
            assert client.open(url, method=method, json=body).status_code == 404, url
        assert search(client, libraries=[mine])["total"] == 0


def test_visibility_decides_who_sees_a_library(people):
    url = f"/api/libraries/{people.library_id}"
    bring(people.owner, people.library_id, "Gong")
    assert search(people.stranger)["total"] == 0
    people.owner.patch(url, json={"visibility": "public"})
    assert search(people.stranger)["total"] == 1
    assert people.stranger.get("/api/libraries").json["libraries"][0]["role"] == "visitor"
    assert people.stranger.get(f"{url}/members").status_code == 403
    people.owner.patch(url, json={"visibility": "private"})
    assert search(people.editor)["total"] == 0
    assert search(people.owner)["total"] == 1


def test_a_library_keeps_an_owner(people):
    url = f"/api/libraries/{people.library_id}/members"
    step_down = {"handle": "demo", "role": "editor"}
    assert people.owner.put(url, json=step_down).status_code == 409
    heir = {"handle": "isolde", "role": "owner"}
    assert people.owner.put(url, json=heir).status_code == 200
    assert people.owner.put(url, json=step_down).status_code == 200
    unknown = people.editor.put(url, json={"handle": "nobody", "role": "editor"})
    assert unknown.json["problems"][0]["path"] == "handle"
