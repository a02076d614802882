"""What scripts of a page may add that its markup lacks: told from the markup alone, where nothing
runs them."""

from __future__ import annotations

import re
from typing import Literal

from plumrake.core.dom import Document, Element, is_blank
from plumrake.core.findings import Needs, NotTested
from plumrake.core.vocabulary import VOID_ELEMENTS

Part = Literal["title", "language", "main", "level-1", "way-past-menus"]

_HINTS: dict[Part, re.Pattern[str]] = {
    "title": re.compile(r"document(?:\.title|\[.title.\])\s*=|<title"),
    "language": re.compile(r"documentElement\.lang\s*=|setAttribute\(\s*[\"']lang[\"']"),
    "main": re.compile(r"<main|[\"'`]main[\"'`]"),
    "level-1": re.compile(r"<h1|[\"'`]h1[\"'`]", re.I),
    "way-past-menus": re.compile(r"skip", re.I),
}
_ADDS = re.compile(
    r"createElement|innerHTML|outerHTML|insertAdjacent|insertBefore|append|prepend|document\.write"
)
_SETS = frozenset[Part](("title", "language"))
_DATA = re.compile(r"json|template|text/(?!javascript|ecmascript)|x-", re.I)


def unless_scripts_add(document: Document, part: Part) -> None:
    """Raise ``NotTested`` where the lens runs no scripts and the page's could add a part: they
    write of it, or fill an empty place that all of the page stands in."""
    if Needs.SCRIPTS not in document.gives and (
        any(_may_add(script, part) for script in _scripts(document)) or _is_shell(document)
    ):
        raise NotTested(Needs.SCRIPTS)


def _scripts(document: Document) -> list[Element]:
    return [
        one
        for one in document.elements
        if one.tag == "script" and not _DATA.search(one.get("type"))
    ]


def _may_add(script: Element, part: Part) -> bool:
    text = "".join(one.data for one in script.texts())
    return bool(_HINTS[part].search(text)) and (part in _SETS or bool(_ADDS.search(text)))


def _is_shell(document: Document) -> bool:
    """Tell whether the body is an empty place for scripts, with next to nothing around it."""
    body = document.first("body")
    if body is None or not _scripts(document):
        return False
    shown = [one for one in body.elements() if one.tag not in ("script", "noscript", "style")]
    return any(map(_is_empty_place, shown)) and all(is_blank(one.text(80)) for one in shown)


def _is_empty_place(element: Element) -> bool:
    """Tell whether an element is there to be filled: it has a name for scripts, and nothing in
    it."""
    named = bool(element.get("id")) or "-" in element.tag
    return named and element.tag not in VOID_ELEMENTS and not any(element.elements())
