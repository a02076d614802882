"""Comments by which an author leaves a place out, with the reason.

``<!-- plumrake: leave links/vague here, since the list above names it -->`` speaks of the element
that follows it, with all that is in it. Several checks or areas are parted by commas. The comment
may be one of HTML, or of a template (``{# … #}``, ``{/* … */}``, ``{{!-- … --}}``).
"""

from __future__ import annotations

import re
from bisect import bisect_left
from dataclasses import dataclass
from functools import cached_property

from plumrake.core.dom import Document, Element
from plumrake.core.html_source import Lines
from plumrake.core.registry import Check
from plumrake.core.tables import covers

_WORD = "plumrake:"
_GAP = r"[ \t]{1,20}"
_COMMENT = re.compile(
    rf"plumrake:{_GAP}leave{_GAP}([a-z0-9/, \t-]{{1,400}}?){_GAP}here,{_GAP}since{_GAP}"
    r"([^\r\n]{1,400}?)[ \t]{0,20}(?:--\}\}|-->|#\}|\*/)"
)


@dataclass(frozen=True, slots=True)
class _Left:
    names: tuple[str, ...]
    reason: str


class LeftHere:
    """What the comments of a document's source leave out. ``written`` is the source where the
    document's own is not: a template's."""

    def __init__(self, document: Document, written: str | None = None) -> None:
        self._document = document
        self._written = document.source if written is None else written

    def reason(self, check: Check, element: Element) -> str:
        """Return why a check is left out at an element, or ``""`` where it is not."""
        if not self._by_element:
            return ""
        for one in (element, *element.ancestors()):
            for left in self._by_element.get(one.index, ()):
                if any(covers(name, check) for name in left.names):
                    return left.reason
        return ""

    @cached_property
    def _by_element(self) -> dict[int, list[_Left]]:
        if _WORD not in self._written:
            return {}
        found: dict[int, list[_Left]] = {}
        starts = self._starts()
        for comment in _COMMENT.finditer(self._written):
            at = bisect_left(starts, (comment.end(), -1))
            if at < len(starts):
                names = tuple(one.strip() for one in comment.group(1).split(",") if one.strip())
                found.setdefault(starts[at][1], []).append(_Left(names, comment.group(2)))
        return found

    def _starts(self) -> list[tuple[int, int]]:
        lines = Lines(self._written)
        places = ((one, self._document.position_of(one)) for one in self._document.elements)
        return sorted(
            (lines.offset(*place), one.index)
            for one, place in places
            if place is not None and place[0] <= lines.count
        )
