"""The page has several main landmarks.

The key that leads to the content leads to the first of them.

## Who is hindered

People who listen to the page: they do not know which of them is the content.

## What an editor does

Tell whoever keeps the templates.

## What a template developer does

Print ``main`` once, around the page's own content; in blocks use ``section`` or ``article``.

## Wrong

    <main><h1>Moorings</h1></main><main><h2>News</h2></main>

## Right

    <main><h1>Moorings</h1></main><section><h2>News</h2></section>

## Left alone

Hidden ones.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="page/several-main",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={"one-of": "One of {count} main landmarks of this page."},
)
def several_main(page: Page) -> Iterator[Flag]:
    """Yield each of several exposed ``main`` landmarks."""
    members = page.exposed(role="main")
    for element in members if len(members) > 1 else ():
        mend = Mend(
            "rename-element", "If it is a part of the content, make it a section.", to="section"
        )
        if element.tag != "main":
            mend = Mend(
                "remove-attribute",
                "If it is a part of the content, take the role away.",
                attribute="role",
            )
        facts = {"others": page.others(members, element)}
        mends: tuple[Mend, ...] = (mend,)
        if any(_follow(element, other) or _follow(other, element) for other in members):
            mends = (Mend("merge", "Make one of it and the main element beside it."), mend)
        yield failed(
            element, "one-of", count=len(members), facts=facts, mends=mends, one_with=members[0]
        )


def _follow(first: Element, second: Element) -> bool:
    """Tell whether two main elements stand one right after the other."""
    if first.parent is not second.parent or first.parent is None or first.tag != second.tag:
        return False
    return any(pair == (first, second) for pair in pairwise(first.parent.elements()))
