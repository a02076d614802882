"""A control does not tell its state.

A checkbox made of other elements has to say whether it is checked, a slider where it stands.

## Who is hindered

People who listen to the page: they hear what it is, and not how it is set.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Use the native element (``input type="checkbox"``), which tells its state by itself, or set the
attribute and keep it up to date by script.

## Wrong

    <div role="checkbox" tabindex="0">Winter berth</div>

## Right

    <div role="checkbox" tabindex="0" aria-checked="false">Winter berth</div>

## Left alone

Native elements, and states with a default.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.aria import REQUIRED
from plumrake.core.semantics.roles import is_focusable

_NATIVE = frozenset(["input", "select", "option", "meter", "progress", "hr"])


@check(
    id="controls/state-missing",
    weight=Weight.OBSTACLE,
    criteria=("4.1.2",),
    needs=Needs.TREE,
    act_rule="4e8ab6",
    messages={"missing": "An element with the role “{role}” has to have {attribute}."},
)
def state_missing(page: Page) -> Iterator[Flag]:
    """Yield exposed elements with an explicit role once for each required state or property that is
    missing or empty."""
    for element in page.every_exposed():
        role = page.explicit_role(element)
        required = (
            ("aria-valuenow",)
            if role == "separator" and is_focusable(element)
            else REQUIRED.get(role, ())
        )
        if element.tag in _NATIVE:
            continue
        for attribute in required:
            if is_blank(element.get(attribute)):
                mend = Mend(
                    "set-attribute",
                    f"Write the state in {attribute}, and keep it up to date by script.",
                    attribute=attribute,
                )
                yield failed(
                    element,
                    "missing",
                    role=role,
                    attribute=attribute,
                    facts={"role": role, "attribute": attribute},
                    mends=(mend,),
                )
