"""The text below an element, as far as it counts for somebody."""

from __future__ import annotations

from collections.abc import Callable

from plumrake.core.dom import Element, Text, collapse
from plumrake.core.semantics.exposure import Exposure
from plumrake.core.semantics.names import sets_words_apart


def text_below(element: Element, exposure: Exposure, counts: Callable[[Element], bool]) -> str:
    """Return the text of the elements that count, white space collapsed; blocks keep words
    apart."""
    parts: list[str] = []
    stack: list[Element | Text | str] = list(reversed(element.children)) if counts(element) else []
    while stack:
        node = stack.pop()
        if isinstance(node, str):
            parts.append(node)
        elif isinstance(node, Text):
            if counts(node.parent):
                parts.append(node.data)
        elif exposure.is_rendered(node) and node.tag not in ("script", "style"):
            apart = " " if sets_words_apart(node) or node.tag == "br" else ""
            stack.append(apart)
            stack.extend(reversed(node.children))
            parts.append(apart)
    return collapse("".join(parts))
