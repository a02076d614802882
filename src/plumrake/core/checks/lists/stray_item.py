"""A list item stands outside a list.

``li`` belongs into ``ul``, ``ol`` or ``menu``, ``dt`` and ``dd`` into ``dl``. Outside they are no
items.

## Who is hindered

People who listen to the page: the list and the number of its items are not announced.

## What an editor does

Make the lines a list anew in the editor.

## What a template developer does

Print the list around its items.

## Wrong

    <div><li>Gloves</li><li>A windlass</li></div>

## Right

    <ul><li>Gloves</li><li>A windlass</li></ul>

## Left alone

Items with another role of their own, and lists made by ``role="list"``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="lists/stray-item",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={
        "li": "The item “{text}” stands outside a list.",
        "description": "The <{tag}> “{text}” stands outside a description list.",
    },
)
def stray_item(page: Page) -> Iterator[Flag]:
    """Yield exposed ``li`` outside ``ul``, ``ol``, ``menu`` or a list by role, and ``dt``/``dd``
    outside ``dl``."""
    for element in page.every_exposed():
        if element.tag not in ("li", "dt", "dd") or page.explicit_role(element) not in (
            "",
            "listitem",
        ):
            continue
        parent = element.parent
        if parent is not None and _is_home(page, element.tag, parent):
            continue
        message, wanted = ("li", "ul") if element.tag == "li" else ("description", "dl")
        mend = Mend("wrap", "Put the items into a list.", to=wanted)
        text = page.text_of(element)
        yield failed(
            element,
            message,
            tag=element.tag,
            text=shortened(text, 50),
            facts={"text": text[:200], "parent": parent.tag if parent else None},
            mends=(mend,),
        )


def _is_home(page: Page, tag: str, parent: Element) -> bool:
    if tag == "li":
        return (
            parent.tag in ("ul", "ol", "menu")
            or page.role_of(parent) == "list"
            or parent.tag == "slot"
        )
    return parent.tag == "dl" or (
        parent.tag == "div" and parent.parent is not None and parent.parent.tag == "dl"
    )
