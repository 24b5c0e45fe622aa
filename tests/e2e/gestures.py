"""A hand on the Bench that counts: a click, a choice, a key, a typed field are a gesture each."""

from __future__ import annotations

import re

from playwright.sync_api import Locator, Page

from tests.e2e import bench


class Hand:
    """Does what a designer does, and counts it."""

    def __init__(self, page: Page) -> None:
        self.page = page
        self.gestures = 0

    def click(self, where: Locator | str) -> None:
        """A button by its name, or anything."""
        self.gestures += 1
        if isinstance(where, str):
            where = self.page.get_by_role("button", name=where, exact=True).first
        where.click()

    def item(self, name: str) -> None:
        """An entry of a menu that is open."""
        self.gestures += 1
        self.page.get_by_role("menuitem", name=name).first.click()

    def tab(self, name: str) -> None:
        self.gestures += 1
        self.page.get_by_role("tab", name=name, exact=True).click()

    def type(self, label: str, text: str) -> None:
        """A value typed into a field."""
        self.gestures += 1
        bench.type_into(self.page, label, text)

    def choose(self, label: str, option: str) -> None:
        self.gestures += 1
        named = re.compile(f"^{re.escape(label)}")
        self.page.get_by_role("combobox", name=named).first.select_option(label=option)

    def take(self, words: str, first: str) -> None:
        """What was typed into the open finder, taken."""
        self.gestures += 1
        finder = bench.finding(self.page, words)
        finder.get_by_role("option", name=first).first.click()

    def link(self, mover: str, *targets: str) -> None:
        """The search of a mover opened, and targets chosen in it."""
        self.gestures += 1 + len(targets)
        bench.link(self.page, mover, *targets)

    def add(self, words: str, first: str) -> None:
        """The finder of processors: opened by its key, and what was typed taken."""
        self.gestures += 2
        self.page.keyboard.press("/")
        finder = bench.finding(self.page, words)
        finder.get_by_role("option", name=first).first.click()

    def keep(self) -> None:
        """A take kept under the name that is offered."""
        self.click("Keep take")
        dialog = self.page.get_by_role("dialog")
        self.gestures += 1
        dialog.get_by_role("button", name="Keep", exact=False).last.click()
