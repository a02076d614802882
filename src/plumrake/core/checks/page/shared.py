"""What the checks of pages share: links that lead past the menus."""

from __future__ import annotations

from plumrake.core.dom import Element
from plumrake.core.page import Page
from plumrake.core.words import listed, normalised

_AMONG_THE_FIRST = 6


def says_skip(page: Page, link: Element) -> bool:
    """Tell whether the link's words say that it leads past the menus to a place of the page."""
    address = link.get("href").strip()
    if link.tag != "a" or not address.startswith("#") or len(address) < 2:
        return False
    words = normalised(link.text() or page.name_of(link))
    known = listed("skip_links", page.language_of(link), {}) | listed("skip_links", "en", {})
    return any(phrase in words for phrase in known)


def is_skip_link(page: Page, element: Element) -> bool:
    """Tell whether the element is a link past the menus: by its words, or as one of the page's first links to a place of it."""
    if element.tag != "a" or not element.get("href").strip().startswith("#"):
        return False
    if says_skip(page, element):
        return True
    first = page.exposed(role="link")[:_AMONG_THE_FIRST]
    return element in first and all(link.get("href").strip().startswith("#") for link in first[: first.index(element) + 1])
