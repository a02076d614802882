"""What kind of page a page is, where its content system says so in the classes of its body, as
WordPress does with ``archive author``."""

from __future__ import annotations

from typing import Literal, get_args

from plumrake.core.dom import Document

PageKind = Literal["author-archive", "date-archive", "term-archive", "search-results"]
PAGE_KINDS: tuple[PageKind, ...] = get_args(PageKind)
"""The kinds of pages that list others."""
_ARCHIVES: dict[str, PageKind] = {
    "author": "author-archive",
    "date": "date-archive",
    "category": "term-archive",
    "tag": "term-archive",
}


def kind_of_page(document: Document) -> PageKind | Literal[""]:
    """Return the kind of a page that lists others; ``""`` for all else, and where nothing says
    so."""
    body = document.first("body")
    classes = body.classes() if body is not None else []
    if "archive" in classes:
        return next((kind for name, kind in _ARCHIVES.items() if name in classes), "")
    return "search-results" if {"search", "search-results"} <= set(classes) else ""
