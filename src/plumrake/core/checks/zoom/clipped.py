"""Text is cut off when it is enlarged.

Text must be enlarged to twice its size without parts of it disappearing. Boxes of a fixed height
cut it off.

## Who is hindered

People with low vision who enlarge the text.

## What an editor does

Shorten the text, if you may; else hand it to whoever keeps the templates.

## What a template developer does

Let boxes grow: ``min-height`` instead of ``height``, in ``em``; no ``overflow: hidden`` around
text.

## Wrong

    <p style="height: 24px; overflow: hidden">Volunteers meet on Thursdays.</p>

## Right

    <p style="min-height: 24px">Volunteers meet on Thursdays.</p>

## Left alone

What is cut off already at its usual size, what can be scrolled to, what runs past in a ``marquee``,
and text hidden from sight.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.zoom.shared import misfit_flags, trials_of
from plumrake.core.findings import Flag, Needs, Weight
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="zoom/clipped",
    weight=Weight.OBSTACLE,
    criteria=("1.4.4",),
    needs=Needs.LAYOUT,
    messages={
        "cut": "With text at 200 %, {pixels} px of “{text}” are cut off.",
        "overlap": "With text at 200 %, “{text}” lies over “{other}”.",
    },
)
def clipped(page: Page) -> Iterator[Flag]:
    """Yield what cuts text off, and texts that overlap, with text at 200 % and not at 100 %."""
    yield from misfit_flags(page, trials_of(page).doubled)
