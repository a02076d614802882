"""Accessible names and descriptions: Accessible Name and Description Computation 1.2, section 4.3,
with a trace.

Step names (2A … 2I) are those of the specification.
"""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable
from dataclasses import dataclass, replace

from plumrake.core.dom import Document, Element, Text, collapse, is_blank
from plumrake.core.semantics.exposure import Exposure
from plumrake.core.semantics.native_names import Labels, Source, embedded_value, native_sources
from plumrake.core.semantics.roles import Roles
from plumrake.core.vocabulary import BLOCK_TAGS, NAME_FROM_CONTENT

_DEEPEST = 120
_PLACEHOLDER_GLYPHS = frozenset(".…-‐‑‒–—―|¦·•")
_REPLACED = frozenset(["img", "svg", "canvas", "video", "object"])
_INLINE_DISPLAYS = ("inline", "contents", "ruby", "ruby-text", "none")


@dataclass(frozen=True, slots=True)
class Step:
    """One step of a computation: the specification's step, the element, what was looked at and what
    it gave."""

    step: str
    element: Element
    says: str
    text: str


@dataclass(frozen=True, slots=True)
class _Walk:
    """Where a traversal stands: what it was reached through, and whether hidden content counts in
    it."""

    root: Element
    referenced: bool = False
    labelling: bool = False
    hidden_counts: bool = False
    within: bool = False
    depth: int = 0


def says_nothing(name: str) -> bool:
    """Tell whether a name is empty.

    White space, soft hyphens, zero-width characters, placeholder glyphs and the characters of icon
    fonts (Unicode's private use area, which no screen reader can say) are nothing.
    """
    return is_blank(name) or all(
        character in _PLACEHOLDER_GLYPHS or unicodedata.category(character) == "Co"
        for character in collapse(name).replace(" ", "")
    )


