"""Links alone, pictures and their texts, and every name with the steps that led to it."""

from __future__ import annotations

from typing import Any

from plumrake.core.checks.pictures.shared import file_of, is_picture, marked_as_ornament
from plumrake.core.dom import whole
from plumrake.core.page import Page

_NAMELESS = ("", "generic", "none")


def links(page: Page) -> list[dict[str, Any]]:
    """Return every exposed link: ``name``, ``target`` as written and ``selector``."""
    return [
        {"name": page.name_of(link), "target": link.get("href") or link.get("xlink:href"), "selector": page.selector_of(link)}
        for link in page.exposed(role="link")
    ]


def pictures(page: Page) -> list[dict[str, Any]]:
    """Return every exposed picture: ``name``, ``file``, ``source``, ``hash`` of the file (None where the lens has none), whether it is marked as ``ornament``, ``selector`` and ``box`` (CSS px)."""
    return [
        {
            "name": page.name_of(element),
            "file": file_of(element),
            "source": element.get("src") or element.get("data"),
            "hash": page.document.files.get(element.index),
            "ornament": marked_as_ornament(page, element),
            "selector": page.selector_of(element),
            "box": whole(element.box),
        }
        for element in page.every_exposed()
        if is_picture(page, element)
    ]


def names(page: Page) -> list[dict[str, Any]]:
    """Return role, name, description and trace of every element that has a role of its own, exposed or not."""
    return [
        {
            "selector": page.selector_of(element),
            "role": page.role_of(element),
            "name": page.raw_name_of(element),
            "description": page.description_of(element),
            "exposed": page.is_exposed(element),
            "trace": [
                {"step": step.step, "selector": page.selector_of(step.element), "says": step.says, "text": step.text}
                for step in page.trace_of(element)
            ],
        }
        for element in page.elements
        if page.role_of(element) not in _NAMELESS
    ]
