"""Where a colour comes from: the declaration in a style sheet that gives an element its value.

By the cascade (CSS Cascading and Inheritance 4, 6.1) as far as rules at the top level of style
sheets go; whether a change there does what is wanted, a reading tells.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import cssselect2
import tinycss2

from plumrake.core.dom import Element
from plumrake.core.html_source import Lines
from plumrake.core.mending.writing import declarations, declarations_in
from plumrake.core.page import Page
from plumrake.core.scope import wrapped

INHERITED = frozenset(["color"])
_NAMES = {"background-color": ("background-color", "background")}


@dataclass(frozen=True, slots=True)
class Declared:
    """The declaration that gives an element its value: in which of the sheets, by which selector,
    the value, and where that stands in the sheet."""

    sheet: int
    selector: str
    name: str
    value: str
    start: int
    end: int


def declared(page: Page, element: Element, name: str, sheets: Sequence[str]) -> Declared | None:
    """Return where the value of ``name`` comes from: the winning declaration for the element, or
    for the nearest element around it where the property is inherited. None where no rule gives it,
    or the element's own ``style`` does."""
    names = _NAMES.get(name, (name,))
    rules = list(_rules(sheets, names))
    nodes = wrapped(page.document)
    node: Element | None = element
    while node is not None:
        if any(one.name in names for one in declarations(node.get("style"))):
            return None
        found = [
            (important, selector.specificity, order, one)
            for order, (selectors, important, one) in enumerate(rules)
            for selector in selectors
            if selector.pseudo_element is None and selector.test(nodes[node.index])
        ]
        if found:
            return max(found, key=lambda one: one[:3])[3]
        node = node.parent if name in INHERITED else None
    return None


def _rules(
    sheets: Sequence[str], names: Sequence[str]
) -> Iterator[tuple[list[Any], bool, Declared]]:
    """Yield the declarations of some properties with their rules' selectors, and whether each is
    important."""
    for number, text in enumerate(sheets):
        lines = Lines(text)
        for rule in tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True):
            if rule.type != "qualified-rule":
                continue
            own = [one for one in declarations_in(rule.content, text, lines) if one.name in names]
            if not own or not (selectors := _selectors(rule.prelude)):
                continue
            selector = tinycss2.serialize(rule.prelude).strip()
            for one in own:
                place = Declared(number, selector, one.name, one.value, one.start, one.end)
                yield selectors, one.is_important, place


def _selectors(prelude: Any) -> list[Any]:
    try:
        return list(cssselect2.compile_selector_list(prelude))
    except cssselect2.SelectorError:
        return []
