"""A template's text with its marks made opaque, and back."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator, Set
from dataclasses import dataclass, field, replace

from plumrake.core.html_source import every_tag
from plumrake.core.mending.edits import Edit

_FIRST = 0x17000
_LETTERS = 6136
"""Tangut, of which a template has no other use: letters without case that no dictionary knows."""
_OPAQUE = re.compile(f"[{chr(_FIRST)}-{chr(_FIRST + _LETTERS - 1)}]")
_RUN = re.compile(rf"({_OPAQUE.pattern})(?:\s|\1)*\1|{_OPAQUE.pattern}")
_LONGEST_SAID = 40

Span = tuple[int, int]


def is_unknown(text: str) -> bool:
    """Tell whether a text holds something that a template fills."""
    return _OPAQUE.search(text) is not None


@dataclass(frozen=True, eq=False)
class Template:
    """A template: its ``text``, the HTML ``shown`` of the same length, the spans that are the
    engine's, those ``gaps`` among the parts of a table or a list that may be filled with more
    parts, the offsets of tags that are ``closed`` although HTML would leave them open, and whether
    parts of it are printed instead of one another."""

    text: str
    shown: str
    marks: tuple[Span, ...]
    gaps: tuple[Span, ...]
    closed: frozenset[int]
    has_alternatives: bool
    writes_attributes_as: str
    """``jsx`` where attributes have names of their own."""
    _known: dict[str, str]

    def said(self, words: str) -> str:
        """Return a sentence as it is said of the template: with the engine's marks, cut short, for
        what is unknown."""
        return _RUN.sub(lambda found: self._short(found.group()), words)

    def _short(self, run: str) -> str:
        mark = " ".join(self._known.get(run[0], "").split())
        return f"{mark[:_LONGEST_SAID]}…" if len(mark) > _LONGEST_SAID else mark

    def restored(self, edits: Iterable[Edit]) -> tuple[Edit, ...] | None:
        """Return edits of what is shown as edits of the template; None where one of them would
        break or lose what is the engine's."""
        out: list[Edit] = []
        for edit in edits:
            text = edit.text
            for letter in dict.fromkeys(_OPAQUE.findall(text)):
                text = text.replace(letter * len(self._known.get(letter, "")), self._known[letter])
            if is_unknown(text) or not self._keeps(edit, text):
                return None
            before = self.text[edit.start : edit.end]
            out.append(replace(edit, text=text, before=before))
        return tuple(out)

    def _keeps(self, edit: Edit, text: str) -> bool:
        if edit.start == edit.end and any(start < edit.start < end for start, end in self.marks):
            return False
        if edit.start == edit.end and self.shown[: edit.start].endswith("/>"):
            return self.shown.rfind("<", 0, edit.start) not in self.closed
        if self.writes_attributes_as == "jsx" and re.search(r"\s(class|for|tabindex|style)=", text):
            return False
        inside = [self.text[a:b] for a, b in self.marks if a < edit.end and edit.start < b]
        return all(text.count(mark) >= inside.count(mark) for mark in inside)


@dataclass(slots=True)
class Masking:
    """A template that is being made opaque."""

    text: str
    has_alternatives: bool = False
    closed: set[int] = field(default_factory=set)
    _out: list[str] = field(default_factory=list)
    _letters: dict[str, str] = field(default_factory=dict)
    _blank: list[Span] = field(default_factory=list)
    _filled: list[Span] = field(default_factory=list)

    def __post_init__(self) -> None:
        self._out = list(self.text)

    def blank(self, start: int, end: int) -> None:
        """Make a span print nothing; lines stay."""
        self._put(start, [one if one in "\r\n" else " " for one in self.text[start:end]])
        self._blank.append((start, end))

    def fill(self, start: int, end: int) -> None:
        """Make a span something unknown; the same text is the same unknown."""
        if end <= start:
            return
        letter = self._letter_of(self.text[start:end])
        self._put(start, [letter] * (end - start))
        self._filled.append((start, end))

    def put(self, start: int, text: str) -> None:
        """Write a text over what stands there, of the engine's own."""
        self._put(start, list(text))
        self._blank.append((start, start + len(text)))

    def name_value(self, start: int, end: int, name: str) -> None:
        """Write a shorthand, ``{alt}``, as the attribute that it is."""
        self._put(start, [*name, "=", self._letter_of(self.text[start:end])])
        self._blank.append((start, end))

    def _put(self, start: int, letters: list[str]) -> None:
        self._out[start : start + len(letters)] = letters

    def _letter_of(self, mark: str) -> str:
        if mark not in self._letters:
            self._letters[mark] = chr(_FIRST + len(self._letters) % _LETTERS)
        return self._letters[mark]

    @property
    def shown(self) -> str:
        """The text by now."""
        return "".join(self._out)

    def done(self, *, writes_attributes_as: str = "html") -> Template:
        """Return the template. What is unknown among the parts of a table, a list or the head is
        left out of what is shown: the HTML parser would move it."""
        shown = self.shown
        gaps = sorted(_gaps(shown, self._filled, self.closed))
        for start, end in gaps:
            self._put(start, [one if one in "\r\n" else " " for one in self.text[start:end]])
        return Template(
            text=self.text,
            shown="".join(self._out),
            marks=tuple(sorted({*self._blank, *self._filled})),
            gaps=tuple(gaps),
            closed=frozenset(self.closed),
            has_alternatives=self.has_alternatives,
            writes_attributes_as=writes_attributes_as,
            _known={letter: mark for mark, letter in self._letters.items()},
        )


_HOLDS_PARTS = frozenset(
    "table thead tbody tfoot tr colgroup ul ol menu dl select optgroup picture video audio "
    "html head".split()
)
_IS_PART = frozenset(
    "caption colgroup col thead tbody tfoot tr td th li dt dd option optgroup source track "
    "title meta link base".split()
)


def _gaps(shown: str, filled: list[Span], closed: Set[int]) -> Iterator[Span]:
    """Yield what is unknown where only parts of a table, a list, a choice or the head may stand."""
    tags = [*every_tag(shown, closed)]
    at = 0
    for start, end in sorted(filled):
        while at < len(tags) and tags[at][1] <= start:
            at += 1
        if at < len(tags) and tags[at][0] < start:
            continue  # within a tag
        if at == 0:
            continue
        last_end, name, closes = tags[at - 1][1:]
        between = shown[last_end:start]
        if _OPAQUE.sub("", between).strip():
            continue
        if name in (_IS_PART if closes or name in ("meta", "link", "base") else _HOLDS_PARTS):
            yield start, end
