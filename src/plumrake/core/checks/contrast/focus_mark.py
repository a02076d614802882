"""Nothing shows which control has focus.

Whoever goes by Tab has to see where they are. Here nothing at all changes when the control takes
focus.

## Who is hindered

Everybody who goes by keyboard and looks at the screen: without a mark they are lost.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Take ``outline: none`` out of the style sheet, or draw a mark of your own for ``:focus-visible``: an
outline of 2 px in a colour that stands out.

## Wrong

    <style>.bare:focus { outline: none }</style><a class="bare" href="/locks">Locks</a>

## Right

    <style>.marked:focus-visible { outline: 3px solid #14566a }</style><a class="marked"
      href="/locks">Locks</a>

## Left alone

Text fields, where the cursor shows; any change counts as a mark: outline, border, colour,
underline, shadow, on the control or close to it.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="contrast/focus-mark",
    weight=Weight.BARRIER,
    criteria=("2.4.7",),
    needs=Needs.KEYBOARD,
    act_rule="oj04fd",
    messages={"none": "Nothing changes when “{name}” takes focus."},
)
def focus_mark(page: Page) -> Iterator[Flag]:
    """Yield every control that looks the same with and without focus, by computed styles and by
    pixels."""
    walk = page.evidence.walk
    if walk is None:
        raise NotTested(Needs.KEYBOARD)
    for index in walk.unmarked:
        element = page.elements[index]
        if not page.is_seen(element):
            continue
        name = page.name_of(element) or element.text() or f"<{element.tag}>"
        mends = (
            Mend(
                "add-rule",
                "Draw a mark for :focus-visible.",
                to=":focus-visible",
                property="outline",
                value="3px solid currentcolor",
            ),
            Mend("advice", "Or take outline: none out of the style sheet."),
        )
        yield failed(
            element,
            "none",
            name=shortened(name, 50),
            facts={"name": name[:200], "role": page.role_of(element)},
            mends=mends,
        )
