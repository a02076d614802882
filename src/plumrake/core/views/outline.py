"""The outline: headings and landmarks as one tree, with the faults in it."""

from __future__ import annotations

from typing import Any

from plumrake.core.assess import flagged
from plumrake.core.dom import Element
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.views.once import once_a_page

_HEADINGS = Policy(only=("headings",))


@once_a_page
def outline(page: Page) -> list[dict[str, Any]]:
    """Return a row per exposed heading and landmark in document order.

    ``depth`` is how many landmarks hold it; a heading has its ``level``; ``faults`` are the ids of
    the checks of headings that report it. A page without a main heading begins with a row for the
    page itself, since absence is a fault too.
    """
    faults: dict[int, list[str]] = {}
    for check, flag in flagged(page, _HEADINGS)[0]:
        faults.setdefault(flag.element.index, []).append(check.id)
    of_page = faults.get(page.root.index)
    rows = [_row(page, page.root, "page", 0, of_page)] if of_page else []
    for element in page.every_exposed():
        role = page.role_of(element)
        if role == "heading" or page.landmarks.is_one(element):
            depth = sum(page.landmarks.is_one(ancestor) for ancestor in element.ancestors())
            rows.append(_row(page, element, role, depth, faults.get(element.index, [])))
    return rows


def _row(page: Page, element: Element, kind: str, depth: int, faults: list[str]) -> dict[str, Any]:
    level = page.level_of(element) if kind == "heading" else None
    return {
        "kind": kind,
        "level": level,
        "depth": depth,
        "name": page.title if kind == "page" else page.name_of(element),
        "selector": "html" if kind == "page" else page.selector_of(element),
        "faults": faults,
    }
