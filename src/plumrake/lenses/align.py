"""Source positions for a rendered page: its elements matched with those of the HTML it was made
from."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Sequence

from plumrake.core.dom import Element, Position

_FARTHEST = 400


def positions(rendered: Sequence[Element], parsed: Sequence[Element]) -> dict[int, Position]:
    """Return line and column of rendered elements by their index; what scripts made has none.

    Both lists run in document order: an element takes the next counterpart of the same tag, id and
    address that is not too far ahead. Without scripts the two are alike and every element finds its
    own.
    """
    places: dict[tuple[str, ...], list[int]] = {}
    for element in parsed:
        places.setdefault(_key(element), []).append(element.index)
    found: dict[int, Position] = {}
    last = -1
    for element in rendered:
        candidates = places.get(_key(element), [])
        at = bisect_left(candidates, last + 1)
        if at < len(candidates) and candidates[at] - last <= _FARTHEST:
            last = candidates[at]
            twin = parsed[last]
            if twin.line is not None and twin.column is not None:
                found[element.index] = (twin.line, twin.column)
    return found


def _key(element: Element) -> tuple[str, ...]:
    return (element.tag, *(element.get(name) for name in ("id", "href", "src", "name", "type")))
