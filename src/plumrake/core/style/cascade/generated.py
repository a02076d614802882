"""What ``::before`` and ``::after`` put beside an element's content (CSS Content 3)."""

from __future__ import annotations

from plumrake.core.dom import Element
from plumrake.core.style.cascade.computed import Computed
from plumrake.core.style.cascade.properties import tokens_of


def generated(found: Computed | None, element: Element) -> str:
    """Return the words that are generated, set apart where they stand in a block of their own;
    pictures, counters and quotation marks are none."""
    if found is None or found.values["display"] == "none" or "content" in found.doubts:
        return ""
    content = found.values["content"]
    if content in ("none", "normal"):
        return ""
    words = _words(content, element)
    if not words:
        return ""
    return words if found.values["display"].startswith("inline") else f" {words} "


def _words(content: str, element: Element) -> str:
    """Return the strings of ``content``; those after a slash stand for all of it."""
    words: list[str] = []
    for token in tokens_of(content):
        if token.type == "literal" and token.value == "/":
            words = []
        elif token.type == "string":
            words.append(str(token.value))
        elif token.type == "function" and token.lower_name == "attr" and token.arguments:
            words.append(element.get(str(getattr(token.arguments[0], "lower_value", ""))))
    return "".join(words)
