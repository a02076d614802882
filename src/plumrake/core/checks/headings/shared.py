"""What the checks of headings share: siblings in the outline, and what stands between two
headings."""

from __future__ import annotations

from collections import defaultdict
from functools import cached_property

from plumrake.core.checks.page.shared import opened_or_referred
from plumrake.core.dom import Element, Text, is_blank
from plumrake.core.page import Page
from plumrake.core.semantics.headings import nodes_in_order
from plumrake.core.vocabulary import NOT_RENDERED

_CONTENT = frozenset(
    (
        "img svg video audio iframe object embed canvas input select textarea math table progress "
        "meter button"
    ).split()
)


def siblings(page: Page) -> list[list[Element]]:
    """Return the exposed headings in groups of the same level, below the same heading, in the same
    landmark."""
    groups: dict[tuple[int, int, int], list[Element]] = defaultdict(list)
    path: list[Element] = []
    for heading in page.exposed(role="heading"):
        level = page.level_of(heading)
        while path and page.level_of(path[-1]) >= level:
            path.pop()
        landmark = page.landmarks.around(heading)
        groups[
            path[-1].index if path else -1, level, landmark.index if landmark is not None else -1
        ].append(heading)
        path.append(heading)
    return list(groups.values())


def with_nothing_after(
    page: Page, within: Element, *, hidden_counts: bool = False
) -> dict[int, Element | None]:
    """Return, by index, the headings that no content follows within an element: up to the next
    heading, or to the end (None).

    Content that is hidden for now (a collapsed panel, a closed ``details``) counts as content;
    comments, empty blocks, and (unless ``hidden_counts``) what nobody ever meets do not.
    """
    empty: dict[int, Element | None] = {}
    waiting = _Met(page, hidden_counts=hidden_counts)
    last: Element | None = None
    inside: Element | None = None
    for node in nodes_in_order(within):
        if isinstance(node, Text):
            if (
                last is not None
                and not is_blank(node.data)
                and not _is_below(node.parent, inside)
                and waiting.is_met(node.parent, last)
            ):
                last = None
        elif page.role_of(node) == "heading" and page.is_exposed(node):
            if last is not None:
                empty[last.index] = node
            last = inside = node
        elif (
            last is not None
            and node.tag in _CONTENT
            and not _is_below(node, inside)
            and waiting.is_met(node, last)
        ):
            last = None
    if last is not None:
        empty[last.index] = None
    return empty


class _Met:
    """Tells what of a page somebody meets: what is shown or read aloud, and what something on the
    page opens."""

    def __init__(self, page: Page, *, hidden_counts: bool) -> None:
        self._page = page
        self._hidden_counts = hidden_counts

    @cached_property
    def _opened(self) -> frozenset[str]:
        return opened_or_referred(self._page)

    def is_met(self, element: Element, heading: Element) -> bool:
        """Tell whether what stands under a heading is there for anybody, now or once it is
        opened."""
        if self._page.is_shown(element) or self._page.is_exposed(element):
            return True
        if element.tag in NOT_RENDERED:
            return False
        return (
            self._hidden_counts
            or _opens(heading)
            or any(self._is_opened(one) for one in (element, *element.ancestors()))
        )

    def _is_opened(self, element: Element) -> bool:
        return (
            element.tag in ("details", "dialog")
            or element.get("id") in self._opened
            or element.get("hidden").lower() == "until-found"
            or self._page.explicit_role(element) in ("tabpanel", "dialog", "region")
        )


def _opens(heading: Element) -> bool:
    """Tell whether the heading is, or holds, what opens the panel below it."""
    return any(
        one.tag in ("button", "summary") or one.has("aria-expanded") or one.has("aria-controls")
        for one in (heading, *heading.descendants())
    )


def _is_below(element: Element, holder: Element | None) -> bool:
    return holder is not None and (element is holder or holder in element.ancestors())
