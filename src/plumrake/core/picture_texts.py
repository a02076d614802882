"""Texts that a picture might get, each with where it comes from; a person takes one or writes
another."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

from plumrake.core.checks.pictures.file_names import what_it_is
from plumrake.core.checks.pictures.filler_text import filler_in
from plumrake.core.checks.pictures.shared import file_of, link_of
from plumrake.core.dom import Element, is_blank
from plumrake.core.page import Page
from plumrake.core.words import normalised

_LONGEST = 150


@dataclass(frozen=True, slots=True)
class PictureText:
    """A text for a picture, and where it comes from, as words."""

    text: str
    comes_from: str


def picture_texts(
    page: Page,
    element: Element,
    *,
    elsewhere: Mapping[str, int] | None = None,
    in_file: Iterable[PictureText] = (),
    last: Iterable[PictureText] = (),
    longest: int = _LONGEST,
) -> list[PictureText]:
    """Return texts for a picture, the likeliest first: what its file is called elsewhere (texts
    with the number of pages), what stands in the file, its caption, the words of its link, then the
    ``last``.

    What our own checks would find fault with (file names, filler words, texts that are too long) is
    left out.
    """
    found = [
        PictureText(text, f"its text on {count} other page{'s' if count != 1 else ''}")
        for text, count in sorted((elsewhere or {}).items(), key=lambda pair: -pair[1])
    ]
    found += in_file
    found += _around(page, element)
    found += last
    texts: dict[str, PictureText] = {}
    for one in found:
        if _fits(page, element, one.text, longest):
            texts.setdefault(normalised(one.text), one)
    return list(texts.values())


def _around(page: Page, element: Element) -> list[PictureText]:
    found: list[PictureText] = []
    if not is_blank(element.get("title")):
        found.append(PictureText(element.get("title").strip(), "its title"))
    figure = element.closest("figure")
    caption = (
        next((one for one in figure.elements() if one.tag == "figcaption"), None)
        if (figure is not None)
        else None
    )
    if caption is not None:
        found.append(PictureText(page.text_of(caption), "its caption"))
    link = link_of(element)
    if link is not None and not is_blank(link.get("title")):
        found.append(PictureText(link.get("title").strip(), "the title of its link"))
    return found


def _fits(page: Page, element: Element, text: str, longest: int) -> bool:
    return (
        bool(normalised(text))
        and len(text) <= longest
        and text != element.get("alt")
        and what_it_is(text, file_of(element)) is None
        and not filler_in(text, page.language_of(element), {})
    )


@dataclass(frozen=True, slots=True)
class PictureContext:
    """A picture as it stands on its page: the address of its file, where a link around it leads,
    the language, the heading above it, and the text of the block that it stands in."""

    source: str
    link: str
    language: str
    heading: str
    around: str


def picture_context(page: Page, element: Element) -> PictureContext:
    """Return what is around a picture."""
    link = link_of(element)
    above = [one for one in page.exposed(role="heading") if one.index < element.index]
    block = next((one for one in element.ancestors() if len(page.text_of(one)) >= _BLOCK), element)
    return PictureContext(
        element.get("src") or element.get("href"),
        link.get("href") if link is not None else "",
        page.language_of(element),
        page.text_of(above[-1])[:_MOST_AROUND] if above else "",
        page.text_of(block)[:_MOST_AROUND],
    )


_BLOCK, _MOST_AROUND = 40, 600
"""A block of text around a picture has so many characters at least; so many are told."""
