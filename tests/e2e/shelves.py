"""What tests of libraries do on their pages."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page


def find(page: Page, words: str) -> None:
    page.get_by_label("Find samples").fill(words)


def rows(page: Page) -> Locator:
    return page.get_by_role("listbox", name="Samples").get_by_role("option")


def row(page: Page, name: str) -> Locator:
    return page.get_by_role("option", name=re.compile(f"^{re.escape(name)},"))


def open_sample(page: Page, name: str, words: str = "") -> None:
    """Find a sample by some words, or by its name, and show its details."""
    find(page, words or name.lower())
    row(page, name).click()


def choose_from(page: Page, menu: str, item: str) -> None:
    page.get_by_role("button", name=menu).click()
    page.get_by_role("menuitem", name=item).click()


def view(page: Page, name: str) -> None:
    page.get_by_role("navigation", name="Views").get_by_role("link", name=name).click()
