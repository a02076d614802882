"""Two landmarks cannot be told apart.

Regions of one kind are announced by their names. With the same name, or none, each has to be tried.

## Who is hindered

People who move by landmarks and listen.

## What an editor does

If a landmark comes from a block that you placed, give the block a title of its own.

## What a template developer does

Give each a short name of its own by ``aria-label`` or ``aria-labelledby``.

## Wrong

    <nav aria-label="Menu"><a href="/a">Locks</a></nav><nav aria-label="Menu"><a
      href="/b">Imprint</a></nav>

## Right

    <nav aria-label="Main"><a href="/a">Locks</a></nav><nav aria-label="Legal"><a
      href="/b">Imprint</a></nav>

## Left alone

Several main landmarks, which are for ``page/several-main``.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import normalised, shortened


@check(
    id="page/regions-alike",
    weight=Weight.FRICTION,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={
        "same-name": "{count} landmarks of the kind “{kind}” are called “{name}”.",
        "no-name": "{count} landmarks of the kind “{kind}” have no name.",
    },
)
def regions_alike(page: Page) -> Iterator[Flag]:
    """Yield each of several exposed landmarks of one kind with the same name or none."""
    groups: dict[tuple[str, str], list[Element]] = defaultdict(list)
    for element in page.landmarks.all:
        if page.role_of(element) != "main":
            groups[page.role_of(element), normalised(page.name_of(element))].append(element)
    for (kind, name), members in groups.items():
        for element in members if len(members) > 1 else ():
            facts = {
                "kind": kind,
                "name": page.name_of(element),
                "others": page.others(members, element),
            }
            mend = Mend("set-attribute", "Give it a short name of its own.", attribute="aria-label")
            yield failed(
                element,
                "same-name" if name else "no-name",
                count=len(members),
                kind=kind,
                name=shortened(page.name_of(element)),
                facts=facts,
                mends=(mend,),
            )
