"""The page has no heading of level 1.

A level-1 heading says what the page is about. It is the first thing that people who listen jump
to, and what tells them that they have arrived where they wanted.

## Who is hindered

People who move by headings, with a screen reader or a keyboard extension: they find no place where
the page begins and no name for it.

## What an editor does

Give the page its title in the title field of the CMS, or turn the first headline of the text into
a heading of level 1.

## What a template developer does

Print the page's title as ``h1`` at the start of the main content, also on listing, search and error
pages. A logo is no heading of level 1.

## Wrong

    <main><p class="big">Moorings</p><p>Where to moor and what it costs.</p></main>

## Right

    <main><h1>Moorings</h1><p>Where to moor and what it costs.</p></main>

## Left alone

Where no browser runs the page: pages whose scripts could add it, which are not tested.

A level-1 heading that is hidden from sight but read aloud counts. An empty one counts too; that it
is empty is for ``headings/empty``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.added_by_scripts import unless_scripts_add
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="headings/no-level-1",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1", "2.4.6"),
    needs=(Needs.TREE, Needs.PAGE),
    messages={
        "none": "The page has no heading at all.",
        "no-level-1": (
            "The page has no level-1 heading; its first heading, “{first}”, is of level {level}."
        ),
    },
)
def no_level_1(page: Page) -> Iterator[Flag]:
    """Yield the page where none of its exposed headings is of level 1."""
    headings = page.exposed(role="heading")
    if any(page.level_of(heading) == 1 for heading in headings):
        return
    unless_scripts_add(page.document, "level-1")
    first = headings[0] if headings else None
    yield failed(
        page.root,
        "none" if first is None else "no-level-1",
        first=page.name_of(first) if first is not None else "",
        level=page.level_of(first) if first is not None else 0,
        facts={
            "headings": len(headings),
            "first_heading": page.selector_of(first) if first is not None else None,
        },
        mends=(
            *_raise(page),
            Mend(
                "insert",
                "Put the page's title at the start of the main content as a heading of level 1.",
                to="h1",
                where="first",
                target="main",
            ),
        ),
    )


def _raise(page: Page) -> tuple[Mend, ...]:
    """Return the mend that makes the page's first heading its main one, where that is the first of
    its kind in the source and no other has its level."""
    headings = page.exposed(role="heading")
    first = headings[0] if headings else None
    if (
        first is None
        or page.document.first(first.tag) is not first
        or sum(page.level_of(one) == page.level_of(first) for one in headings) > 1
        or first.tag not in ("h2", "h3", "h4", "h5", "h6")
    ):
        return ()
    says = f"Make “{shortened(page.name_of(first), 50)}” the heading of level 1."
    return (Mend("rename-element", says, to="h1", target=first.tag),)
