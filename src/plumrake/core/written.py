"""The words that stand on a page, cut out of its texts, titles and text alternatives, as far as a
dictionary has a say in them.

What is no word of a language is left out: addresses, code, numbers with their units, short forms in
capitals, names.
"""

from __future__ import annotations

import re
import unicodedata
from bisect import bisect_right
from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import dataclass
from functools import lru_cache
from typing import NamedTuple, Protocol

from plumrake.core.dom import Element, Text
from plumrake.core.overtaking import go_on
from plumrake.core.semantics.names import sets_words_apart

_NO_PROSE = frozenset(
    (
        "code kbd samp var tt pre script style template noscript textarea abbr acronym del s math "
        "object iframe"
    ).split()
)
_ATTRIBUTES: tuple[tuple[str, frozenset[str]], ...] = (
    ("alt", frozenset(["img", "area", "input"])),
    ("title", frozenset()),
    ("aria-label", frozenset()),
    ("aria-description", frozenset()),
    ("placeholder", frozenset(["input", "textarea"])),
    ("label", frozenset(["optgroup", "option", "track"])),
)
_BUTTONS = ("submit", "button", "reset")
_HOLE = "\ufffc"
_UNSEEN = dict.fromkeys(map(ord, "\u00ad\u200b\u200c\u200d\u200e\u200f\u2060\ufeff"))
_NO_WORD = re.compile(
    r"""
      \b(?:[a-z][a-z0-9+.-]*://|mailto:|tel:|www\.)\S+  # addresses
    | [\w.+-]+@[\w-]+(?:\.[\w-]+)*  # of mail
    | [@#$%&\\][\w-]+  # accounts, tags, variables, entities
    | (?<![\w.])(?:~|\.{1,2})?/[\w.~%+-]+(?:/[\w.~%+-]*)*  # paths
    | (?<!\w)--?[a-z][\w-]* | <[\w-]+>  # options, and what stands for something else
    | \b[\w-]+(?:\.[\w-]+)+(?:/\S*)?  # hosts, files, e.g.
    | \b\w+\([^\s()]*\)  # calls, and words with an optional ending
    | \b\d[\d.,:/]*[\s\u00a0\u202f]?[^\W\d_]{1,3}\b  # numbers with units
    | \b[\w-]*[\d_][\w-]*  # what holds a digit or an underscore
    """,
    re.VERBOSE,
)
_MAY_BE_NO_WORD = re.compile(r"[@#$%&\\/<(\d_-]|\.\w|:\S")
"""What is in a text in which something is no word."""
_LETTERS = r"[^\W\d_](?:[^\W\d_]|[\u0300-\u036f])*"
_WORD = re.compile(rf"{_LETTERS}(?:['’ʼ‘]{_LETTERS})*(?:[-‐‑]{_LETTERS}(?:['’ʼ‘]{_LETTERS})*)*")
_LONG_RUN = re.compile(r"\S{200,}")
"""So much without a space is no word; what follows here looks at runs several times."""
_LONGEST_TEXT = 1_000_000
_ENDS, _AROUND, _NEAR = frozenset(".!?:;…|–—•·/>→\n" + _HOLE), " \t\r\f\u00a0\"'“”‘’„«»‹›()[]", 40
_ROMAN = re.compile(r"[ivxlcdm]{2,}")
_APOSTROPHES = str.maketrans("’ʼ‘‐‑", "'''--")
_MOST_LETTERS = 60
_ABBREVIATED = 5
_LONG = 20
_REMEMBERED = 1_000
"""Passages of up to so many letters are remembered, in case that other pages say the same."""
_WITHOUT_SPACES = re.compile(r"[\u0e00-\u0eff\u1000-\u109f\u1780-\u17ff\u3040-\u30ff\u3400-\u9fff]")
_SHOUTED, _CAPITALISED, _WEIGHTY = 0.8, 0.6, 4


class Readable(Protocol):
    """What of a page its words are cut from."""

    @property
    def elements(self) -> tuple[Element, ...]:
        """Every element."""

    @property
    def body(self) -> Element:
        """The ``body``, or the root."""

    def every_exposed(self) -> Iterator[Element]:
        """Yield every exposed element."""

    def is_exposed(self, element: Element) -> bool:
        """Tell whether assistive technology meets the element."""

    def is_shown(self, element: Element) -> bool:
        """Tell whether the element is displayed."""

    def is_rendered(self, element: Element) -> bool:
        """Tell whether the element takes part in rendering."""

    def language_tag_of(self, element: Element) -> str:
        """Return the element's language tag, or ``""``."""


class Written(NamedTuple):
    """A word as it stands on a page. ``language`` is its whole tag in small letters, ``source`` is
    ``text``, ``title`` or an attribute's name.

    ``passage`` numbers the block of text that it stands in. ``is_capital`` tells that it may be a
    name for all that its place says.
    """

    word: str
    language: str
    element: Element
    source: str
    passage: int
    is_capital: bool = False


