"""What a page is made of, as far as other layouts and pressing Tab can go wrong with it.

Trying other layouts and pressing Tab through a page is half of what reading it costs, and most
pages of a managed site differ from pages already tried in their words only. A pattern is one thing
that such a trial depends on: an element with its parent, its classes and its computed style, a
script, a style sheet, a word too long for a narrow window. Where all patterns of a page were tried
elsewhere and nothing was found at them, trying again finds nothing new, or hardly ever.
"""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from enum import IntFlag
from functools import lru_cache, reduce
from hashlib import blake2b
from itertools import chain
from operator import or_

from plumrake.core.dom import Element, Style, Text
from plumrake.core.evidence import Trials, Walk
from plumrake.core.page import Page
from plumrake.core.selectors import looks_hand_made

_LOW = 200
"""CSS px: what is lower may cut its text off when that grows."""
_LONG_WORD = 24
"""Characters that hardly fit into 320 CSS px at the usual size of text."""
_MOST_ANYWAY = 100
"""Of a large site so many pages of a sweep are tried though their like was tried before: a fault in
one of thirty such pages is met all the same, nineteen times of twenty."""
_FEW = 10
"""A share of one in so many, or fewer pages, is bounded so."""
_DIGITS = re.compile(r"\d+")
_SPACES = re.compile(r"\s+")
_WORD = re.compile(rf"\S{{{_LONG_WORD},}}")
_ON = ("tabindex", "contenteditable", "type", "role", "style", "nowrap", "width", "height")
"""Attributes that bear on layout or focus, beside those that scripts hang on (``on…``)."""
_DATA = ("json", "template", "html", "x-")
"""Of the types of scripts: those that are data."""


class Part(IntFlag):
    """What is tried with a page: a narrow window, larger text and wider spacing, Tab; and whether
    the browser shows anything that the source and its style sheets do not."""

    NARROW = 1
    TEXT = 2
    KEYBOARD = 4
    BROWSER = 8


ALL_PARTS = Part.NARROW | Part.TEXT | Part.KEYBOARD
"""All that a page is tried with in the browser."""


@dataclass(frozen=True, slots=True)
class Stand:
    """A page that was tried and may stand for another, but for the parts that are to be tried all
    the same, since something was found by them at what both are made of."""

    at: str
    but: Part


@dataclass(slots=True)
class TriedPatterns:
    """What was tried of a site: patterns with the page that they were tried on and the parts by
    which something was found at them."""

    known: dict[int, tuple[str, Part]] = field(default_factory=dict)

    def learn(self, path: str, pattern: int, faulty: Part) -> None:
        """Learn that a pattern was tried on a page; by what it was faulty once, it stays so."""
        before = self.known.get(pattern)
        if before is None:
            self.known[pattern] = path, faulty
        elif before[1] | faulty != before[1]:
            self.known[pattern] = before[0], before[1] | faulty

    def take(self, path: str, tried: Mapping[int, Part]) -> dict[int, Part]:
        """Learn what was tried on a page; return what of it was not known."""
        fresh = {
            pattern: faulty
            for pattern, faulty in tried.items()
            if pattern not in self.known or faulty not in self.known[pattern][1]
        }
        for pattern, faulty in fresh.items():
            self.learn(path, pattern, faulty)
        return fresh

    def knows(self, patterns: frozenset[int]) -> bool:
        """Tell whether all of some patterns were tried."""
        return all(one in self.known for one in patterns)

    def stand_for(self, patterns: frozenset[int]) -> Stand | None:
        """Return the page on which most of the patterns were tried, if all were."""
        tried = [self.known[one] for one in patterns if one in self.known]
        if not tried or len(tried) < len(patterns):
            return None
        but = reduce(or_, (faulty for _, faulty in tried), Part(0))
        return Stand(Counter(path for path, _ in tried).most_common(1)[0][0], but)


