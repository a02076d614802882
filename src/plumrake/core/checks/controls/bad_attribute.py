"""An aria- attribute does not exist, or its value is not allowed.

Misspelt attributes and wrong values do nothing, or count as their default.

## Who is hindered

People who listen to the page: a state or name that was meant for them does not arrive.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Correct the spelling or the value; "true" and "false" are written out.

## Wrong

    <button aria-expanded="yes" aria-lable="Menu">Menu</button>

## Right

    <button aria-expanded="true" aria-label="Menu">Menu</button>

## Left alone

Empty values, and hidden elements.
"""

from __future__ import annotations

from collections.abc import Iterator
from difflib import get_close_matches

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.aria import VALUES, fault_of_value
from plumrake.core.words import shortened


@check(
    id="controls/bad-attribute",
    weight=Weight.OBSTACLE,
    criteria=("4.1.2",),
    needs=Needs.TREE,
    act_rule="6a7281",
    messages={
        "unknown": "There is no attribute “{attribute}”.",
        "value": '{attribute}="{value}" is not allowed; it may be: {allowed}.',
    },
)
def bad_attribute(page: Page) -> Iterator[Flag]:
    """Yield exposed elements once for each ``aria-`` attribute that does not exist or has a value
    not allowed."""
    for element in page.every_exposed():
        for attribute, value in element.attributes.items():
            if not attribute.startswith("aria-"):
                continue
            facts = {"attribute": attribute, "value": value}
            if attribute not in VALUES:
                close = get_close_matches(attribute, sorted(VALUES), 1, 0.8)
                says = f"Did you mean {close[0]}? Else take it away." if close else "Take it away."
                yield failed(
                    element,
                    "unknown",
                    attribute=attribute,
                    facts=facts,
                    mends=(Mend("remove-attribute", says, attribute=attribute),),
                )
            elif (allowed := fault_of_value(attribute, value)) is not None:
                mend = Mend(
                    "set-attribute",
                    f"Write {allowed}."
                    if allowed.startswith(("a ", "one "))
                    else f"Write one of: {allowed}.",
                    attribute=attribute,
                )
                yield failed(
                    element,
                    "value",
                    attribute=attribute,
                    value=shortened(value, 40),
                    allowed=allowed,
                    facts={**facts, "allowed": allowed},
                    mends=(mend,),
                )
