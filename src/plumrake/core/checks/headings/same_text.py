"""Headings beside each other have the same text.

Two parts of one name cannot be told apart in the outline.

## Who is hindered

People who move by headings or read the outline: they cannot know which part is which.

## What an editor does

Say in each heading what is special in its part.

## What a template developer does

In repeated blocks put the entry's name into the heading: "Opening times of Hallow Lock".

## Wrong

    <h2>Details</h2><p>Of the lock</p><h2>Details</h2><p>Of the bridge</p>

## Right

    <h2>The lock</h2><p>Text</p><h2>The bridge</h2><p>Text</p>

## Left alone

The same text under different headings, and in different landmarks of the page.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator

from plumrake.core.checks.headings.shared import siblings
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import normalised, shortened


@check(
    id="headings/same-text",
    weight=Weight.FRICTION,
    criteria=("2.4.6",),
    needs=Needs.TREE,
    messages={"same": "{count} headings beside each other are called “{name}”."},
)
def same_text(page: Page) -> Iterator[Flag]:
    """Yield each of several sibling headings with the same text."""
    for group in siblings(page):
        by_text: dict[str, list[Element]] = defaultdict(list)
        for heading in group:
            if text := normalised(page.name_of(heading)):
                by_text[text].append(heading)
        for members in by_text.values():
            for heading in members if len(members) > 1 else ():
                others = page.others(members, heading)
                facts = {"name": page.name_of(heading), "others": others}
                mend = Mend("replace-text", "Say what this part is about.")
                yield failed(
                    heading,
                    "same",
                    name=shortened(page.name_of(heading)),
                    count=len(members),
                    facts=facts,
                    mends=(mend,),
                )