@dataclass(frozen=True, slots=True)
class Prose:
    """A block's text of twenty words or more that says one language: its whole tag in small
    letters, and the element that says least beside it. ``passage`` is numbered as for its words."""

    text: str
    language: str
    element: Element
    passage: int


def long_passages(page: Readable) -> list[Prose]:
    """Return the passages of a page that are long enough for their language to be told from their
    letters, in the order of the document."""
    found = []
    for number, (source, parts) in enumerate(_passages(page)):
        go_on()
        if source != "text":
            continue
        by_tag: dict[str, list[tuple[str, Element]]] = {}
        for text, owner in parts:
            by_tag.setdefault(page.language_tag_of(owner), []).append((text, owner))
        for tag, pieces in by_tag.items():
            text = " ".join("".join(text for text, _ in pieces).replace(_HOLE, " ").split())
            if tag and len(text) <= _LONGEST_TEXT and _is_long(text):
                owners = [owner for text, owner in pieces if text.strip() not in ("", _HOLE)]
                found.append(Prose(text, tag, _around(owners), number))
    return found


def words_of(text: str) -> list[str]:
    """Return all words of a text, whatever they are."""
    return _WORD.findall(text)


def _is_long(text: str) -> bool:
    """Tell whether it has twenty words; two letters of a script without spaces count as one."""
    return len(words_of(text)) + len(_WITHOUT_SPACES.findall(text)) // 2 >= _LONG


def _around(elements: list[Element]) -> Element:
    """Return the innermost element that holds all of them."""
    first, *others = elements
    line = [first, *first.ancestors()]
    for element in others:
        own = {element.index, *(one.index for one in element.ancestors())}
        line = [one for one in line if one.index in own]
    return line[0]


def written_words(page: Readable) -> list[Written]:
    """Return the words of a page that a dictionary can be asked about, in the order of the
    document, attributes and title last."""
    found: list[Written] = []
    names: set[str] = set()
    for number, (source, parts) in enumerate(_passages(page)):
        tags = tuple(page.language_tag_of(owner) for _, owner in parts)
        cut = _cut(tuple(text for text, _ in parts), tags)
        names |= cut.names
        found.extend(
            Written(word, tags[piece], parts[piece][1], source, number, is_capital)
            for word, piece, is_capital in cut.words
        )
    return [one for one in found if not (one.is_capital and _plain(one.word) in names)]


def _passages(page: Readable) -> Iterator[tuple[str, list[tuple[str, Element]]]]:
    for parts in _texts(page):
        yield "text", parts
    for element in page.every_exposed():
        for source, value in _attribute_texts(element):
            yield source, [(value, element)]
    title = next(
        (one for one in page.elements if one.tag == "title" and one.namespace == "html"), None
    )
    if title is not None:
        yield "title", [(title.text(), title)]


def _texts(page: Readable) -> Iterator[list[tuple[str, Element]]]:
    """Yield the texts of each block, in pieces with the elements that hold them."""
    parts: list[tuple[str, Element]] = []
    stack: list[Element | Text | None] = [page.body]
    while stack:
        node = stack.pop()
        if node is None:
            if parts:
                yield parts
            parts = []
        elif isinstance(node, Text):
            if page.is_exposed(node.parent) or page.is_shown(node.parent):
                parts.append((node.data, node.parent))
        elif node.tag == "br":
            parts.append(("\n", node))
        elif (
            node.tag in _NO_PROSE
            or node.get("translate").lower() == "no"
            or not page.is_rendered(node)
        ):
            parts.append((_HOLE, node))
        elif sets_words_apart(node):
            stack.extend([None, *reversed(node.children), None])
        else:
            stack.extend(reversed(node.children))
    if parts:
        yield parts


def _attribute_texts(element: Element) -> Iterator[tuple[str, str]]:
    for name, tags in _ATTRIBUTES:
        if (not tags or element.tag in tags) and (value := element.get(name)):
            yield name, value
    if (
        element.tag == "input"
        and element.get("type").strip().lower() in _BUTTONS
        and element.get("value")
    ):
        yield "value", element.get("value")


class _Passage:
    """A block's text as one string, and where each of its pieces begins."""

    def __init__(self, pieces: tuple[str, ...]) -> None:
        texts = [
            unicodedata.normalize("NFC", text.translate(_UNSEEN))
            if len(text) <= _LONGEST_TEXT
            else _HOLE
            for text in pieces
        ]
        self._starts, at = [], 0
        for text in texts:
            self._starts.append(at)
            at += len(text)
        self.text = _LONG_RUN.sub(lambda match: _HOLE * len(match[0]), "".join(texts))
        self.words = list(_WORD.finditer(_without_no_words(self.text)))
        long = [match[0] for match in self.words if len(match[0]) >= _WEIGHTY]
        self.is_shouted = len(self.words) > 2 and sum(
            match[0].isupper() for match in self.words
        ) >= _SHOUTED * len(self.words)
        self.is_title = len(long) > 1 and sum(
            word[0].isupper() for word in long
        ) >= _CAPITALISED * len(long)

    def piece(self, at: int) -> int:
        """Return the number of the piece that a letter stands in."""
        return bisect_right(self._starts, at) - 1


