"""Using a page by keyboard alone, as somebody without a mouse does: nothing here points or
clicks."""

from __future__ import annotations

import pytest
from playwright.sync_api import Locator, Page

MOST_STOPS = 400


def reach(page: Page, target: Locator) -> None:
    """Press Tab until the target has the focus; fail where it is never reached."""
    target.wait_for()
    for _ in range(MOST_STOPS):
        if target.evaluate("element => element === document.activeElement"):
            return
        page.keyboard.press("Tab")
    pytest.fail(f"Tab never reaches {target}")


def press(page: Page, target: Locator, key: str = "Enter") -> None:
    """Reach a control and press a key on it."""
    reach(page, target)
    page.keyboard.press(key)


def write(page: Page, target: Locator, text: str) -> None:
    """Reach a field and type into it in place of what is there."""
    reach(page, target)
    page.keyboard.press("Control+a")
    page.keyboard.type(text)


def choose(page: Page, target: Locator, option: str) -> None:
    """Reach a choice, open it, go down to an option and take it."""
    reach(page, target)
    page.keyboard.press("Enter")
    options = page.get_by_role("option")
    options.first.wait_for()
    labels = [one.inner_text() for one in options.all()]
    page.keyboard.press("Home")
    for _ in range(labels.index(option)):
        page.keyboard.press("ArrowDown")
    page.keyboard.press("Enter")


def focused(page: Page) -> str:
    """Return what has the focus: its tag and its text, or its name."""
    return str(
        page.evaluate(
            "() => { const e = document.activeElement; return `${e.tagName} ${e.innerText || "
            "e.getAttribute('aria-label') || ''}` }"
        )
    )
