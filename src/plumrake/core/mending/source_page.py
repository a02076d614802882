"""A page together with the text that it was made from: where each element is written."""

from __future__ import annotations

from bisect import bisect_right
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from plumrake.core.dom import Element
from plumrake.core.html_source import Lines, StartTag, start_tag_at, text_runs
from plumrake.core.page import Page
from plumrake.core.vocabulary import VOID_ELEMENTS

Span = tuple[int, int]
"""Offsets in characters, the end not included."""


class CannotMend(ValueError):
    """A mend cannot be carried out in this source; the words say why."""


@dataclass(frozen=True, eq=False)
class SourcePage:
    """``page`` is what the HTML ``text`` is without scripts. ``starts`` are the offsets of start
    tags by element index, of those that are written once; ``ends`` the spans of end tags."""

    text: str
    page: Page
    starts: Mapping[int, int]
    ends: Mapping[int, Span]

    @cached_property
    def lines(self) -> Lines:
        """The text's lines."""
        return Lines(self.text)

    @cached_property
    def _by_start(self) -> dict[int, Element]:
        return {start: self.page.elements[index] for index, start in self.starts.items()}

    @cached_property
    def _in_order(self) -> list[int]:
        return sorted([*self.starts.values(), *(start for start, _ in self.ends.values())])

    @cached_property
    def newline(self) -> str:
        """The line end that the text uses most."""
        windows = self.text.count("\r\n")
        return "\r\n" if windows * 2 > self.text.count("\n") else "\n"

    def at(self, line: int | None, column: int | None) -> Element | None:
        """Return the element whose start tag stands at a line and column, from 1."""
        if line is None or column is None or not 1 <= line <= self.lines.count:
            return None
        return self._by_start.get(self.lines.offset(line, column))

    def start_tag(self, element: Element) -> StartTag:
        """Return an element's start tag. Raises ``CannotMend``."""
        start = self.starts.get(element.index)
        tag = start_tag_at(self.text, start) if start is not None else None
        if tag is None:
            raise CannotMend(f"the <{element.tag}> is not written in this page's source")
        return tag

    def end_tag(self, element: Element) -> Span | None:
        """Return the span of an element's end tag, or None where it is left out."""
        return self.ends.get(element.index)

    def content(self, element: Element) -> Span:
        """Return the span of what stands between an element's tags. Raises ``CannotMend``."""
        if element.tag in VOID_ELEMENTS:
            raise CannotMend(f"a <{element.tag}> has no content")
        start = self.start_tag(element).end
        end_tag = self.end_tag(element)
        if end_tag is not None:
            return start, end_tag[0]
        end = self._implied_end(element, start)
        return start, start + len(self.text[start:end].rstrip())

    def whole(self, element: Element) -> Span:
        """Return the span of an element, its tags included. Raises ``CannotMend``."""
        tag = self.start_tag(element)
        if element.tag in VOID_ELEMENTS:
            return tag.start, tag.end
        end_tag = self.end_tag(element)
        return tag.start, end_tag[1] if end_tag is not None else self.content(element)[1]

    def _implied_end(self, element: Element, start: int) -> int:
        """Return where an element without an end tag is over: at the first tag that is none of its
        descendants'."""
        inside = {element.index, *(one.index for one in element.descendants())}
        own = {self.starts.get(index) for index in inside} | {
            self.ends[index][0] for index in inside if index in self.ends
        }
        for offset in self._in_order[bisect_right(self._in_order, start - 1) :]:
            if offset not in own:
                return offset
        return len(self.text)

    def text_pieces(self, element: Element) -> list[Span]:
        """Return the spans of the text in an element that are not blank, without the white space
        around them. Raises ``CannotMend``."""
        pieces: list[Span] = []
        for start, end in text_runs(self.text, *self.content(element)):
            run = self.text[start:end]
            if run.strip():
                begin = start + len(run) - len(run.lstrip())
                pieces.append((begin, begin + len(run.strip())))
        return pieces

    def indentation(self, offset: int) -> str | None:
        """Return the white space between the line's start and an offset, or None where something
        else stands there."""
        line, column = self.lines.of(offset)
        before = self.text[self.lines.offset(line, 1) : offset]
        return before if column == len(before) + 1 and not before.strip() else None
