"""Which of a rendered page's costlier evidence its checks will want: pixels behind texts, a walk by Tab."""

from __future__ import annotations

from plumrake.core.checks.keyboard.shared import doubtful_controls
from plumrake.core.checks.page.shared import says_skip
from plumrake.core.dom import Box
from plumrake.core.page import Page


def boxes_in_doubt(page: Page) -> list[Box]:
    """Return the line boxes of the texts whose background only pixels can tell."""
    return [line for run, surface in page.text_runs if surface is None for line in run.lines]


def wants_walk(page: Page) -> bool:
    """Tell whether pressing Tab may show something that the document does not: controls in doubt, a link past menus off-screen."""
    if any(says_skip(page, link) and not page.is_seen(link) for link in page.exposed(role="link")):
        return True
    return any(True for _ in doubtful_controls(page))
