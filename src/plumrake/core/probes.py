"""Which of a rendered page's costlier evidence its checks will want: pixels behind texts, a walk by
Tab, pictures to be read."""

from __future__ import annotations

from plumrake.core.checks.keyboard.shared import doubtful_controls
from plumrake.core.checks.page.shared import says_skip
from plumrake.core.dom import Element
from plumrake.core.geometry import Box
from plumrake.core.page import Page

_MOST_PICTURES = 40
_NARROWEST, _LOWEST, _LARGEST = 40, 14, 3_000_000


def boxes_in_doubt(page: Page) -> list[Box]:
    """Return the line boxes of the texts whose background only pixels can tell."""
    return [line for run, surface in page.text_runs if surface is None for line in run.lines]


def owners_in_doubt(page: Page) -> list[Element]:
    """Return the elements that hold the texts whose background only pixels can tell."""
    return [run.owner for run, surface in page.text_runs if surface is None]


def wants_walk(page: Page) -> bool:
    """Tell whether pressing Tab may show something that the document does not: controls in doubt, a
    link past menus off-screen."""
    if any(says_skip(page, link) and not page.is_seen(link) for link in page.exposed(role="link")):
        return True
    return any(True for _ in doubtful_controls(page))


def pictures_to_read(page: Page) -> list[Element]:
    """Return the seen pictures that are large enough to hold words, the first forty: files, picture
    buttons and canvases."""
    found: list[Element] = []
    for element in page.elements:
        if (
            len(found) < _MOST_PICTURES
            and _may_hold_words(element)
            and page.is_exposed(element)
            and page.is_seen(element)
        ):
            found.append(element)
    return found


def _may_hold_words(element: Element) -> bool:
    is_picture = element.tag in ("img", "canvas") or (
        element.tag == "input" and element.get("type").strip().lower() == "image"
    )
    if not is_picture or element.box is None:
        return False
    _, _, width, height = element.box
    return width >= _NARROWEST and height >= _LOWEST and width * height <= _LARGEST
