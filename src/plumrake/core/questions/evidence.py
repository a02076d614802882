"""What is shown beside a question about a page, and what an answer is tied to."""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from plumrake.core.dom import Element, collapse
from plumrake.core.findings import digest
from plumrake.core.geometry import whole
from plumrake.core.page import Page
from plumrake.core.questions.by_senses import points_by_senses, sentences_of
from plumrake.core.questions.plain import is_long, unexplained, words_in
from plumrake.core.questions.question import Evidence
from plumrake.core.shown_rows import Row, known
from plumrake.core.views.heard import order
from plumrake.core.views.lists import links, pictures
from plumrake.core.views.outline import outline

_MOST = 400

_DRAGGED = frozenset(["slider", "scrollbar", "separator", "spinbutton"])
_TOUCH = frozenset(["touchstart", "touchmove", "pointerdown", "pointermove", "mousedown"])
_SHOWING = ("aria-expanded", "aria-haspopup", "popovertarget")


@dataclass(frozen=True, slots=True)
class Shown:
    """The evidence for a question: its rows, and the ``key`` that changes when what they say
    does. Without rows the question does not apply."""

    rows: tuple[Row, ...]
    key: str


def evidence_of(page: Page) -> dict[Evidence, Shown]:
    """Return what a page has to show for questions, of each the first rows. What nothing is told of
    by this lens has none."""
    return {kind: shown(rows(page)) for kind, rows in _ROWS.items()}


def shown(rows: Iterable[Row]) -> Shown:
    """Return the first rows with the key that they are known by."""
    found = [row for row, _ in zip(rows, range(_MOST), strict=False)]
    said = json.dumps([known(row) for row in found], sort_keys=True, ensure_ascii=False)
    return Shown(tuple(found), digest(said) if found else "")


def _pictures(page: Page) -> Iterator[Row]:
    return (
        {"name": row["name"], "hash": row["hash"] or row["source"], **_places(row)}
        for row in pictures(page)
        if row["name"] and not row["decorative"]
    )


def _decorative(page: Page) -> Iterator[Row]:
    return (
        {"file": row["file"], "hash": row["hash"] or row["source"], **_places(row)}
        for row in pictures(page)
        if row["decorative"]
    )


def _places(row: Mapping[str, Any]) -> Row:
    return {"selector": row["selector"], "box": row["box"]}


def _links(page: Page) -> Iterator[Row]:
    return (
        {"name": row["name"], "address": row["address"], "selector": row["selector"]}
        for row in links(page)
    )


def _headings(page: Page) -> Iterator[Row]:
    return (
        {"level": row["level"], "name": row["name"], "selector": row["selector"]}
        for row in outline(page)
        if row["kind"] == "heading"
    )


def _reading_order(page: Page) -> Iterator[Row]:
    return iter(order(page))


def _by_senses(page: Page) -> Iterator[Row]:
    for block in order(page):
        for sentence in sentences_of(block["text"]):
            if points_by_senses(sentence, page.language):
                yield {"sentence": sentence, "selector": block["selector"]}


def _prose(page: Page) -> Iterator[Row]:
    blocks = order(page)
    for block in blocks:
        for sentence in sentences_of(block["text"]):
            if is_long(sentence):
                yield {
                    "sentence": sentence,
                    "words": words_in(sentence),
                    "selector": block["selector"],
                }
    explained = frozenset(
        one.text() for one in page.elements if one.tag == "abbr" and one.get("title").strip()
    )
    text = "\n".join(block["text"] for block in blocks)
    for word in unexplained(text, explained):
        yield {"abbreviation": word}


def _tables(page: Page) -> Iterator[Row]:
    for table in page.exposed(role="table"):
        model = page.table_model_of(table)
        cells = [
            {
                "text": collapse(cell.text(200)),
                "headers": [collapse(one.text(100)) for one in model.headers_of(cell)],
            }
            for cell in model.cells[:_MOST]
            if cell.tag == "td"
        ]
        if cells:
            yield {
                "name": page.name_of(table),
                "cells": cells,
                "selector": page.selector_of(table),
            }


