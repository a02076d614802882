"""Mends of Markdown (CommonMark 0.31 with tables): where things are written in it, and what changes
there.

What Markdown has no sign for cannot be mended in it; HTML inside of it is mended as HTML.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from plumrake.core.dom import Element
from plumrake.core.findings import Mend
from plumrake.core.html_source import Lines
from plumrake.core.mending.carrying_out import edits_of as edits_of_html
from plumrake.core.mending.edits import Edit
from plumrake.core.mending.source_page import CannotMend, SourcePage, Span
from plumrake.core.mending.words import alike, whole_word
from plumrake.core.page import Page
from plumrake.core.typed_lists import MARKERS

_SIGNS = re.compile(r"([\\\[\]*_`<])")
_EMPHASIS = ("**", "__")


@dataclass(frozen=True, slots=True)
class Place:
    """Where something is written, by offsets in the Markdown text.

    ``span`` is all of it. ``text`` is what is read: a heading's words, a picture's text, a link's
    label, a cell. ``target`` is the address of a picture or link written in place, ``label`` the
    name of a reference that is the text as well (``[locks]``).
    """

    kind: str
    span: Span
    text: Span
    target: Span | None = None
    label: str | None = None


@dataclass(frozen=True, eq=False)
class MarkdownPage:
    """Markdown ``text``, the HTML that it becomes (with the page that this is), the places of what
    is written in Markdown by element index, and the runs of HTML inside it: where each begins in
    the HTML, where in the text, and its length."""

    text: str
    html: SourcePage
    places: dict[int, Place]
    raw: tuple[tuple[int, int, int], ...]

    @property
    def page(self) -> Page:
        """The page."""
        return self.html.page

    def offset_of(self, element: Element) -> int | None:
        """Return where an element is written in the text, or None where it is not."""
        place = self.places.get(element.index)
        if place is not None:
            return place.span[0]
        start = self.html.starts.get(element.index)
        return self.in_text(start) if start is not None else None

    def in_text(self, offset: int) -> int | None:
        """Return where a place of the HTML stands in the text, if HTML stands there too."""
        for begin, there, length in self.raw:
            if begin <= offset <= begin + length:
                return there + offset - begin
        return None

    def position_of(self, element: Element) -> tuple[int, int] | None:
        """Return line and column of an element in the text, from 1."""
        offset = self.offset_of(element)
        return Lines(self.text).of(offset) if offset is not None else None

    def edits_of(self, element: Element, mend: Mend) -> tuple[Edit, ...]:
        """Return the edits of the text that carry a mend out. Raises ``CannotMend``."""
        place = self.places.get(element.index)
        if place is None or mend.target:
            return self._in_html(element, mend)
        if mend.asks:
            raise CannotMend("a person has to write what stands there")
        carrier = _CARRIERS.get(mend.kind)
        if carrier is None:
            raise CannotMend("Markdown has no sign for this; write the place in HTML")
        return tuple(carrier(self, place, mend))

    def _in_html(self, element: Element, mend: Mend) -> tuple[Edit, ...]:
        found: list[Edit] = []
        for edit in edits_of_html(self.html, element, mend):
            start, end = self.in_text(edit.start), self.in_text(edit.end)
            if start is None or end is None or self.text[start:end] != edit.before:
                raise CannotMend("Markdown has no sign for this; write the place in HTML")
            found.append(Edit(start, end, edit.text, edit.before, edit.subject, edit.closes))
        return tuple(found)

    def replaced(self, span: Span, text: str) -> Edit:
        """Return the edit that puts a text where a span stands."""
        return Edit(*span, text, self.text[slice(*span)])


Carrier = Callable[[MarkdownPage, Place, Mend], Iterator[Edit]]


def escaped(words: str) -> str:
    """Return words as they are written in running text, so that they are read as they are."""
    return _SIGNS.sub(r"\\\1", words)


def _set_attribute(page: MarkdownPage, place: Place, mend: Mend) -> Iterator[Edit]:
    value = mend.value or ""
    if place.kind == "picture" and mend.attribute == "alt":
        yield from _set_label(page, place, value)
    elif mend.attribute == {"picture": "src", "link": "href"}.get(place.kind):
        if place.target is None:
            raise CannotMend("its address stands in a reference; change it there")
        if page.text[slice(*place.target)] != value:
            yield page.replaced(place.target, f"<{value}>" if " " in value else value)
    else:
        raise CannotMend(f"Markdown has no sign for {mend.attribute}; write the place in HTML")


def _set_label(page: MarkdownPage, place: Place, words: str) -> Iterator[Edit]:
    written = escaped(words)
    if page.text[slice(*place.text)] == written:
        return
    if place.kind == "autolink":
        address = page.text[place.span[0] + 1 : place.span[1] - 1]
        yield page.replaced(place.span, f"[{written}]({address})")
    elif place.label is not None:
        mark = "!" if place.kind == "picture" else ""
        yield page.replaced(place.span, f"{mark}[{written}][{place.label}]")
    else:
        yield page.replaced(place.text, written)


def _replace_text(page: MarkdownPage, place: Place, mend: Mend) -> Iterator[Edit]:
    words = " ".join((mend.value or "").split())
    if place.kind in ("link", "autolink", "picture"):
        yield from _set_label(page, place, words)
        return
    written = escaped(words)
    if place.kind == "cell":
        written = written.replace("|", "\\|")
        if not page.text[slice(*place.text)].strip():
            written = f" {written} "
    if place.kind == "heading" and place.text[0] == place.text[1]:
        written = f" {written}"
    if page.text[slice(*place.text)].strip() != written.strip():
        yield page.replaced(place.text, written)


def _rename(page: MarkdownPage, place: Place, mend: Mend) -> Iterator[Edit]:
    to = mend.to or ""
    if to == "p" and place.kind == "heading":
        yield from _with_level(page, place, 0)
    elif re.fullmatch(r"h[1-6]", to) and place.kind == "heading":
        yield from _with_level(page, place, int(to[1]))
    elif re.fullmatch(r"h[1-6]", to) and place.kind == "paragraph":
        start, end = place.text
        words = page.text[start:end]
        sign = next(
            (
                one
                for one in _EMPHASIS
                if words.startswith(one) and words.endswith(one) and len(words) > 4
            ),
            None,
        )
        if sign is None or "\n" in words or sign in words[2:-2]:
            raise CannotMend("the paragraph is not one bold line")
        yield page.replaced((start, start + 2), "#" * int(to[1]) + " ")
        yield page.replaced((end - 2, end), "")
    else:
        raise CannotMend("Markdown has no sign for this; write the place in HTML")


def _with_level(page: MarkdownPage, place: Place, level: int) -> Iterator[Edit]:
    """Give a heading another level (0: make it a paragraph), as it is written: with signs before
    it, or underlined."""
    before = (place.span[0], place.text[0])
    signs = page.text[slice(*before)]
    after = (place.text[1], place.span[1])
    if signs.startswith("#"):
        old = len(signs) - len(signs.lstrip("#"))
        if old != level:
            new = "#" * level + signs[old:] if level else ""
            yield page.replaced(before, new)
            closing = page.text[slice(*after)]
            if closing.strip():
                yield page.replaced(after, closing.replace("#" * old, "#" * level) if level else "")
        return
    line = page.text[slice(*after)]
    sign = line.strip()[:1]
    if level == {"=": 1, "-": 2}[sign]:
        return
    if level in (1, 2):
        at = after[0] + line.index(sign)
        yield page.replaced((at, after[1]), ("=" if level == 1 else "-") * (after[1] - at))
        return
    if level:
        yield page.replaced((place.text[0], place.text[0]), "#" * level + " ")
    yield page.replaced(after, "")


def _remove(page: MarkdownPage, place: Place, mend: Mend) -> Iterator[Edit]:
    start, end = place.span
    if place.kind in ("heading", "paragraph"):
        rest = re.match(r"[ \t]*(?:\r\n|\r|\n)?", page.text[end:])
        end += rest.end() if rest is not None else 0
    yield page.replaced((start, end), "")


def _unwrap(page: MarkdownPage, place: Place, mend: Mend) -> Iterator[Edit]:
    if place.kind != "link":
        raise CannotMend("only a link can be taken away from its words")
    yield page.replaced((place.span[0], place.text[0]), "")
    yield page.replaced((place.text[1], place.span[1]), "")


def _replace_word(page: MarkdownPage, place: Place, mend: Mend) -> Iterator[Edit]:
    words = page.text[slice(*place.text)]
    found = list(whole_word(mend.to or "").finditer(words))
    if not found:
        raise CannotMend(f"“{mend.to}” is not written in one piece")
    for match in found:
        start, end = place.text[0] + match.start(), place.text[0] + match.end()
        yield page.replaced((start, end), escaped(alike(match.group(), mend.value or "")))


def _make_list(page: MarkdownPage, place: Place, mend: Mend) -> Iterator[Edit]:
    """Put Markdown's own sign for the one that each line begins with."""
    number = 0
    at = place.text[0]
    for line in page.text[slice(*place.text)].splitlines(keepends=True):
        match = next((found for _, one in MARKERS if (found := one.match(line.lstrip()))), None)
        if match is not None:
            number += 1
            begin = at + len(line) - len(line.lstrip())
            sign = f"{number}. " if mend.to == "ol" else "- "
            yield page.replaced((begin, begin + match.end(1)), sign)
            bare = line.rstrip("\r\n")
            if bare.endswith("\\"):
                yield page.replaced((at + len(bare) - 1, at + len(bare)), "")
        elif number and line.strip():
            yield page.replaced((at, at), "\n")
            return
        at += len(line)
    if not number:
        raise CannotMend("the typed sign cannot be told from the text")


def _mark_decorative(page: MarkdownPage, place: Place, mend: Mend) -> Iterator[Edit]:
    if place.kind != "picture":
        raise CannotMend("this is no picture")
    yield from _set_label(page, place, "")


_CARRIERS: dict[str, Carrier] = {
    "set-attribute": _set_attribute,
    "replace-text": _replace_text,
    "rename-element": _rename,
    "remove-element": _remove,
    "unwrap": _unwrap,
    "replace-word": _replace_word,
    "make-list": _make_list,
    "mark-decorative": _mark_decorative,
}
