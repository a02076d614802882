"""What has focus lies under something else.

Tab came to this control and the browser scrolled to it, but something that stays in place, such as
a header or a banner, lies over all of it.

## Who is hindered

People who go by keyboard and look at the screen: they do not see where they are, nor what they are
about to press.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Keep the room that the header takes free when the browser scrolls: ``scroll-padding`` on ``html``.
Or let the header go away while somebody scrolls. Let a banner take focus first.

## Wrong

    <style>.banner { position: fixed; bottom: 0; left: 0; right: 0; height: 300px;
      background: #14566a }</style>
    <main><p style="height: 600px">Nine locks.</p><a href="/fees">Fees</a>
      <p style="height: 1800px">All year.</p></main><div class="banner">A word on cookies</div>

## Right

    <style>html { scroll-padding-bottom: 310px }
      .banner { position: fixed; bottom: 0; left: 0; right: 0; height: 300px;
      background: #14566a }</style>
    <main><p style="height: 600px">Nine locks.</p><a href="/fees">Fees</a>
      <p style="height: 1800px">All year.</p></main><div class="banner">A word on cookies</div>

## Left alone

What shows in part, what lies under something that one sees through, and what is off the screen,
which is another fault.
"""

from __future__ import annotations

from collections.abc import Iterator
from math import ceil

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_MORE = 8


@check(
    id="keyboard/focus-hidden",
    weight=Weight.OBSTACLE,
    criteria=("2.4.11",),
    needs=Needs.KEYBOARD,
    messages={"covered": "“{name}” takes focus and lies wholly under {cover}."},
)
def focus_hidden(page: Page) -> Iterator[Flag]:
    """Yield every Tab stop that lay wholly under something else while it had focus."""
    walk = page.evidence.walk
    if walk is None:
        raise NotTested(Needs.KEYBOARD)
    unseen = frozenset(walk.unseen)
    for index, by in walk.covered:
        element, cover = page.elements[index], page.elements[by]
        if index in unseen or not page.is_seen(element):
            continue
        selector = page.selector_of(cover)
        yield failed(
            element,
            "covered",
            name=shortened(page.name_of(element), 50) or f"<{element.tag}>",
            cover=f"<{cover.tag}> ({selector})",
            facts={"cover": selector, "cover_box": [round(side) for side in cover.box or ()]},
            mends=_mends(cover),
            cause=("under", selector),
            anywhere=True,
        )


def _mends(cover: Element) -> tuple[Mend, ...]:
    advice = Mend("advice", "Or let it go away while somebody scrolls, or take it out of the way.")
    if cover.box is None or cover.style is None or cover.style.position not in ("fixed", "sticky"):
        lift = Mend(
            "add-rule",
            "Lift it above what lies over it.",
            to="",
            property="position",
            value="relative !important; z-index: 9",
        )
        return lift, advice
    room = ceil(cover.box[3]) + _MORE
    keep = Mend(
        "add-rule",
        "Keep the room that it takes free when the browser scrolls to something.",
        target="html",
        to="",
        property="scroll-padding-block",
        value=f"{room}px",
    )
    return keep, advice
