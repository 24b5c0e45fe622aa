"""A search stands in the address; a list keeps its place while one is elsewhere."""

from __future__ import annotations

import re
from collections.abc import Callable

from playwright.sync_api import Locator, Page, expect

from tests.e2e.shelves import find, row, rows


def names(page: Page) -> list[str]:
    """The samples that are shown, by the names that a reader hears."""
    labels = [one.get_attribute("aria-label") or "" for one in rows(page).all()]
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
