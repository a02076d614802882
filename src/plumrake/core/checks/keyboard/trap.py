"""The keyboard is caught.

Focus comes to this control and does not leave it again, neither by Tab nor by Shift+Tab nor by
Escape.

## Who is hindered

People who go by keyboard or switch: the rest of the page is out of reach, and they have to close
it.

## What an editor does

Hand it to whoever keeps the templates at once; take the block away until it is mended, if you can.

## What a template developer does

Let Tab do what the browser does with it. A dialog may keep focus inside while it is open, if Escape
closes it.

## Wrong

    <input aria-label="Boat" onkeydown="if (event.key === 'Tab') event.preventDefault()"><a
      href="/locks">Locks</a>

## Right

    <input aria-label="Boat"><a href="/locks">Locks</a>

## Left alone

Dialogs, and controls that Escape lets go of.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="keyboard/trap",
    weight=Weight.BARRIER,
    criteria=("2.1.2",),
    needs=Needs.KEYBOARD,
    only_people="The script that holds the focus has to be changed.",
    act_rule="80af7b",
    messages={
        "caught": "Focus does not leave “{name}”: neither Tab nor Shift+Tab nor Escape leads out.",
        "ring": (
            "Focus goes round in {count} controls and does not leave them; “{name}” is the first."
        ),
    },
)
def trap(page: Page) -> Iterator[Flag]:
    """Yield the first of the elements that focus could not leave when the keys were really
    pressed."""
    walk = page.evidence.walk
    if walk is None:
        raise NotTested(Needs.KEYBOARD)
    if walk.trapped:
        members = [page.elements[index] for index in walk.trapped]
        element = members[0]
        name = page.name_of(element) or f"<{element.tag}>"
        facts = {
            "name": name,
            "others": [page.selector_of(other) for other in members[1:]],
            "reached_before": len(walk.stops),
        }
        mend = Mend(
            "advice", "Take the script away that stops the Tab key here, or let Escape lead out."
        )
        yield failed(
            element,
            "ring" if len(members) > 1 else "caught",
            name=shortened(name, 50),
            count=len(members),
            facts=facts,
            mends=(mend,),
        )
