"""Windows of the browser, and how long tests wait for what happens in them."""

from __future__ import annotations

from collections.abc import Callable
from typing import TypeVar

from playwright.sync_api import Browser, BrowserContext, Page

# Several browsers, databases and render workers share two processors; what takes a second alone may
# take half a minute there. Only a test that fails waits to the end.
PATIENCE_MS = 240_000

# A page of the program that does nothing. Going from one site to another starts a process of the
# browser's, which costs as much as a page of the app.
NOTHING = "/icon.svg"

Answer = TypeVar("Answer")


def open_context(browser: Browser, url: str) -> BrowserContext:
    """A browser without history at the program's address; its pages and requests wait patiently."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=url, accept_downloads=True
    )
    context.set_default_timeout(PATIENCE_MS)
    return context


def eventually(page: Page, ask: Callable[[], Answer], wanted: Answer) -> None:
    """Asks until the answer is the wanted one; what the page sends is on its way for a while."""
    for _ in range(PATIENCE_MS // 100):
        if ask() == wanted:
            return
        page.wait_for_timeout(100)
    assert ask() == wanted
