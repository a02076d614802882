"""What pages are made from: HTML or Markdown text, opened so that what is found on the page can be
mended in it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Protocol

from plumrake.core.dom import Element
from plumrake.core.findings import Finding, Mend
from plumrake.core.html_source import Lines
from plumrake.core.mending.carrying_out import edits_of
from plumrake.core.mending.edits import Edit
from plumrake.core.mending.markdown import MarkdownPage
from plumrake.core.mending.source_page import CannotMend, SourcePage
from plumrake.core.page import Page
from plumrake.lenses.markup import parse_source


class Source(Protocol):
    """A text that a page is made from. Findings are those of a reading of the page."""

    @property
    def text(self) -> str:
        """The text."""

    @property
    def page(self) -> Page:
        """The page that the text makes, without scripts."""

    def element_of(self, finding: Finding) -> Element:
        """Return the element that a finding is about. Raises ``CannotMend``."""

    def edits_of(self, element: Element, mend: Mend) -> tuple[Edit, ...]:
        """Return the edits of the text that carry a mend out. Raises ``CannotMend``."""

    def placed(self, finding: Finding) -> Finding:
        """Return the finding with line and column in this text."""


@dataclass(frozen=True, eq=False)
class HtmlSource:
    """A page's HTML."""

    written: SourcePage

    @property
    def text(self) -> str:
        """The text."""
        return self.written.text

    @property
    def page(self) -> Page:
        """The page."""
        return self.written.page

    def element_of(self, finding: Finding) -> Element:
        """Return the element that a finding is about. Raises ``CannotMend``."""
        return _element_of(self.written, finding)

    def edits_of(self, element: Element, mend: Mend) -> tuple[Edit, ...]:
        """Return the edits of the text that carry a mend out. Raises ``CannotMend``."""
        return edits_of(self.written, element, mend)

    def placed(self, finding: Finding) -> Finding:
        """Return the finding: its place is one of this text."""
        return finding


@dataclass(frozen=True, eq=False)
class MarkdownSource:
    """Markdown that becomes a part of a page."""

    written: MarkdownPage

    @property
    def text(self) -> str:
        """The text."""
        return self.written.text

    @property
    def page(self) -> Page:
        """The page."""
        return self.written.page

    def element_of(self, finding: Finding) -> Element:
        """Return the element that a finding is about. Raises ``CannotMend``."""
        return _element_of(self.written.html, finding)

    def edits_of(self, element: Element, mend: Mend) -> tuple[Edit, ...]:
        """Return the edits of the text that carry a mend out. Raises ``CannotMend``."""
        return self.written.edits_of(element, mend)

    def placed(self, finding: Finding) -> Finding:
        """Return the finding at its place in the Markdown: where its element is written, else where
        what is around that is."""
        try:
            element: Element | None = self.element_of(finding)
        except CannotMend:
            return replace(finding, line=None, column=None)
        while element is not None and (offset := self.written.offset_of(element)) is None:
            element = element.parent
        if element is None:
            return replace(finding, line=None, column=None)
        assert offset is not None
        line, column = Lines(self.text).of(offset)
        return replace(finding, line=line, column=column)


def open_source(
    text: str, address: str, *, is_markdown: bool = False, most_elements: int = 200_000
) -> Source:
    """Open a text that a page is made from. Raises ``TooManyElements``."""
    if not is_markdown:
        return HtmlSource(parse_source(text, address, most_elements=most_elements))
    from plumrake.lenses.markdown import parse_markdown  # only where there is Markdown

    return MarkdownSource(parse_markdown(text, address, most_elements=most_elements))


def _element_of(source: SourcePage, finding: Finding) -> Element:
    if finding.selector == "html":
        return source.page.root
    element = source.at(finding.line, finding.column)
    if element is None or not finding.excerpt.lower().startswith(f"<{element.tag.lower()}"):
        raise CannotMend("the place is not written in the source; a script or a template makes it")
    return element
