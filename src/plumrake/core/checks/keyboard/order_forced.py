"""The order of Tab stops is forced.

A ``tabindex`` over 0 comes before everything else, wherever it stands. Focus then jumps about the
page.

## Who is hindered

People who go by Tab: the next stop is not where they look for it.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Use ``tabindex="0"`` and let the order in the source be the order of use.

## Wrong

    <input aria-label="Boat" tabindex="3">

## Right

    <input aria-label="Boat">

## Left alone

``tabindex`` of 0 and below.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.numbers import integer
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="keyboard/order-forced",
    weight=Weight.OBSTACLE,
    criteria=("2.4.3",),
    needs=Needs.TREE,
    messages={
        "forced": 'tabindex="{value}" puts this <{tag}> before everything else in the Tab order.'
    },
)
def order_forced(page: Page) -> Iterator[Flag]:
    """Yield every exposed element with a ``tabindex`` over 0."""
    for element in page.every_exposed():
        value = integer(element.get("tabindex")) or 0
        if value > 0:
            mend = Mend(
                "set-attribute",
                "Let it stand in the order of the source.",
                attribute="tabindex",
                value="0",
            )
            yield failed(
                element,
                "forced",
                value=value,
                tag=element.tag,
                facts={"tabindex": value},
                mends=(mend,),
            )
