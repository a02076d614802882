"""A long page has no headings in its text.

Headings part a long text into pieces that can be looked over, found and jumped to.

## Who is hindered

People who move by headings: all they can do is read from the beginning. People who scan the page,
and people who lose the thread in long texts.

## What an editor does

Put a heading of level 2 before each part, in words that name the part.

## What a template developer does

Where long pages are put together from fields, let each part have a heading.

## Wrong

    <main><h1>History</h1><p>… 501 words …</p></main>

## Right

    <main><h1>History</h1><p>… 250 words …</p><h2>The railway years</h2><p>… 251 words …</p></main>

## Left alone

Pages with up to 500 words of main content (the policy may set another number).
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check


@check(
    id="headings/none-on-long-page",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1", "2.4.6"),
    needs=Needs.TREE,
    only_people=(
        "Somebody has to read the text to tell where its parts begin and what they are about."
    ),
    parameters={"most": 500},
    messages={"none": "The main content has {count} words and no heading below level 1."},
)
def none_on_long_page(page: Page, options: Options) -> Iterator[Flag]:
    """Yield the page when its main content has more than ``most`` words and no heading below level
    1."""
    content = page.landmarks.content
    if any(
        page.role_of(element) == "heading" and page.level_of(element) > 1 for element in content
    ):
        return
    main = page.landmarks.main
    holders = [main, *content] if main is not None else content
    count = sum(len(text.data.split()) for element in holders for text in page.own_texts(element))
    if count > options["most"]:
        mend = Mend("advice", "Part the text with headings of level 2 that name the parts.")
        yield failed(
            page.root,
            "none",
            count=count,
            facts={"words": count, "most": options["most"]},
            mends=(mend,),
        )
