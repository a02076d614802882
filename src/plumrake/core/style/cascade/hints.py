"""Presentational hints: what attributes declare (HTML, 15.3; SVG 2, 6.6)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import dataclass

from plumrake.core.colours import NotAColour, parse
from plumrake.core.dom import Document, Element
from plumrake.core.named_colours import NAMED
from plumrake.core.style.cascade.declarations import Declaration, set_to

_SVG = (
    "fill stroke color opacity font-size font-weight font-style font-family display visibility "
    "text-decoration clip-path filter cursor overflow"
).split()
_FONT_SIZES = ("x-small", "small", "medium", "large", "x-large", "xx-large", "xxx-large")
_PAINTED = frozenset(["body", "table", "thead", "tbody", "tfoot", "tr", "td", "th", "marquee"])
HINTING = frozenset("bgcolor text color size face border background hidden".split())
"""Attributes that may declare something."""


def hints_of(element: Element) -> tuple[Declaration, ...]:
    """Return what an element's attributes declare."""
    if element.namespace == "svg":
        return tuple(_of_svg(element))
    if element.tag not in ("td", "th") and HINTING.isdisjoint(element.attributes):
        return ()
    return tuple(_of_html(element))


def _of_svg(element: Element) -> Iterator[Declaration]:
    for name in _SVG:
        if element.has(name):
            value = element.get(name).strip()
            is_bare = name == "font-size" and value.replace(".", "", 1).isdigit()
            yield from set_to(name, f"{value}px" if is_bare else value)


def _of_html(element: Element) -> Iterator[Declaration]:
    if element.has("hidden") and element.get("hidden").strip().lower() == "until-found":
        yield from set_to("content-visibility", "hidden")
    if element.tag in _PAINTED and element.has("bgcolor"):
        yield from _colour("background-color", element.get("bgcolor"))
    if element.tag in _PAINTED and element.get("background").strip():
        yield from set_to("background-image", "url(background)")
    if element.tag == "body" and element.has("text"):
        yield from _colour("color", element.get("text"))
    if element.tag in ("font", "basefont"):
        yield from _font(element)
    if element.tag == "hr" and element.has("color"):
        yield from _colour("border-color", element.get("color"))
        yield from _colour("background-color", element.get("color"))
        yield from set_to("border-style", "solid")
    yield from _borders(element)


def _borders(element: Element) -> Iterator[Declaration]:
    width = re.match(r"\s*\d+", element.get("border"))
    if element.tag == "table" and element.has("border"):
        px = int(width.group()) if width else 1
        yield from set_to("border", f"{px}px outset" if px else "0px none")
    elif element.tag in ("img", "input", "object") and width:
        yield from set_to("border", f"{int(width.group())}px solid")
    elif element.tag in ("td", "th"):
        table = element.closest("table")
        own = re.match(r"\s*\d+", table.get("border")) if table is not None else None
        if table is not None and table.has("border") and (own is None or int(own.group())):
            yield from set_to("border", "1px inset")


def _font(element: Element) -> Iterator[Declaration]:
    if element.has("color"):
        yield from _colour("color", element.get("color"))
    if element.get("face").strip():
        yield from set_to("font-family", element.get("face"))
    match = re.match(r"\s*([+-]?)(\d+)", element.get("size"))
    if match:
        number = int(match.group(2)[:3])
        size = {"+": 3 + number, "-": 3 - number}.get(match.group(1), number)
        yield from set_to("font-size", _FONT_SIZES[min(7, max(1, size)) - 1])


def _colour(name: str, text: str) -> Iterator[Declaration]:
    found = legacy_colour(text)
    if found is not None:
        yield from set_to(name, found)


def legacy_colour(text: str) -> str | None:
    """Return the colour that an old attribute means, as ``#rrggbb`` (HTML, 2.3.6, rules for parsing
    a legacy colour value), or None."""
    word = text.strip().lower()
    if not word or word == "transparent":
        return None
    if word in NAMED:
        return word
    if re.fullmatch("#[0-9a-f]{3}", word):
        return word
    word = "".join("00" if ord(one) > 0xFFFF else one for one in word)[:128].removeprefix("#")
    word = re.sub("[^0-9a-f]", "0", word)
    while not word or len(word) % 3:
        word += "0"
    size = len(word) // 3
    parts = [word[at : at + size][-8:] for at in (0, size, 2 * size)]
    while len(parts[0]) > 2 and all(part.startswith("0") for part in parts):
        parts = [part[1:] for part in parts]
    found = "#" + "".join(part[:2].rjust(2, "0") for part in parts)
    try:
        parse(found)
    except NotAColour:
        return None
    return found


@dataclass(frozen=True, slots=True)
class BodyColours:
    """What the attributes of ``body`` declare for links, and in quirks mode for tables."""

    links: tuple[Declaration, ...] = ()
    tables: tuple[Declaration, ...] = ()

    @classmethod
    def of(cls, document: Document, *, is_quirky: bool) -> BodyColours:
        """Return those of a document."""
        body = document.first("body")
        if body is None:
            return cls()
        return cls(
            tuple(_colour("color", body.get("link"))),
            tuple(_colour("color", body.get("text"))) if is_quirky else (),
        )

    def for_element(self, element: Element) -> tuple[Declaration, ...]:
        """Return those that concern an element."""
        if self.links and element.tag == "a" and element.has("href"):
            return self.links
        return self.tables if element.tag == "table" else ()
