"""Style sheets for the markup lens: which a page still wants, and the page with what they make of
it."""

from __future__ import annotations

from collections import OrderedDict
from dataclasses import replace

from plumrake.core.dom import Document
from plumrake.core.findings import Needs
from plumrake.core.page import Page
from plumrake.core.style.cascade.conditions import Screen
from plumrake.core.style.cascade.drawn_in import DrawnIn, Texts, drawn_in, is_quirky
from plumrake.core.style.cascade.kin import TooMuchStyle
from plumrake.core.style.cascade.styling import Styler

_MOST_STYLERS = 6
_stylers: OrderedDict[tuple[object, ...], Styler] = OrderedDict()
"""What was worked out for the sets of style sheets that were met last in this process."""


def styled(page: Page, texts: Texts, at: str) -> Page | list[str]:
    """Return a page that came from an address with its styles, or the addresses of the style sheets
    that are still to be had. A page whose sheets take more than they may stays as it is."""
    document, screen = page.document, Screen()
    try:
        found = drawn_in(document, page.based_on(at), texts, screen)
        if found.missing:
            return found.missing
        _styler(document, found, screen).style(document)
    except TooMuchStyle:
        for element in document.elements:
            element.style, element.certainty = None, None
            element.before = element.after = element.placeholder = ""
        return page
    gives = document.gives | {Needs.STYLE.value}
    return Page(replace(document, gives=gives, resources=_resources(page, texts)))


def _resources(page: Page, texts: Texts) -> tuple[str, ...]:
    """Return the files that a page is made of, as far as its source tells: its style sheets,
    scripts and pictures."""
    named = (
        page.resolved(one.get("src").strip())
        for one in page.elements
        if one.tag in ("script", "img") and one.get("src").strip()
    )
    addresses = {one for one in named if one is not None and one.startswith("http")}
    return tuple(sorted(addresses.union(texts)))


def _styler(document: Document, found: DrawnIn, screen: Screen) -> Styler:
    quirky = is_quirky(document.source)
    key = (quirky, *((id(one.sheet), one.layer, one.doubt) for one in found.placed))
    styler = _stylers.pop(key, None) or Styler(found.placed, screen, is_quirky=quirky)
    _stylers[key] = styler
    while len(_stylers) > _MOST_STYLERS:
        _stylers.popitem(last=False)
    return styler
