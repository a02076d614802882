"""Links alone, pictures and their texts, and every name with the steps that led to it."""

from __future__ import annotations

from typing import Any

from plumrake.core.addresses import origin
from plumrake.core.checks.pictures.shared import file_of, is_picture, marked_as_decorative
from plumrake.core.dom import Element
from plumrake.core.geometry import whole
from plumrake.core.page import Page
from plumrake.core.views.once import once_a_page

_NAMELESS = ("", "generic", "none")


@once_a_page
def links(page: Page) -> list[dict[str, Any]]:
    """Return every exposed link: ``name``, ``target`` as written, ``address`` that it leads to and
    ``selector``.

    The address is whole, that of the page's own origin without it, so that it is the same in
    staging and live; ``""`` where there is none.
    """
    return [
        {
            "name": page.name_of(link),
            "target": target,
            "address": address_of(page, target),
            "selector": page.selector_of(link),
        }
        for link in page.exposed(role="link")
        for target in [link.get("href") or link.get("xlink:href")]
    ]


_PLAIN_TYPES = frozenset("password date datetime-local month week time color file".split())


def address_of(page: Page, target: str) -> str:
    """Return where an address as written leads to: from the root for the page's own origin, else
    whole; ``""`` for none."""
    if not target.strip():
        return ""
    whole = page.resolved(target)
    if whole is None:
        return target.strip()
    home = origin(page.here)
    return whole.removeprefix(home) if whole.startswith(f"{home}/") else whole


@once_a_page
def pictures(page: Page) -> list[dict[str, Any]]:
    """Return every exposed picture: ``name``, ``file``, ``source``, ``hash`` of the file (None
    where the lens has none), whether it is marked as ``decorative``, ``selector`` and ``box`` (CSS
    px)."""
    return [
        {
            "name": page.name_of(element),
            "file": file_of(element),
            "source": element.get("src") or element.get("data"),
            "hash": page.evidence.files.get(element.index),
            "decorative": marked_as_decorative(page, element),
            "selector": page.selector_of(element),
            "box": whole(element.box),
        }
        for element in page.every_exposed()
        if is_picture(page, element)
    ]


@once_a_page
def names(page: Page) -> list[dict[str, Any]]:
    """Return role, name, description and trace of every element that has a role of its own, exposed
    or not; fields without a role of ARIA (password, date, colour, file …) have an empty one."""
    return [
        {
            "selector": page.selector_of(element),
            "role": "" if _is_plain_field(element) else page.role_of(element),
            "name": page.raw_name_of(element),
            "description": page.description_of(element),
            "exposed": page.is_exposed(element),
            "trace": [
                {
                    "step": step.step,
                    "selector": page.selector_of(step.element),
                    "says": step.says,
                    "text": step.text,
                }
                for step in page.trace_of(element)
            ],
        }
        for element in page.elements
        if page.role_of(element) not in _NAMELESS or _is_plain_field(element)
    ]


def _is_plain_field(element: Element) -> bool:
    """Tell whether it is a field of a type that HTML-AAM gives no role."""
    kind = element.get("type").strip().lower()
    return element.tag == "input" and kind in _PLAIN_TYPES and not element.get("role").strip()
