"""The collector's answer to a document. ``collector.js`` says how it is packed; the two change
together."""

from __future__ import annotations

import json
from collections.abc import Callable, Mapping
from typing import Any

from plumrake.core.dom import Document, Element, Position, Style, Text
from plumrake.core.geometry import Box
from plumrake.lenses.markup import TooManyElements

GIVES = frozenset({"tree", "page", "scripts", "style", "layout"})
Locate = Callable[[Document], Mapping[int, Position]]
_MOST_ENTRIES = 240
_BY_SCRIPT = frozenset(["fetch", "xmlhttprequest", "eventsource"])
_NOT_THE_PAGE = frozenset(["beacon", "ping", "iframe", "frame", "navigation"])
_NAMESPACES = ("html", "svg", "math")
_LISTENERS = (
    frozenset[str](),
    frozenset({"click"}),
    frozenset({"key"}),
    frozenset({"click", "key"}),
)


def decode_document(
    answer: str, address: str, source: str, *, most_elements: int, locate: Locate | None = None
) -> Document:
    """Return the document that the collector saw; ``locate`` gives its elements' positions in the
    source. Raises ``TooManyElements``."""
    packed: dict[str, Any] = json.loads(answer)
    if packed.get("tooMany"):
        raise TooManyElements(most_elements)
    strings: list[str] = packed["strings"]
    styles = [Style(*(strings[value] for value in row)) for row in packed["styles"]]
    elements = _elements(packed["nodes"], strings, styles)
    width, height = packed["viewport"]
    return Document(
        address=address,
        lens="rendered",
        root=elements[0],
        elements=tuple(elements),
        gives=GIVES,
        source=source,
        viewport=(width, height),
        resources=_resources(packed["drawnIn"]),
        locate=locate,
    )


def _resources(entries: list[list[str]]) -> tuple[str, ...] | None:
    """Return the files that the page is made of, or None where a script asked for data or there are
    too many to be known."""
    if len(entries) >= _MOST_ENTRIES or any(kind in _BY_SCRIPT for kind, _ in entries):
        return None
    files = {
        name
        for kind, name in entries
        if kind not in _NOT_THE_PAGE and name.startswith(("http://", "https://"))
    }
    return tuple(sorted(files))


def _elements(nodes: list[int], strings: list[str], styles: list[Style]) -> list[Element]:
    elements: list[Element] = []
    at = 0
    while at < len(nodes):
        parent = elements[nodes[at + 1]] if nodes[at + 1] >= 0 else None
        if nodes[at] == 1:
            element, at = _element(nodes, at, parent, len(elements), strings, styles)
            elements.append(element)
            if parent is not None:
                parent.children.append(element)
        else:
            assert parent is not None, "a text always has a parent"
            count = nodes[at + 3]
            start = at + 4
            lines = tuple(_box(nodes, start + 4 * line) for line in range(count))
            parent.children.append(Text(strings[nodes[at + 2]], parent, lines))
            at = start + 4 * count
    return elements


def _element(
    nodes: list[int],
    at: int,
    parent: Element | None,
    index: int,
    strings: list[str],
    styles: list[Style],
) -> tuple[Element, int]:
    count = nodes[at + 15]
    start = at + 16
    pairs = nodes[start : start + 2 * count]
    attributes = {
        strings[name]: strings[value] for name, value in zip(pairs[::2], pairs[1::2], strict=True)
    }
    element = Element(index, strings[nodes[at + 2]], attributes, parent)
    element.namespace = _NAMESPACES[nodes[at + 3]]
    element.scope = nodes[at + 4]
    element.style = styles[nodes[at + 5]] if nodes[at + 5] >= 0 else None
    element.box = _box(nodes, at + 6) if nodes[at + 8] >= 0 else None
    element.before = strings[nodes[at + 10]] if nodes[at + 10] >= 0 else ""
    element.after = strings[nodes[at + 11]] if nodes[at + 11] >= 0 else ""
    element.value = strings[nodes[at + 12]] if nodes[at + 12] >= 0 else None
    element.listeners = _LISTENERS[nodes[at + 13] & 3]
    element.moves = bool(nodes[at + 13] & 4)
    element.placeholder = strings[nodes[at + 14]] if nodes[at + 14] >= 0 else ""
    return element, start + 2 * count


def _box(nodes: list[int], at: int) -> Box:
    return nodes[at] / 10, nodes[at + 1] / 10, nodes[at + 2] / 10, nodes[at + 3] / 10