def _without_no_words(text: str) -> str:
    """Return a text with nothing in the place of what is no word."""
    if _MAY_BE_NO_WORD.search(text) is None:
        return text
    return _NO_WORD.sub(lambda match: "\0" * len(match[0]), text)


class _Cut(NamedTuple):
    """The words of a passage: each with the number of its piece and whether it may be a name for
    all that its place says; and what are names there."""

    words: tuple[tuple[str, int, bool], ...]
    names: frozenset[str]


def _cut(pieces: tuple[str, ...], tags: tuple[str, ...]) -> _Cut:
    """Return the words of a passage by its pieces and their language tags. What recurs on the pages
    of a site is cut once."""
    is_short = sum(map(len, pieces)) <= _REMEMBERED
    return _cut_once(pieces, tags) if is_short else _cut_now(pieces, tags)


def _cut_now(pieces: tuple[str, ...], tags: tuple[str, ...]) -> _Cut:
    passage = _Passage(pieces)
    words: list[tuple[str, int, bool]] = []
    names: set[str] = set()
    for place, match in enumerate(passage.words):
        word, piece = match[0], passage.piece(match.start())
        language = tags[piece]
        if passage.is_shouted and word.isupper():
            word = word.lower()
        if (
            not language
            or len(word) < 2
            or len(word) > _MOST_LETTERS
            or _is_short_form(word)
            or not _is_of_script(word)
        ):
            continue
        is_capital = word[0].isupper()
        if is_capital and not _may_open(passage, match, language):
            names.update((_plain(word), *_plain(word).split("-")))
            continue
        if not is_capital and (
            _is_abbreviated(passage.text, match) or _is_between_names(passage, place)
        ):
            continue
        words.append((word.translate(_APOSTROPHES), piece, is_capital or passage.is_shouted))
    return _Cut(tuple(words), frozenset(names))


_cut_once = lru_cache(maxsize=4_096)(_cut_now)


def _may_open(passage: _Passage, match: re.Match[str], language: str) -> bool:
    """Tell whether a capital may be there for the place's or the language's sake, and not since the
    word is a name."""
    if passage.is_title or language.partition("-")[0] == "de":
        return True
    before = passage.text[max(0, match.start() - _NEAR) : match.start()].rstrip(_AROUND)
    return not before or before[-1] in _ENDS


@lru_cache(maxsize=16_384)
def _is_short_form(word: str) -> bool:
    """Tell whether it is written in capitals (BBC, PDFs), with capitals inside (eBook), or a number
    in Roman letters."""
    inner = [part[1:] for part in re.split(r"[-'’‑]", word) if part]
    return (
        any(letter.isupper() for part in inner for letter in part)
        or _ROMAN.fullmatch(word) is not None
    )


@lru_cache(maxsize=16_384)
def _is_of_script(word: str) -> bool:
    """Tell whether all letters are Latin; other scripts have no dictionary here."""
    return all(
        not letter.isalpha() or unicodedata.name(letter, "").startswith("LATIN") for letter in word
    )


def _is_abbreviated(text: str, match: re.Match[str]) -> bool:
    """Tell whether a full stop behind a short word ends no sentence (approx. 5, tel. 0123)."""
    after = text[match.end() : match.end() + 4]
    return (
        len(match[0]) <= _ABBREVIATED
        and after[:1] == "."
        and re.match(r"[.)]*[\s\u00a0]*[a-zà-ÿ\d(]", after) is not None
    )


def _is_between_names(passage: _Passage, place: int) -> bool:
    """Tell whether it is a small word within a name (van, de la)."""
    if len(passage.words[place][0]) > 3 or not 0 < place < len(passage.words) - 1:
        return False
    before, after = passage.words[place - 1], passage.words[place + 1]
    near = len(passage.text[before.end() : after.start()]) <= len(passage.words[place][0]) + 2
    return near and before[0][0].isupper() and after[0][0].isupper()


def _plain(word: str) -> str:
    return word.translate(_APOSTROPHES).casefold().removesuffix("'s").removesuffix("s'")


def foreign_passages(
    words: list[Written],
    is_unknown: Callable[[Written], bool],
    is_english: Callable[[Written], bool],
) -> set[int]:
    """Return the passages that are in another language than they say.

    Over half of four words or more are unknown; or half of however few are, and most of these are
    English.
    """
    total = Counter(one.passage for one in words)
    unknown = Counter(one.passage for one in words if is_unknown(one))
    other = Counter(one.passage for one in words if is_unknown(one) and is_english(one))
    return {
        passage
        for passage, count in unknown.items()
        if (total[passage] >= 4 and count * 2 > total[passage])
        or (count * 2 >= total[passage] and other[passage] * 2 > count)
    }