class Names:
    """Names and descriptions of one document's elements, each worked out once."""

    def __init__(self, document: Document, exposure: Exposure, roles: Roles) -> None:
        self._document = document
        self._exposure = exposure
        self._roles = roles
        self._labels = Labels(document)
        self._known: dict[int, str] = {}
        self._said: dict[int, str] = {}
        self._trace: list[Step] | None = None

    def of(self, element: Element) -> str:
        """Return the accessible name, white space collapsed; ``""`` where there is none."""
        name = self._known.get(element.index)
        if name is None:
            name = self._known[element.index] = collapse(self._compute(element, _Walk(element)))
        return name

    def said(self, element: Element) -> str:
        """Return the accessible name, ``""`` where it says nothing."""
        name = self._said.get(element.index)
        if name is None:
            name = self.of(element)
            name = self._said[element.index] = "" if says_nothing(name) else name
        return name

    def unhidden(self, element: Element) -> str:
        """Return the name that the element would have if nothing in its name's sources were
        hidden."""
        return collapse(self._compute(element, _Walk(element, hidden_counts=True)))

    def trace(self, element: Element) -> list[Step]:
        """Return every step that was taken to find the name, in order."""
        self._trace = []
        try:
            self._compute(element, _Walk(element))
            return self._trace
        finally:
            self._trace = None

    def description(self, element: Element) -> str:
        """Return the accessible description: ``aria-describedby``, ``aria-description``, else a
        ``title`` that is not the name."""
        targets = self._targets(element, "aria-describedby")
        if targets:
            text = collapse(" ".join(self._referenced(element, target) for target in targets))
            if text:
                return text
        if not is_blank(element.get("aria-description")):
            return collapse(element.get("aria-description"))
        title = collapse(element.get("title"))
        return title if title != self.of(element) else ""

    def labels_of(self, control: Element) -> tuple[Element, ...]:
        """Return the ``label`` elements that belong to a control."""
        return self._labels.of(control)

    def _note(self, step: str, element: Element, says: str, text: str) -> str:
        if self._trace is not None:
            self._trace.append(Step(step, element, says, collapse(text)))
        return text

    def _compute(self, element: Element, walk: _Walk) -> str:
        if not walk.hidden_counts and walk.within and not self._exposure.is_exposed(element):
            return self._note("2A", element, "hidden, so it gives nothing", "")
        if not walk.referenced and (text := self._from_labelledby(element, walk)):
            return text
        role = self._roles.of(element)
        if (
            walk.within
            and (walk.referenced or walk.labelling or walk.root is not element)
            and element is not walk.root
        ):
            value = embedded_value(element, role)
            if value is not None:
                return self._note("2C", element, f"the value of this {role}", value)
        if not is_blank(label := element.get("aria-label")):
            return self._note("2D", element, "aria-label", label)
        if role != "none" or walk.root is not element:
            found = self._from_native(element, walk)
            if found:
                return found
        if role in NAME_FROM_CONTENT or walk.within:
            text = self._from_content(element, walk)
            if not is_blank(text):
                return self._note("2F", element, "what it holds", text)
            self._note("2F", element, "what it holds is empty", "")
        return self._from_title(element)

    def _from_title(self, element: Element) -> str:
        title = element.get("title")
        return "" if is_blank(title) else self._note("2I", element, "title", title)

    def _targets(self, element: Element, attribute: str) -> list[Element]:
        tokens = element.get(attribute).split()
        return [
            target
            for token in tokens
            if (target := self._document.by_id(token, element)) is not None
        ]

    def _from_labelledby(self, element: Element, walk: _Walk) -> str:
        targets = self._targets(element, "aria-labelledby")
        if not targets:
            return ""
        text = " ".join(
            self._referenced(element, target, shown=walk.hidden_counts) for target in targets
        )
        self._note("2B", element, "aria-labelledby", text)
        return "" if is_blank(text) else text

    def _referenced(self, element: Element, target: Element, *, shown: bool = False) -> str:
        hidden = shown or not self._exposure.is_exposed(target)
        return self._compute(
            target, _Walk(element, referenced=True, hidden_counts=hidden, within=True)
        )

    def _from_native(self, element: Element, walk: _Walk) -> str:
        for source in native_sources(element, self._labels):
            text = self._source_text(source, element, walk)
            if not is_blank(text):
                return self._note("2E", element, source.what, text)
            if source.elements or element.has(source.what):
                self._note("2E", element, f"{source.what} is empty", "")
        return ""

    def _source_text(self, source: Source, element: Element, walk: _Walk) -> str:
        if not source.elements:
            return source.text
        if walk.labelling:
            return ""
        parts = []
        for label in source.elements:
            hidden = walk.hidden_counts or not self._exposure.is_exposed(label)
            inner = _Walk(
                element,
                labelling=True,
                hidden_counts=hidden,
                within=True,
                referenced=walk.referenced,
            )
            parts.append(self._compute(label, inner))
        return " ".join(parts)

    def _from_content(self, element: Element, walk: _Walk) -> str:
        if walk.depth > _DEEPEST:
            return element.text()
        inner = replace(walk, within=True, depth=walk.depth + 1)
        parts = [element.before]
        for child in self._owned(element):
            if isinstance(child, Text):
                if walk.hidden_counts or self._exposure.is_shown(element):
                    parts.append(child.data)
            elif child is not walk.root:
                parts.append(self._child(child, inner))
        parts.append(element.after)
        return "".join(parts)

    def _child(self, child: Element, walk: _Walk) -> str:
        if child.tag in ("br", "wbr"):
            return " " if child.tag == "br" else ""
        if child.tag in ("script", "style", "template", "noscript"):
            return ""
        text = self._compute(child, walk)
        return f" {text} " if sets_words_apart(child) else text

    def _owned(self, element: Element) -> Iterable[Element | Text]:
        if not element.has("aria-owns"):
            return element.children
        return [*element.children, *self._targets(element, "aria-owns")]


def sets_words_apart(element: Element) -> bool:
    """Tell whether the words before, in and after the element are words of their own: it is no
    inline box, or a picture."""
    if element.tag in _REPLACED:
        return True
    if element.style is not None:
        return element.style.display not in _INLINE_DISPLAYS
    return element.tag in BLOCK_TAGS
