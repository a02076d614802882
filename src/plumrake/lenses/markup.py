"""The markup lens: HTML text to a document, no browser, no styles."""

from __future__ import annotations

import contextlib
import re
from collections import Counter
from dataclasses import dataclass

from selectolax.lexbor import LexborHTMLParser, LexborNode
from webencodings import UTF8, Encoding, lookup
from webencodings import decode as web_decode

from plumrake.core.dom import Document, Element, Text
from plumrake.core.html_source import Lines, closed_by
from plumrake.core.mending.source_page import SourcePage
from plumrake.core.overtaking import go_on
from plumrake.core.page import Page
from plumrake.lenses.source import MARK, Marked, mark_tags

GIVES = frozenset({"tree", "page"})
WINDOWS_1252 = lookup("windows-1252")
_LEFT_OUT = frozenset({"-comment", "!doctype", "-document", "-undef", "#comment"})


class TooManyElements(ValueError):
    """The page has more elements than may be read."""

    code = "too-many-elements"

    def __init__(self, most: int) -> None:
        super().__init__(
            f"the page has more than {most:,} elements; raise the limit or part the page"
        )


def parse_document(html: str, address: str, *, most_elements: int = 200_000) -> Document:
    """Return the document that ``html`` is (HTML Standard, 13.2). Raises ``TooManyElements``."""
    return _parse(html, address, most_elements, ends=False).document


def parse_source(
    html: str,
    address: str,
    *,
    most_elements: int = 200_000,
    closed: frozenset[int] = frozenset(),
) -> SourcePage:
    """Return the page that ``html`` is, with where each element is written; the elements whose
    start tags stand at the offsets of ``closed`` end with them. Raises ``TooManyElements``.

    An end tag belongs to the nearest open element of its name. What the tree builder makes of a
    tag more than once, or moves, has no place of its own.
    """
    parsed = _parse(html, address, most_elements, ends=True, closed=closed)
    times = Counter(parsed.numbers.values())
    numbers = {index: one for index, one in parsed.numbers.items() if times[one] == 1}
    starts = {index: parsed.marked.offsets[number] for index, number in numbers.items()}
    ends = {
        index: parsed.marked.ends_of_raw[number]
        for index, number in numbers.items()
        if number in parsed.marked.ends_of_raw
    }
    for number, parent in parsed.comments:
        span = parsed.marked.ends[number]
        name = closed_by(html, span[0])
        element = next(
            (one for one in (parent, *parent.ancestors()) if one.tag.lower() == name), None
        )
        if element is not None and element.index in starts and element.index not in ends:
            ends[element.index] = span
    return SourcePage(html, Page(parsed.document), starts, ends)


@dataclass(frozen=True, slots=True)
class _Parsed:
    """A document, the numbers of its elements' start tags, and the marks before end tags by the
    element that they stand in."""

    document: Document
    marked: Marked
    numbers: dict[int, int]
    comments: list[tuple[int, Element]]


def _parse(
    html: str,
    address: str,
    most_elements: int,
    *,
    ends: bool,
    closed: frozenset[int] = frozenset(),
) -> _Parsed:
    marked = mark_tags(
        html, 2 * most_elements, ends=ends, closed=closed
    )  # a few tags may make no element
    if marked is None:
        raise TooManyElements(most_elements)
    parser = LexborHTMLParser(marked.html)
    elements: list[Element] = []
    comments: list[tuple[int, Element]] = []
    top = parser.root
    assert top is not None, "the HTML parser always makes a root"
    root = _element(top, None, elements)
    stack: list[tuple[LexborNode | None, Element]] = [(top.first_child, root)]
    while stack:
        node, parent = stack.pop()
        if node is None:
            continue
        go_on()
        stack.append((node.next, parent))
        tag = node.tag
        if tag == "-text":
            parent.children.append(Text(node.text_content or "", parent))
        elif tag == "-comment":
            said = (node.comment_content or "") if ends else ""
            if said.startswith(marked.of_ends):
                comments.append((int(said.removeprefix(marked.of_ends)), parent))
        elif tag is not None and tag not in _LEFT_OUT and not tag.startswith("-"):
            element = _element(node, parent, elements)
            if len(elements) > most_elements:
                raise TooManyElements(most_elements)
            stack.append((node.first_child, element))
    numbers = _set_positions(elements, marked.offsets, Lines(html))
    document = Document(
        address=address,
        lens="markup",
        root=root,
        elements=tuple(elements),
        gives=GIVES,
        source=html,
    )
    return _Parsed(document, marked, numbers, comments)


