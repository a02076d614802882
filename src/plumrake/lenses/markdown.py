"""Markdown as a source: CommonMark with tables and front matter to HTML, and where each thing of it
is written."""

from __future__ import annotations

import re
import secrets
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from itertools import pairwise
from typing import Any

from markdown_it import MarkdownIt
from markdown_it.renderer import RendererHTML
from markdown_it.rules_inline import StateInline, autolink, html_inline, image, link
from markdown_it.token import Token

from plumrake.core.html_source import Lines
from plumrake.core.mending.markdown import MarkdownPage, Place
from plumrake.core.mending.source_page import Span
from plumrake.lenses.markup import parse_source

_FRONT_MATTER = re.compile(
    r"\A(?:---[ \t]*\n(?:.*\n)*?(?:---|\.\.\.)|\+\+\+[ \t]*\n(?:.*\n)*?\+\+\+)[ \t]*(?:\n|\Z)"
)
_AT, _PLACE = "plumrake-at", "plumrake-place"
_BLOCKS = frozenset(
    f"{name}_open" for name in ("table", "bullet_list", "ordered_list", "list_item", "blockquote")
)
Rule = Callable[[StateInline, bool], bool]


def parse_markdown(text: str, address: str, *, most_elements: int = 200_000) -> MarkdownPage:
    """Return the page that Markdown becomes. Raises ``TooManyElements``.

    Front matter is passed over. A line end of any kind counts as one.
    """
    marks = _Marks(text)
    md = MarkdownIt("commonmark", renderer_cls=_Renderer).enable("table")
    for name, rule in _RULES.items():
        md.inline.ruler.at(name, rule)
    tokens = md.parse(marks.without_front_matter(), {})
    marks.find(tokens)
    html, found = marks.taken_out(str(md.renderer.render(tokens, md.options, {"marks": marks})))
    source = parse_source(html, address, most_elements=most_elements)
    by_start = {start: index for index, start in source.starts.items()}
    places = {
        by_start[at]: place for at, place in found if isinstance(place, Place) and at in by_start
    }
    raw = tuple((at, place[0], place[1]) for at, place in found if isinstance(place, tuple))
    return MarkdownPage(text, source, places, raw)


