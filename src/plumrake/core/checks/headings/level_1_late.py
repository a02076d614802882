"""The heading of level 1 comes late.

The heading of level 1 opens the content: what stands before it seems to belong to something else.

## Who is hindered

People who jump to the level-1 heading to begin reading there: they miss what came before.

## What an editor does

Move the heading of level 1 to the top of the content, or what stands before it below.

## What a template developer does

Print the page's title as the first heading of the main content; put alerts and teasers after it,
or outside of ``main``.

## Wrong

    <main><h2>Latest news</h2><p>Text</p><h1>Hallow Lock</h1><p>Text</p></main>

## Right

    <main><h1>Hallow Lock</h1><p>Text</p><h2>Latest news</h2><p>Text</p></main>

## Left alone

Headings of menus, and headings in the page's header before the main content.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_ASIDE = ("contentinfo", "complementary")


@check(
    id="headings/level-1-late",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1", "2.4.6"),
    needs=(Needs.TREE, Needs.PAGE),
    only_people=(
        "What stands before the main heading has to move, and nobody but its author knows where to."
    ),
    messages={
        "late": "The heading of level 1, “{name}”, comes after the heading “{first}”.",
        "aside": "The page's only heading of level 1, “{name}”, stands in the {zone}.",
    },
)
def level_1_late(page: Page) -> Iterator[Flag]:
    """Yield the level-1 heading that another heading of the main content precedes, or that stands
    only in aside or footer."""
    mains = page.main_headings()
    if not mains:
        return
    asides = [page.landmarks.within(heading, *_ASIDE) for heading in mains]
    if all(asides):
        zone = (
            "footer"
            if asides[0] is not None and page.role_of(asides[0]) == "contentinfo"
            else "aside"
        )
        yield _flag(page, mains[0], "aside", zone=zone, facts={"zone": zone})
        return
    headings = [
        element
        for element in page.landmarks.content
        if page.role_of(element) == "heading"
        and page.landmarks.within(element, "navigation") is None
    ]
    main = next((heading for heading in headings if page.level_of(heading) == 1), None)
    if main is not None and headings[0] is not main:
        before = [page.selector_of(heading) for heading in headings[: headings.index(main)]]
        yield _flag(
            page, main, "late", first=shortened(page.name_of(headings[0])), facts={"before": before}
        )


def _flag(
    page: Page, heading: Element, message: str, *, facts: dict[str, object], **data: str
) -> Flag:
    mend = Mend("advice", "Move the heading of level 1 before everything else in the main content.")
    return failed(
        heading,
        message,
        name=shortened(page.name_of(heading)),
        facts={"name": page.name_of(heading), **facts},
        mends=(mend,),
        **data,
    )
