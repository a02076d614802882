"""Tab never reaches a control that the mouse can use.

The control shows, has a role and reacts to clicks, but is no Tab stop, and no arrow keys lead to
it.

## Who is hindered

People who go by keyboard or switch, and people who steer by voice through the keyboard.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Use ``button`` or ``a href``. A role needs ``tabindex="0"`` and key handlers beside it.

## Wrong

    <div role="button" onclick="send()">Send</div>

## Right

    <button type="button" onclick="send()">Send</button>

## Left alone

Items of menus, tabs, grids, lists and toolbars (arrow keys reach them), disabled controls, and
links that another reached link does the same as.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.keyboard.shared import doubtful_controls
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="keyboard/unreachable",
    weight=Weight.BARRIER,
    criteria=("2.1.1",),
    needs=Needs.KEYBOARD,
    messages={"never": "Tab never reaches the {role} “{name}”."},
)
def unreachable(page: Page) -> Iterator[Flag]:
    """Yield the controls that were not among the stops when Tab was pressed through the whole
    page."""
    walk = page.evidence.walk
    if walk is None:
        raise NotTested(Needs.KEYBOARD)
    if not walk.ended:
        return
    reached = frozenset(walk.stops)
    addresses = {page.elements[index].get("href") for index in reached}
    for element in doubtful_controls(page):
        if (
            element.index in reached
            or (element.has("href") and element.get("href") in addresses)
            or _holds_reached(element, reached)
        ):
            continue
        name = page.name_of(element) or "without a name"
        role = page.role_of(element)
        mend = Mend(
            "set-attribute",
            "Make it a Tab stop, and let Enter and Space work it.",
            attribute="tabindex",
            value="0",
        )
        if element.tag in ("button", "a", "input", "select", "textarea"):
            mend = Mend("remove-attribute", "Let it be a Tab stop.", attribute="tabindex")
        yield failed(
            element,
            "never",
            role=role,
            name=shortened(name, 50),
            facts={"name": name, "role": role, "stops": len(walk.stops)},
            mends=(mend,),
        )


def _holds_reached(element: Element, reached: frozenset[int]) -> bool:
    """Tell whether something reached stands in or around the control and does the same."""
    return any(one.index in reached for one in (*element.descendants(), *element.ancestors()))
