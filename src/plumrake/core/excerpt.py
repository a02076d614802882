"""Excerpts: an element's markup, short enough to read, as evidence in a finding."""

from __future__ import annotations

from html import escape

from plumrake.core.dom import Element, Text, collapse
from plumrake.core.vocabulary import VOID_ELEMENTS

_LONGEST = 240
_LONGEST_VALUE = 90


def start_tag(element: Element) -> str:
    """Return the element's start tag with its attributes, long values cut."""
    parts = [element.tag]
    for name, value in element.attributes.items():
        short = value if len(value) <= _LONGEST_VALUE else value[: _LONGEST_VALUE - 1] + "…"
        parts.append(f'{name}="{escape(short, quote=False).replace(chr(34), "&quot;")}"')
    return f"<{' '.join(parts)}>"


def excerpt_of(element: Element) -> str:
    """Return the element as markup of at most 240 characters; what is left out shows as ``…``."""
    opening = start_tag(element)
    if element.tag in VOID_ELEMENTS:
        return _cut(opening, _LONGEST)
    closing = f"</{element.tag}>"
    room = max(20, _LONGEST - len(opening) - len(closing))
    return _cut(opening, _LONGEST) + _inside(element, room) + closing


def _inside(element: Element, room: int) -> str:
    out = ""
    for child in element.children:
        piece = (
            escape(child.data, quote=False)
            if isinstance(child, Text)
            else _short(child, room - len(out))
        )
        out += piece
        if len(out) > room:
            return _cut(collapse(out), room)
    return collapse(out)


def _short(element: Element, room: int) -> str:
    opening = start_tag(element)
    if element.tag in VOID_ELEMENTS or room < len(opening):
        return opening
    return (
        opening
        + (_inside(element, room - len(opening)) if room > 40 else "…")
        + f"</{element.tag}>"
    )


def _cut(text: str, longest: int) -> str:
    return text if len(text) <= longest else text[: longest - 1] + "…"
