"""A control is hidden from assistive technology, yet Tab reaches it.

``aria-hidden`` takes an element out of what is announced, not out of the Tab order. Focus then
stands on something that does not exist for those who listen.

## Who is hindered

People who listen to the page and go by Tab: silence, or the name of something else.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Hide it for everybody (``hidden``, ``inert``), or take it out of the Tab order
(``tabindex="-1"``), or take ``aria-hidden`` away.

## Wrong

    <div aria-hidden="true"><a href="/locks">Locks</a></div>

## Right

    <div aria-hidden="true"><a href="/locks" tabindex="-1">Locks</a></div>

## Left alone

Disabled controls, controls that are not shown, and what ``inert`` takes out of the Tab order.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.numbers import integer
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.roles import is_disabled, is_focusable


@check(
    id="controls/hidden-but-focusable",
    weight=Weight.BARRIER,
    criteria=("4.1.2", "1.3.1"),
    needs=Needs.TREE,
    act_rule="6cfa84",
    messages={
        "own": "This <{tag}> is aria-hidden, yet Tab reaches it.",
        "above": "This <{tag}> is inside something aria-hidden, yet Tab reaches it.",
    },
)
def hidden_but_focusable(page: Page) -> Iterator[Flag]:
    """Yield every shown element that Tab reaches although it or an ancestor is
    ``aria-hidden="true"``."""
    for element in page.elements:
        if (
            not is_focusable(element)
            or (integer(element.get("tabindex")) or 0) < 0
            or is_disabled(element)
            or not page.is_shown(element)
        ):
            continue
        path = (element, *element.ancestors())
        holder = next(
            (one for one in path if one.get("aria-hidden").strip().lower() == "true"), None
        )
        if holder is None or any(one.has("inert") for one in path):
            continue
        facts = {"hidden_by": page.selector_of(holder), "name": element.text()[:200]}
        mends = (
            Mend(
                "set-attribute", "Take it out of the Tab order.", attribute="tabindex", value="-1"
            ),
            Mend(
                "unhide",
                (
                    "Or let assistive technology have it: take aria-hidden away from "
                    f"{page.selector_of(holder)}."
                ),
            ),
        )
        yield failed(
            element,
            "own" if holder is element else "above",
            tag=element.tag,
            facts=facts,
            mends=mends,
        )
