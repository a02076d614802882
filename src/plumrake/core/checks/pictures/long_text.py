"""The text of a picture is too long.

A text alternative is read in one breath: nobody can stop in it, go back a sentence or skip to the
next paragraph. What takes longer belongs into the page, where everybody can read it.

## Who is hindered

People who listen to the page: they have to hear it through, each time they pass the picture.

## What an editor does

Say in the text what the picture shows in one sentence, and put the details into a caption or the
text around it.

## What a template developer does

Show editors how long their text is. For diagrams offer a place for a description below the picture.

## Wrong

    <img src="plan.png" alt="Plan of the basin. On the north bank from west to east: berths one to
      six for visitors, the water tap, the crane, berths seven to twelve for members, the slipway.
      On the south bank: the workshop.">

## Right

    <img src="plan.png" alt="Plan of the basin; the berths are listed below">

## Left alone

Texts up to the site's limit (150 characters unless the policy says otherwise).
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.pictures.shared import file_of, pictures, write_text
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check


@check(
    id="pictures/long-text",
    weight=Weight.FRICTION,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    parameters={"longest": 150},
    messages={
        "long": (
            "The text of the picture {file} has {length} characters, {over} more than the "
            "{longest} that are heard in one go."
        )
    },
)
def long_text(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every picture whose name is longer than ``longest`` characters."""
    longest = options["longest"]
    for element in pictures(page):
        name = page.name_of(element)
        if len(name) > longest:
            yield failed(
                element,
                "long",
                file=file_of(element) or "without a file",
                length=len(name),
                over=len(name) - longest,
                longest=longest,
                facts={
                    "name": name,
                    "length": len(name),
                    "longest": longest,
                    "file": file_of(element),
                },
                mends=(
                    write_text(
                        element, f"Say what the picture shows in at most {longest} characters."
                    ),
                    Mend(
                        "advice",
                        "Put the details into a caption or into the text beside the picture.",
                    ),
                ),
            )
