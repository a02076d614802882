"""The markup lens: HTML text to a document, no browser, no styles."""

from __future__ import annotations

import re

from selectolax.lexbor import LexborHTMLParser, LexborNode
from webencodings import UTF8, Encoding, lookup
from webencodings import decode as web_decode

from plumrake.core.dom import Document, Element, Text
from plumrake.lenses.source import MARK, Lines, mark_start_tags

GIVES = frozenset({"tree"})
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
    found = mark_start_tags(html, 2 * most_elements)  # a few tags may make no element
    if found is None:
        raise TooManyElements(most_elements)
    marked, offsets = found
    parser = LexborHTMLParser(marked)
    elements: list[Element] = []
    top = parser.root
    assert top is not None, "the HTML parser always makes a root"
    root = _element(top, None, elements)
    stack: list[tuple[LexborNode | None, Element]] = [(top.first_child, root)]
    while stack:
        node, parent = stack.pop()
        if node is None:
            continue
        stack.append((node.next, parent))
        tag = node.tag
        if tag == "-text":
            parent.children.append(Text(node.text_content or "", parent))
        elif tag is not None and tag not in _LEFT_OUT and not tag.startswith("-"):
            element = _element(node, parent, elements)
            if len(elements) > most_elements:
                raise TooManyElements(most_elements)
            stack.append((node.first_child, element))
    _set_positions(elements, offsets, Lines(html))
    return Document(
        address=address,
        lens="markup",
        root=root,
        elements=tuple(elements),
        gives=GIVES,
        source=html,
    )


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


def _set_positions(elements: list[Element], offsets: list[int], lines: Lines) -> None:
    """Give every element its line and column; one that the parser implied takes the next start
    tag's, else the last one's."""
    following: int | None = None
    for element in reversed(elements):
        mark = element.attributes.pop(MARK, None)
        offset = (
            offsets[int(mark)]
            if mark is not None and mark.isdigit() and int(mark) < len(offsets)
            else following
        )
        if offset is None:
            offset = offsets[-1] if offsets else 0
        element.line, element.column = lines.of(offset)
        following = offset


def decode(body: bytes, charset: str | None) -> str:
    """Return the text of an HTML body (Encoding Standard, 6; HTML Standard, 13.2.3.2).

    The byte order mark goes first, then the charset of HTTP, then ``meta``, then UTF-8, then
    Windows-1252. Labels are those of the Encoding Standard: ``x-sjis`` is Shift_JIS, ``latin1`` is
    Windows-1252. What cannot be decoded becomes U+FFFD.
    """
    found = lookup(charset) if charset else None
    encoding = found or _by_meta(body)
    if encoding is None and not body.startswith((b"\xfe\xff", b"\xff\xfe", b"\xef\xbb\xbf")):
        try:
            return body.decode("utf-8")
        except UnicodeDecodeError:
            encoding = lookup("windows-1252")
    text, _ = web_decode(body, encoding or UTF8, errors="replace")
    return str(text)


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
