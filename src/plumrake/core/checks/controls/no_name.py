"""A control has no name.

Checkboxes, switches, tabs, sliders and menu items that are made by role need a name as buttons do.

## Who is hindered

People who listen to the page, and people who steer by voice.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Give the control a text or ``aria-label``; a slider is never named by what stands beside it.

## Wrong

    <div role="switch" tabindex="0" aria-checked="false"></div>

## Right

    <div role="switch" tabindex="0" aria-checked="false" aria-label="Winter berth"></div>

## Left alone

Links, buttons and fields, which have checks of their own.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.forms.shared import FIELD_ROLES, is_field
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check

_OTHERS = frozenset(["link", "button", *FIELD_ROLES])


@check(
    id="controls/no-name",
    weight=Weight.BARRIER,
    criteria=("4.1.2",),
    needs=Needs.TREE,
    messages={"empty": "A control with the role “{role}” has no name."},
)
def no_name(page: Page) -> Iterator[Flag]:
    """Yield every exposed control of another role than link, button or field whose name is
    empty."""
    for element in page.interactive():
        role = page.role_of(element)
        if (
            role in _OTHERS
            or is_field(page, element)
            or page.name_of(element)
            or page.hidden_name_of(element)
        ):
            continue
        if element.tag == "option" and not element.text():
            continue
        mend = Mend("set-attribute", "Name the control after what it does.", attribute="aria-label")
        yield failed(element, "empty", role=role, facts={"role": role, "name": ""}, mends=(mend,))
