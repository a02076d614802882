"""A heading is empty.

A heading without text is announced as a heading and nothing more. Most were left behind by an
editor who pressed Enter in a heading, or by a template whose title field is empty.

## Who is hindered

People who move by headings: they stop at a place that has no name and cannot tell whether
something failed to load.

## What an editor does

Delete the empty heading, or write its text. Use the paragraph's spacing, not an empty heading, to
make room.

## What a template developer does

Print the heading only where its field has a text. A heading that holds only a picture needs the
picture's text.

## Wrong

    <h1>Events</h1><h2>&nbsp;</h2><p>The season opens in March.</p>

## Right

    <h1>Events</h1><p>The season opens in March.</p>

## Left alone

Hidden headings, and headings whose text is a picture with a text alternative.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="headings/empty",
    weight=Weight.BARRIER,
    criteria=("1.3.1", "2.4.6"),
    needs=Needs.TREE,
    act_rule="ffd0e9",
    messages={
        "empty": "A heading of level {level} has no text.",
        "picture-only": (
            "A heading of level {level} holds only a picture, and the picture has no text."
        ),
        "kept-away": (
            "A heading of level {level} has the text “{text}”, but it is kept from screen readers."
        ),
    },
)
def empty(page: Page) -> Iterator[Flag]:
    """Yield every exposed heading whose name is empty."""
    for heading in page.exposed(role="heading"):
        if page.name_of(heading):
            continue
        text = heading.text()
        picture = any(inner.tag in ("img", "svg") for inner in heading.descendants())
        message = (
            "kept-away" if any(map(str.isalnum, text)) else "picture-only" if picture else "empty"
        )
        level = page.level_of(heading)
        yield failed(
            heading,
            message,
            level=level,
            text=text[:80],
            facts={"level": level, "name": "", "text": text},
            mends=_mends(message),
        )


def _mends(message: str) -> tuple[Mend, ...]:
    if message == "picture-only":
        return (
            Mend(
                "set-attribute",
                "Give the picture inside a text that can stand as the heading.",
                attribute="alt",
                target="picture",
            ),
        )
    if message == "kept-away":
        return (
            Mend(
                "unhide",
                "Take aria-hidden away from the heading's text, or write one that is read aloud.",
            ),
        )
    return (
        Mend("replace-text", "Write the heading's text."),
        Mend("remove-element", "Or delete the empty heading."),
    )
