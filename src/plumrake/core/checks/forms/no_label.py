"""A field has no label.

Without a label nobody listening knows what to write. Text beside the field does not help: the
field has to be tied to it.

## Who is hindered

People who listen to the page, and people who steer by voice: "click name" finds no field.

## What an editor does

In the form's editor, fill in the field's label.

## What a template developer does

Tie a visible ``label`` to the field with ``for`` and ``id``, or set the field into the ``label``.
Where the design has no room, use ``aria-label``.

## Wrong

    <p>Boat</p><input name="boat">

## Right

    <label for="boat">Boat</label><input id="boat" name="boat">

## Left alone

Buttons, hidden fields. A label that is hidden from sight still names its field.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from plumrake.core.checks.forms.shared import fields, kind_of
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="forms/no-label",
    weight=Weight.BARRIER,
    criteria=("1.3.1", "4.1.2"),
    needs=Needs.TREE,
    act_rule="e086e5",
    messages={"none": "The {kind}{called} has no label."},
)
def no_label(page: Page) -> Iterator[Flag]:
    """Yield every exposed field with an empty accessible name, unless hiding alone empties it."""
    for field in fields(page):
        if page.name_of(field) or page.hidden_name_of(field):
            continue
        name = field.get("name") or field.get("id")
        yield failed(
            field,
            "none",
            kind=kind_of(page, field),
            called=f" “{shortened(name)}”" if name else "",
            facts={"name": "", "kind": kind_of(page, field), "field": name},
            mends=_mends(field),
        )


_LABELABLE = frozenset(["input", "select", "textarea", "meter", "output", "progress"])
"""Elements that a label can be tied to (HTML Standard, 4.10.2)."""


def _mends(field: Element) -> tuple[Mend, ...]:
    name_it = Mend(
        "set-attribute",
        "Or, where there is no room for a label, name the field itself.",
        attribute="aria-label",
    )
    if field.tag not in _LABELABLE:
        return (replace(name_it, says="Name the field: say what to write."),)
    says = "Put a label before the field that says what to write, tied to the field."
    return Mend("insert", says, to="label", where="before"), name_it
