"""Source positions: where each start tag stands in the HTML text.

The HTML parser keeps no positions. So the start tags are found here by the tokenizer's rules (HTML
Standard, 13.2.5: comments, raw text and attribute values are passed over) and each is given a mark,
an attribute with its number, before the text is parsed. Whatever the tree builder moves or copies
carries its mark along.

Elements that nest deeper than browsers let them are ended on the way: the parser looks through all
open elements for each new one.
"""

from __future__ import annotations

import re
from bisect import bisect_right
from collections import Counter
from collections.abc import Iterator

from plumrake.core.vocabulary import BLOCK_TAGS, VOID_ELEMENTS

MARK = "data-plumrake-source"

_TAG = re.compile(r"<(?:!--|[!?/]|([A-Za-z][^\s/>\x00]*))")
_CLOSING = re.compile(r"</([A-Za-z][^\s/>\x00]*)")
_COMMENT_END = re.compile(r"--!?>")
_ATTRIBUTE = re.compile(
    r"""[\s/]*(?:>|([^\s/>=][^\s/>=]*|=[^\s/>=]*)(?:\s*=\s*(?:"[^"]*"|'[^']*'|[^\s>"'][^\s>]*)?)?)"""
)
_DEEPEST = 512
"""So many elements may be open at once."""
_TABLES = frozenset(["table", "template", "html"])
_AROUND_P = frozenset(
    "applet button caption html marquee object table td template th".split()  # "button scope"
)
_AROUND_LI = BLOCK_TAGS - {"address", "div", "p", "li", "dt", "dd"}
_AROUND_OPTION = frozenset(["select", "datalist", "optgroup"])
_ENDS: dict[str, tuple[frozenset[str], frozenset[str]]] = {
    "li": (frozenset(["li"]), _AROUND_LI),
    **dict.fromkeys(("dt", "dd"), (frozenset(["dt", "dd"]), _AROUND_LI)),
    **dict.fromkeys(("td", "th"), (frozenset(["td", "th"]), _TABLES | {"tr"})),
    "tr": (frozenset(["tr"]), _TABLES | {"tbody", "thead", "tfoot"}),
    **dict.fromkeys(("tbody", "thead", "tfoot"), (frozenset(["tbody", "thead", "tfoot"]), _TABLES)),
    "option": (frozenset(["option"]), _AROUND_OPTION),
    "optgroup": (frozenset(["optgroup"]), _AROUND_OPTION - {"optgroup"}),
}
"""By the name of a start tag: open elements that it ends although no end tag says so, and those
within which they are looked for (HTML Standard, 13.2.6.4)."""
_P = frozenset(["p"])
_FORMATTING = frozenset("a b big code em font i nobr s small strike strong tt u".split())
_ALIKE, _MOST_UNCLOSED = 3, 8
_RAW_TEXT = frozenset(
    ["script", "style", "textarea", "title", "xmp", "iframe", "noembed", "noframes"]
)


def mark_start_tags(html: str, most: int | None = None) -> tuple[str, list[int]] | None:
    """Return the HTML with a mark in every start tag, and the offset of each start tag by its
    number; None where there are more of them than ``most``."""
    out: list[str] = []
    offsets: list[int] = []
    copied = 0
    depth = _Depth()
    for start, end, name, closes in every_tag(html):
        if closes:
            if not depth.closes(name):
                out.append(html[copied:start])
                copied = end
            continue
        ended, is_marked = depth.opens(name)
        if ended:
            out.append(f"{html[copied:start]}</{ended}>")
            copied = start
        if not is_marked:
            continue
        insert = start + 1 + len(name)
        out.append(html[copied:insert])
        out.append(f' {MARK}="{len(offsets)}"')
        offsets.append(start)
        if most is not None and len(offsets) > most:
            return None
        copied = insert
    out.append(html[copied:])
    return "".join(out), offsets


class _Depth:
    """Follows which elements are open, nearly as the tree builder does, and keeps them to
    ``_DEEPEST``: what would lie deeper comes after the element that is open there instead of into
    it, as in browsers."""

    def __init__(self) -> None:
        self._open: list[str] = []
        self._counts: Counter[str] = Counter()
        self._unclosed: Counter[str] = Counter()
        self._ended: Counter[str] = Counter()
        """Elements that were ended before their end tag came."""

    def opens(self, name: str) -> tuple[str, bool]:
        """Take a start tag in; return the name of the element to be ended before it (``""`` for
        none), and whether it may be marked."""
        if name in VOID_ELEMENTS:
            return "", True
        if name in _FORMATTING:
            return self._opens_formatting(name)
        return self._opened(name), True

    def _opens_formatting(self, name: str) -> tuple[str, bool]:
        """Keep those that nobody closes few: the tree builder makes each of them again in every
        block that follows, all that differ, and the last three that are alike. Marks make them
        differ."""
        self._unclosed[name] = 1 if name == "a" else self._unclosed[name] + 1
        if self._unclosed[name] <= _MOST_UNCLOSED:
            return self._opened(name), self._unclosed[name] <= _ALIKE
        self._unclosed[name] -= 1
        self._ended[name] += 1
        return name, False

    def _opened(self, name: str) -> str:
        if name in _ENDS:
            self._end(*_ENDS[name])
        if name in BLOCK_TAGS and self._counts["p"]:
            self._end(_P, _AROUND_P)
        ended = ""
        if len(self._open) >= _DEEPEST:
            ended = self._pop()
            self._ended[ended] += 1
        self._open.append(name)
        self._counts[name] += 1
        return ended

    def closes(self, name: str) -> bool:
        """Tell whether an end tag is kept: not where it is that of an element ended before."""
        if self._unclosed[name]:
            self._unclosed[name] -= 1
        if self._ended[name]:
            self._ended[name] -= 1
            return False
        while self._counts[name]:
            if self._pop() == name:
                break
        return True

    def _end(self, ended: frozenset[str], within: frozenset[str]) -> None:
        """Close the innermost of some elements, with all in it."""
        for at in range(len(self._open) - 1, -1, -1):
            if self._open[at] in ended:
                for _ in range(len(self._open) - at):
                    self._pop()
                return
            if self._open[at] in within:
                return

    def _pop(self) -> str:
        name = self._open.pop()
        self._counts[name] -= 1
        return name


def every_tag(html: str) -> Iterator[tuple[int, int, str, bool]]:
    """Yield every tag in order: the offsets where it starts and where it ends, its name in small
    letters, and whether it closes."""
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
        at = _after_raw_text(html, name.lower(), end)


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
    if name not in _RAW_TEXT:
        return at
    end = re.compile(rf"</{name}(?=[\s/>])", re.I).search(html, at)
    return end.start() if end else len(html)


class Lines:
    """Offsets as lines and columns, both counted from 1; CR LF is one line end."""

    def __init__(self, text: str) -> None:
        self._starts = [0, *(match.end() for match in re.finditer(r"\r\n|\r|\n", text))]

    def of(self, offset: int) -> tuple[int, int]:
        """Return the line and column of an offset."""
        line = bisect_right(self._starts, offset) - 1
        return line + 1, offset - self._starts[line] + 1

    def offset(self, line: int, column: int) -> int:
        """Return the offset of a line and column."""
        return self._starts[line - 1] + column - 1
