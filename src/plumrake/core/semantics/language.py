"""The language of an element: the nearest ``lang`` on it or above it (HTML Standard, 3.2.6.2)."""

from __future__ import annotations

from plumrake.core.dom import Element


def language_of(element: Element) -> str:
    """Return the primary language subtag in lower case, or ``""`` where none is given."""
    return tag_of(element).partition("-")[0]


def tag_of(element: Element) -> str:
    """Return the whole language tag in lower case, or ``""`` where none is given."""
    holder: Element | None = element
    while holder is not None:
        for attribute in ("lang", "xml:lang"):
            if holder.has(attribute):
                return holder.get(attribute).strip().lower().replace("_", "-")
        holder = holder.parent
    return ""
