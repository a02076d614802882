"""Names that hiding alone has emptied; asked by every check of names, so that only one of them speaks."""

from __future__ import annotations

from plumrake.core.dom import Element
from plumrake.core.page import Page
from plumrake.core.words import has_letters_or_digits


def would_be_name(page: Page, element: Element) -> str:
    """Return the name that a nameless element would have if nothing were hidden; ``""`` where it would have none."""
    if page.name_of(element):
        return ""
    name = page.unhidden_name_of(element)
    return name if has_letters_or_digits(name) else ""
