"""Landmarks and the page's main content."""

from __future__ import annotations

from collections.abc import Iterator
from functools import cached_property

from plumrake.core.dom import Document, Element
from plumrake.core.semantics.exposure import Exposure
from plumrake.core.semantics.roles import Roles
from plumrake.core.vocabulary import LANDMARKS

_ASIDE = frozenset(["banner", "navigation", "complementary", "contentinfo"])
_ASIDE_TAGS = frozenset(["nav", "aside"])


class Landmarks:
    """The landmarks of one document (WAI-ARIA 1.2, 5.3.4)."""

    def __init__(self, document: Document, exposure: Exposure, roles: Roles) -> None:
        self._document = document
        self._exposure = exposure
        self._roles = roles

    @cached_property
    def all(self) -> list[Element]:
        """Every exposed landmark in document order."""
        return [
            element
            for element in self._document.elements
            if self._exposure.is_exposed(element) and self.is_one(element)
        ]

    def is_one(self, element: Element) -> bool:
        """Tell whether the element is a landmark; a ``form`` is one only with a name (HTML-AAM 1.0,
        4)."""
        role = self._roles.of(element)
        return role in LANDMARKS and (role != "form" or self._roles.has_author_name(element))

    @cached_property
    def main(self) -> Element | None:
        """The first exposed ``main`` landmark, or None."""
        return next((element for element in self.all if self._roles.of(element) == "main"), None)

    def around(self, element: Element) -> Element | None:
        """Return the nearest landmark that holds the element, or None."""
        return next((holder for holder in element.ancestors() if self.is_one(holder)), None)

    def within(self, element: Element, *roles: str) -> Element | None:
        """Return the nearest ancestor (the element itself included) with one of these roles, or
        None."""
        return next(
            (
                holder
                for holder in (element, *element.ancestors())
                if self._roles.of(holder) in roles
            ),
            None,
        )

    @cached_property
    def content(self) -> list[Element]:
        """The exposed elements of the main content: of ``main``, or of the page less header, menus,
        asides and footer."""
        return [element for element in self._content() if self._exposure.is_exposed(element)]

    def _content(self) -> Iterator[Element]:
        if self.main is not None:
            yield from self.main.descendants()
            return
        body = next(
            (child for child in self._document.root.elements() if child.tag == "body"),
            self._document.root,
        )
        stack = [body]
        while stack:
            element = stack.pop()
            if self._roles.of(element) in _ASIDE or element.tag in _ASIDE_TAGS:
                continue
            if element is not body:
                yield element
            stack.extend(reversed(list(element.elements())))
