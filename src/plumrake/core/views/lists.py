"""Links alone, pictures and their texts, and every name with the steps that led to it."""

from __future__ import annotations

from typing import Any
from urllib.parse import urljoin, urlsplit

from plumrake.core.checks.pictures.shared import file_of, is_picture, marked_as_ornament
from plumrake.core.dom import whole
from plumrake.core.page import Page

_NAMELESS = ("", "generic", "none")


def links(page: Page) -> list[dict[str, Any]]:
    """Return every exposed link: ``name``, ``target`` as written, ``address`` that it leads to and ``selector``.

    The address is whole, that of the page's own origin without it, so that it is the same in staging and live; ``""`` where there is none.
    """
    return [
        {"name": page.name_of(link), "target": target, "address": address_of(page, target), "selector": page.selector_of(link)}
        for link in page.exposed(role="link")
        for target in [link.get("href") or link.get("xlink:href")]
    ]


def address_of(page: Page, target: str) -> str:
    """Return where an address as written leads to: from the root for the page's own origin, else whole; ``""`` for none."""
    if not target.strip():
        return ""
    try:
        whole_of, home = urlsplit(urljoin(page.base, target.strip())), urlsplit(page.address)
    except ValueError:
        return target.strip()
    if whole_of.scheme in ("http", "https") and (whole_of.scheme, whole_of.netloc) == (home.scheme, home.netloc):
        whole_of = whole_of._replace(scheme="", netloc="", path=whole_of.path or "/")
    return whole_of.geturl()


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
