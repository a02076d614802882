"""What the checks of pages share: links that lead past the menus."""

from __future__ import annotations

from urllib.parse import unquote

from plumrake.core.dom import Element
from plumrake.core.page import Page
from plumrake.core.semantics.aria import REFERENCES
from plumrake.core.words import listed, normalised

_AMONG_THE_FIRST = 6


def says_skip(page: Page, link: Element) -> bool:
    """Tell whether the link's words say that it leads past the menus to a place of the page."""
    if link.tag != "a" or not part_of_page(page, link):
        return False
    words = normalised(link.text() or page.name_of(link))
    known = listed("skip_links", page.language_of(link), {}) | listed("skip_links", "en", {})
    return any(phrase in words for phrase in known)


def is_skip_link(page: Page, element: Element) -> bool:
    """Tell whether the element is a link past the menus: by its words, or as one of the page's
    first links to a place of it."""
    if element.tag != "a" or part_of_page(page, element) is None:
        return False
    if says_skip(page, element):
        return True
    first = page.exposed(role="link")[:_AMONG_THE_FIRST]
    return element in first and all(
        part_of_page(page, link) is not None for link in first[: first.index(element) + 1]
    )


def part_of_page(page: Page, link: Element) -> str | None:
    """Return the fragment of a link to the page itself (``""`` for its beginning), None for a link
    to elsewhere."""
    if "#" not in link.get("href"):
        return None
    address, _, fragment = (page.resolved(link.get("href")) or "").partition("#")
    return unquote(fragment) if address == page.here else None


def opened_or_referred(page: Page) -> frozenset[str]:
    """Return the ids that a control, a label or another reference on the page names."""
    found: set[str] = set()
    for element in page.elements:
        for attribute, value in element.attributes.items():
            if attribute in REFERENCES or attribute in (
                "popovertarget",
                "commandfor",
                "data-target",
                "for",
            ):
                found.update(token.lstrip("#") for token in value.split())
            elif attribute == "href" and value.startswith("#") and len(value) > 1:
                found.add(value[1:])
    return frozenset(found)
