"""Source positions for a rendered page: its elements matched with those of the HTML it was made
from."""

from __future__ import annotations

from bisect import bisect_left
from collections.abc import Callable, Iterable, Mapping, Sequence

from plumrake.core.dom import Element, Position

_FARTHEST = 400


def positions(rendered: Sequence[Element], parsed: Sequence[Element]) -> dict[int, Position]:
    """Return line and column of rendered elements by their index; what scripts made has none.

    Both lists run in document order: an element takes the next counterpart of the same tag, id and
    address that is not too far ahead. Without scripts the two are alike and every element finds its
    own. Where a script gave an element another id or address, it is still known by its place: by
    tag and parent, between the same neighbours.
    """
    twins = _alike(rendered, parsed)
    twins |= _between(rendered, parsed, twins)
    found: dict[int, Position] = {}
    for index, at in twins.items():
        twin = parsed[at]
        if twin.line is not None and twin.column is not None:
            found[index] = (twin.line, twin.column)
    return found


def _alike(rendered: Sequence[Element], parsed: Sequence[Element]) -> dict[int, int]:
    """Return which element each is by its key, as indexes; both run in order."""
    places = _by(_key, parsed)
    twins: dict[int, int] = {}
    last = -1
    for element in rendered:
        candidate = _next(places.get(_key(element), ()), last)
        if candidate is not None and candidate - last <= _FARTHEST:
            last = twins[element.index] = candidate
    return twins


def _between(
    rendered: Sequence[Element], parsed: Sequence[Element], twins: Mapping[int, int]
) -> dict[int, int]:
    """Return which elements those are that are like none, as far as some are left in the same
    gap."""
    taken = set(twins.values())
    places = _by(_place, (one for one in parsed if one.index not in taken))
    found: dict[int, int] = {}
    nexts = iter([*twins.values(), len(parsed)])
    last, end = -1, next(nexts)
    for element in rendered:
        if element.index in twins:
            last, end = end, next(nexts)
            continue
        candidate = _next(places.get(_place(element), ()), last)
        if candidate is not None and candidate < end:
            last = found[element.index] = candidate
    return found


def _by(
    known_by: Callable[[Element], tuple[str, ...]], elements: Iterable[Element]
) -> dict[tuple[str, ...], list[int]]:
    places: dict[tuple[str, ...], list[int]] = {}
    for element in elements:
        places.setdefault(known_by(element), []).append(element.index)
    return places


def _next(indexes: Sequence[int], last: int) -> int | None:
    at = bisect_left(indexes, last + 1)
    return indexes[at] if at < len(indexes) else None


def _place(element: Element) -> tuple[str, ...]:
    return element.tag, element.parent.tag if element.parent is not None else ""


def _key(element: Element) -> tuple[str, ...]:
    return (element.tag, *(element.get(name) for name in ("id", "href", "src", "name", "type")))
