"""Where in a page's build an element stands: its region, and the build it shares with its like on other pages.

Pages of a site come from a few templates. Two elements with the same way down from their landmark (tags and classes, no
positions) are most likely printed by the same line of a template; how often such a build occurs, faulty or not, is what
tells a template's fault from an editor's.
"""

from __future__ import annotations

from collections import Counter
from functools import cached_property
from typing import TYPE_CHECKING

from plumrake.core.dom import Element
from plumrake.core.findings import digest
from plumrake.core.selectors import stable_classes

if TYPE_CHECKING:
    from plumrake.core.page import Page

_REGIONS = {
    "banner": "header", "contentinfo": "footer", "navigation": "menu", "complementary": "aside", "search": "search", "main": "content",
}  # fmt: skip
_TAGS = {"header": "header", "footer": "footer", "nav": "menu", "aside": "aside"}
_LEAST_REPEATS = 3
_ITEM_TAGS = frozenset(["li", "article", "section", "div", "a", "figure", "tr"])


class Structure:
    """The builds and regions of one page's elements."""

    def __init__(self, page: Page) -> None:
        self._page = page
        self._regions: dict[int, str] = {}
        self._ways: dict[int, str] = {}
        self._alike: dict[int, Counter[tuple[str, ...]]] = {}
        self._digests: dict[tuple[str, str], str] = {}

    def region_of(self, element: Element) -> str:
        """Return ``header``, ``footer``, ``menu``, ``aside``, ``search``, ``card`` (one of at least three alike), ``content``, or ``page``."""
        if element is self._page.root or element.tag in ("head", "body") or element.parent is None or self._in_head(element):
            return "page"
        region = self._landmark_region(element)
        return "card" if region == "content" and self._in_card(element) else region

    def key_of(self, element: Element) -> str:
        """Return what stands for the element's build; ``""`` for an element of running content, which no template printed."""
        region = self._landmark_region(element)
        if region == "page" or (region == "content" and not self._is_marked(element)):
            return ""
        return self._way(element)

    @cached_property
    def census(self) -> dict[str, int]:
        """How many elements of each build the page has."""
        return dict(Counter(key for element in self._page.body.descendants() if (key := self.key_of(element))))

    def _in_head(self, element: Element) -> bool:
        return element.tag == "head" or element.closest("head") is not None

    def _landmark_region(self, element: Element) -> str:
        """Return the region by the outermost landmark but ``main`` that holds the element; a menu in the header is the header's."""
        known = self._regions.get(element.index)
        if known is None:
            above = self._landmark_region_above(element)
            own = self._own_region(element)
            known = self._regions[element.index] = own if above in ("page", "content") and own else above
        return known

    def _landmark_region_above(self, element: Element) -> str:
        parent = element.parent
        if parent is None or parent is self._page.root:
            return "page"
        if parent is self._page.body:
            return "content"
        return self._regions[parent.index] if parent.index in self._regions else self._climb(parent)

    def _climb(self, element: Element) -> str:
        """Work the regions out from the top down; pages may be 40,000 deep."""
        chain = [element]
        while (above := chain[-1].parent) is not None and above.index not in self._regions and above is not self._page.body:
            chain.append(above)
        for one in reversed(chain):
            self._landmark_region(one)
        return self._regions[element.index]

    def _own_region(self, element: Element) -> str:
        role = self._page.role_of(element)
        if role in _REGIONS:
            return _REGIONS[role]
        return _TAGS.get(element.tag, "") if element.parent is self._page.body else ""

    def _in_card(self, element: Element) -> bool:
        return any(self._repeats(one) for one in (element, *element.ancestors()) if one.parent is not None)

    def _repeats(self, element: Element) -> bool:
        classes = stable_classes(element)
        if not classes or element.tag not in _ITEM_TAGS or element.parent is None:
            return False
        counts = self._alike.get(element.parent.index)
        if counts is None:
            counts = Counter((other.tag, *stable_classes(other)) for other in element.parent.elements())
            self._alike[element.parent.index] = counts
        return counts[(element.tag, *classes)] >= _LEAST_REPEATS

    def _is_marked(self, element: Element) -> bool:
        """Tell whether the element or its parent has a class of its own, as what templates print has; rich text has none."""
        parent = element.parent
        return bool(stable_classes(element)) or (parent is not None and parent.tag != "body" and bool(stable_classes(parent)))

    def _way(self, element: Element) -> str:
        chain = [element]
        while chain[-1].index not in self._ways and (above := chain[-1].parent) is not None and above is not self._page.body:
            chain.append(above)
        way = self._ways.get(chain[-1].index, "")
        for one in reversed(chain):
            if one.index in self._ways:
                way = self._ways[one.index]
                continue
            way = self._ways[one.index] = self._digest(way, f"{one.tag}.{'.'.join(sorted(stable_classes(one)))}")
        return way

    def _digest(self, above: str, own: str) -> str:
        found = self._digests.get((above, own))
        if found is None:
            found = self._digests[above, own] = digest(above, own)[:12]
        return found
