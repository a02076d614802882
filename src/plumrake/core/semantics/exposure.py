"""Exposure: whether an element is in the accessibility tree, and whether the eye can see it.

Two different questions. ``aria-hidden`` takes an element from assistive technology and leaves it on
the screen; clipping and moving off-screen do the reverse.
"""

from __future__ import annotations

import re

from plumrake.core.dom import Document, Element, Style
from plumrake.core.vocabulary import NOT_RENDERED

_IMPORTANT = "!important"


class Exposure:
    """Answers about one document, worked out once in document order (parents before children)."""

    def __init__(self, document: Document) -> None:
        self._rendered: list[bool] = []
        self._shown: list[bool] = []
        self._in_tree: list[bool] = []
        shown_maps = _used_maps(document)
        for element in document.elements:
            parent = element.parent.index if element.parent is not None else -1
            inside = parent < 0 or self._rendered[parent]
            rendered = inside and not _not_rendered(element, shown_maps)
            shown = rendered and _visibility(element, parent < 0 or self._shown[parent])
            kept = parent < 0 or self._in_tree[parent]
            self._rendered.append(rendered)
            self._shown.append(shown)
            self._in_tree.append(
                kept
                and element.get("aria-hidden").strip().lower() != "true"
                and not element.has("inert")
            )

    def is_rendered(self, element: Element) -> bool:
        """Tell whether the element takes part in rendering: no ``display:none`` on it or above
        it."""
        return self._rendered[element.index]

    def is_shown(self, element: Element) -> bool:
        """Tell whether the element is rendered and its ``visibility`` lets it show."""
        return self._shown[element.index]

    def is_exposed(self, element: Element) -> bool:
        """Tell whether assistive technology meets the element (WAI-ARIA 1.2, 7.1: excluded
        elements)."""
        return self._shown[element.index] and self._in_tree[element.index]

    def is_aria_hidden(self, element: Element) -> bool:
        """Tell whether ``aria-hidden`` or ``inert``, on it or above it, takes it from the tree,
        whatever its rendering."""
        return not self._in_tree[element.index]


def _used_maps(document: Document) -> frozenset[str]:
    return frozenset(
        element.get("usemap").lstrip("#")
        for element in document.elements
        if element.tag in ("img", "object") and element.has("usemap")
    )


def _not_rendered(element: Element, shown_maps: frozenset[str]) -> bool:
    """Tell whether this element, its parents aside, takes itself and all below it out of the
    rendering."""
    if element.tag in NOT_RENDERED and element.namespace == "html":
        return True
    if _in_closed_details(element) or (
        element.parent is not None and element.parent.tag in ("video", "audio")
    ):
        return True
    if element.tag == "area":
        owner = element.closest("map")
        return owner is None or owner.get("name") not in shown_maps
    if element.style is not None:
        parent_style = element.parent.style if element.parent is not None else None
        hidden_content = parent_style is not None and parent_style.content_visibility == "hidden"
        own = element.style.content_visibility == "hidden"
        return element.style.display == "none" or hidden_content or own
    return _hidden_by_markup(element)


def _hidden_by_markup(element: Element) -> bool:
    """Tell what the browser's own style sheet and a ``style`` attribute would hide, for a lens
    without styles."""
    if element.namespace == "html" and element.has("hidden"):
        return True  # with until-found its contents wait; of the element itself nothing shows
    if element.tag == "dialog" and not element.has("open"):
        return True
    if element.tag == "input" and element.get("type").lower() == "hidden":
        return True
    if element.tag == "audio" and not element.has("controls"):
        return True
    if element.has("popover"):
        return True
    return _declared(element, "display") == "none"


def _in_closed_details(element: Element) -> bool:
    parent = element.parent
    if parent is None or parent.tag != "details" or parent.has("open"):
        return False
    return element is not next(
        (child for child in parent.elements() if child.tag == "summary"), None
    )


def _visibility(element: Element, parent_shown: bool) -> bool:
    if element.style is not None:
        return element.style.visibility == "visible"
    declared = _declared(element, "visibility")
    if declared in ("hidden", "collapse"):
        return False
    return parent_shown or declared == "visible"


def _declared(element: Element, name: str) -> str:
    """Return what a ``style`` attribute sets a property to, in small letters; ``""`` where it does
    not. The last declaration wins, an important one before others (CSS Style Attributes, 3)."""
    style = element.get("style")
    if name not in style.lower():
        return ""
    won, is_important = "", False
    for declaration in style.lower().split(";"):
        key, _, value = declaration.partition(":")
        if key.strip() != name:
            continue
        plain = value.strip()
        matters = plain.endswith(_IMPORTANT)
        if matters or not is_important:
            won, is_important = plain.removesuffix(_IMPORTANT).rstrip(), matters
    return won


def is_clipped_away(style: Style) -> bool:
    """Tell whether ``clip`` or ``clip-path`` leaves nothing of the box to see."""
    if style.position in ("absolute", "fixed") and style.clip.startswith("rect("):
        edges = [float(number) for number in re.findall(r"-?\d+(?:\.\d+)?", style.clip)]
        if len(edges) == 4 and (edges[2] - edges[0] <= 1 or edges[1] - edges[3] <= 1):
            return True
    if style.clip_path.startswith("inset("):
        shares = [
            float(number) for number in re.findall(r"(?<![\d.])(\d+(?:\.\d+)?)%", style.clip_path)
        ]
        return bool(shares) and min(shares) >= 50
    return bool(re.match(r"(circle|ellipse)\(0(px|%)?[ )]", style.clip_path))
