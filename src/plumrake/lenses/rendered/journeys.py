"""Taking the steps of a journey in a tab, as a person would by mouse and keyboard; a step that
cannot be taken is named."""

from __future__ import annotations

import asyncio
import contextlib
import time

from playwright.async_api import Error, Locator

from plumrake.core.addresses import origin
from plumrake.core.journeys import JourneyState, Step
from plumrake.lenses.rendered.browser import Tab
from plumrake.net.fetch import Fetched
from plumrake.net.problems import Unreadable

_CONTROLS = (
    "button",
    "link",
    "tab",
    "checkbox",
    "radio",
    "switch",
    "menuitem",
    "option",
    "treeitem",
)
_STEP_SECONDS = 10.0
_SETTLE_SECONDS = 5.0
_QUIET_SECONDS = 0.15


async def follow(tab: Tab, state: JourneyState, fetched: Fetched, seconds: float) -> Fetched:
    """Take the steps that lead to a state; return the HTML that the tab shows in the end. Raises
    ``Unreadable``.

    The steps may lead to other pages of the same origin, also by sending a form, and to no others.
    """
    home = origin(fetched.address)
    deadline = time.monotonic() + seconds
    with tab.open_to(home):
        for step in state.steps:
            left = max(1.0, min(_STEP_SECONDS, deadline - time.monotonic()))
            try:
                await _take(tab, step, home, left)
            except Error as error:
                if "has been closed" in str(error) or "crashed" in str(error):
                    raise Unreadable(
                        "browser-lost", "the browser stopped during the journey"
                    ) from None
                if tab.sent_to is not None:
                    raise Unreadable(
                        "leads-elsewhere",
                        f"{step} leads to {tab.sent_to[:200]}, which is not on {home}",
                    ) from None
                raise Unreadable(
                    "journey-broken", f"{step}: {_reason(step, error, left)}"
                ) from None
        await asyncio.sleep(_QUIET_SECONDS)  # what a step set going comes to rest
    if tab.sent_to is not None:
        raise Unreadable(
            "leads-elsewhere", f"the journey leads to {tab.sent_to[:200]}, which is not on {home}"
        )
    return tab.travelled_to or fetched


async def _take(tab: Tab, step: Step, home: str, seconds: float) -> None:
    page, milliseconds = tab.page, seconds * 1000
    if step.kind == "go":
        await page.goto(home + step.words, wait_until="domcontentloaded", timeout=milliseconds)
    elif step.kind == "click":
        await _one(tab, step).click(timeout=milliseconds)
    elif step.kind == "write":
        await _one(tab, step).fill(step.text, timeout=milliseconds)
    elif step.kind == "choose":
        await _choose(_one(tab, step), step.text, milliseconds)
    elif step.kind == "press":
        await page.keyboard.press(step.words)
    else:
        await _one(tab, step).wait_for(state="visible", timeout=milliseconds)
    with contextlib.suppress(Error):
        await page.wait_for_load_state("load", timeout=min(seconds, _SETTLE_SECONDS) * 1000)


def _one(tab: Tab, step: Step) -> Locator:
    """Return what a step is about: by selector, a field by its label, a control by its name, or
    words on the page."""
    page = tab.page
    if step.selector:
        found = page.locator(f"css={step.selector}")
        return found.first if step.kind == "wait for" else found
    if step.kind == "write":
        return page.get_by_label(step.words, exact=True)
    if step.kind == "choose":
        groups = [
            page.get_by_role(role, name=step.words, exact=True) for role in ("group", "radiogroup")
        ]
        return page.get_by_label(step.words, exact=True).or_(groups[0]).or_(groups[1]).first
    if step.kind == "wait for":
        return page.get_by_text(step.words).first
    found = page.get_by_role("button", name=step.words, exact=True)
    for role in _CONTROLS[1:]:
        found = found.or_(page.get_by_role(role, name=step.words, exact=True))  # type: ignore[arg-type]
    return found.or_(page.locator("summary").get_by_text(step.words, exact=True))


async def _choose(field: Locator, option: str, milliseconds: float) -> None:
    """Choose what is called so: an option of a list, or a radio button of a group."""
    if await field.evaluate("field => field.localName", timeout=milliseconds) == "select":
        await field.select_option(label=option, timeout=milliseconds)
    else:
        await field.get_by_role("radio", name=option, exact=True).check(timeout=milliseconds)


def _reason(step: Step, error: Error, seconds: float) -> str:
    text = str(error)
    if "strict mode violation" in text:
        return "several things are meant by it; say which by 'at:' and a CSS selector"
    if "Timeout" not in text:
        return text.splitlines()[0]
    if step.kind == "go":
        return f"no answer within {seconds:.0f} s"
    what = "nothing that is selected so" if step.selector else "nothing that is called so"
    return f"{what} could be {'seen' if step.kind == 'wait for' else 'used'} within {seconds:.0f} s"
