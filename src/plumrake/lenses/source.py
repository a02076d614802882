"""Source positions: where each start tag stands in the HTML text.

The HTML parser keeps no positions. So the start tags are found here by the tokenizer's rules (HTML
Standard, 13.2.5: comments, raw text and attribute values are passed over) and each is given a mark,
an attribute with its number, before the text is parsed. Whatever the tree builder moves or copies
carries its mark along.

Elements that nest deeper than browsers let them are ended on the way: the parser looks through all
open elements for each new one.
"""

from __future__ import annotations

import secrets
from collections import Counter
from dataclasses import dataclass, replace

from plumrake.core.html_source import RAW_TEXT, every_tag
from plumrake.core.overtaking import go_on
from plumrake.core.vocabulary import BLOCK_TAGS, VOID_ELEMENTS

MARK = "data-plumrake-source"

Span = tuple[int, int]

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


@dataclass(frozen=True, slots=True)
class Marked:
    """HTML with a mark in every start tag, and the offset of each by its number. Where end tags
    were wanted, a comment stands before each of those outside of raw text, with its number, and
    ``ends`` are their spans; those of raw text are named by their start tag's number instead."""

    html: str
    offsets: list[int]
    ends: list[Span]
    ends_of_raw: dict[int, Span]
    of_ends: str
    """What such a comment begins with: no page knows it."""


def mark_tags(
    html: str,
    most: int | None = None,
    *,
    ends: bool = False,
    closed: frozenset[int] = frozenset(),
) -> Marked | None:
    """Return the HTML with marks in its tags; None where there are more start tags than
    ``most``. The elements whose start tags stand at the offsets of ``closed`` end with them."""
    out: list[str] = []
    found = Marked("", [], [], {}, f"{MARK}-{secrets.token_hex(8)}=")
    copied = 0
    depth = _Depth()
    raw = ""
    for start, end, name, closes in every_tag(html, closed):
        go_on()
        if closes:
            if not depth.closes(name):
                out.append(html[copied:start])
                copied = end
            elif ends and raw == name:
                found.ends_of_raw[len(found.offsets) - 1] = start, end
            elif ends:
                out.append(f"{html[copied:start]}<!--{found.of_ends}{len(found.ends)}-->")
                found.ends.append((start, end))
                copied = start
            raw = ""
            continue
        ended, is_marked = depth.opens(name)
        raw = name if name in RAW_TEXT and is_marked else ""
        if ended:
            out.append(f"{html[copied:start]}</{ended}>")
            copied = start
        if not is_marked:
            continue
        insert = start + 1 + len(name)
        out.append(html[copied:insert])
        out.append(f' {MARK}="{len(found.offsets)}"')
        found.offsets.append(start)
        if most is not None and len(found.offsets) > most:
            return None
        copied = insert
        if start in closed:
            out.append(f"{html[copied:end]}</{name}>")
            copied, raw = end, ""
            depth.closes(name)
    out.append(html[copied:])
    return replace(found, html="".join(out))


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
