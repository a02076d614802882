"""A composite control has no parts.

A list of tabs without a tab, a menu without an item: what is announced is empty.

## Who is hindered

People who listen to the page: "list, 0 items", and then things that belong to no list.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Give the parts their role (``tab``, ``menuitem``, ``option`` …), or take the role from the holder.

## Wrong

    <div role="tablist"><a href="#a">Locks</a></div>

## Right

    <div role="tablist"><a href="#a" role="tab">Locks</a></div>

## Left alone

Composites that are still being filled (``aria-busy="true"``) and those that own parts elsewhere.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.aria import OWNED


@check(
    id="controls/child-missing",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    act_rule="bc4a75",
    messages={
        "without": "An element with the role “{role}” holds no element with the role {wanted}."
    },
)
def child_missing(page: Page) -> Iterator[Flag]:
    """Yield exposed elements with an explicit composite role that hold none of the parts that the
    role requires."""
    for element in page.every_exposed():
        role = page.explicit_role(element)
        wanted = OWNED.get(role)
        if (
            not wanted
            or element.get("aria-busy").strip().lower() == "true"
            or element.has("aria-owns")
        ):
            continue
        if any(
            page.role_of(inner) in wanted and page.is_exposed(inner)
            for inner in element.descendants()
        ):
            continue
        mends = (
            Mend("advice", f"Give its parts the role {' or '.join(wanted)}."),
            Mend("remove-attribute", "Or take the role away.", attribute="role"),
        )
        yield failed(
            element,
            "without",
            role=role,
            wanted=" or ".join(wanted),
            facts={"role": role, "wanted": list(wanted)},
            mends=mends,
        )
