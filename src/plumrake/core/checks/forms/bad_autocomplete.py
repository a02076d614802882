"""A field's ``autocomplete`` is not what it may be.

With the right value, browsers fill in name, address or telephone, and aids can show symbols beside
the field. A value that is no token does nothing.

## Who is hindered

People for whom typing is hard, and people who cannot keep such data in mind.

## What an editor does

In the form's editor, choose what the field is for (name, e-mail, telephone …).

## What a template developer does

Use the tokens of the HTML Standard: ``given-name``, ``email``, ``tel``, ``street-address`` …

## Wrong

    <label>E-mail <input type="email" autocomplete="e-mail"></label>

## Right

    <label>E-mail <input type="email" autocomplete="email"></label>

## Left alone

``on`` and ``off``; disabled fields; fields without the attribute.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.forms.autocomplete import fault_of
from plumrake.core.dom import is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.semantics.roles import is_disabled


@check(
    id="forms/bad-autocomplete",
    weight=Weight.FRICTION,
    criteria=("1.3.5",),
    needs=Needs.TREE,
    act_rule="73f2c2",
    messages={
        "unknown": 'autocomplete="{value}" has the unknown token “{token}”.',
        "unfit": 'autocomplete="{value}" does not fit a field of type {type}.',
    },
)
def bad_autocomplete(page: Page) -> Iterator[Flag]:
    """Yield every exposed field with an ``autocomplete`` that HTML does not allow there (HTML
    Standard, 4.10.18.7)."""
    for field in page.every_exposed():
        if (
            field.tag not in ("input", "select", "textarea")
            or is_blank(field.get("autocomplete"))
            or is_disabled(field)
        ):
            continue
        kind = (field.get("type").strip().lower() or "text") if field.tag == "input" else field.tag
        fault = fault_of(field.get("autocomplete"), kind)
        if fault is None:
            continue
        message, token = fault
        facts = {"value": field.get("autocomplete"), "token": token, "type": kind}
        mend = Mend(
            "set-attribute", "Write the token for what the field is for.", attribute="autocomplete"
        )
        yield failed(
            field,
            message,
            value=field.get("autocomplete"),
            token=token,
            type=kind,
            facts=facts,
            mends=(mend,),
        )
