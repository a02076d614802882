"""A picture is marked as decorative and described at once.

An empty text or ``role="none"`` says "pass over this picture". A name or a place in the Tab order
says the opposite. Programs settle such a contradiction in different ways.

## Who is hindered

People who listen to the page: some hear the picture, others do not, and one that takes focus is
announced as nothing at all.

## What an editor does

Decide: if the picture says something, write it as its text; if not, take title and label away.

## What a template developer does

Print either an empty ``alt`` or a name, never both, and never make a decorative picture focusable.

## Wrong

    <img src="otter.jpg" alt="" title="An otter on a stone">

## Right

    <img src="otter.jpg" alt="An otter on a stone">

## Left alone

Double marks that agree (``alt=""`` with ``role="none"``).
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.pictures.shared import NAMING, file_of, is_picture, marked_as_decorative
from plumrake.core.dom import is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.roles import is_focusable
from plumrake.core.words import shortened


@check(
    id="pictures/decorative-conflict",
    weight=Weight.OBSTACLE,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    act_rule="46ca7f",
    messages={
        "named": "The picture {file} is marked as decorative, yet it has {attribute} “{text}”.",
        "focusable": (
            "The picture {file} is marked as decorative, yet Tab or a script can focus it."
        ),
    },
)
def decorative_conflict(page: Page) -> Iterator[Flag]:
    """Yield every exposed picture marked as decorative that has a name or takes focus."""
    for element in page.every_exposed():
        if not (
            marked_as_decorative(page, element)
            and (is_picture(page, element) or element.tag in ("img", "svg", "canvas", "object"))
        ):
            continue
        attribute = next((name for name in NAMING if not is_blank(element.get(name))), None)
        if attribute is None and not is_focusable(element):
            continue
        text = element.get(attribute) if attribute else ""
        yield failed(
            element,
            "named" if attribute else "focusable",
            file=file_of(element) or "without a file",
            attribute=attribute,
            text=shortened(text),
            facts={"attribute": attribute, "text": text or None, "file": file_of(element)},
            mends=_mends(attribute, text),
        )


def _mends(attribute: str | None, text: str) -> tuple[Mend, ...]:
    if attribute is None:
        return (Mend("remove-attribute", "Take it out of the Tab order.", attribute="tabindex"),)
    return (
        Mend(
            "say-with-text",
            "If it says something, write it as the picture's text.",
            value=text if attribute != "aria-labelledby" else None,
        ),
        Mend(
            "remove-attribute",
            f"If it only adorns the page, take {attribute} away.",
            attribute=attribute,
        ),
    )
