"""What the checks of the keyboard share: controls that Tab may not reach."""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.page import Page
from plumrake.core.semantics.roles import is_disabled, is_focusable, is_tab_stop

_MADE_BY_ROLE = frozenset(
    "button link checkbox switch slider spinbutton textbox searchbox combobox listbox".split()
)
_BY_ARROWS = frozenset(
    (
        "tablist menu menubar radiogroup tree treegrid grid listbox toolbar combobox spinbutton "
        "feed"
    ).split()
)


def doubtful_controls(page: Page) -> Iterator[Element]:
    """Yield the controls that the mouse can use and that the markup keeps out of the Tab order.

    Items that arrow keys reach (in menus, tabs, grids, toolbars …) are left out, and what another
    check reports.
    """
    for element in page.every_exposed():
        if (
            page.role_of(element) not in _MADE_BY_ROLE
            or is_disabled(element)
            or not page.is_seen(element)
        ):
            continue
        reachable = is_tab_stop(element)
        if reachable or (
            element.tag == "a" and not element.has("href") and not page.explicit_role(element)
        ):
            continue
        if not any(
            page.role_of(ancestor) in _BY_ARROWS for ancestor in element.ancestors()
        ) and not _is_part_of_field(page, element):
            yield element


def _is_part_of_field(page: Page, element: Element) -> bool:
    """Tell whether the element is a button beside a field that the keys work as well (a list's
    arrow, a number's steps)."""
    around = element.parent
    return around is not None and any(
        page.role_of(other) in ("combobox", "spinbutton", "slider") and is_focusable(other)
        for other in around.descendants()
        if other is not element
    )
