"""What the checks of films and recordings have in common."""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.page import Page


def players(page: Page, *tags: str) -> Iterator[Element]:
    """Yield the ``video`` and ``audio`` elements of these tags that a browser would play, in
    document order."""
    for element in page.elements:
        if element.tag in tags and element.closest("template", "noscript") is None:
            yield element


def is_heard(page: Page, element: Element) -> bool:
    """Tell whether a player is exposed and not muted, so that what it says can be missed."""
    return page.is_exposed(element) and not element.has("muted")


def played_file(element: Element) -> str:
    """Return the name of the file that a player plays, of its first source where it has no ``src``
    itself."""
    source = element.get("src") or next(
        (child.get("src") for child in element.elements() if child.tag == "source"), ""
    )
    return source.partition("?")[0].rpartition("/")[2] or "without a file"


def player_facts(element: Element) -> dict[str, object]:
    """Return the facts of a finding about a player: ``file``, whether it has ``autoplay`` and
    whether it is ``muted``."""
    return {
        "file": played_file(element),
        "autoplay": element.has("autoplay"),
        "muted": element.has("muted"),
    }
