"""Libraries named by keys in addresses, and tokens that open one library alone."""

import pytest

from nest_crate.catalogue.people.library_keys import free_key, is_key
from tests.web.every_route import requests_of


@pytest.mark.parametrize(
    ("name", "taken", "key"),
    [
        ("Glasshouse Clockworks", (), "glasshouse-clockworks"),
        ("Größe & Motte!", (), "grosse-motte"),
        ("鐘", (), "zhong"),
        ("2026", (), "library-2026"),
        ("…", (), "library"),
        ("Moths", ("moths", "moths-2"), "moths-3"),
        ("x" * 200, (), "x" * 54),
    ],
)
def test_a_key_is_like_the_name(name, taken, key):
    assert free_key(name, taken) == key
    assert is_key(key)


@pytest.mark.parametrize("key", ["", "7", "A", "a--b", "-a", "a-", "a b", "é", "x" * 61])
def test_what_is_no_key(key):
    assert not is_key(key)


class TestAddresses:
    def test_a_key_stands_for_the_number(self, people):
        (library,) = people.owner.get("/api/libraries").json["libraries"]
        path = f"/api/libraries/{library['key']}"
        assert library["key"] == "glasshouse-clockworks"
        assert people.owner.get(f"{path}/members").status_code == 200
        assert people.owner.get(f"{path}/releases").json == {"releases": []}

    def test_it_stays_when_the_name_changes_and_can_be_changed_itself(self, people):
        base = f"/api/libraries/{people.library_id}"
        people.owner.patch(base, json={"name": "Another"})
        (library,) = people.owner.get("/api/libraries").json["libraries"]
        assert (library["name"], library["key"]) == ("Another", "glasshouse-clockworks")
        assert people.owner.patch(base, json={"key": "winter-garden"}).status_code == 204
        assert people.owner.get("/api/libraries/winter-garden/members").status_code == 200
        gone = people.owner.get("/api/libraries/glasshouse-clockworks/members")
        assert gone.status_code == 404
        assert "'glasshouse-clockworks'" in gone.json["detail"]

    def test_one_that_is_taken_or_no_key_is_refused_at_the_field(self, people):
        made = people.owner.post("/api/libraries", json={"name": "Glasshouse Clockworks"}).json
        assert made["key"] == "glasshouse-clockworks-2"
        for key in ("glasshouse-clockworks", "12", "A b"):
            answer = people.owner.patch(f"/api/libraries/{made['id']}", json={"key": key})
            assert answer.status_code == 422
            assert answer.json["problems"][0]["path"] == "key"

    def test_one_that_may_not_be_seen_looks_like_none(self, people):
        shown = people.stranger.get("/api/libraries/glasshouse-clockworks/members")
        none = people.stranger.get("/api/libraries/glasshouse-clockwork/members")
        assert (shown.status_code, none.status_code) == (404, 404)
        assert shown.json["detail"].replace("works", "work") == none.json["detail"]

    def test_nobody_is_told_without_signing_in(self, people):
        answer = people.app.test_client().get("/api/libraries/glasshouse-clockworks/members")
        assert answer.status_code == 401


class TestTokensOfOneLibrary:
    @pytest.fixture
    def other(self, people):
        return people.owner.post("/api/libraries", json={"name": "Other"}).json

    def client_of(self, people, library_id, scope="write"):
        body = {"name": "Build", "scope": scope, "library_id": library_id}
        made = people.owner.post("/api/session/tokens", json=body)
        assert made.status_code == 201, made.json
        assert made.json["library_id"] == library_id
        client = people.app.test_client()
        client.environ_base["HTTP_AUTHORIZATION"] = f"Bearer {made.json['secret']}"
        return client

    def test_it_opens_nothing_of_another(self, people, other, world):
        client = self.client_of(people, other["id"])
        for endpoint, _, method, path, options in requests_of(world):
            answer = client.open(path, method=method, **options)
            assert answer.status_code in (403, 404), (endpoint, answer.status_code, answer.json)
        assert client.post("/api/samples/search", json={}).json["total"] == 0
        listed = client.get("/api/libraries").json["libraries"]
        assert [one["id"] for one in listed] == [other["id"]]
        said = client.get(f"/api/libraries/{people.library_id}/releases").json["detail"]
        assert said == "This token opens another library alone"

    def test_it_opens_its_own(self, people, other):
        client = self.client_of(people, people.library_id)
        assert client.get(f"/api/libraries/{people.library_id}/releases").status_code == 200
        assert client.get(f"/api/libraries/{other['key']}/releases").status_code == 403

    @pytest.mark.parametrize(
        ("method", "path", "body"),
        [
            ("POST", "/api/libraries", {"name": "New"}),
            ("POST", "/api/session/tokens", {"name": "More"}),
            ("GET", "/api/session/tokens", None),
            ("DELETE", "/api/session/tokens/1", None),
            ("GET", "/api/jobs", None),
            ("GET", "/api/chains", None),
        ],
    )
    def test_it_is_no_key_to_the_account(self, people, method, path, body):
        client = self.client_of(people, people.library_id)
        assert client.open(path, method=method, json=body).status_code == 403

    def test_nobody_makes_one_for_a_library_that_they_do_not_see(self, people, other):
        body = {"name": "Build", "library_id": other["id"]}
        assert people.stranger.post("/api/session/tokens", json=body).status_code == 404
