"""A heading skips a level.

Headings are the page's table of contents. When a level-4 heading follows a level-2 heading, a part
of that table seems to be missing, and nobody can tell whether something was left out.

## Who is hindered

People who move by headings and listen to their levels: they look for the section in between, or
take the heading for a part of something that it does not belong to.

## What an editor does

Give the heading the level that its place asks for: one deeper than the heading above it, or the
same. If it was chosen for its looks, choose the right level and leave the looks to the style sheet.

## What a template developer does

Where a block with a heading is set into different pages, let its level follow from where it
stands, and keep size and colour in classes instead of in levels.

## Wrong

    <h1>Stoppages</h1><h3>Hallow Lock</h3>

## Right

    <h1>Stoppages</h1><h2>Hallow Lock</h2>

## Left alone

Steps back up, however many levels they take, and a first heading of level 2 or 3. Hidden headings
do not count.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check

_DEEPEST_FIRST = 3


@check(
    id="headings/level-jump",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1", "2.4.6"),
    needs=Needs.TREE,
    messages={
        "jump": (
            "“{name}” is of level {level}, the heading before it, “{previous}”, of level "
            "{previous_level}."
        ),
        "deep-start": "The page's first heading, “{name}”, is of level {level}.",
    },
)
def level_jump(page: Page) -> Iterator[Flag]:
    """Yield every heading more than one level deeper than the one before it."""
    previous: Element | None = None
    for heading in page.exposed(role="heading"):
        level = page.level_of(heading)
        above = page.level_of(previous) if previous is not None else None
        if level > (above + 1 if above is not None else _DEEPEST_FIRST):
            yield _flag(page, heading, previous)
        previous = heading


def _flag(page: Page, heading: Element, previous: Element | None) -> Flag:
    level = page.level_of(heading)
    above = page.level_of(previous) if previous is not None else 0
    facts = {
        "level": level,
        "previous_level": above or None,
        "previous": page.selector_of(previous) if previous is not None else None,
        "expected": above + 1,
    }
    return failed(
        heading,
        "jump" if previous is not None else "deep-start",
        name=page.name_of(heading),
        level=level,
        previous=page.name_of(previous) if previous is not None else "",
        previous_level=above,
        facts=facts,
        mends=(_mend(heading, above + 1, sure=_is_alone(page, heading)),),
    )


def _is_alone(page: Page, heading: Element) -> bool:
    """Tell whether the outline leaves one answer: no heading beside it has its level, none is under
    it."""
    level = page.level_of(heading)
    headings = page.exposed(role="heading")
    at = next(place for place, one in enumerate(headings) if one is heading)
    following = headings[at + 1 : at + 2]
    return not any(page.level_of(one) >= level for one in following)


def _mend(heading: Element, level: int, *, sure: bool) -> Mend:
    if heading.get("role").strip().lower() == "heading" or heading.has("aria-level") or level > 6:
        return Mend(
            "set-attribute",
            f"Make it a heading of level {level}.",
            attribute="aria-level",
            value=str(level),
            sure=sure,
        )
    says = f"Make it a heading of level {level}."
    if sure:
        return Mend("rename-element", says, to=f"h{level}", sure=True)
    return Mend(
        "move-section", f"{says[:-1]}, and what stands under it along with it.", to=str(level)
    )
