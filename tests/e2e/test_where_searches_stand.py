"""A search stands in the address; a list keeps its place while one is elsewhere."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Locator, Page, Route, expect

from tests.e2e.shelves import find, row, rows
from tests.e2e.windows import eventually


def names(page: Page) -> list[str]:
    """The samples that are shown, by the names that a reader hears."""
    expect(page.locator("[aria-busy=true]")).to_have_count(0)
    labels = rows(page).evaluate_all("rows => rows.map(row => row.getAttribute('aria-label'))")
    return [label.partition(",")[0] for label in labels]


def filters(page: Page) -> Locator:
    return page.get_by_role("region", name="Filters")


def test_a_search_is_sent_to_somebody_and_kept_by_the_browser(enter: Callable[[str], Page]) -> None:
    page = enter("Wren Halloway")
    find(page, "bell")
    filters(page).get_by_role("checkbox", name=re.compile("^tonal")).check()
    expect(page).to_have_url(re.compile(r"/libraries/\d+\?words=bell&category=tonal$"))
    expect(rows(page).first).to_be_visible()
    found, address = names(page), page.url
    other = enter("Isolde Marrow")
    other.goto(address)
    expect(other.get_by_label("Find samples")).to_have_value("bell")
    expect(filters(other).get_by_role("checkbox", name=re.compile("^tonal"))).to_be_checked()
    expect(rows(other)).to_have_count(len(found))
    assert names(other) == found
    # What is asked for no more is not in the address either.
    find(other, "")
    expect(other).to_have_url(re.compile(r"/libraries/\d+\?category=tonal$"))


def test_an_address_that_makes_no_sense_searches_for_what_is_left(
    enter: Callable[[str], Page],
) -> None:
    page = enter("Wren Halloway")
    expect(page).to_have_url(re.compile(r"/libraries/\d+$"))
    base = page.url
    page.goto(f"{base}?length_s=9..1&like=x&sort=nonsense&words=kick")
    expect(page.get_by_label("Find samples")).to_have_value("kick")
    expect(page).to_have_url(f"{base}?words=kick")
    expect(rows(page).first).to_be_visible()


def test_who_comes_back_finds_the_list_as_it_was_left(enter: Callable[[str], Page]) -> None:
    page = enter("Wren Halloway")
    page.goto("/libraries/all?sort=name")
    expect(rows(page).first).to_be_visible()
    shelf = page.get_by_role("listbox", name="Samples")
    shelf.evaluate("list => { list.scrollTop = 460 }")
    far = rows(page).nth(14)
    name = (far.get_attribute("aria-label") or "").partition(",")[0]
    far.click()
    top = shelf.evaluate("list => list.scrollTop")
    assert top > 0
    screens = page.get_by_role("navigation", name="Screens")
    screens.get_by_role("link", name="Bench").click()
    expect(page).to_have_url(re.compile("/bench"))
    screens.get_by_role("link", name="Libraries").click()
    expect(page).to_have_url(re.compile(r"/libraries/all\?sort=name$"))
    expect(row(page, name)).to_be_in_viewport()
    assert shelf.evaluate("list => list.scrollTop") == top
    page.go_back()
    expect(page).to_have_url(re.compile("/bench"))
    page.go_back()
    expect(page).to_have_url(re.compile(r"/libraries/all\?sort=name$"))


def test_what_is_typed_while_the_address_follows_is_kept(enter: Callable[[str], Page]) -> None:
    page = enter("Wren Halloway")
    expect(rows(page).first).to_be_visible()
    browser = page.context.new_cdp_session(page)
    # Each address is shown a while after it was written.
    browser.send("Emulation.setCPUThrottlingRate", {"rate": 8})
    box = page.get_by_label("Find samples")
    for words in ("moth ", "wing ", "kick"):
        box.press_sequentially(words, delay=130)
    browser.send("Emulation.setCPUThrottlingRate", {"rate": 1})
    browser.detach()
    expect(page).to_have_url(re.compile(r"\?words=moth\+wing\+kick$"))
    expect(box).to_have_value("moth wing kick")


def test_words_are_kept_while_the_libraries_are_on_their_way(enter: Callable[[str], Page]) -> None:
    page = enter("Wren Halloway")
    expect(page).to_have_url(re.compile(r"/libraries/\d+$"))
    held: list[Route] = []
    page.route("**/api/libraries", lambda route: held.append(route))
    page.reload()
    eventually(page, lambda: len(held), 1)
    held[0].continue_()
    page.unroute("**/api/libraries")
    find(page, "bell")
    expect(page).to_have_url(re.compile(r"/libraries/\d+\?words=bell$"))
    expect(page.get_by_label("Find samples")).to_have_value("bell")
