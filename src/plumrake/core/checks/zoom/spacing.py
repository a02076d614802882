"""Text is cut off when its lines and letters are set wider.

Some people set lines, words and letters wider to be able to read. The page has to bear that.

## Who is hindered

People with dyslexia or low vision who use such settings.

## What an editor does

Hand it to whoever keeps the templates.

## What a template developer does

Let boxes grow with their text: no fixed heights, room to wrap, distances in ``em``.

## Wrong

    <p style="width: 250px; height: 20px; line-height: 20px; overflow: hidden; margin: 0">Volunteers
      meet on Thursdays.</p>

## Right

    <p style="width: 250px; margin: 0">Volunteers meet on Thursdays.</p>

## Left alone

What is cut off already at its usual spacing, what can be scrolled to, and text hidden from sight.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.zoom.shared import misfit_flags, trials_of
from plumrake.core.findings import Flag, Needs, Weight
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="zoom/spacing",
    weight=Weight.OBSTACLE,
    criteria=("1.4.12",),
    needs=Needs.LAYOUT,
    messages={
        "cut": "With wider spacing, {pixels} px of “{text}” are cut off.",
        "overlap": "With wider spacing, “{text}” lies over “{other}”.",
    },
)
def spacing(page: Page) -> Iterator[Flag]:
    """Yield what cuts text off, and texts that overlap, with the spacing of WCAG 2.2, 1.4.12, and
    not without."""
    yield from misfit_flags(page, trials_of(page).spaced)
