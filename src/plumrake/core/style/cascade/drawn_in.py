"""The style sheets that a document draws in, in their order: ``style`` and ``link`` elements and
what they import (HTML, 4.2.6 and 4.6.7.24; CSS Cascade 5, 2)."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

from plumrake.core.addresses import resolved
from plumrake.core.dom import Document, Element, Text
from plumrake.core.style.cascade.conditions import Screen, media_applies
from plumrake.core.style.cascade.kin import TooMuchStyle
from plumrake.core.style.cascade.sheets import Import, Layer, Layers, Sheet
from plumrake.core.style.cascade.styling import sheet_of
from plumrake.core.style.cascade.stylist import Placed

MOST_SHEETS, MOST_BYTES = 100, 6_000_000
_MOST_IMPORTED = 6
_HEAD = 4_000
_DOCTYPE = re.compile(r"<!doctype\s+html\b([^>]*)>", re.I)
_OLD = re.compile(
    r"-//(?:w3c//dtd html (?:3|4\.0 (?:transitional|frameset))|ietf//|netscape|microsoft|"
    r"w3o//|softquad)",
    re.I,
)
_OLD_WITHOUT_SYSTEM = re.compile(r"-//w3c//dtd html 4\.01 (?:transitional|frameset)", re.I)

Texts = Mapping[str, str | None]
"""Style sheets by their whole addresses; None for one that the server has not."""


@dataclass(slots=True)
class DrawnIn:
    """What is known by now of a document's style sheets: those that can be placed, and the
    addresses of those that are still to be had."""

    placed: list[Placed] = field(default_factory=list)
    missing: list[str] = field(default_factory=list)


def is_quirky(source: str) -> bool:
    """Tell whether the document type puts a browser into quirks mode (HTML, 13.2.6.4.1)."""
    match = _DOCTYPE.match(_after_comments(source[:_HEAD]))
    if match is None:
        return True
    rest = match.group(1)
    if _OLD_WITHOUT_SYSTEM.search(rest):
        return "http" not in rest.lower()
    return bool(_OLD.search(rest))


def _after_comments(head: str) -> str:
    """Return what follows the comments (and what is taken for one) at a source's beginning."""
    rest = head.lstrip("\ufeff \t\r\n\f")
    while rest.startswith(("<!--", "<?")):
        mark = "-->" if rest.startswith("<!--") else ">"
        _, found, rest = rest.partition(mark)
        rest = rest.lstrip() if found else ""
    return rest


def drawn_in(document: Document, base: str, texts: Texts, screen: Screen) -> DrawnIn:
    """Return the style sheets of a document, as far as ``texts`` has them. Raises
    ``TooMuchStyle``."""
    found = DrawnIn()
    gathering = _Gathering(texts, screen, found, quirky=is_quirky(document.source))
    for element in document.elements:
        if not _applies(element, screen):
            continue
        if element.tag == "style":
            text = "".join(one.data for one in element.children if isinstance(one, Text))
            gathering.take(text, base, (), "", ())
        else:
            address = resolved(base, element.get("href").strip())
            if address is not None:
                gathering.ask(address, (), "", ())
    if len(found.placed) + len(found.missing) > MOST_SHEETS:
        raise TooMuchStyle(f"the page draws in more than {MOST_SHEETS} style sheets")
    return found


def _applies(element: Element, screen: Screen) -> bool:
    """Tell whether an element draws in a style sheet that counts on the screen."""
    if element.tag not in ("style", "link") or element.namespace == "math":
        return False
    if element.tag == "link":
        relations = element.get("rel").lower().split()
        if "stylesheet" not in relations or "alternate" in relations or element.has("disabled"):
            return False
        if not element.get("href").strip() or element.namespace != "html":
            return False
    kind = element.get("type").strip().lower().partition(";")[0]
    if kind not in ("", "text/css") or not media_applies(element.get("media"), screen):
        return False
    return not any(one.tag in ("noscript", "template") for one in element.ancestors())


class _Gathering:
    """Goes through sheets and what they import."""

    def __init__(self, texts: Texts, screen: Screen, found: DrawnIn, *, quirky: bool) -> None:
        self._texts = texts
        self._screen = screen
        self._found = found
        self._quirky = quirky
        self._bytes = 0

    def ask(self, address: str, layer: Layer, doubt: str, chain: tuple[str, ...]) -> None:
        """Take the sheet of an address, or note that it is missing."""
        address = address.partition("#")[0]
        if address in chain or len(chain) >= _MOST_IMPORTED:
            return  # a circle: each sheet counts once on its way
        if address not in self._texts:
            if address not in self._found.missing:
                self._found.missing.append(address)
            return
        text = self._texts[address]
        if text is not None:
            self.take(text, address, layer, doubt, (*chain, address))

    def take(self, text: str, base: str, layer: Layer, doubt: str, chain: tuple[str, ...]) -> None:
        """Place a sheet, what it imports before it."""
        self._bytes += len(text)
        if self._bytes > MOST_BYTES:
            raise TooMuchStyle(f"the page's style sheets are longer than {MOST_BYTES:,} characters")
        if len(self._found.placed) > MOST_SHEETS:
            raise TooMuchStyle(f"the page draws in more than {MOST_SHEETS} style sheets")
        sheet = sheet_of(text, self._screen, is_quirky=self._quirky)
        names = tuple(one for one in sheet.items if isinstance(one, Layers))
        if names and layer == ():
            self._found.placed.append(Placed(Sheet(_before_imports(sheet)), layer, doubt))
        for one in _imports(sheet):
            address = resolved(base, one.address)
            if address is not None:
                self.ask(address, (*layer, *one.layer), doubt or one.doubt, chain)
        self._found.placed.append(Placed(sheet, layer, doubt))


def _imports(sheet: Sheet) -> Iterator[Import]:
    return (one for one in sheet.items if isinstance(one, Import))


def _before_imports(sheet: Sheet) -> tuple[Layers, ...]:
    """Return the layers that a sheet names before its last import: they come before those that the
    imported sheets name."""
    last = max((at for at, one in enumerate(sheet.items) if isinstance(one, Import)), default=0)
    return tuple(one for one in sheet.items[:last] if isinstance(one, Layers))
