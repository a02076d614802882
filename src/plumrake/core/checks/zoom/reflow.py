"""The page has to be scrolled sideways when it is enlarged.

At 400 % a wide screen shows a page 320 px wide. Text has to fit into that, so that one need not
scroll to and fro for every line.

## Who is hindered

People with low vision who enlarge the page, and everybody on a small telephone.

## What an editor does

If a block with a fixed width was pasted in, take the width away.

## What a template developer does

Use widths in percent and ``max-width``; let columns become rows; let long words break
(``overflow-wrap: anywhere``).

## Wrong

    <p style="width: 700px">The lock keeper helps boats through from eight to seven in summer.</p>

## Right

    <p style="max-width: 700px">The lock keeper helps boats through from eight to seven in
      summer.</p>

## Left alone

What needs two directions: data tables, pictures, maps, films; and blocks with a scroll bar of their
own.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.zoom.shared import trials_of
from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="zoom/reflow",
    weight=Weight.OBSTACLE,
    criteria=("1.4.10",),
    needs=Needs.LAYOUT,
    messages={
        "wide": (
            "On a page 320 px wide this reaches to {reach} px, so that one has to scroll "
            "sideways: “{text}”."
        )
    },
)
def reflow(page: Page) -> Iterator[Flag]:
    """Yield the outermost elements with text that stick out sideways when the page is 320 CSS px
    wide."""
    trials = trials_of(page)
    if trials.too_wide is None:
        raise NotTested(Needs.LAYOUT)
    for index, reach in trials.too_wide:
        element = page.elements[index]
        text = page.seen_text_of(element)
        facts = {"reach": reach, "page_width": trials.page_width, "text": text[:200]}
        mends = (
            Mend(
                "set-style", "Let it be no wider than the page.", property="max-width", value="100%"
            ),
            Mend("set-style", "Let its lines wrap.", property="white-space", value="normal"),
            Mend("set-style", "Take its least width away.", property="min-width", value="0"),
            Mend(
                "advice",
                "Take fixed widths away, let columns become rows, and let long words break.",
            ),
        )
        yield failed(
            element, "wide", reach=reach, text=shortened(text, 50), facts=facts, mends=mends
        )
