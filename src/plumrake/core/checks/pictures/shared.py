"""What the checks of pictures share: which elements are pictures, and what their file is called."""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element, Text, is_blank
from plumrake.core.findings import Mend
from plumrake.core.numbers import dimension
from plumrake.core.page import Page

_PICTURE_ROLES = frozenset(["img", "graphics-document", "graphics-symbol", "graphics-object"])
_PICTURE_TAGS = frozenset(["area", "input", "svg", "canvas", "object", "img"])


def pictures(page: Page) -> Iterator[Element]:
    """Yield the exposed pictures that are not marked as decorative, in document order."""
    return (
        element
        for element in page.every_exposed()
        if is_picture(page, element) and not marked_as_decorative(page, element)
    )


def marked_as_decorative(page: Page, element: Element) -> bool:
    """Tell whether the author marked the picture as one that says nothing: a zero-length ``alt`` or
    a presentational role.

    The mark is looked at, not the role that comes of it: a mark that focus or a name contradicts is
    for ``pictures/decorative-conflict``. For an ``area`` or a picture button an empty ``alt`` is no
    mark.
    """
    if page.explicit_role(element) == "none":
        return True
    return element.tag == "img" and element.has("alt") and element.get("alt") == ""


def is_picture(page: Page, element: Element) -> bool:
    """Tell whether the element shows something that is no text and so needs one (WCAG 2.2,
    1.1.1)."""
    if element.tag not in _PICTURE_TAGS and not element.has("role"):
        return False
    explicit = page.explicit_role(element)
    if element.tag == "area":
        return element.has("href")
    if element.tag == "input":
        return element.get("type").strip().lower() == "image"
    if element.tag == "svg" and element.namespace == "svg":
        return explicit in _PICTURE_ROLES or (explicit == "" and _alone_in_control(page, element))
    if element.tag == "canvas":
        return explicit not in ("", "none")
    if element.tag == "object":
        return (element.has("data") or element.has("type")) and not (
            explicit and explicit not in _PICTURE_ROLES
        )
    if element.tag == "img":
        return explicit in ("", "none", *_PICTURE_ROLES) or page.role_of(element) == "img"
    return explicit in _PICTURE_ROLES


def _alone_in_control(page: Page, drawing: Element) -> bool:
    """Tell whether the drawing is all that a nameless link or button holds."""
    for ancestor in drawing.ancestors():
        if page.role_of(ancestor) in ("link", "button"):
            alone = all(is_blank(text.data) or _inside(text, drawing) for text in ancestor.texts())
            return alone and not page.name_of(ancestor)
    return False


def _inside(text: Text, element: Element) -> bool:
    return text.parent is element or element in text.parent.ancestors()


def file_of(element: Element) -> str:
    """Return the last part of the picture's address, or ``""``; a ``data:`` address gives its media
    type."""
    source = (
        element.get("src")
        or element.get("data")
        or element.get("href")
        or element.get("xlink:href")
    )
    if source.startswith("data:"):
        return source[5:].partition(",")[0].partition(";")[0]
    return source.partition("?")[0].partition("#")[0].rstrip("/").rpartition("/")[2]


def own_file(page: Page, element: Element) -> str:
    """Return the address that the picture's file is known by, in the form in which addresses are
    compared, without what follows ``?`` or ``#``; ``""`` for none."""
    source = (
        element.get("src")
        or element.get("data")
        or element.get("href")
        or element.get("xlink:href")
    ).strip()
    if not source or source.startswith("data:"):
        return source
    return (page.resolved(source) or source).partition("#")[0].partition("?")[0]


def size_of(element: Element) -> tuple[float, float] | None:
    """Return width and height in CSS px: as laid out, else by the attributes, else None."""
    if element.box is not None:
        return element.box[2], element.box[3]
    width, height = (dimension(element.get(name)) for name in ("width", "height"))
    return (width, height) if width is not None and height is not None else None


def link_of(element: Element) -> Element | None:
    """Return the link that holds the picture, or None."""
    return next(
        (
            ancestor
            for ancestor in element.ancestors()
            if ancestor.tag == "a" and ancestor.has("href")
        ),
        None,
    )


NAMING = ("aria-label", "aria-labelledby", "title")
"""Attributes that can name a picture beside its ``alt``."""


def write_text(
    element: Element,
    says: str = "Write what the picture tells the reader here.",
    value: str | None = None,
) -> Mend:
    """Return the mend that writes a picture's text where its name comes from."""
    has_alt = element.tag in ("img", "area", "input")
    attribute = "alt" if has_alt and is_blank(element.get("aria-label")) else "aria-label"
    return Mend("set-attribute", says, attribute=attribute, value=value)


def mark_decorative(
    element: Element, says: str = "Or, if it only adorns the page, mark it as decorative."
) -> Mend:
    """Return the mend that marks a picture as decorative."""
    if element.tag == "img" and not any(not is_blank(element.get(name)) for name in NAMING):
        return Mend("set-attribute", says, attribute="alt", value="")
    return Mend("mark-decorative", says)
