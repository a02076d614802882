"""What is shown first comes later in the source.

The eye reads from top to bottom; screen readers and the Tab key follow the source. Where layout
turns the order round, both tell different stories.

## Who is hindered

People who listen to the page and look at it at once, people who go by keyboard: focus jumps up and
down.

## What an editor does

Tell whoever keeps the templates, unless you chose a block's place yourself.

## What a template developer does

Bring the source into the order that is shown. Use ``order`` and reversed directions for decoration
only only.

## Wrong

    <div style="display: flex; flex-direction: column-reverse"><p>First in the source</p><p>First
      for the eye</p></div>

## Right

    <div style="display: flex; flex-direction: column"><p>First in the source</p><p>Second for the
      eye</p></div>

## Left alone

Blocks beside each other, fixed bars, and what is hidden from sight.
"""

from __future__ import annotations

from collections.abc import Iterator
from itertools import pairwise

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_SLACK = 4.0


@check(
    id="page/reading-order",
    weight=Weight.OBSTACLE,
    criteria=("1.3.2",),
    needs=(Needs.STYLE, Needs.LAYOUT),
    only_people="The order in which a page is to be read, its author knows.",
    messages={"above": "“{text}” is shown above “{other}”, but comes after it in the source."},
    questions={"above": "Does the meaning change when these are read in the order of the source?"},
)
def reading_order(page: Page) -> Iterator[Flag]:
    """Yield every block that stands above a sibling which precedes it in the source, both with
    text."""
    for parent in page.every_exposed():
        blocks = [child for child in parent.elements() if _is_block(page, child)]
        if len(blocks) < 2 or all(
            one.box[1] <= other.box[1] + _SLACK
            for one, other in pairwise(blocks)
            if one.box and other.box
        ):
            continue
        for at, block in enumerate(blocks):
            below = next((before for before in blocks[:at] if _is_above(block, before)), None)
            if below is not None and page.text_of(block) and page.text_of(below):
                text, other = page.text_of(block), page.text_of(below)
                facts = {
                    "text": text[:200],
                    "other": page.selector_of(below),
                    "top": block.box[1] if block.box else None,
                    "other_top": below.box[1] if below.box else None,
                }
                mend = Mend("advice", "Bring the source into the order that is shown.")
                yield cant_tell(
                    block,
                    "above",
                    text=shortened(text, 50),
                    other=shortened(other, 50),
                    facts=facts,
                    mends=(mend,),
                )


def _is_block(page: Page, element: Element) -> bool:
    style = element.style
    if (
        style is None
        or element.box is None
        or style.display.startswith(("inline", "table-", "contents"))
        or style.position in ("fixed", "sticky")
    ):
        return False
    return page.is_seen(element) and element.tag not in ("script", "style")


def _is_above(block: Element, other: Element) -> bool:
    if block.box is None or other.box is None:
        return False
    shared = min(block.box[0] + block.box[2], other.box[0] + other.box[2]) - max(
        block.box[0], other.box[0]
    )
    return block.box[1] + block.box[3] <= other.box[1] + _SLACK and shared > 0.25 * min(
        block.box[2], other.box[2]
    )