class _Marks:
    """What is written where: told by marks in the rendered HTML, which are taken out again."""

    def __init__(self, text: str) -> None:
        self._text = text
        self._lines = Lines(text)
        self._places: list[Place | Span] = []
        self._sign = secrets.token_hex(8)
        self._row: tuple[int, list[Span]] = (-1, [])

    def without_front_matter(self) -> str:
        """Return the text with empty lines for its front matter, and one kind of line end."""
        plain = self._text.replace("\r\n", "\n").replace("\r", "\n")
        match = _FRONT_MATTER.match(plain)
        if match is None:
            return plain
        return "\n" * match.group().count("\n") + plain[match.end() :]

    def mark(self, place: Place | Span) -> str:
        """Return the mark that stands for a place."""
        self._places.append(place)
        return f"\ue000{self._sign}.{len(self._places) - 1}\ue001"

    def taken_out(self, html: str) -> tuple[str, list[tuple[int, Place | Span]]]:
        """Return the HTML without marks, and where each stood."""
        parts = re.split(rf"\ue000{self._sign}\.(\d+)\ue001", html)
        found: list[tuple[int, Place | Span]] = []
        length = len(parts[0])
        for number, after in zip(parts[1::2], parts[2::2], strict=True):
            found.append((length, self._places[int(number)]))
            length += len(after)
        return "".join(parts[::2]), found

    def line(self, number: int) -> Span:
        """Return the span of a line, from 0, without its end."""
        start = self._lines.offset(number + 1, 1)
        end = (
            self._lines.offset(number + 2, 1) if number + 1 < self._lines.count else len(self._text)
        )
        return start, start + len(self._text[start:end].rstrip("\r\n"))

    def find(self, tokens: Sequence[Token]) -> None:
        """Tell the tokens where they are written."""
        cell = 0
        for at, token in enumerate(tokens):
            if token.type == "tr_open":
                cell = 0
            elif token.type in _BLOCKS and token.map is not None:
                token.meta[_PLACE] = self._block(token.map)
            elif token.type == "html_block" and token.map is not None:
                token.meta[_AT] = list(self._raw(token.content, token.map[0]))
            elif token.type == "inline" and token.map is not None:
                opening = tokens[at - 1]
                written = (
                    self._cell(token, cell)
                    if opening.type in ("th_open", "td_open")
                    else self._content(token, opening)
                )
                cell += opening.type in ("th_open", "td_open")
                if written is None:
                    continue
                opening.meta[_PLACE] = self._of_block(opening, written, tokens[at - 1].map)
                _place_children(token, written, self)

    def _block(self, lines: list[int]) -> Place:
        first, last = self.line(lines[0]), self.line(max(lines[0], lines[1] - 1))
        written = self._text[slice(*first)]
        start = first[0] + len(written) - len(written.lstrip())
        return Place("block", (start, last[1]), (start, last[1]))

    def _of_block(self, opening: Token, written: _Written, lines: list[int] | None) -> Place:
        text = written.blank or (written.at(0), written.at(len(written.content)))
        kind = {"heading_open": "heading", "paragraph_open": "paragraph"}.get(opening.type, "cell")
        span = text
        if kind == "heading" and lines is not None:
            first, last = self.line(lines[0]), self.line(lines[1] - 1)
            is_signed = opening.markup.startswith("#")
            start = self._text.index("#", first[0]) if is_signed else text[0]
            span = start, max(last[1], text[1])
            if not written.content:
                text = (start + len(opening.markup),) * 2
        return Place(kind, span, text)

    def _raw(self, content: str, line: int) -> Iterator[Span]:
        """Yield where each line of a block of HTML stands, and its length."""
        for number, written in enumerate(content.split("\n")):
            start, end = self.line(min(line + number, self._lines.count - 1))
            yield max(start, end - len(written)), len(written)

    def _cell(self, token: Token, number: int) -> _Written | None:
        assert token.map is not None
        if self._row[0] != token.map[0]:
            self._row = token.map[0], list(_cells(self._text, *self.line(token.map[0])))
        spans = self._row[1]
        if number >= len(spans):
            return None
        begin, stop = spans[number]
        written = self._text[begin:stop]
        begin += len(written) - len(written.lstrip())
        places: list[int] = []
        at = begin
        for character in token.content:
            if character == "|" and self._text[at : at + 2] == "\\|":
                at += 1
            places.append(at)
            at += 1
        return _Written(token.content, [*places, at], None if token.content else spans[number])

    def _content(self, token: Token, opening: Token) -> _Written | None:
        assert token.map is not None
        places: list[int] = []
        lines = token.content.split("\n")
        for number, line in enumerate(lines):
            start, end = self.line(token.map[0] + number)
            source = self._text[start:end]
            if opening.type == "heading_open" and opening.markup.startswith("#"):
                at = source.find(line, source.index("#") + len(opening.markup)) if line else -1
                at = at if at >= 0 else len(source)
            else:
                bare = source.rstrip() if number == len(lines) - 1 else source
                at = len(bare) - len(line)
                if at < 0 or bare[at:] != line:
                    return None
            places += range(start + at, start + at + len(line) + 1)
        return _Written(token.content, places)


@dataclass(frozen=True, slots=True)
class _Written:
    """The content of a block as the parser has it, and where each character of it stands; of an
    empty cell its span."""

    content: str
    places: list[int] = field(repr=False)
    blank: Span | None = None

    def at(self, offset: int) -> int:
        return self.places[offset]


