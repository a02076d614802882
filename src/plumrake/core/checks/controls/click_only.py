"""Something reacts to clicks only.

A click handler on an element that is no control works for the mouse alone: Tab does not stop there,
and nothing says that it can be clicked.

## Who is hindered

People who use the keyboard or a switch, people who listen to the page, and people who steer by
voice.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Make it a ``button`` (it does something) or a link (it leads somewhere).

## Wrong

    <div onclick="openMenu()">Menu</div>

## Right

    <button type="button" onclick="openMenu()">Menu</button>

## Left alone

Large areas and cards that hold a link or control for the same, labels, and what is inside a
control.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.roles import is_focusable
from plumrake.core.vocabulary import INTERACTIVE_ROLES
from plumrake.core.words import shortened

_NATIVE = frozenset(
    (
        "a area label option optgroup video audio iframe object embed dialog form html body legend "
        "details"
    ).split()
)
_WIDE = frozenset("main header footer nav section article table tbody ul ol menu fieldset".split())


@check(
    id="controls/click-only",
    weight=Weight.BARRIER,
    criteria=("2.1.1", "4.1.2"),
    needs=Needs.TREE,
    messages={
        "click": (
            "This <{tag}> (“{text}”) reacts to clicks, but is no control and cannot be reached "
            "by Tab."
        )
    },
)
def click_only(page: Page) -> Iterator[Flag]:
    """Yield exposed elements with a click handler that are neither interactive, given a role, nor
    focusable."""
    for element in page.every_exposed():
        if not (element.has("onclick") or "click" in element.listeners) or element.tag in _NATIVE:
            continue
        if (
            page.explicit_role(element) not in ("", "none", "img")
            or page.role_of(element) in INTERACTIVE_ROLES
            or is_focusable(element)
        ):
            continue
        if _has_control(page, element) or _in_control(page, element):
            continue
        text = page.text_of(element) or page.name_of(element)
        facts = {
            "text": text[:200],
            "handlers": sorted(
                element.listeners | ({"click"} if element.has("onclick") else set())
            ),
        }
        mends = (
            Mend("rename-element", "If it does something, make it a button.", to="button"),
            Mend("advice", "If it leads somewhere, make it a link with the address."),
        )
        yield failed(
            element,
            "click",
            tag=element.tag,
            text=shortened(text, 50) or "without text",
            facts=facts,
            mends=mends,
        )


def _has_control(page: Page, element: Element) -> bool:
    """Tell whether the element holds a control (it then only listens for it, or the control does
    the same)."""
    if element.tag in _WIDE and not page.text_of(element):
        return True
    return any(
        page.is_exposed(inner) and (page.role_of(inner) in INTERACTIVE_ROLES or is_focusable(inner))
        for inner in element.descendants()
    )


def _in_control(page: Page, element: Element) -> bool:
    return any(
        page.role_of(ancestor) in INTERACTIVE_ROLES
        or ancestor.tag == "label"
        or is_focusable(ancestor)
        for ancestor in element.ancestors()
    )
