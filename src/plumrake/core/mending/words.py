"""Mends of what is written: texts and words."""

from __future__ import annotations

import re

from plumrake.core.dom import Element
from plumrake.core.findings import Mend
from plumrake.core.mending.source_page import CannotMend, SourcePage, Span
from plumrake.core.mending.writing import Carried, in_text, replaced, set_attribute


def replace_text(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Put other words for those of an element, within the emphasis that they stand in."""
    words = mend.value or ""
    if source.page.text_of(element) == words:
        return
    pieces = source.text_pieces(element)
    start, end = source.content(element)
    if not pieces:
        is_blank = not source.text[start:end].strip()
        yield replaced(source, start if is_blank else end, end, in_text(words))
        return
    span: Span = pieces[0]
    if len(pieces) > 1:
        if any(one.tag not in _INLINE for one in element.descendants()):
            raise CannotMend(
                "its words stand in several parts, each of which has a place of its own"
            )
        inside = source.text[start:end]
        begin = start + len(inside) - len(inside.lstrip())
        span = begin, begin + len(inside.strip())
    yield replaced(source, *span, in_text(words))


_INLINE = frozenset(
    "b strong em i span u small mark br wbr font sup sub abbr cite q code s del ins time".split()
)


def replace_word(source: SourcePage, element: Element, mend: Mend) -> Carried:
    """Put another word for one, wherever it stands on the page as a word to be spelt."""
    assert mend.to is not None
    word, new = mend.to.casefold(), mend.value or ""
    done: set[tuple[int, str]] = set()
    done_spans: list[Span] = []
    for written in source.page.written:
        place = (written.element.index, written.source)
        if written.word.casefold() != word or place in done:
            continue
        done.add(place)
        if written.source in written.element.attributes:
            changed = _with_word(written.element.get(written.source), word, new)
            yield from set_attribute(source, written.element, written.source, changed)
            continue
        pieces = source.text_pieces(written.element)
        spans = [
            (start + match.start(), start + match.end())
            for start, end in pieces
            for match in whole_word(in_text(word)).finditer(source.text[start:end])
        ]
        if not spans:
            raise CannotMend(f"“{mend.to}” is not written in one piece")
        for start, end in spans:
            if not any(one == (start, end) for one in done_spans):
                done_spans.append((start, end))
                yield replaced(source, start, end, in_text(alike(source.text[start:end], new)))


def _with_word(text: str, word: str, new: str) -> str:
    return whole_word(word).sub(lambda match: alike(match.group(), new), text)


def whole_word(word: str) -> re.Pattern[str]:
    """Return the pattern of a word that stands alone, in capitals or not."""
    return re.compile(rf"(?<!\w){re.escape(word)}(?!\w)", re.IGNORECASE)


def alike(old: str, new: str) -> str:
    """Return a new word in capitals where the old one is, or with a capital where that has one."""
    if len(old) > 1 and old.isupper():
        return new.upper()
    return new[:1].upper() + new[1:] if old[:1].isupper() else new