def _element(node: LexborNode, parent: Element | None, elements: list[Element]) -> Element:
    attributes = {name: value or "" for name, value in node.attributes.items()}
    element = Element(len(elements), str(node.tag), attributes, parent)
    element.namespace = _namespace(element.tag, parent)
    elements.append(element)
    if parent is not None:
        parent.children.append(element)
    return element


def _namespace(tag: str, parent: Element | None) -> str:
    if tag in ("svg", "math"):
        return tag
    if (
        parent is None
        or parent.namespace == "html"
        or parent.tag in ("foreignObject", "desc", "annotation-xml")
    ):
        return "html"
    return "html" if parent.namespace == "svg" and parent.tag == "title" else parent.namespace


def _set_positions(elements: list[Element], offsets: list[int], lines: Lines) -> dict[int, int]:
    """Give every element its line and column; one that the parser implied takes the next start
    tag's, else the last one's. Return the numbers of start tags by element index."""
    numbers: dict[int, int] = {}
    following: int | None = None
    for element in reversed(elements):
        mark = element.attributes.pop(MARK, None)
        offset = following
        if mark is not None and mark.isdigit() and int(mark) < len(offsets):
            numbers[element.index] = int(mark)
            offset = offsets[int(mark)]
        if offset is None:
            offset = offsets[-1] if offsets else 0
        element.line, element.column = lines.of(offset)
        following = offset
    return numbers


def decode(body: bytes, charset: str | None) -> str:
    """Return the text of an HTML body (Encoding Standard, 6; HTML Standard, 13.2.3.2).

    The byte order mark goes first, then the charset of HTTP, then ``meta``, then UTF-8, then
    Windows-1252. Labels are those of the Encoding Standard: ``x-sjis`` is Shift_JIS, ``latin1`` is
    Windows-1252. What cannot be decoded becomes U+FFFD.
    """
    return decoded(body, charset).text


@dataclass(frozen=True, slots=True)
class Encoded:
    """The text of a body, the encoding that it is in (its name, and Python's codec for it), and how
    many bytes of a byte order mark stand before it. Where nothing names an encoding and there are
    only ASCII characters, that is what it is."""

    text: str
    name: str
    codec: str
    skipped: int


_MARKS = ((b"\xef\xbb\xbf", "utf-8"), (b"\xfe\xff", "utf-16-be"), (b"\xff\xfe", "utf-16-le"))


def decoded(body: bytes, charset: str | None) -> Encoded:
    """Return the text of an HTML body, as ``decode`` does, and how it is encoded."""
    for mark, name in _MARKS:
        if body.startswith(mark):
            text = body[len(mark) :].decode(name, "replace")
            return Encoded(text, name, name, len(mark))
    encoding = (lookup(charset) if charset else None) or _by_meta(body)
    if encoding is None:
        for name in ("ascii", "utf-8"):
            with contextlib.suppress(UnicodeDecodeError):
                return Encoded(body.decode(name), name, name, 0)
        encoding = WINDOWS_1252
    text, _ = web_decode(body, encoding, errors="replace")
    return Encoded(str(text), encoding.name, encoding.codec_info.name, 0)


def _by_meta(body: bytes) -> Encoding | None:
    """Return the encoding that a ``meta`` names; UTF-16 cannot be meant there, and is UTF-8."""
    label = _meta_charset(body)
    encoding = lookup(label) if label else None
    return UTF8 if encoding is not None and encoding.name.startswith("utf-16") else encoding


def _meta_charset(body: bytes) -> str | None:
    match = re.search(
        rb"<meta[^>]{0,200}?charset\s*=\s*[\"']?\s*([A-Za-z0-9_.:-]+)", body[:4096], re.I
    )
    return match.group(1).decode("ascii") if match else None
