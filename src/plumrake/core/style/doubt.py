"""Where a style that no browser worked out is not sure."""

from __future__ import annotations

from collections.abc import Sequence

from plumrake.core.dom import Element


def elements_in_doubt(elements: Sequence[Element], fields: frozenset[str]) -> frozenset[int]:
    """Return the elements, by index, of whose style one of these fields (none: any) is in doubt,
    and those that they lie in or that lie in them."""
    found: set[int] = set()
    within: set[int] = set()
    for element in elements:
        doubts = element.certainty.doubts if element.certainty is not None else frozenset[str]()
        own = bool(doubts & fields if fields else doubts)
        if own or (element.parent is not None and element.parent.index in within):
            within.add(element.index)
        if own:
            found.update(one.index for one in element.ancestors())
    return frozenset(found | within)
