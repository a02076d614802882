"""What a page is made of by its source and its style sheets, as far as the browser may show more of
it than they do.

A page that is made of nothing but what the browser has shown on other pages just as their sources
say need not be read in the browser: what the checks of its source find is what they would find
there. The patterns are those of ``patterns.py``, seen without a layout, and whatever else a browser
has to be asked about: pictures, embedded things, the words on small controls.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass

from plumrake.core.dom import Element, Text
from plumrake.core.page import Page
from plumrake.core.patterns import element_key, keys_of_code, keys_of_words, number_of

_SHORT = 3
"""From so many letters on a link or button is large enough to be hit."""
_OPERATED = frozenset(["a", "button", "summary", "label"])
_FIRST, _LEAST_SHARE, _NOW_AND_THEN = 30, 0.2, 10
"""So many pages are compared before it is asked whether that is worth while: that so large a share
of the pages is read by its source. Where it is not, one page in so many is compared."""
_MOST_MADE = 40
"""Of more elements that scripts make nobody asks whether they are the same everywhere."""
_DRAWN_IN = {
    "script": "src",
    "img": "src",
    "iframe": "src",
    "frame": "src",
    "embed": "src",
    "object": "data",
    "video": "src",
    "audio": "src",
    "source": "srcset",
    "use": "href",
}
_UNSEEN = frozenset(["script", "style", "link", "meta", "noscript", "template", "title"])


@dataclass(frozen=True, slots=True)
class Tree:
    """What can be met in a page's body, as numbers: all of it, what of it is written in the source,
    and each element that is not: the parser implies it, or a script made it. Of a page that scripts
    make much of those are not told."""

    whole: int
    written: int
    unwritten: frozenset[int]

    def more_than(self, source: Tree) -> frozenset[int] | None:
        """Return what scripts made of a source, where that is all that differs; else None."""
        if self.whole == source.whole:
            return frozenset()
        if self.written != source.written:
            return None
        return self.unwritten - source.unwritten or None


@dataclass(frozen=True, slots=True)
class Written:
    """What a page is made of by its source and style sheets: its patterns, and its tree.
    ``is_whole``: all its pictures were seen in the browser on other pages."""

    patterns: frozenset[int]
    tree: Tree
    is_whole: bool = True


@dataclass(slots=True)
class Compared:
    """How many pages of a sweep were compared in this process, and how many were read by their
    source."""

    compared: int = 0
    stood: int = 0
    seen: int = 0

    def is_worth_while(self) -> bool:
        """Tell whether comparing another page is."""
        self.seen += 1
        is_often = self.stood >= _LEAST_SHARE * self.compared
        return self.compared < _FIRST or is_often or self.seen % _NOW_AND_THEN == 0


def written_patterns(page: Page, sheets: Mapping[str, str]) -> frozenset[int]:
    """Return the patterns of a page by its source, as numbers of 64 bits; ``sheets`` are the hashes
    of its style sheets by address."""
    styles: dict[int, str] = {}
    seen: set[object] = set()
    for element in page.elements:
        seen.update(_keys(element, styles))
    seen.update(("sheet", address, content) for address, content in sheets.items())
    return frozenset(map(_number, seen))


def patterns_at(page: Page, elements: Iterable[Element]) -> frozenset[int]:
    """Return the patterns of elements of a page."""
    styles: dict[int, str] = {}
    return frozenset(_number(("element", *element_key(one, styles))) for one in elements)


def tree_of(page: Page) -> Tree:
    """Return the tree of a page's body. Where no script runs, all of it is written."""
    seen = [one for one in (page.body, *_seen(page.body)) if not one.tag.startswith("-")]
    whole = _number_of_tags(seen)
    if not any(one.tag == "script" for one in page.elements):
        return Tree(whole, whole, frozenset())
    place = page.document.position_of
    unwritten = [one for one in seen if place(one) is None]
    without = {one.index for one in unwritten}
    written = _number_of_tags([one for one in seen if one.index not in without])
    told = unwritten if len(unwritten) <= _MOST_MADE else []
    return Tree(whole, written, frozenset(_number(_made_by_script(one)) for one in told))


def _number_of_tags(elements: list[Element]) -> int:
    return number_of(tuple(one.tag for one in elements))


def _made_by_script(element: Element) -> object:
    """Return what an element that is not written is known by: whatever it says and is."""
    parent = element.parent
    says = tuple(one.data.strip() for one in element.children if isinstance(one, Text))
    within = parent.tag if parent is not None else ""
    return "made", within, element.tag, sorted(element.attributes.items()), says


def _seen(body: Element) -> Iterator[Element]:
    """Yield what lies in a body and can be met by anybody: no scripts, no style sheets."""
    stack = [*reversed(list(body.elements()))]
    while stack:
        element = stack.pop()
        if element.tag not in _UNSEEN:
            yield element
            stack.extend(reversed(list(element.elements())))


def _number(key: object) -> int:
    return number_of(("written", key))


def _keys(element: Element, styles: dict[int, str]) -> Iterator[object]:
    yield ("element", *element_key(element, styles))
    yield from keys_of_code(element)
    yield from keys_of_words(element)
    name = _DRAWN_IN.get(element.tag)
    if name is not None and element.has(name):
        yield "drawn in", element.tag, element.get(name)
    if element.tag in _OPERATED:
        letters = sum(len(one.data.strip()) for one in element.children if isinstance(one, Text))
        yield "letters", element.tag, min(_SHORT, letters)
