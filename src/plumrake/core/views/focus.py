"""The order of focus: what Tab comes to, one after the other, and where it jumps."""

from __future__ import annotations

from typing import Any

from plumrake.core.dom import Element
from plumrake.core.geometry import whole
from plumrake.core.numbers import integer
from plumrake.core.page import Page
from plumrake.core.semantics.roles import is_disabled, is_tab_stop
from plumrake.core.views.once import once_a_page


@once_a_page
def focus(page: Page) -> list[dict[str, Any]]:
    """Return the stops of Tab in their order: ``number`` from 1, ``role``, ``name``, ``selector``,
    ``box`` (CSS px), and ``faults``: what is wrong about the stop, in words.

    Where Tab was pressed they are what it came to; else what the markup lets it come to.
    """
    walk = page.evidence.walk
    unmarked, covered = frozenset[int](), frozenset[int]()
    if walk is not None and walk.ended and walk.stops:
        stops = [page.elements[index] for index in walk.stops]
        unmarked = frozenset(walk.unmarked)
        covered = frozenset(index for index, _ in walk.covered)
    else:
        stops = _by_markup(page)
    rows: list[dict[str, Any]] = []
    for number, stop in enumerate(stops, 1):
        before = stops[number - 2] if number > 1 else None
        faults = [
            says
            for says, holds in (
                ("jumps back", before is not None and _jumps(before, stop)),
                ("no focus mark", stop.index in unmarked),
                ("lies under something", stop.index in covered),
            )
            if holds
        ]
        rows.append(
            {
                "number": number,
                "role": page.role_of(stop) or f"<{stop.tag}>",
                "name": page.name_of(stop),
                "selector": page.selector_of(stop),
                "box": whole(stop.box),
                "faults": faults,
            }
        )
    return rows


def _by_markup(page: Page) -> list[Element]:
    stops = [
        one
        for one in page.elements
        if is_tab_stop(one) and not is_disabled(one) and page.is_shown(one)
    ]
    first = [one for one in stops if (integer(one.get("tabindex")) or 0) > 0]
    first.sort(key=lambda one: integer(one.get("tabindex")) or 0)
    return [*first, *(one for one in stops if one not in first)]


def _jumps(before: Element, stop: Element) -> bool:
    """Tell whether a stop lies before the last one in the source, or above it without being in a
    column to its right."""
    if stop.index < before.index:
        return True
    if stop.box is None or before.box is None:
        return False
    is_above = stop.box[1] + stop.box[3] <= before.box[1]
    is_right = stop.box[0] >= before.box[0] + before.box[2]
    return is_above and not is_right
