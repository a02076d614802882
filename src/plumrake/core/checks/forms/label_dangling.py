"""A label belongs to no field.

The label names a field that is not there, or something that is no field. It labels nothing then.

## Who is hindered

People who listen to the page: the field has lost its name. People who click a label to reach a
small field.

## What an editor does

If the form was copied, make the field's name and the label's target agree again.

## What a template developer does

Let ``for`` hold the ``id`` of an ``input``, ``select``, ``textarea``, ``button``, ``meter``,
``output`` or ``progress``.

## Wrong

    <label for="boat">Boat</label><input id="vessel">

## Right

    <label for="boat">Boat</label><input id="boat">

## Left alone

Labels without ``for``.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.native_names import is_labelable
from plumrake.core.words import shortened


@check(
    id="forms/label-dangling",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1", "4.1.2"),
    needs=Needs.TREE,
    messages={
        "missing": "The label “{text}” is for “{target}”, which is not on the page.",
        "no-field": "The label “{text}” is for “{target}”, a <{tag}>, which is no field.",
    },
)
def label_dangling(page: Page) -> Iterator[Flag]:
    """Yield every rendered ``label`` whose ``for`` names no labelable element."""
    for label in page.elements:
        if label.tag != "label" or not label.has("for") or not page.is_rendered(label):
            continue
        identifier = label.get("for")
        target = page.by_id(identifier, label)
        if target is not None and is_labelable(target):
            continue
        inside = next((inner for inner in label.descendants() if is_labelable(inner)), None)
        mend = Mend(
            "set-attribute",
            "Write the id of the field that it belongs to.",
            attribute="for",
            value=inside.get("id") or None if inside is not None else None,
        )
        if inside is not None and not inside.get("id"):
            mend = Mend(
                "remove-attribute", "The field is inside the label: take for away.", attribute="for"
            )
        yield failed(
            label,
            "missing" if target is None else "no-field",
            text=shortened(label.text()),
            target=identifier,
            tag=target.tag if target is not None else "",
            facts={
                "for": identifier,
                "text": label.text(),
                "target": page.selector_of(target) if target is not None else None,
            },
            mends=(mend,),
        )
