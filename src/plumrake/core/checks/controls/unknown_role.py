"""A role does not exist.

A role that ARIA does not know is passed over: the element is announced as what it was before.

## Who is hindered

People who listen to the page: they do not learn what the control is.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Write a role of WAI-ARIA 1.2, or better: take the HTML element that has the role by itself.

## Wrong

    <div role="navbar"><a href="/locks">Locks</a></div>

## Right

    <nav aria-label="Main"><a href="/locks">Locks</a></nav>

## Left alone

Lists of roles of which one is valid, and an empty ``role``.
"""

from __future__ import annotations

from collections.abc import Iterator
from difflib import get_close_matches

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.vocabulary import ROLES


@check(
    id="controls/unknown-role",
    weight=Weight.OBSTACLE,
    criteria=("4.1.2",),
    needs=Needs.TREE,
    act_rule="674b10",
    messages={"unknown": "There is no role “{role}”."},
)
def unknown_role(page: Page) -> Iterator[Flag]:
    """Yield every exposed element whose ``role`` holds no valid token."""
    for element in page.every_exposed():
        tokens = element.get("role").lower().split()
        if not tokens or any(token in ROLES for token in tokens):
            continue
        close = get_close_matches(tokens[0], sorted(ROLES), 1, 0.8)
        mends: tuple[Mend, ...] = (
            (
                Mend(
                    "set-attribute", f"Did you mean “{close[0]}”?", attribute="role", value=close[0]
                ),
            )
            if close
            else ()
        )
        mends += (Mend("remove-attribute", "Take the role away.", attribute="role"),)
        yield failed(
            element,
            "unknown",
            role=element.get("role"),
            facts={"role": element.get("role")},
            mends=mends,
        )
