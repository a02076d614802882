"""A part of a control stands outside of it.

A tab belongs into a list of tabs, an option into a list of choices. Alone it has no meaning: "2 of
5" cannot be said.

## Who is hindered

People who listen to the page: they do not learn what the part belongs to and how many there are.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Give the holder the role that the part needs, or take the part's role away.

## Wrong

    <div><button role="tab" aria-selected="true">Locks</button></div>

## Right

    <div role="tablist"><button role="tab" aria-selected="true">Locks</button></div>

## Left alone

Elements between holder and part that have no role of their own, and parts named by ``aria-owns``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.aria import CONTEXT

_PASSED_OVER = frozenset(["", "generic", "none", "group"])


@check(
    id="controls/parent-missing",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    act_rule="ff89c9",
    messages={
        "outside": (
            "An element with the role “{role}” has to stand in one with the role {wanted}; it "
            "stands in {found}."
        )
    },
)
def parent_missing(page: Page) -> Iterator[Flag]:
    """Yield exposed elements with an explicit role that stand outside the context that the role
    requires."""
    owners = {
        identifier: element
        for element in page.every_exposed()
        if element.has("aria-owns")
        for identifier in element.get("aria-owns").split()
    }
    for element in page.every_exposed():
        role = page.explicit_role(element)
        wanted = CONTEXT.get(role)
        if not wanted:
            continue
        owner = owners.get(element.get("id"))
        holder = owner if owner is not None else _holder(page, element)
        found = page.role_of(holder) if holder is not None else ""
        if found in wanted or (role in ("menuitem", "treeitem") and found == role):
            continue
        facts = {"role": role, "wanted": list(wanted), "found": found or None}
        mends = (
            Mend("advice", f"Give the element around it the role {' or '.join(wanted)}."),
            Mend("remove-attribute", "Or take the role away.", attribute="role"),
        )
        yield failed(
            element,
            "outside",
            role=role,
            wanted=" or ".join(wanted),
            found=f"“{found}”" if found else "none",
            facts=facts,
            mends=mends,
        )


def _holder(page: Page, element: Element) -> Element | None:
    return next(
        (
            ancestor
            for ancestor in element.ancestors()
            if page.role_of(ancestor) not in _PASSED_OVER
        ),
        None,
    )
