"""An aria- attribute does not go with the element's role.

Each role takes certain states and properties. Others are passed over; names are not read where the
role has none.

## Who is hindered

People who listen to the page: what was meant for them does not arrive, or arrives in some programs
only.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Take the attribute away, or give the element the role that it was meant for. A name on a ``div`` or
``span`` without a role is not read.

## Wrong

    <div aria-label="Opening times">Eight to seven</div>

## Right

    <div role="group" aria-label="Opening times">Eight to seven</div>

## Left alone

Global attributes, hidden elements, and roles of other modules.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.aria import VALUES, is_supported
from plumrake.core.words import shortened

_CONFIRMED = frozenset(["aria-label", "aria-labelledby"])
_BY_ITSELF = frozenset(
    ["iframe", "video", "audio", "object", "embed", "canvas", "summary", "input", "frame"]
)


@check(
    id="controls/attribute-not-for-role",
    weight=Weight.FRICTION,
    criteria=("4.1.2",),
    needs=Needs.TREE,
    act_rule="5c01ea",
    messages={
        "unsupported": "{attribute} does nothing on an element with the role “{role}”.",
        "naming": (
            "The name “{name}” is not read: an element with the role “{role}” cannot be named."
        ),
    },
)
def attribute_not_for_role(page: Page) -> Iterator[Flag]:
    """Yield exposed elements once for each ``aria-`` attribute that their role does not take."""
    for element in page.every_exposed():
        attributes = [
            name
            for name, value in element.attributes.items()
            if name in VALUES and not is_blank(value)
        ]
        if not attributes:
            continue
        role = page.role_of(element) or "generic"
        for attribute in attributes:
            if (
                is_supported(attribute, role)
                or (element.tag in _BY_ITSELF and page.role_of(element) == "")
                or attribute == "aria-hidden"
            ):
                continue
            naming = attribute in _CONFIRMED
            mends: tuple[Mend, ...] = (
                Mend("remove-attribute", f"Take {attribute} away.", attribute=attribute),
            )
            if naming and role == "generic":
                mends += (
                    Mend(
                        "set-attribute",
                        "Or give the element a role that takes a name.",
                        attribute="role",
                        value="group",
                    ),
                )
            yield failed(
                element,
                "naming" if naming else "unsupported",
                attribute=attribute,
                role=role,
                name=shortened(element.get(attribute), 50),
                facts={"attribute": attribute, "value": element.get(attribute), "role": role},
                mends=mends,
            )
