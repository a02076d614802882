"""What the console's tests share: windows in which no script may fail."""

from __future__ import annotations

from collections.abc import Callable, Iterator

import pytest
from playwright.sync_api import Browser, Page

from tests.conftest import PASSWORD, Running


@pytest.fixture
def window(browser: Browser, running: Running) -> Iterator[Callable[[], Page]]:
    """Opens fresh browser windows at 1280x800; no script may fail in any."""
    pages: list[Page] = []
    errors: list[str] = []

    def open_one() -> Page:
        page = browser.new_context(
            viewport={"width": 1280, "height": 800}, base_url=running.address
        ).new_page()
        page.on("pageerror", lambda error: errors.append(str(error)))
        pages.append(page)
        return page

    yield open_one
    for page in pages:
        page.context.close()
    assert errors == []


@pytest.fixture
def page(window: Callable[[], Page]) -> Page:
    """A fresh browser window."""
    return window()


def sign_in(page: Page, email: str, to: str = "/") -> None:
    """Sign in and land on a place."""
    page.goto(to)
    page.get_by_label("E-mail address").fill(email)
    page.get_by_label("Password").fill(PASSWORD)
    page.get_by_role("button", name="Sign in").click()
    page.get_by_role("button", name="Sign out", exact=True).wait_for()
    page.wait_for_url(lambda address: "/sign-in" not in address)
