"""A field is named only by its placeholder or tooltip.

A placeholder disappears with the first letter typed, and is pale. A tooltip shows only under the
pointer.

## Who is hindered

People who forget what the field was for when they come back to it, people with magnification, and
people who steer by voice.

## What an editor does

Write a label for the field; keep the placeholder for an example.

## What a template developer does

Show a ``label`` above the field, always.

## Wrong

    <input placeholder="Name of the boat">

## Right

    <label>Name of the boat <input placeholder="Slow Otter"></label>

## Left alone

Fields with a label or ``aria-label`` beside the placeholder.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.forms.shared import fields, kind_of
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="forms/placeholder-only",
    weight=Weight.OBSTACLE,
    criteria=("3.3.2",),
    needs=Needs.TREE,
    messages={
        "placeholder": "The {kind} is named only by its placeholder “{name}”.",
        "title": "The {kind} is named only by its tooltip “{name}”.",
    },
)
def placeholder_only(page: Page) -> Iterator[Flag]:
    """Yield every exposed field whose name comes from ``placeholder`` or ``title`` alone."""
    for field in fields(page):
        name = page.name_of(field)
        source = page.trace_of(field)[-1].says if name else ""
        if source in ("placeholder", "title"):
            facts = {"name": name, "source": source, "kind": kind_of(page, field)}
            mend = Mend(
                "insert",
                (
                    f"Put a label with the words “{shortened(name)}” before the field and tie it "
                    "to the field."
                ),
                to="label",
                value=name,
                where="before",
            )
            yield failed(
                field,
                source,
                kind=kind_of(page, field),
                name=shortened(name),
                facts=facts,
                mends=(mend,),
            )
