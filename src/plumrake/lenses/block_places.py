"""Where what a page shows is written in the content that it is made from: elements of the marked
page paired with those of the stored blocks."""

from __future__ import annotations

import re
import unicodedata
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, replace
from difflib import SequenceMatcher
from functools import cached_property

from plumrake.core.blocks import marks_of, parse_blocks
from plumrake.core.dom import Element
from plumrake.core.findings import Finding
from plumrake.core.html_source import Lines
from plumrake.core.mending.source_page import SourcePage
from plumrake.lenses.markup import parse_source

_FOLDED = str.maketrans(
    {"’": "'", "‘": "'", "“": '"', "”": '"', "–": "-", "—": "-", "…": "...", "\u00a0": " "}
)
_MOST_TEXT = 200


@dataclass(frozen=True, eq=False)
class BlockPlaces:
    """A content as it is stored, the page that it made, and the offsets of elements that are in
    both: ``stored`` by offset in the page, ``shown`` by offset in the content."""

    content: str
    page: str
    stored: dict[int, int]

    @cached_property
    def shown(self) -> dict[int, int]:
        """Offsets in the page by those in the content."""
        return {there: here for here, there in self.stored.items()}

    @cached_property
    def _lines(self) -> tuple[Lines, Lines]:
        return Lines(self.page), Lines(self.content)

    def placed(self, findings: Iterable[Finding]) -> tuple[Finding, ...]:
        """Return findings of the page with line and column in the content; without where their
        element is not surely written there."""
        page_lines, lines = self._lines
        found: list[Finding] = []
        for one in findings:
            at = None
            if one.line is not None and one.column is not None and one.line <= page_lines.count:
                at = self.stored.get(page_lines.offset(one.line, one.column))
            line, column = lines.of(at) if at is not None else (None, None)
            found.append(replace(one, line=line, column=column))
        return tuple(found)

    def shown_at(self, place: int) -> tuple[int, int] | None:
        """Return line and column in the page of what is written at an offset of the content."""
        at = self.shown.get(place)
        return self._lines[0].of(at) if at is not None else None


def block_places(content: str, page: str, *, most_elements: int) -> BlockPlaces:
    """Pair the elements of a content with those of the page that it made, block by block. What
    differs in more than white space, quotation marks and dashes is no pair. Raises
    ``TooManyElements``."""
    stored = parse_source(content, "", most_elements=most_elements)
    shown = parse_source(page, "", most_elements=most_elements)
    blocks = [one for block in parse_blocks(content) for one in block.walk()]
    names = {block.path: block.name for block in blocks}
    marks = marks_of(page)
    ours: dict[str, list[int]] = defaultdict(list)
    for index, start in stored.starts.items():
        path = next((block.path for block in blocks if block.own(start)), "")
        ours[path].append(index)
    theirs: dict[str, list[int]] = defaultdict(list)
    for index, start in shown.starts.items():
        if not marks.is_content(start):
            continue
        mark = marks.at(start)
        if mark is None:
            theirs[""].append(index)
        elif names.get(mark.path) == mark.name:
            theirs[mark.path].append(index)
    pairs: dict[int, int] = {}
    for path, inside in ours.items():
        pairs |= _paired(stored, sorted(inside), shown, sorted(theirs.get(path, ())))
    return BlockPlaces(content, page, pairs)


def _paired(
    stored: SourcePage, ours: Sequence[int], shown: SourcePage, theirs: Sequence[int]
) -> dict[int, int]:
    own = [_key(stored.page.elements[index]) for index in ours]
    seen = [_key(shown.page.elements[index]) for index in theirs]
    pairs: dict[int, int] = {}
    for here, there, length in SequenceMatcher(
        None, own, seen, autojunk=False
    ).get_matching_blocks():
        for at in range(length):
            pairs[shown.starts[theirs[there + at]]] = stored.starts[ours[here + at]]
    return pairs


def _key(element: Element) -> tuple[str, ...]:
    """Return what an element is known by on both sides: its tag, its text as far as texts are not
    changed on the way out, where it leads."""
    text = unicodedata.normalize("NFKC", element.text(_MOST_TEXT).translate(_FOLDED))
    text = re.sub(r"-{2,}", "-", re.sub(r"\s+", " ", text)).strip()
    return (element.tag, text, *(element.get(name) for name in ("src", "href", "alt")))
