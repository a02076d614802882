"""Several pages have the same title.

The title tells pages apart: in tabs, bookmarks, search results, and for whoever listens.

## Who is hindered

People who listen to pages, and everybody who looks for one of them.

## What an editor does

Let each title say what is special about its page.

## What a template developer does

Print the page's own title before the site's name; for lists in several parts add the number.

## Wrong

    <html lang="en"><head><title>News</title></head><body></body></html>
    <!-- next page -->
    <html lang="en"><head><title>News</title></head><body></body></html>

## Right

    <html lang="en"><head><title>News</title></head><body></body></html>
    <!-- next page -->
    <html lang="en"><head><title>News, page 2</title></head><body></body></html>

## Left alone

Pages without a title, which have a check of their own.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Sequence

from plumrake.core.dom import collapse, is_blank
from plumrake.core.findings import Mend, Needs, Weight
from plumrake.core.journeys import is_state
from plumrake.core.registry import PageFacts, SiteFlag, check
from plumrake.core.words import shortened

_MOST_NAMED = 20


@check(
    id="page/title-shared",
    weight=Weight.OBSTACLE,
    criteria=("2.4.2",),
    needs=(Needs.TREE, Needs.PAGE),
    across=True,
    messages={"shared": "{count} pages of the site have the title “{title}”."},
)
def title_shared(pages: Sequence[PageFacts]) -> Iterator[SiteFlag]:
    """Yield each of several pages with the same title, case and white space aside; states of
    journeys have their pages' titles, so they are passed over."""
    groups: dict[str, list[int]] = defaultdict(list)
    for number, page in enumerate(pages):
        if not is_blank(page.title) and not is_state(page.address):
            groups[collapse(page.title).casefold()].append(number)
    mends = (
        Mend("replace-text", "Let the title say what is special about this page.", target="title"),
    )
    for title, members in groups.items():
        for number in members if len(members) > 1 else ():
            others = [pages[other].address for other in members if other != number]
            facts = {
                "title": pages[number].title,
                "pages": len(members),
                "others": others[:_MOST_NAMED],
            }
            data = {"count": len(members), "title": shortened(pages[number].title)}
            yield SiteFlag(number, "shared", data, facts, mends, (title,))