def _media(page: Page) -> Iterator[Row]:
    for element in _of_tags(page, "audio", "video"):
        tracks = [
            {"kind": one.get("kind") or "subtitles", "label": one.get("label")}
            for one in element.descendants()
            if one.tag == "track"
        ]
        sources = [element.get("src"), *(one.get("src") for one in element.descendants())]
        yield {
            "kind": element.tag,
            "source": next((one for one in sources if one), ""),
            "tracks": tracks,
            "selector": page.selector_of(element),
        }


def _forms(page: Page) -> Iterator[Row]:
    for element in _of_tags(page, "input", "select", "textarea"):
        if element.get("type").lower() != "hidden":
            yield {
                "name": page.name_of(element),
                "kind": element.get("type").lower() or element.tag,
                "required": element.has("required") or element.get("aria-required") == "true",
                "autocomplete": element.get("autocomplete"),
                "selector": page.selector_of(element),
            }


def _passages(page: Page) -> Iterator[Row]:
    for element in page.every_exposed():
        if element is not page.root and element.get("lang").strip():
            text = collapse(element.text(200))
            if text:
                yield {
                    "language": element.get("lang"),
                    "text": text,
                    "selector": page.selector_of(element),
                }


def _motion(page: Page) -> Iterator[Row]:
    for element in page.every_exposed():
        is_moving = element.moves or element.tag in ("marquee", "blink")
        if is_moving or (element.tag in ("audio", "video") and element.has("autoplay")):
            yield {"kind": element.tag, "selector": page.selector_of(element)}


def _controls(page: Page) -> Iterator[Row]:
    """Yield what may be dragged, swiped or drawn on."""
    for element in page.every_exposed():
        is_drawn_on = element.tag == "canvas" or page.role_of(element) in _DRAGGED
        if is_drawn_on or element.get("draggable").lower() == "true" or element.listeners & _TOUCH:
            yield _named(page, element)


def _appearing(page: Page) -> Iterator[Row]:
    for element in page.every_exposed():
        shows = [name for name in _SHOWING if element.has(name)]
        if shows or element.tag == "summary":
            yield {**_named(page, element), "by": shows}


def _enlarged(page: Page) -> Iterator[Row]:
    return ({"build": build} for build in sorted(page.structure.census))


def _tab_path(page: Page) -> Iterator[Row]:
    for element in page.interactive():
        if element.get("tabindex") != "-1":
            yield _named(page, element)


def _words_in_pictures(page: Page) -> Iterator[Row]:
    read = page.evidence.words or {}
    for index in sorted(read):
        element = page.elements[index]
        words = " ".join(one.text for one in read[index])
        if words:
            yield {
                "words": words,
                "name": page.name_of(element),
                "hash": page.evidence.files.get(index) or element.get("src"),
                "selector": page.selector_of(element),
                "box": whole(element.box),
            }


def _menus(page: Page) -> Iterator[Row]:
    for menu in page.exposed(role="navigation"):
        links = [page.name_of(one) for one in menu.descendants() if page.role_of(one) == "link"]
        yield {
            "name": page.name_of(menu),
            "links": links[:_MOST],
            "selector": page.selector_of(menu),
        }


def _named(page: Page, element: Element) -> Row:
    return {
        "role": page.role_of(element),
        "name": page.name_of(element),
        "selector": page.selector_of(element),
        "box": whole(element.box),
    }


def _of_tags(page: Page, *tags: str) -> Iterator[Element]:
    return (one for one in page.every_exposed() if one.tag in tags)


_ROWS: dict[Evidence, Callable[[Page], Iterator[Row]]] = {
    "pictures": _pictures,
    "decorative-pictures": _decorative,
    "links": _links,
    "headings": _headings,
    "reading-order": _reading_order,
    "sensory-words": _by_senses,
    "prose": _prose,
    "tables": _tables,
    "media": _media,
    "forms": _forms,
    "passages": _passages,
    "motion": _motion,
    "controls": _controls,
    "appearing": _appearing,
    "enlarged": _enlarged,
    "tab-path": _tab_path,
    "words-in-pictures": _words_in_pictures,
    "repeated-parts": _menus,
}
