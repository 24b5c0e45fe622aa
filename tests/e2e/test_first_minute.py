"""The first minute of every role: on a bare installation, as someone who may only listen, and with
a new sound that nobody else sees yet."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, Page, expect

from tests.e2e import bench
from tests.e2e.conftest import LISTEN
from tests.e2e.test_accessibility import violations
from tests.e2e.windows import open_context
from tests.program import Running, start_program, stop_program


@pytest.fixture(scope="module")
def bare(tmp_path_factory: pytest.TempPathFactory) -> Iterator[Running]:
    """The program without the demo, with nothing in it."""
    program = start_program(tmp_path_factory.mktemp("bare") / "data", "--no-demo")
    yield program
    stop_program(program)


@pytest.fixture
def admin(browser: Browser, bare: Running) -> Iterator[Page]:
    """The first account, signed in with the password that was printed."""
    context = open_context(browser, bare.url)
    context.add_init_script(LISTEN)
    page = context.new_page()
    said = (bare.data.parent / "start.log").read_text()
    password = re.search(r"admin\s+(\S+)", said)
    assert password is not None
    page.goto("/")
    page.get_by_label("Name").fill("admin")
    page.get_by_label("Password").fill(password[1])
    page.keyboard.press("Enter")
    expect(page.get_by_role("heading", name="Make your first sound")).to_be_visible()
    yield page
    context.close()


def sounds(page: Page) -> list[dict[str, object]]:
    return list(page.request.get("/api/sounds").json()["sounds"])


def test_a_bare_installation_is_heard_in_two_gestures(admin: Page) -> None:
    page = admin
    expect(page.get_by_role("region", name="Begin").get_by_role("listitem")).to_have_count(11)
    assert violations(page) == []
    page.get_by_role("button", name="New sound").click()
    page.get_by_role("button", name="Play", exact=True).click()
    bench.wait_until_heard(page, 1)
    expect(page.get_by_text("private draft")).to_be_visible()
    (library,) = page.request.get("/api/libraries").json()["libraries"]
    assert library["role"] == "owner"
    # Left untouched, it leaves nothing behind.
    assert sounds(page) == []
    page.get_by_role("link", name="Libraries", exact=True).click()
    page.get_by_role("link", name="Bench", exact=True).click()
    expect(page.get_by_role("heading", name="Make your first sound")).to_be_visible()
    page.get_by_role("button", name="Kick").click()
    bench.type_into(page, "Note", "D1")
    bench.settled(page)
    (draft,) = sounds(page)
    assert draft["private"]


def test_a_draft_is_everyones_once_it_has_a_name(page: Page) -> None:
    bench.open_sound(page, "Kiln door kick")
    page.get_by_role("button", name="New sound").click()
    name = page.get_by_label("Name of the sound")
    expect(name).to_have_value("New sound")
    name.fill("Vent flap")
    name.press("Enter")
    bench.settled(page)
    expect(page.get_by_text("private draft")).to_have_count(0)
    (made,) = [one for one in sounds(page) if one["name"] == "Vent flap"]
    assert (made["private"], made["library_name"]) == (False, "Glasshouse Clockworks")


def test_a_draft_is_moved_to_a_library(page: Page) -> None:
    bench.open_sound(page, "Kiln door kick")
    page.get_by_role("button", name="New sound").click()
    expect(page.get_by_text("private draft")).to_be_visible()
    page.get_by_role("button", name="More", exact=True).click()
    page.get_by_role("menuitem", name="Move to library…").click()
    dialog = page.get_by_role("dialog", name="Move to library")
    expect(dialog).to_contain_text("Only you see this draft")
    assert violations(page) == []
    dialog.get_by_role("button", name="Glasshouse Clockworks").click()
    expect(dialog).to_have_count(0)
    expect(page.get_by_text("private draft")).to_have_count(0)


def test_who_may_only_listen_tries_all_and_keeps_a_copy(enter: Callable[[str], Page]) -> None:
    page = enter("Juniper Vale")
    sound_id = bench.open_sound(page, "Lamp zap")
    expect(page.get_by_text("listening only, changes are not saved")).to_be_visible()
    expect(page.get_by_role("button", name="Keep take")).to_be_disabled()
    bench.heard_after(page, lambda: bench.type_into(page, "Note", "F2"))
    assert bench.draft(page, sound_id)["hit"]["note"] != 41
    page.get_by_role("button", name="Save a copy").click()
    expect(page.get_by_label("Name of the sound")).to_have_value("Lamp zap copy")
    expect(page.get_by_text("private draft")).to_be_visible()
    expect(page.get_by_role("button", name="Keep take")).to_be_enabled()
    assert page.get_by_label("Note", exact=True).input_value().startswith("F2")
    libraries = page.request.get("/api/libraries").json()["libraries"]
    assert [one["name"] for one in libraries if one["role"] == "owner"] == [
        "Sounds of Juniper Vale"
    ]
