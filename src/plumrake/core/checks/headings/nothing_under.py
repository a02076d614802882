"""A heading has nothing under it.

A heading promises a part. When the next heading of its rank or the end follows at once, the part is
missing.

## Who is hindered

People who move by headings: they jump to a part that is not there.

## What an editor does

Write the part, or take the heading away. If it was meant as a title with a sub-title, make one
heading of both.

## What a template developer does

Do not print a part's heading when the part is empty.

## Wrong

    <h2>Opening times</h2><h2>Prices</h2><p>Free.</p>

## Right

    <h2>Opening times</h2><p>Always.</p><h2>Prices</h2><p>Free.</p>

## Left alone

A heading followed by one of a deeper level. Content that is folded away for now is content.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.headings.shared import with_nothing_after
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="headings/nothing-under",
    weight=Weight.FRICTION,
    criteria=("1.3.1", "2.4.6"),
    needs=Needs.TREE,
    messages={
        "followed": (
            "After the heading “{name}” (level {level}) comes at once “{following}” (level "
            "{following_level})."
        ),
        "end": "After the heading “{name}” the content ends.",
    },
)
def nothing_under(page: Page) -> Iterator[Flag]:
    """Yield every heading that one of its own or a higher level, or the end of the main content,
    follows at once."""
    follows = with_nothing_after(page, page.body)
    main = page.landmarks.main
    at_end = (
        {index for index, after in with_nothing_after(page, main).items() if after is None}
        if main is not None
        else set()
    )
    mends = (Mend("remove-element", "Write what belongs under it, or delete the heading."),)
    for heading in page.exposed(role="heading"):
        name, level = page.name_of(heading), page.level_of(heading)
        following = follows.get(heading.index)
        ends = heading.index in at_end or (
            heading.index in follows
            and following is None
            and page.landmarks.within(heading, "contentinfo") is None
        )
        if not name:
            continue
        if ends:
            yield failed(
                heading,
                "end",
                name=shortened(name),
                facts={"name": name, "level": level, "following": None},
                mends=mends,
            )
        elif following is not None and page.level_of(following) <= level:
            facts = {"name": name, "level": level, "following": page.selector_of(following)}
            data = {
                "name": shortened(name),
                "level": level,
                "following": shortened(page.name_of(following)),
                "following_level": page.level_of(following),
            }
            yield failed(heading, "followed", facts=facts, mends=mends, **data)
