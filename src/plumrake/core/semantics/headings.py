"""Headings: their levels and the outline that they make."""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.dom import Element, Text

_DEFAULT_LEVEL = 2


def heading_level(element: Element) -> int:
    """Return the level of an element whose role is ``heading`` (WAI-ARIA 1.2, aria-level): its own,
    else the tag's, else 2."""
    written = element.get("aria-level").strip()
    if re.fullmatch(r"\+?\d+", written) and int(written) > 0:
        return int(written)
    return int(element.tag[1]) if re.fullmatch("h[1-6]", element.tag) else _DEFAULT_LEVEL


def nodes_in_order(element: Element) -> Iterator[Element | Text]:
    """Yield every element and text below ``element`` in document order."""
    stack: list[Element | Text] = list(reversed(element.children))
    while stack:
        node = stack.pop()
        yield node
        if isinstance(node, Element):
            stack.extend(reversed(node.children))
