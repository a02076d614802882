"""The page has several headings of level 1.

The heading of level 1 says what the page is about. Several of them leave open which one does.

## Who is hindered

People who move by headings: they jump to the level-1 heading to get to the page's beginning, and
land somewhere else.

## What an editor does

Leave level 1 to the heading that names the whole page, and give the others level 2.

## What a template developer does

Print one level-1 heading per page: the page's title, not the site's name, and none in teasers or
blocks.

## Wrong

    <h1>Locks</h1><p>Text</p><h1>Bridges</h1><p>Text</p>

## Right

    <h1>Locks and bridges</h1><h2>Locks</h2><p>Text</p><h2>Bridges</h2><p>Text</p>

## Left alone

Hidden headings. Some pages hold several documents of equal rank: then judge it to be fine.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="headings/several-level-1",
    weight=Weight.FRICTION,
    criteria=("1.3.1", "2.4.6"),
    needs=Needs.TREE,
    messages={"one-of": "“{name}” is one of {count} headings of level 1 on this page."},
    questions={
        "one-of": (
            "Does this heading name the whole page? If another one does, this one needs level 2."
        )
    },
)
def several_level_1(page: Page) -> Iterator[Flag]:
    """Yield each of several exposed headings of level 1."""
    mains = page.main_headings()
    if len(mains) < 2:
        return
    for heading in mains:
        others = page.others(mains, heading)
        mend = Mend("rename-element", "If it names only a part, give it level 2.", to="h2")
        if heading.has("aria-level") or heading.tag != "h1":
            mend = Mend(
                "set-attribute",
                "If it names only a part, give it level 2.",
                attribute="aria-level",
                value="2",
            )
        facts = {"name": page.name_of(heading), "count": len(mains), "others": others}
        yield cant_tell(
            heading,
            "one-of",
            name=shortened(page.name_of(heading)),
            count=len(mains),
            facts=facts,
            mends=(mend,),
            one_with=mains[0],
        )
