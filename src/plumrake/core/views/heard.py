"""The page as heard, line by line, and its reading order as linear text."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from plumrake.core.dom import Element, Text, collapse
from plumrake.core.page import Page
from plumrake.core.semantics.names import sets_words_apart
from plumrake.core.views.once import once_a_page
from plumrake.core.vocabulary import NAME_FROM_CONTENT

_SAID = {
    "img": "image",
    "graphics-document": "image",
    "textbox": "text field",
    "searchbox": "search field",
    "spinbutton": "number field",
    "combobox": "choice field",
    "radio": "radio button",
    "listitem": "item",
    "contentinfo": "footer",
    "complementary": "aside",
}
_BULLET = "•"
_HOLDING = frozenset(["row", "cell", "gridcell", "columnheader", "rowheader"])
_STATES = {
    "aria-expanded": ("expanded", "collapsed"),
    "aria-pressed": ("pressed", ""),
    "aria-checked": ("checked", "not checked"),
}
_WITH_NAME = frozenset(
    (
        "img graphics-document textbox searchbox combobox listbox checkbox radio spinbutton slider "
        "switch progressbar meter"
    ).split()
)


@once_a_page
def heard(page: Page) -> list[dict[str, Any]]:
    """Return what a screen reader would announce, roughly, a row per stop: ``line`` and the
    element's ``selector``."""
    rows: list[dict[str, Any]] = []
    for element, said in _lines(page):
        if not said:
            continue
        bullet = bool(rows) and rows[-1]["line"] == _BULLET and rows.pop() is not None
        rows.append(
            {"line": f"{_BULLET} {said}" if bullet else said, "selector": page.selector_of(element)}
        )
    return rows


def _lines(page: Page, *, announcing: bool = True) -> Iterator[tuple[Element, str]]:
    """Yield each stop with its element: blocks of running text and, when ``announcing``, what has a
    role to be said."""
    stack: list[Element | Text | None] = [page.root]
    running: list[str] = []
    holder = page.root
    while stack:
        node = stack.pop()
        if node is None:  # the end of a block
            yield holder, collapse("".join(running))
            running = []
            continue
        if isinstance(node, Text):
            running.append(node.data)
            holder = node.parent
            continue
        if not page.is_exposed(node) and not _may_show_inside(page, node):
            continue
        role = page.role_of(node)
        told = _told(page, node, role) if announcing else None
        if told is not None or sets_words_apart(node) or node.tag == "br":
            yield holder, collapse("".join(running))
            running = []
        if told is not None:
            yield node, told
        if announcing and (
            role in _WITH_NAME or (role in NAME_FROM_CONTENT and role not in _HOLDING)
        ):
            continue
        if sets_words_apart(node):
            stack.append(None)
        stack.extend(reversed(node.children))
    yield holder, collapse("".join(running))


def _may_show_inside(page: Page, element: Element) -> bool:
    """Tell whether a hidden element may hold something that shows: visibility is taken back by
    descendants."""
    return element.tag in ("html", "body") or (
        element.style is not None
        and element.style.visibility != "visible"
        and element.style.display != "none"
    )


def _told(page: Page, element: Element, role: str) -> str | None:
    """Return what is said on reaching the element, None where nothing is."""
    name = page.name_of(element)
    if role == "heading":
        return f"heading level {page.level_of(element)}, {name or '(nothing)'}"
    if page.landmarks.is_one(element):
        kind = _SAID.get(role, role) + (" landmark" if role != "main" else "")
        return ", ".join(part for part in (kind, name) if part)
    if role in ("list", "table"):
        return _counted(page, element, role, name)
    if (
        role in ("link", "button")
        or role in _WITH_NAME
        or role in ("tab", "menuitem", "option", "treeitem")
    ):
        parts = [_SAID.get(role, role), name or "(no name)", *_states(element)]
        return ", ".join(part for part in parts if part)
    if role == "listitem":
        return _BULLET
    return None


def _counted(page: Page, element: Element, role: str, name: str) -> str:
    wanted = "listitem" if role == "list" else "row"
    number = sum(page.role_of(inner) == wanted for inner in element.descendants())
    member = ("item" if role == "list" else "row") + ("" if number == 1 else "s")
    return ", ".join(part for part in (role, f"{number} {member}", name) if part)


def _states(element: Element) -> Iterator[str]:
    for attribute, (true, false) in _STATES.items():
        if element.has(attribute):
            yield true if element.get(attribute) == "true" else false
    if element.value and element.tag in ("input", "select", "textarea"):
        yield element.value
    if element.has("required") or element.get("aria-required") == "true":
        yield "required"


@once_a_page
def order(page: Page) -> list[dict[str, Any]]:
    """Return the exposed text block by block in the order of the source, tables cell by cell:
    ``text`` and ``selector``."""
    return [
        {"text": text, "selector": page.selector_of(element)}
        for element, text in _lines(page, announcing=False)
        if text
    ]
