"""What a mend does, as a plain sentence for a list of changes."""

from __future__ import annotations

from plumrake.core.dom import Element
from plumrake.core.findings import Mend

_ATTRIBUTES = {
    "alt": "text",
    "lang": "language",
    "href": "address of the link",
    "title": "title",
    "aria-label": "name",
}
_THINGS = {
    "img": "picture",
    "a": "link",
    "table": "table",
    "input": "field",
    "select": "field",
    "textarea": "field",
    "button": "button",
    "iframe": "frame",
    "svg": "drawing",
    "html": "page",
}
_HEADINGS = ("h1", "h2", "h3", "h4", "h5", "h6")
_LONGEST = 60


def says_of(mend: Mend, element: Element) -> str:
    """Return what carrying a mend out changes of an element: one sentence with what is written
    there and what it was."""
    thing = _named(element)
    value = _short(mend.value or "")
    if mend.kind == "set-attribute" and mend.attribute:
        what = _ATTRIBUTES.get(mend.attribute, f"“{mend.attribute}”")
        old = element.get(mend.attribute) if element.has(mend.attribute) else None
        was = f", was “{_short(old)}”" if old else ""
        return f"{_capital(what)} of {thing} set to “{value}”{was}."
    if mend.kind == "remove-attribute":
        return f"“{mend.attribute}” taken away from {thing}."
    if mend.kind == "rename-element":
        return f"{_capital(thing)} made {_kind_of(mend.to or '')}."
    if mend.kind == "move-section":
        return f"{_capital(thing)} made level {mend.to}, with what is below it."
    if mend.kind == "replace-text":
        return f"{_capital(thing)} now reads “{value}”."
    if mend.kind == "set-colours":
        return f"{_capital(thing)}: text {mend.value}, background {mend.to}."
    if mend.kind in ("set-style", "add-rule"):
        return f"{_capital(thing)}: {mend.property} set to {mend.value}."
    if mend.kind == "mark-decorative":
        return f"{_capital(thing)} marked as decorative."
    if mend.kind == "insert" and mend.to in ("caption", "label", "title"):
        return f"{_capital(mend.to)} “{value}” written for {thing}."
    if mend.kind == "head-table":
        return f"{_capital(thing)}: header cells in the {_AXES.get(mend.to or '', 'first row')}."
    if mend.kind == "rewrite":
        return f"{_capital(thing)} written anew."
    return f"{_capital(thing)}: {mend.says}" if mend.says else f"{_capital(thing)} changed."


_AXES = {"row": "first row", "column": "first column", "both": "first row and column"}


def _named(element: Element) -> str:
    words = _short(" ".join(element.text(200).split()))
    if element.tag in _HEADINGS:
        return f"the heading “{words}” (level {element.tag[1]})" if words else "an empty heading"
    if element.tag == "img":
        name = element.get("src").rsplit("/", 1)[-1].partition("?")[0]
        return f"the picture {_short(name)}" if name else "a picture"
    thing = _THINGS.get(element.tag, f"<{element.tag}>")
    if element.tag == "html":
        return "the page"
    return f"the {thing} “{words}”" if words and element.tag != "table" else f"the {thing}"


def _kind_of(tag: str) -> str:
    if tag in _HEADINGS:
        return f"a heading of level {tag[1]}"
    return {"p": "a paragraph", "a": "a link", "button": "a button"}.get(tag, f"<{tag}>")


def _short(text: str) -> str:
    return text if len(text) <= _LONGEST else f"{text[: _LONGEST - 1]}…"


def _capital(text: str) -> str:
    return text[:1].upper() + text[1:]