def share_anyway(share: int, pages: int) -> int:
    """Return of how many pages of a sweep one is tried though its like was tried before, from the
    policy's share and the number of pages."""
    return share if share < _FEW else max(share, -(-pages // _MOST_ANYWAY))


def patterns_of(page: Page, drawn: Mapping[str, str]) -> frozenset[int]:
    """Return the patterns of a page as numbers of 64 bits; ``drawn`` are the hashes of the files
    that it draws in, by address (``""`` where a file's content is not known)."""
    styles: dict[int, str] = {}
    seen: set[object] = set()
    for element in page.elements:
        seen.add(element_key(element, styles))
        seen.update(keys_of_code(element))
        if element.box is not None:
            seen.update(keys_of_words(element))
    seen.update(("file", address, content) for address, content in drawn.items())
    return frozenset(number_of(one) for one in seen)


def found_at(page: Page, trials: Trials | None, walk: Walk | None) -> dict[int, Part]:
    """Return the patterns of elements at which something was found, each with the parts that
    showed it."""
    at: dict[int, Part] = {}

    def note(index: int | None, part: Part) -> None:
        if index is not None:
            at[index] = at.get(index, Part(0)) | part

    if trials is not None:
        for index, _ in trials.too_wide or ():
            note(index, Part.NARROW)
        for misfit in (*(trials.doubled or ()), *(trials.spaced or ())):
            note(misfit.element, Part.TEXT)
            note(misfit.other, Part.TEXT)
    if walk is not None:
        for index in (*walk.trapped, *walk.unmarked, *walk.unseen, *chain(*walk.covered)):
            note(index, Part.KEYBOARD)
    styles: dict[int, str] = {}
    found: dict[int, Part] = {}
    for index, parts in at.items():
        pattern = number_of(element_key(page.elements[index], styles))
        found[pattern] = found.get(pattern, Part(0)) | parts
    return found


def number_of(key: object) -> int:
    """Return what stands for a pattern: a number of 64 bits."""
    digest = blake2b(repr(key).encode("utf-8", "replace"), digest_size=8).digest()
    return int.from_bytes(digest, "big", signed=True)


def element_key(element: Element, styles: dict[int, str]) -> tuple[object, ...]:
    """Return what of an element bears on its layout and on focus; ``styles`` are kept between the
    elements of a page."""
    parent = element.parent
    return (
        parent.tag if parent is not None else "",
        element.tag,
        *_classes(element.get("class")),
        _style(element.style, styles),
        *((name, value) for name, value in element.attributes.items() if _bears(name)),
        *sorted(element.listeners),
        _filling(element),
    )


@lru_cache(4096)
def _classes(written: str) -> tuple[str, ...]:
    names = (name for name in written.split() if looks_hand_made(name))
    return tuple(_DIGITS.sub("", name) for name in names)


def _style(style: Style | None, known: dict[int, str]) -> str:
    """Return what stands for a style; elements of one page that look alike share theirs."""
    if style is None:
        return ""
    if id(style) not in known:
        known[id(style)] = blake2b("|".join(style).encode(), digest_size=8).hexdigest()
    return known[id(style)]


def _bears(name: str) -> bool:
    return name in _ON or name.startswith("on")


def _filling(element: Element) -> int:
    """Return how full an element is that cannot grow with what it holds, in powers of two."""
    style = element.style
    if style is None or (element.box is None and element.certainty is None):
        return 0
    if "flex" in style.display:
        return sum(1 for _ in element.elements()).bit_length()
    keeps = style.position in ("absolute", "fixed") or "visible" not in (
        style.overflow_x,
        style.overflow_y,
    )
    is_low = element.box is None or element.box[3] < _LOW
    return len(element.text(4096)).bit_length() if keeps and is_low else 0


def keys_of_code(element: Element) -> Iterable[tuple[str, str]]:
    """Yield what a script or a style sheet in the page does, numbers apart; data is none."""
    if element.tag not in ("script", "style") or element.has("src"):
        return
    if any(one in element.get("type").lower() for one in _DATA):
        return
    code = "".join(text.data for text in element.texts())
    if element.tag == "script":
        code = _DIGITS.sub("", code)
    yield element.tag, _SPACES.sub(" ", code)


def keys_of_words(element: Element) -> Iterable[tuple[str, str, int]]:
    """Yield how long the words of an element are that may be too long for a narrow window, and the
    lines that do not wrap, in powers of two."""
    if element.tag in ("script", "style"):
        return
    if element.tag in ("pre", "textarea"):
        lines = "".join(text.data for text in element.texts()).splitlines()
        yield "lines", element.tag, max(map(len, lines), default=0).bit_length()
        return
    for child in element.children:
        if isinstance(child, Text) and len(child.data) >= _LONG_WORD and element.tag != "option":
            for word in _WORD.findall(child.data):
                yield "word", element.tag, len(word) // 8
