"""A landmark has no title.

Regions (menus, asides, named sections) can be jumped to by their kind. Where there are several of a
kind, only a title tells which is which.

## Who is hindered

People who move by landmarks: they hear "navigation, navigation" and have to try each.

## What an editor does

If the landmark comes from a block that you placed, give the block its title.

## What a template developer does

Give each ``nav`` and ``aside`` a short ``aria-label``, or a heading inside that ``aria-labelledby``
refers to. A role without a name is better left out.

## Wrong

    <nav><a href="/locks">Locks</a></nav><nav><a href="/2">Next page</a></nav>

## Right

    <nav aria-label="Main"><a href="/locks">Locks</a></nav><nav aria-label="Pages"><a href="/2">Next
      page</a></nav>

## Left alone

The only menu and the only aside of a page, and those with a heading inside.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="headings/region-untitled",
    weight=Weight.FRICTION,
    criteria=("1.3.1", "2.4.6"),
    needs=Needs.TREE,
    messages={
        "one-of": "One of {count} landmarks of the kind “{kind}” has neither a name nor a heading.",
        "no-name": (
            "The <{tag}> has the role “{kind}”, which takes effect only with a name, and has none."
        ),
    },
)
def region_untitled(page: Page) -> Iterator[Flag]:
    """Yield untitled ``nav`` and ``aside`` landmarks where there are several, and landmark roles
    without a name."""
    for role, kind in (("navigation", "menu"), ("complementary", "aside")):
        members = page.exposed(role=role)
        for element in members if len(members) > 1 else ():
            if not page.name_of(element) and not _has_heading(page, element):
                others = page.others(members, element)
                facts = {"kind": role, "others": others}
                yield failed(
                    element, "one-of", count=len(members), kind=kind, facts=facts, mends=(_NAME_IT,)
                )
    for element in page.every_exposed():
        kind = page.explicit_role(element)
        if kind in ("region", "form") and not page.name_of(element):
            mends = (_NAME_IT, Mend("remove-attribute", "Or take the role away.", attribute="role"))
            yield failed(
                element,
                "no-name",
                tag=element.tag,
                kind=kind,
                facts={"kind": kind, "others": []},
                mends=mends,
            )


_NAME_IT = Mend("set-attribute", "Give the landmark a short name.", attribute="aria-label")


def _has_heading(page: Page, element: Element) -> bool:
    return any(
        page.role_of(inner) == "heading" and page.is_exposed(inner) and page.name_of(inner)
        for inner in element.descendants()
    )
