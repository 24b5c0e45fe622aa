"""By what a request is counted, before anything of it is looked at."""

import pytest

from nest_crate.server.front_door import Door


def knows(_headers):
    return False


@pytest.mark.parametrize(
    ("proxies", "noted", "person"),
    [
        (0, "203.0.113.9", "127.0.0.1"),
        (1, "203.0.113.9", "203.0.113.9"),
        # What the client itself wrote stands before what the proxy noted.
        (1, "198.51.100.1, 203.0.113.9", "203.0.113.9"),
        (2, "198.51.100.1, 203.0.113.9, 10.0.0.1", "203.0.113.9"),
        (2, "203.0.113.9", "127.0.0.1"),
        (1, "", "127.0.0.1"),
    ],
)
def test_strangers_are_told_apart_by_what_a_trusted_proxy_notes(proxies, noted, person):
    door = Door(knows, trusted_proxies=proxies)
    headers = {"X_FORWARDED_FOR": noted} if noted else {}
    assert door.person(headers, "127.0.0.1") == person


def test_people_of_one_address_are_told_apart_by_what_they_carry():
    door = Door(knows)
    persons = {
        door.person(headers, "127.0.0.1")
        for headers in ({"COOKIE": "a"}, {"COOKIE": "b"}, {"AUTHORIZATION": "Bearer c"}, {})
    }
    assert len(persons) == 4
