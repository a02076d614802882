"""Where what a page shows is written in the content that it is made from: elements of the page
paired with those of the stored blocks, or of the Markdown."""

from __future__ import annotations

import re
import unicodedata
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, replace
from difflib import SequenceMatcher
from functools import cached_property

from plumrake.core.blocks import marks_of, parse_blocks
from plumrake.core.dom import Element
from plumrake.core.findings import Finding
from plumrake.core.html_source import Lines
from plumrake.core.mending.markdown import MarkdownPage
from plumrake.core.mending.source_page import SourcePage
from plumrake.lenses.markup import parse_source

_FOLDED = str.maketrans(
    {"’": "'", "‘": "'", "“": '"', "”": '"', "–": "-", "—": "-", "…": "...", "\u00a0": " "}
)
_MOST_TEXT = 200
_ANCHOR_SIGNS = "#¶§🔗 "
"""What a generator puts at a heading's end as a link to it."""
_MOST_OF_BLOCKS = 2 / 3
Key = Callable[[Element], tuple[str, ...]]


@dataclass(frozen=True, eq=False)
class ContentPlaces:
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


def block_places(content: str, page: str, *, most_elements: int) -> ContentPlaces:
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
        own, seen = (
            [one.page.elements[index] for index in sorted(indices)]
            for one, indices in ((stored, inside), (shown, theirs.get(path, ())))
        )
        for one, other in _paired(own, seen, _key_with_addresses):
            pairs[shown.starts[other.index]] = stored.starts[one.index]
    return ContentPlaces(content, page, pairs)


def markdown_places(content: str, page: str, *, most_elements: int) -> ContentPlaces:
    """Pair the elements of Markdown with those of the page that is built of it, as ``block_places``
    does. Raises ``TooManyElements``."""
    from plumrake.lenses.markdown import parse_markdown  # only where there is Markdown

    stored = parse_markdown(content, "", most_elements=most_elements)
    shown = parse_source(page, "", most_elements=most_elements)
    pairs: dict[int, int] = {}
    for index, other in pairs_of_markdown(stored, shown).items():
        place = stored.offset_of(stored.page.elements[index])
        if place is not None:
            pairs[shown.starts[other]] = place
    return ContentPlaces(content, page, pairs)


def pairs_of_markdown(stored: MarkdownPage, shown: SourcePage) -> Mapping[int, int]:
    """Return the elements of a page by those of the Markdown that it is built of, both by their
    index. What stands outside of the part that holds most of it is the generator's."""
    own = [stored.page.elements[index] for index in sorted(stored.html.starts)]
    seen = [shown.page.elements[index] for index in sorted(shown.starts)]
    found = _paired(own, seen, _key_without_addresses)
    frame = _frame_of([other for one, other in found if one.parent is stored.page.body])
    return {
        one.index: other.index
        for one, other in found
        if frame is None or any(above is frame for above in other.ancestors())
    }


def _frame_of(blocks: Sequence[Element]) -> Element | None:
    """Return the innermost element that holds most of some blocks."""
    held: dict[int, int] = defaultdict(int)
    above = {one.index: one for block in blocks for one in block.ancestors()}
    for block in blocks:
        for one in block.ancestors():
            held[one.index] += 1
    most = [above[index] for index, count in held.items() if count >= _MOST_OF_BLOCKS * len(blocks)]
    return max(most, key=lambda one: sum(1 for _ in one.ancestors()), default=None)


def _paired(
    own: Sequence[Element], seen: Sequence[Element], key: Key
) -> list[tuple[Element, Element]]:
    matcher = SequenceMatcher(None, [*map(key, own)], [*map(key, seen)], autojunk=False)
    return [
        (own[here + at], seen[there + at])
        for here, there, length in matcher.get_matching_blocks()
        for at in range(length)
    ]


def _key_with_addresses(element: Element) -> tuple[str, ...]:
    return (*_key(element), element.get("src"), element.get("href"))


def _key_without_addresses(element: Element) -> tuple[str, ...]:
    """Return what an element is known by where the addresses in it are changed on the way out."""
    tag, text, alt = _key(element)
    return tag, text.rstrip(_ANCHOR_SIGNS), alt


def _key(element: Element) -> tuple[str, str, str]:
    """Return what an element is known by on both sides: its tag, its text as far as texts are not
    changed on the way out, a picture's text."""
    text = unicodedata.normalize("NFKC", element.text(_MOST_TEXT).translate(_FOLDED))
    text = re.sub(r"-{2,}", "-", re.sub(r"\s+", " ", text)).strip()
    return element.tag, text, element.get("alt")
