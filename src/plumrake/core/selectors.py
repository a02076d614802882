"""Selectors: short, readable CSS that selects exactly one element and lives through small changes
of the page.

Anchored at the nearest ancestor that is alone in the page by a hand-made id, by its tag (``main``)
or by tag and class; from there down by children.
"""

from __future__ import annotations

import re
from collections import Counter
from functools import lru_cache

from plumrake.core.dom import Document, Element

_PLAIN_NAME = re.compile(r"-?[A-Za-z_][A-Za-z0-9_-]*")
_HEX_WITH_LETTERS = re.compile(r"(?<![0-9a-f])(?=[0-9a-f]*\d)(?=[0-9a-f]*[a-f])[0-9a-f]{5,}")
_TWO_CASES = re.compile(r"[a-z]\d[A-Z]|[A-Z]\d[a-z]|[A-Z]{2}[a-z][A-Z]")
_ANCHOR_TAGS = frozenset(
    ["html", "head", "body", "main", "header", "footer", "nav", "aside", "title", "h1"]
)


@lru_cache(8192)
def looks_hand_made(name: str) -> bool:
    """Tell whether an id or class looks like a person's word rather than a build tool's digest or a
    counter."""
    if not _PLAIN_NAME.fullmatch(name) or len(name) > 40:
        return False
    return not (
        re.search(r"\d{3,}", name) or _HEX_WITH_LETTERS.search(name) or _TWO_CASES.search(name)
    )


def stable_classes(element: Element) -> list[str]:
    """Return the element's classes without those that look made by a machine."""
    return [name for name in element.classes() if looks_hand_made(name)]


def quoted(value: str) -> str:
    """Return a CSS string for ``value``."""
    escaped = value.replace("\\", "\\\\").replace('"', '\\"').replace("\n", "\\a ")
    return f'"{escaped}"'


class Selectors:
    """Selectors of one document's elements."""

    def __init__(self, document: Document) -> None:
        self._document = document
        self._tags: Counter[tuple[int, str]] = Counter()
        self._classes: Counter[tuple[int, str, str]] = Counter()
        self._steps: dict[int, str] = {}
        self._known: dict[int, str] = {}
        for element in document.elements:
            self._tags[element.scope, element.tag] += 1
            for name in set(element.classes()):
                self._classes[element.scope, element.tag, name] += 1

    def of(self, element: Element) -> str:
        """Return the selector. Inside an open shadow root: the host's selector, `` >>> ``, the
        selector within."""
        known = self._known.get(element.index)
        if known is None:
            known = self._known[element.index] = self._build(element)
        return known

    def _build(self, element: Element) -> str:
        steps: list[str] = []
        here: Element | None = element
        while here is not None:
            if anchor := self._anchor(here):
                steps.append(anchor)
                break
            steps.append(self._step(here))
            if here.parent is not None and here.parent.scope != here.scope:
                return f"{self.of(here.parent)} >>> {' > '.join(reversed(steps))}"
            here = here.parent
        return " > ".join(reversed(steps))

    def _anchor(self, element: Element) -> str:
        identifier = element.get("id")
        if (
            looks_hand_made(identifier)
            and len(self._document.ids.get((element.scope, identifier), ())) == 1
        ):
            return f"#{identifier}"
        if element.tag in _ANCHOR_TAGS and self._tags[element.scope, element.tag] == 1:
            return element.tag
        for name in stable_classes(element) if _PLAIN_NAME.fullmatch(element.tag) else ():
            if self._classes[element.scope, element.tag, name] == 1:
                return f"{element.tag}.{name}"
        return ""

    def _step(self, element: Element) -> str:
        step = self._steps.get(element.index)
        if step is None:
            self._number_children(element)
            step = self._steps[element.index]
        return step

    def _number_children(self, element: Element) -> None:
        """Name all siblings at once, so that a parent of 40,000 children costs no more than one
        pass."""
        if element.parent is None:
            self._steps[element.index] = element.tag
            return
        siblings = [child for child in element.parent.elements() if child.scope == element.scope]
        totals = Counter(child.tag for child in siblings)
        seen: Counter[str] = Counter()
        for at, child in enumerate(siblings, start=1):
            seen[child.tag] += 1
            tag = child.tag if _PLAIN_NAME.fullmatch(child.tag) else "*"
            place = f":nth-of-type({seen[child.tag]})" if totals[child.tag] > 1 else ""
            self._steps[child.index] = tag + place if tag != "*" else f"*:nth-child({at})"
