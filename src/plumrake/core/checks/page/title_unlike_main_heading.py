"""Title and main heading have no word in common.

Both name the page. When they name it differently, people wonder whether they are where they wanted
to go.

## Who is hindered

People who listen to the page: they hear the title first and look for it in the page. People with
many tabs open.

## What an editor does

Let the title hold the words of the main heading, or the other way round.

## What a template developer does

Fill both from one field, unless an editor wants a shorter title.

## Wrong

    <html lang="en"><head><title>Boating – Harrowmere</title></head><body><h1>What you pay for a
      night</h1></body></html>

## Right

    <html lang="en"><head><title>Mooring fees – Harrowmere</title></head><body><h1>Mooring
      fees</h1></body></html>

## Left alone

Pages without a title or a main heading, which have checks of their own.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import begin_alike, meaningful, shortened


@check(
    id="page/title-unlike-main-heading",
    weight=Weight.FRICTION,
    criteria=("2.4.2",),
    needs=(Needs.TREE, Needs.PAGE),
    messages={"unlike": "The title “{title}” and the main heading “{heading}” share no word."},
    questions={"unlike": "Do title and main heading name the same page?"},
)
def title_unlike_main_heading(page: Page) -> Iterator[Flag]:
    """Yield the page when no meaningful word of its title is in one of its level-1 headings."""
    names = [page.name_of(heading) for heading in page.main_headings()]
    language = page.language_of(page.root)
    title = meaningful(page.title, language)
    headings = set().union(*(meaningful(name, language) for name in names)) if names else set()
    if (
        not title
        or not headings
        or any(begin_alike(one, other) for one in title for other in headings)
    ):
        return
    facts = {"title": page.title, "headings": names}
    mend = Mend(
        "replace-text", "Let the title begin with the words of the main heading.", target="title"
    )
    yield cant_tell(
        page.root,
        "unlike",
        title=shortened(page.title),
        heading=shortened(names[0]),
        facts=facts,
        mends=(mend,),
    )