def _cells(text: str, start: int, end: int) -> Iterator[Span]:
    """Yield the spans between the bars of a table's row."""
    bars = [at for at in range(start, end) if text[at] == "|" and text[at - 1 : at] != "\\"]
    edges = [start - 1, *bars, end]
    for before, after in pairwise(edges):
        is_outside = (before == start - 1 or after == end) and not text[before + 1 : after].strip()
        if not is_outside or (before in bars and after in bars):
            yield before + 1, after


def _place_children(token: Token, written: _Written, marks: _Marks) -> None:
    for child in token.children or ():
        found = child.meta.get(_AT)
        if found is None:
            continue
        if child.type == "html_inline":
            parts: list[Span] = []
            at = found[0]
            for line in child.content.split("\n"):
                parts.append((written.at(at), len(line)))
                at += len(line) + 1
            child.meta[_AT] = parts
            continue
        start, end, text_start, text_end, target, label = found
        child.meta[_PLACE] = Place(
            {"image": "picture", "link_open": "link"}.get(child.type, child.type)
            if child.markup != "autolink"
            else "autolink",
            (written.at(start), written.at(end)),
            (written.at(text_start), written.at(text_end)),
            (written.at(target[0]), written.at(target[1])) if target is not None else None,
            label,
        )


def _seen(rule: Any, kind: str) -> Rule:
    """Return a rule that notes where it found what it looks for."""

    def note(state: StateInline, silent: bool) -> bool:
        start, count = state.pos, len(state.tokens)
        if not rule(state, silent):
            return False
        if not silent:
            token = next((one for one in state.tokens[count:] if one.type == kind), None)
            if token is not None:
                token.meta[_AT] = (
                    (start,) if kind == "html_inline" else _link_at(state, start, token)
                )
        return True

    return note


def _link_at(
    state: StateInline, start: int, token: Token
) -> tuple[int, int, int, int, Span | None, str | None]:
    end = state.pos
    if token.markup == "autolink":
        return start, end, start + 1, end - 1, (start + 1, end - 1), None
    first = start + (2 if token.type == "image" else 1)
    keeps = state.pos
    last = state.md.helpers.parseLinkLabel(state, first - 1, token.type == "link_open")
    state.pos = keeps
    if state.src[last + 1 : last + 2] == "(" and end > last + 2:
        begin = last + 2 + len(state.src[last + 2 : end]) - len(state.src[last + 2 : end].lstrip())
        result = state.md.helpers.parseLinkDestination(state.src, begin, end)
        if result.ok:
            is_angled = state.src[begin : begin + 1] == "<"
            target = (begin + is_angled, result.pos - is_angled)
            return start, end, first, last, target, None
        return start, end, first, last, None, None
    is_full = end > last + 1 and state.src[last + 1 : last + 3] != "[]"
    return start, end, first, last, None, None if is_full else state.src[first:last]


_RULES: dict[str, Rule] = {
    "image": _seen(image, "image"),
    "link": _seen(link, "link_open"),
    "autolink": _seen(autolink, "link_open"),
    "html_inline": _seen(html_inline, "html_inline"),
}


class _Renderer(RendererHTML):
    """Writes a mark before each tag whose place is known."""

    def renderToken(  # noqa: N802 - the library's name
        self, tokens: Sequence[Token], idx: int, options: Any, env: Any
    ) -> str:
        return _mark(tokens[idx], env) + super().renderToken(tokens, idx, options, env)

    def html_block(self, tokens: Sequence[Token], idx: int, options: Any, env: Any) -> str:
        return _marked_lines(tokens[idx], env)

    def html_inline(self, tokens: Sequence[Token], idx: int, options: Any, env: Any) -> str:
        return _marked_lines(tokens[idx], env)


def _mark(token: Token, env: Any) -> str:
    place = token.meta.get(_PLACE)
    return env["marks"].mark(place) if place is not None else ""


def _marked_lines(token: Token, env: Any) -> str:
    spans = token.meta.get(_AT, [])
    lines = token.content.split("\n")
    marks = [env["marks"].mark(span) for span in spans] or [""] * len(lines)
    return "\n".join(mark + line for mark, line in zip(marks, lines, strict=True))
