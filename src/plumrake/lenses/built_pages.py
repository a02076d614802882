"""A page as a generator would build it once the Markdown that it is built of is changed: what the
change alters is put into the page as it is; all else stays."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from difflib import SequenceMatcher
from html import escape

from plumrake.core.dom import Element, Text
from plumrake.core.mending.edits import Edit, applied, ordered
from plumrake.core.mending.source_page import CannotMend, SourcePage
from plumrake.core.vocabulary import VOID_ELEMENTS
from plumrake.lenses.content_places import pairs_of_markdown
from plumrake.lenses.markdown import parse_markdown
from plumrake.lenses.markup import parse_source


def built_with(before: str, after: str, page: str, *, most_elements: int) -> str:
    """Return a page that was built of the Markdown ``before`` as it is built of ``after``. Raises
    ``CannotMend``, ``TooManyElements``, ``Contradiction``."""
    old = parse_markdown(before, "", most_elements=most_elements)
    new = parse_markdown(after, "", most_elements=most_elements)
    shown = parse_source(page, "", most_elements=most_elements)
    change = _Change(old.html, new.html, shown, pairs_of_markdown(old, shown))
    return applied(page, ordered(change.edits()))


class _Change:
    """From the HTML of the old Markdown to that of the new, as edits of the page that is shown."""

    def __init__(
        self, old: SourcePage, new: SourcePage, shown: SourcePage, pairs: Mapping[int, int]
    ) -> None:
        self._old = old
        self._new = new
        self._shown = shown
        self._pairs = pairs

    def edits(self) -> Iterator[Edit]:
        """Yield the edits of the page."""
        yield from self._of_lists(_elements(self._old.page.body), _elements(self._new.page.body))

    def _of_lists(self, olds: Sequence[Element], news: Sequence[Element]) -> Iterator[Edit]:
        matcher = SequenceMatcher(
            None,
            [_outer(self._old, one) for one in olds],
            [_outer(self._new, one) for one in news],
            autojunk=False,
        )
        for kind, first, last, begin, end in matcher.get_opcodes():
            if kind == "equal":
                continue
            if last - first == end - begin:
                for one, other in zip(olds[first:last], news[begin:end], strict=True):
                    yield from self._of_pair(one, other)
                continue
            text = "\n".join(_outer(self._new, one) for one in news[begin:end])
            if first == last:
                yield self._inserted(olds, first, text)
                continue
            for at, one in enumerate(olds[first:last]):
                yield self._replaced(self._shown_of(one), text if at == 0 else "")

    def _inserted(self, olds: Sequence[Element], at: int, text: str) -> Edit:
        if not olds:
            raise CannotMend("the page that is built of this shows nothing of it yet")
        near = self._shown_of(olds[at - 1] if at else olds[0])
        start, end = self._shown.whole(near)
        place = end if at else start
        return Edit(place, place, text, "")

    def _of_pair(self, old: Element, new: Element) -> Iterator[Edit]:
        if (
            (old.tag, old.attributes, _own_text(old)) == (new.tag, new.attributes, _own_text(new))
            and (inner := _elements(old))
            and len(inner) == len(_elements(new))
        ):
            yield from self._of_lists(inner, _elements(new))
            return
        shown = self._shown_of(old)
        yield self._replaced(shown, self._made(old, new, shown))

    def _made(self, old: Element, new: Element, shown: Element) -> str:
        """Return the new element with what the generator adds to the old one."""
        tag = shown.tag if new.tag == old.tag else new.tag
        attributes = dict(shown.attributes)
        for name in {**old.attributes, **new.attributes}:
            value = new.attributes.get(name)
            if value is None:
                attributes.pop(name, None)
            elif value != old.attributes.get(name):
                attributes[name] = value
        written = "".join(f' {name}="{escape(value)}"' for name, value in attributes.items())
        if tag in VOID_ELEMENTS:
            return f"<{tag}{written}>"
        is_same = _inner(self._old, old) == _inner(self._new, new)
        content = _inner(self._shown, shown) if is_same else _inner(self._new, new)
        return f"<{tag}{written}>{content}</{tag}>"

    def _shown_of(self, old: Element) -> Element:
        index = self._pairs.get(old.index)
        if index is None:
            raise CannotMend(
                "the page that is built of this Markdown does not show the place as it is written"
            )
        return self._shown.page.elements[index]

    def _replaced(self, shown: Element, text: str) -> Edit:
        start, end = self._shown.whole(shown)
        return Edit(start, end, text, self._shown.text[start:end])


def _elements(element: Element) -> list[Element]:
    return [child for child in element.children if isinstance(child, Element)]


def _own_text(element: Element) -> list[str]:
    return [child.data for child in element.children if isinstance(child, Text)]


def _outer(source: SourcePage, element: Element) -> str:
    return source.text[slice(*source.whole(element))] if element.index in source.starts else ""


def _inner(source: SourcePage, element: Element) -> str:
    if element.tag in VOID_ELEMENTS:
        return ""
    return source.text[slice(*source.content(element))]
