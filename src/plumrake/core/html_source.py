"""HTML as it is written: its tags, their attributes, and the text between them, by offset.

By the tokenizer's rules (HTML Standard, 13.2.5): comments, declarations, raw text and attribute
values are passed over. Every pass is linear.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections.abc import Iterator, Set
from dataclasses import dataclass

_TAG = re.compile(r"<(?:!--|[!?/]|([A-Za-z][^\s/>\x00]*))")
_CLOSING = re.compile(r"</([A-Za-z][^\s/>\x00]*)")
_COMMENT_END = re.compile(r"--!?>")
_ATTRIBUTE = re.compile(
    r"""[\s/]*(?:>|([^\s/>=][^\s/>=]*|=[^\s/>=]*)(?:\s*=\s*(?:"[^"]*"|'[^']*'|[^\s>"'][^\s>]*)?)?)"""
)
RAW_TEXT = frozenset(
    ["script", "style", "textarea", "title", "xmp", "iframe", "noembed", "noframes"]
)


def every_tag(html: str, closed: Set[int] = frozenset()) -> Iterator[tuple[int, int, str, bool]]:
    """Yield every tag in order: the offsets where it starts and where it ends, its name in small
    letters, and whether it closes. The start tags at the offsets of ``closed`` hold nothing;
    it may grow on the way."""
    at = 0
    while match := _TAG.search(html, at):
        name = match.group(1)
        if name is None:
            at = _after_markup(html, match)
            if closing := _CLOSING.match(html, match.start()):
                yield match.start(), at, closing.group(1).lower(), True
            continue
        end = _end_of_tag(html, match.end())
        if end < 0:
            return
        yield match.start(), end, name.lower(), False
        at = end if match.start() in closed else _after_raw_text(html, name.lower(), end)


def _after_markup(html: str, match: re.Match[str]) -> int:
    """Return where a comment, declaration or end tag stops."""
    if match.group() == "<!--":
        if html.startswith((">", "->"), match.end()):
            return match.end() + 1
        closing = _COMMENT_END.search(html, match.end())
        return closing.end() if closing else len(html)
    if match.group() == "</":
        end = _end_of_tag(html, match.end())
        return end if end >= 0 else len(html)
    if html.startswith("<![CDATA[", match.start()):
        end = html.find("]]>", match.end())
        return end + 3 if end >= 0 else len(html)
    end = html.find(">", match.end())
    return end + 1 if end >= 0 else len(html)


def _end_of_tag(html: str, at: int) -> int:
    """Return the offset after the tag's ``>``, or -1 where the text ends first."""
    while match := _ATTRIBUTE.match(html, at):
        at = match.end()
        if match.group(1) is None:
            return at
        if at < len(html) and html[at] in "\"'":
            at += 1
    return -1


def _after_raw_text(html: str, name: str, at: int) -> int:
    if name == "plaintext":
        return len(html)
    if name not in RAW_TEXT:
        return at
    end = re.compile(rf"</{name}(?=[\s/>])", re.I).search(html, at)
    return end.start() if end else len(html)


@dataclass(frozen=True, slots=True)
class Attribute:
    """An attribute of a start tag by offsets: where its name stands, where it ends, and its value
    without the quotation marks; ``quote`` is ``"``, ``'`` or ``""``. Without ``=`` the value is
    empty and stands at the end."""

    name: str
    start: int
    end: int
    value_start: int
    value_end: int
    quote: str
    has_value: bool


@dataclass(frozen=True, slots=True)
class StartTag:
    """A start tag by offsets: where it starts, where its name ends, where it ends (after ``>``)."""

    name: str
    start: int
    name_end: int
    end: int
    attributes: tuple[Attribute, ...]

    def attribute(self, name: str) -> Attribute | None:
        """Return the attribute of a name in small letters; of several the first, which counts."""
        return next((one for one in self.attributes if one.name == name), None)


def start_tag_at(html: str, start: int) -> StartTag | None:
    """Return the start tag that stands at an offset, or None where none does."""
    match = _TAG.match(html, start)
    if match is None or match.group(1) is None:
        return None
    attributes: list[Attribute] = []
    at = match.end()
    while found := _ATTRIBUTE.match(html, at):
        at = found.end()
        if found.group(1) is None:
            return StartTag(match.group(1).lower(), start, match.end(), at, tuple(attributes))
        attributes.append(_attribute(html, found))
        if at < len(html) and html[at] in "\"'":
            at += 1
    return None


def _attribute(html: str, found: re.Match[str]) -> Attribute:
    name, (start, name_end), end = found.group(1), found.span(1), found.end()
    if "=" not in html[name_end:end]:
        return Attribute(name.lower(), start, name_end, name_end, name_end, "", has_value=False)
    first = html.index("=", name_end) + 1
    while first < end and html[first].isspace():
        first += 1
    quote = html[first : first + 1] if html[first : first + 1] in ('"', "'") else ""
    if first >= end:
        quote = ""
    value = (first + 1, end - 1) if quote else (first, end)
    return Attribute(name.lower(), start, end, *value, quote, has_value=True)


def closed_by(html: str, start: int) -> str:
    """Return the name, in small letters, that the end tag at an offset closes."""
    match = _CLOSING.match(html, start)
    return match.group(1).lower() if match is not None else ""


def text_runs(html: str, start: int, end: int) -> Iterator[tuple[int, int]]:
    """Yield the runs of text between the tags, comments and raw texts of a piece of the source, as
    offsets; empty ones are left out."""
    at = start
    while at < end:
        match = _TAG.search(html, at, end)
        stop = match.start() if match is not None else end
        if stop > at:
            yield at, stop
        if match is None:
            return
        name = match.group(1)
        if name is None:
            at = _after_markup(html, match)
            continue
        at = _end_of_tag(html, match.end())
        if at < 0:
            return
        at = _after_raw_text(html, name.lower(), at)


class Lines:
    """Offsets as lines and columns, both counted from 1; CR LF is one line end."""

    def __init__(self, text: str) -> None:
        self._starts = [0, *(match.end() for match in re.finditer(r"\r\n|\r|\n", text))]

    @property
    def count(self) -> int:
        """How many lines there are."""
        return len(self._starts)

    def of(self, offset: int) -> tuple[int, int]:
        """Return the line and column of an offset."""
        line = bisect_right(self._starts, offset) - 1
        return line + 1, offset - self._starts[line] + 1

    def offset(self, line: int, column: int) -> int:
        """Return the offset of a line and column."""
        return self._starts[line - 1] + column - 1
