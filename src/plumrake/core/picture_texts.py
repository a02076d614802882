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
    longest: int = _LONGEST,
) -> list[PictureText]:
    """Return texts for a picture, the likeliest first: what its file is called elsewhere (texts
    with the number of pages), what stands in the file, its caption, the words of its link.

    What our own checks would find fault with (file names, filler words, texts that are too long) is
    left out.
    """
    found = [
        PictureText(text, f"its text on {count} other page{'s' if count != 1 else ''}")
        for text, count in sorted((elsewhere or {}).items(), key=lambda pair: -pair[1])
    ]
    found += in_file
    found += _around(page, element)
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
