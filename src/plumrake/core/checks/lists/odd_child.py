"""A list holds something that does not belong there.

``ul`` and ``ol`` hold ``li`` alone, ``dl`` holds ``dt`` and ``dd``. What else stands between them
breaks the list apart.

## Who is hindered

People who listen to the page: items are counted wrongly, and what stands between belongs to
nothing.

## What an editor does

Put what stands between the items into an item, or before or after the list.

## What a template developer does

Print headings and wrappers outside the list or inside its items.

## Wrong

    <ul><h3>Bring with you</h3><li>Gloves</li></ul>

## Right

    <h3>Bring with you</h3><ul><li>Gloves</li></ul>

## Left alone

Scripts and templates in a list, and lists with another role.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element, Text, collapse, is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_ALWAYS = frozenset(["script", "template", "style", "noscript", "slot"])
_BELONG = {"ul": frozenset(["li"]), "ol": frozenset(["li"]), "dl": frozenset(["dt", "dd", "div"])}


@check(
    id="lists/odd-child",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={
        "element": "The <{tag}> holds <{child}> between its items.",
        "text": "The <{tag}> holds the text “{text}” outside its items.",
    },
)
def odd_child(page: Page) -> Iterator[Flag]:
    """Yield exposed ``ul``, ``ol`` and ``dl`` with exposed children or text that do not belong."""
    for element in page.every_exposed():
        belong = _BELONG.get(element.tag)
        if belong is None or page.explicit_role(element) not in ("", "list"):
            continue
        odd = [child for child in element.elements() if _is_odd(page, child, belong)]
        text = collapse(
            " ".join(child.data for child in element.children if isinstance(child, Text))
        )
        facts = {"children": [page.selector_of(child) for child in odd], "text": text or None}
        if odd:
            mend = Mend(
                "wrap-strays",
                f"Put the <{odd[0].tag}> into an item, or before or after the list.",
                to="dd" if element.tag == "dl" else "li",
            )
            yield failed(
                element, "element", tag=element.tag, child=odd[0].tag, facts=facts, mends=(mend,)
            )
        elif not is_blank(text):
            mend = Mend(
                "wrap-strays",
                "Put the text into an item, or before or after the list.",
                to="dd" if element.tag == "dl" else "li",
            )
            yield failed(
                element,
                "text",
                tag=element.tag,
                text=shortened(text, 50),
                facts=facts,
                mends=(mend,),
            )


def _is_odd(page: Page, child: Element, belong: frozenset[str]) -> bool:
    if child.tag in _ALWAYS or not page.is_rendered(child) or page.is_aria_hidden(child):
        return False
    if child.tag == "div" and "div" in belong:
        return any(inner.tag not in ("dt", "dd", *_ALWAYS) for inner in child.elements())
    return child.tag not in belong and page.explicit_role(child) != "listitem"
