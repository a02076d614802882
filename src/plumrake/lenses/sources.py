"""What pages are made from: HTML or Markdown text, opened so that what is found on the page can be
mended in it."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from plumrake.core.dom import Element
from plumrake.core.findings import Finding, Mend
from plumrake.core.html_source import Lines
from plumrake.core.mending.block_mends import edits_in_blocks
from plumrake.core.mending.blocks import BlockPage
from plumrake.core.mending.carrying_out import edits_of, target_of
from plumrake.core.mending.editor_words import says_in_editor
from plumrake.core.mending.edits import Edit
from plumrake.core.mending.markdown import MarkdownPage
from plumrake.core.mending.saying import says_of
from plumrake.core.mending.source_page import CannotMend, SourcePage
from plumrake.core.page import Page
from plumrake.lenses.markup import parse_source

SourceForm = Literal["page", "blocks", "markdown"]
"""What a source is written in: the page's own HTML, or content that a system makes the page of."""


@dataclass(frozen=True, slots=True)
class SourcePlace:
    """What tells where an element stands in a source: as a finding has it."""

    selector: str
    line: int | None
    column: int | None
    excerpt: str


@dataclass(frozen=True, eq=False)
class Source:
    """A text that a page is made from: the page's HTML (``html``), or the ``markdown`` that this
    comes of. Findings are those of a reading of the page, with the places that they have there."""

    html: SourcePage
    markdown: MarkdownPage | None = None

    @property
    def text(self) -> str:
        """The text."""
        return self.markdown.text if self.markdown is not None else self.html.text

    @property
    def page(self) -> Page:
        """The page that the text makes, without scripts."""
        return self.html.page

    def element_of(self, finding: Finding | SourcePlace, *, in_text: bool = False) -> Element:
        """Return the element that a finding is about; ``in_text`` where its line and column are
        those in the Markdown. Raises ``CannotMend``."""
        if finding.selector == "html":
            return self.page.root
        at = self._written_at if in_text else self._standing_at
        for element in at(finding.line, finding.column):
            if finding.excerpt.lower().startswith(f"<{element.tag.lower()}"):
                return element
        raise CannotMend("the place is not written in the source; a script or a template makes it")

    def _standing_at(self, line: int | None, column: int | None) -> list[Element]:
        element = self.html.at(line, column)
        return [element] if element is not None else []

    def _written_at(self, line: int | None, column: int | None) -> list[Element]:
        lines = Lines(self.text)
        if self.markdown is None or line is None or column is None or line > lines.count:
            return []
        place = lines.offset(line, column)
        elements = (self.page.elements[index] for index in sorted(self.html.starts))
        return [one for one in elements if self.markdown.offset_of(one) == place]

    def offset_of(self, element: Element) -> int | None:
        """Return where an element is written in the text, or None where it is not."""
        if self.markdown is not None:
            return self.markdown.offset_of(element)
        return self.html.starts.get(element.index)

    def edits_of(self, element: Element, mend: Mend) -> tuple[Edit, ...]:
        """Return the edits of the text that carry a mend out. Raises ``CannotMend``."""
        if self.markdown is not None:
            return self.markdown.edits_of(element, mend)
        return edits_of(self.html, element, mend)

    def placed(self, finding: Finding) -> Finding:
        """Return the finding with line and column in this text: where its element is written, else
        where what is around that is."""
        if self.markdown is None:
            return finding
        try:
            element: Element | None = self.element_of(finding)
        except CannotMend:
            element = None
        while element is not None and (offset := self.markdown.offset_of(element)) is None:
            element = element.parent
        if element is None:
            return replace(finding, line=None, column=None)
        assert offset is not None
        line, column = Lines(self.text).of(offset)
        return replace(finding, line=line, column=column)


def open_source(
    text: str,
    address: str,
    *,
    is_markdown: bool = False,
    most_elements: int = 200_000,
    closed: frozenset[int] = frozenset(),
) -> Source:
    """Open a text that a page is made from; the elements whose start tags stand at the offsets of
    ``closed`` end with them. Raises ``TooManyElements``."""
    if not is_markdown:
        return Source(parse_source(text, address, most_elements=most_elements, closed=closed))
    from plumrake.lenses.markdown import parse_markdown  # only where there is Markdown

    markdown = parse_markdown(text, address, most_elements=most_elements)
    return Source(markdown.html, markdown)


def span_of(text: str, place: SourcePlace, *, most_elements: int) -> tuple[int, int]:
    """Return where an element stands in the HTML that it was found in, its tags included. Raises
    ``CannotMend``, ``TooManyElements``."""
    source = open_source(text, "", most_elements=most_elements)
    return source.html.whole(source.element_of(place))


@dataclass(frozen=True, slots=True)
class Planned:
    """How a mend is carried out in a text: its edits, where its element stands (a character, None
    for the page as a whole), and what it does, as a sentence."""

    edits: tuple[Edit, ...]
    place: int | None
    says: str


def planned(
    text: str,
    place: Finding | SourcePlace,
    mend: Mend,
    *,
    most_elements: int,
    form: SourceForm = "page",
) -> Planned:
    """Return how a mend of a finding is carried out in the source that it was found in: in content
    made of blocks so that each block stays one. Raises ``CannotMend``, ``TooManyElements``."""
    is_markdown = form == "markdown"
    source = open_source(text, "", is_markdown=is_markdown, most_elements=most_elements)
    element = source.element_of(place, in_text=is_markdown)
    says = says_of(mend, target_of(source.html, element, mend))
    if form == "blocks":
        blocks = BlockPage(source.html)
        edits = edits_in_blocks(blocks, element, mend)
        where = says_in_editor(blocks, element, mend)
        says = f"{says[:-1]} ({where})." if where else says
    else:
        edits = source.edits_of(element, mend)
    return Planned(edits, source.offset_of(element), says)
