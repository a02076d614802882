"""Source positions for a rendered page: its elements matched with those of the HTML it was made from."""

from __future__ import annotations

from bisect import bisect_left

from plumrake.core.dom import Document, Element

_FARTHEST = 400


def carry_positions(rendered: Document, parsed: Document) -> None:
    """Give each rendered element the line and column of its counterpart in ``parsed``; what scripts made gets none.

    Both run in document order: an element takes the next counterpart of the same tag, id, class and address that
    is not too far ahead. Without scripts the two are alike and every element finds its own.
    """
    places: dict[tuple[str, ...], list[int]] = {}
    for element in parsed.elements:
        places.setdefault(_key(element), []).append(element.index)
    last = -1
    for element in rendered.elements:
        candidates = places.get(_key(element), [])
        at = bisect_left(candidates, last + 1)
        if at < len(candidates) and candidates[at] - last <= _FARTHEST:
            last = candidates[at]
            twin = parsed.elements[last]
            element.line, element.column = twin.line, twin.column


def _key(element: Element) -> tuple[str, ...]:
    return (element.tag, *(element.get(name) for name in ("id", "href", "src", "name", "type")))
