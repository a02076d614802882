"""Where in a page's build an element stands: its zone, and the build it shares with its like on
other pages.

Pages of a site come from a few templates. Two elements with the same way down from their landmark
(tags and classes, no positions) are most likely printed by the same line of a template; how often
such a build occurs, faulty or not, is what tells a template's fault from an editor's.
"""

from __future__ import annotations

from collections import Counter
from enum import StrEnum
from functools import cached_property
from typing import Protocol

from plumrake.core.dom import Element
from plumrake.core.findings import digest
from plumrake.core.selectors import stable_classes


class Zone(StrEnum):
    """Where on the page something lies; a card is one of at least three alike, and what lies in no
    other zone, or stands for the page itself, is the page's."""

    HEADER = "header"
    MENU = "menu"
    CONTENT = "content"
    CARD = "card"
    SEARCH = "search"
    ASIDE = "aside"
    FOOTER = "footer"
    PAGE = "page"


_ZONES = {
    "banner": Zone.HEADER,
    "contentinfo": Zone.FOOTER,
    "navigation": Zone.MENU,
    "complementary": Zone.ASIDE,
    "search": Zone.SEARCH,
    "main": Zone.CONTENT,
}
_TAGS = {
    "header": Zone.HEADER,
    "footer": Zone.FOOTER,
    "nav": Zone.MENU,
    "aside": Zone.ASIDE,
}
_LEAST_REPEATS = 3
_ITEM_TAGS = frozenset(["li", "article", "section", "div", "a", "figure", "tr"])


class Tree(Protocol):
    """What of a page its structure is made from."""

    @property
    def root(self) -> Element:
        """The ``html`` element."""

    @property
    def body(self) -> Element:
        """The ``body``, or the root."""

    def role_of(self, element: Element) -> str:
        """Return the computed role."""


class Structure:
    """The builds and zones of one page's elements."""

    def __init__(self, page: Tree) -> None:
        self._page = page
        self._zones: dict[int, Zone] = {}
        self._ways: dict[int, str] = {}
        self._alike: dict[int, Counter[tuple[str, ...]]] = {}
        self._digests: dict[tuple[str, str], str] = {}

    def zone_of(self, element: Element) -> Zone:
        """Return where the element lies."""
        if (
            element is self._page.root
            or element.tag in ("head", "body")
            or element.parent is None
            or self._in_head(element)
        ):
            return Zone.PAGE
        zone = self._landmark_zone(element)
        return Zone.CARD if zone is Zone.CONTENT and self._in_card(element) else zone

    def key_of(self, element: Element) -> str:
        """Return what stands for the element's build; ``""`` for an element of running content,
        which no template printed."""
        zone = self._landmark_zone(element)
        if zone is Zone.PAGE or (zone is Zone.CONTENT and not self._is_marked(element)):
            return ""
        return self._way(element)

    @cached_property
    def census(self) -> dict[str, int]:
        """How many elements of each build the page has."""
        return dict(
            Counter(
                key for element in self._page.body.descendants() if (key := self.key_of(element))
            )
        )

    def _in_head(self, element: Element) -> bool:
        return element.tag == "head" or element.closest("head") is not None

    def _landmark_zone(self, element: Element) -> Zone:
        """Return the zone by the outermost landmark but ``main`` that holds the element; a menu in
        the header is the header's."""
        known = self._zones.get(element.index)
        if known is None:
            above = self._landmark_zone_above(element)
            own = self._own_zone(element)
            known = self._zones[element.index] = (
                own if above in (Zone.PAGE, Zone.CONTENT) and own else above
            )
        return known

    def _landmark_zone_above(self, element: Element) -> Zone:
        parent = element.parent
        if parent is None or parent is self._page.root:
            return Zone.PAGE
        if parent is self._page.body:
            return Zone.CONTENT
        return self._zones[parent.index] if parent.index in self._zones else self._climb(parent)

    def _climb(self, element: Element) -> Zone:
        """Work the zones out from the top down; pages may be 40,000 deep."""
        chain = [element]
        while (
            (above := chain[-1].parent) is not None
            and above.index not in self._zones
            and above is not self._page.body
        ):
            chain.append(above)
        for one in reversed(chain):
            self._landmark_zone(one)
        return self._zones[element.index]

    def _own_zone(self, element: Element) -> Zone | None:
        role = self._page.role_of(element)
        if role in _ZONES:
            return _ZONES[role]
        return _TAGS.get(element.tag) if element.parent is self._page.body else None

    def _in_card(self, element: Element) -> bool:
        return any(
            self._repeats(one) for one in (element, *element.ancestors()) if one.parent is not None
        )

    def _repeats(self, element: Element) -> bool:
        classes = stable_classes(element)
        if not classes or element.tag not in _ITEM_TAGS or element.parent is None:
            return False
        counts = self._alike.get(element.parent.index)
        if counts is None:
            counts = Counter(
                (other.tag, *stable_classes(other)) for other in element.parent.elements()
            )
            self._alike[element.parent.index] = counts
        return counts[(element.tag, *classes)] >= _LEAST_REPEATS

    def _is_marked(self, element: Element) -> bool:
        """Tell whether the element or its parent has a class of its own, as what templates print
        has; rich text has none."""
        parent = element.parent
        return bool(stable_classes(element)) or (
            parent is not None and parent.tag != "body" and bool(stable_classes(parent))
        )

    def _way(self, element: Element) -> str:
        chain = [element]
        while (
            chain[-1].index not in self._ways
            and (above := chain[-1].parent) is not None
            and above is not self._page.body
        ):
            chain.append(above)
        way = self._ways.get(chain[-1].index, "")
        for one in reversed(chain):
            if one.index in self._ways:
                way = self._ways[one.index]
                continue
            way = self._ways[one.index] = self._digest(
                way, f"{one.tag}.{'.'.join(sorted(stable_classes(one)))}"
            )
        return way

    def _digest(self, above: str, own: str) -> str:
        found = self._digests.get((above, own))
        if found is None:
            found = self._digests[above, own] = digest(above, own)[:12]
        return found
