"""The scope of a policy by CSS selector: which elements a policy keeps in, and which it leaves
out."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any
from xml.etree import ElementTree

import cssselect2

from plumrake.core.dom import Document, Element


class BadSelector(ValueError):
    """A selector that cannot be read; the message says which and why."""

    code = "bad-selector"


def compiled(selectors: Sequence[str]) -> list[Any]:
    """Return the selectors (Selectors Level 4, as far as cssselect2 goes) ready for use. Raises
    ``BadSelector``."""
    found: list[Any] = []
    for selector in selectors:
        try:
            found.extend(cssselect2.compile_selector_list(selector))
        except cssselect2.SelectorError as error:
            raise BadSelector(
                f"the selector '{selector}' cannot be read: {error.args[-1]}"
            ) from None
    return found


class Scope:
    """Which of a document's elements count."""

    def __init__(self, document: Document, inside: Sequence[str], outside: Sequence[str]) -> None:
        matched = (
            _matches(document, [compiled(inside), compiled(outside)])
            if inside or outside
            else [set(), set()]
        )
        self._wanted = [not inside] * len(document.elements)
        self._left_out = [False] * len(document.elements)
        for element in document.elements:
            parent = element.parent.index if element.parent is not None else None
            self._wanted[element.index] |= element.index in matched[0] or (
                parent is not None and self._wanted[parent]
            )
            self._left_out[element.index] = element.index in matched[1] or (
                parent is not None and self._left_out[parent]
            )

    def count(self, element: Element) -> bool:
        """Tell whether findings on the element are wanted: it lies in the scope and in nothing left
        out."""
        return self._wanted[element.index] and not self._left_out[element.index]


def selected(document: Document, selector: str) -> list[Element]:
    """Return the elements that a selector selects, in document order. Raises ``BadSelector``."""
    (indexes,) = _matches(document, [compiled((selector,))])
    return [document.elements[index] for index in sorted(indexes)]


def wrapped(document: Document) -> dict[int, Any]:
    """Return a document's elements by their index as selectors test them."""
    mirror, index_of = _mirror(document)
    wrappers = cssselect2.ElementWrapper.from_html_root(mirror).iter_subtree()
    return {index_of[one.etree_element]: one for one in wrappers}


def _matches(document: Document, lists: list[list[Any]]) -> list[set[int]]:
    """Return, for each list of selectors, the indexes of the elements that one of them selects."""
    found: list[set[int]] = [set() for _ in lists]
    for index, wrapper in wrapped(document).items():
        for at, selectors in enumerate(lists):
            if any(selector.test(wrapper) for selector in selectors):
                found[at].add(index)
    return found


def _mirror(document: Document) -> tuple[ElementTree.Element, dict[ElementTree.Element, int]]:
    """Return the document as a tree that cssselect2 can walk, and the index of each of its
    nodes."""
    nodes: list[ElementTree.Element] = []
    for element in document.elements:
        node = ElementTree.Element(
            f"{{http://www.w3.org/1999/xhtml}}{element.tag}", dict(element.attributes)
        )
        nodes.append(node)
        if element.parent is not None:
            nodes[element.parent.index].append(node)
    return nodes[0], {node: index for index, node in enumerate(nodes)}
