"""A reference leads to nothing.

``aria-labelledby`` and its like name other elements by their id. Where none has it, name or
description are missing.

## Who is hindered

People who listen to the page: the label, hint or error message that was meant for them is lost.

## What an editor does

If you deleted or copied a block, tell whoever keeps the templates which.

## What a template developer does

Write the id of an element that is on the page, or take the attribute away.

## Wrong

    <input aria-label="Boat" aria-describedby="hint-boat">

## Right

    <input aria-label="Boat" aria-describedby="hint-boat"><p id="hint-boat">As painted on the
      bow</p>

## Left alone

``aria-controls`` of what is collapsed, ``aria-activedescendant`` and ``aria-errormessage`` of what
is valid: their targets may be made when they are needed.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.aria import REFERENCES


@check(
    id="controls/reference-dangling",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1", "4.1.2"),
    needs=Needs.TREE,
    messages={"missing": "{attribute} refers to “{missing}”, which is not on the page."},
)
def reference_dangling(page: Page) -> Iterator[Flag]:
    """Yield exposed elements once for each attribute of references that names an id which is not
    there."""
    for element in page.every_exposed():
        for attribute, value in element.attributes.items():
            if attribute not in REFERENCES or _may_come_later(element, attribute):
                continue
            missing = [token for token in value.split() if page.by_id(token, element) is None]
            if missing:
                facts = {"attribute": attribute, "value": value, "missing": missing}
                mends = (
                    Mend(
                        "set-attribute",
                        "Write the id of an element that is on the page.",
                        attribute=attribute,
                    ),
                    Mend("remove-attribute", "Or take the reference away.", attribute=attribute),
                )
                yield failed(
                    element,
                    "missing",
                    attribute=attribute,
                    missing=" ".join(missing),
                    facts=facts,
                    mends=mends,
                )


def _may_come_later(element: Element, attribute: str) -> bool:
    if attribute == "aria-errormessage":
        return element.get("aria-invalid").strip().lower() in ("", "false")
    if attribute == "aria-controls":
        return any(
            element.get(state).strip().lower() == "false"
            for state in ("aria-expanded", "aria-selected")
        ) or element.has("aria-haspopup")
    return attribute == "aria-activedescendant"
