"""Pages styled by the cascade, and the same pages by the browser."""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.colours import NotAColour, parse
from plumrake.core.dom import Element, Style
from plumrake.core.page import Page
from plumrake.lenses.markup import parse_document
from plumrake.lenses.read_options import ReadOptions
from plumrake.lenses.reader import PageReader
from plumrake.lenses.styles import styled

ADDRESS = "http://pages.invalid/page"
PLAIN = ReadOptions(pixels=False, keyboard=False, zoom=False, words=False)
COLOURS = frozenset(name for name in Style._fields if name.endswith("color")) | {
    "text_fill",
    "fill",
    "stroke",
}
FIRST_WORD = frozenset(["cursor", "clip", "clip_path", "filter", "background_image"])
"""Fields of whose value only the beginning is ever read."""


def page_of(html: str, sheets: dict[str, str | None] | None = None) -> Page:
    """Return a page as the markup lens has it, with its styles."""
    found = styled(Page(parse_document(html, ADDRESS)), sheets or {}, ADDRESS)
    assert isinstance(found, Page), f"style sheets are missing: {found}"
    return found


async def browsers_page(reader: PageReader, html: str) -> Page:
    """Return the page as the browser shows it."""
    obtained = await reader.read_html(html.encode(), ADDRESS, PLAIN)
    assert obtained.page is not None, obtained.problem
    return obtained.page


def differences(ours: Page, theirs: Page) -> Iterator[tuple[Element, str, str, str]]:
    """Yield where known values differ: the element, the field, ours, the browser's."""
    own, their = outside_templates(ours), outside_templates(theirs)
    assert [one.tag for one in own] == [one.tag for one in their]
    for mine, other in zip(own, their, strict=True):
        if mine.style is None or other.style is None:
            if (mine.style is None) != (other.style is None):
                yield mine, "rendered", str(mine.style is not None), str(other.style is not None)
            continue
        doubts = mine.certainty.doubts if mine.certainty is not None else frozenset[str]()
        for name, one, two in zip(Style._fields, mine.style, other.style, strict=True):
            if name not in doubts and not same(name, one, two):
                yield mine, name, one, two
        for name in ("before", "after", "placeholder"):
            one, two = getattr(mine, name), getattr(other, name)
            if one != two:
                yield mine, name, one, two


def outside_templates(page: Page) -> list[Element]:
    """Return the elements that are in no ``template``: the browser's collector does not see it."""
    return [one for one in page.elements if one.closest("template") is None]


def same(name: str, one: str, two: str) -> bool:
    """Tell whether two computed values mean the same."""
    if one == two:
        return True
    if name in COLOURS:
        try:
            first, second = parse(one), parse(two)
        except NotAColour:
            return False
        return all(abs(a - b) < 1 / 400 for a, b in zip(first, second, strict=True))
    if name == "box_shadow":
        return _shadows(one) == _shadows(two)
    if name in FIRST_WORD:
        return begins(one) == begins(two)
    if name == "font_size":
        return abs(float(one.removesuffix("px")) - float(two.removesuffix("px"))) < 0.02
    return False


def _shadows(value: str) -> list[tuple[object, ...]]:
    """Return shadows with their colours to two digits, as browsers write some of them."""
    found: list[tuple[object, ...]] = []
    for shadow in re.split(r",\s*(?![^(]*\))", value):
        colour = re.match(r"[a-z]+\([^()]*\)", shadow)
        if colour is None:
            found.append((shadow,))
            continue
        parts = tuple(round(part, 2) for part in parse(colour[0]))
        found.append((*parts, shadow[colour.end() :]))
    return found


def begins(value: str) -> str:
    """Return what a value begins with."""
    return value.partition("(")[0].partition(" ")[0]
