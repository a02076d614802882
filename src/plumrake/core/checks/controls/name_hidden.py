"""A name is there and is kept from those who need it.

The control has a text, but the text or what refers to it is hidden from assistive technology. So
the control is announced without a name.

## Who is hindered

People who listen to the page and people who steer by voice: they meet a control without a name,
though one can be read on the screen or in the markup.

## What an editor does

Hand it to whoever keeps the templates: the text is there, it only has to be let through.

## What a template developer does

Take ``aria-hidden`` away from the label's text, or name the control by ``aria-label``. The trace
shows where the text is lost.

## Wrong

    <a href="/locks"><span aria-hidden="true">Our locks</span></a>

## Right

    <a href="/locks"><span>Our locks</span></a>

## Left alone

Icons and signs that are hidden beside a name, and controls that have no text at all.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.forms.shared import fields
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="controls/name-hidden",
    weight=Weight.BARRIER,
    criteria=("4.1.2", "2.4.4"),
    needs=Needs.TREE,
    messages={
        "hidden": (
            "“{text}” would be the name of this {role}, but it is hidden from assistive technology."
        )
    },
)
def name_hidden(page: Page) -> Iterator[Flag]:
    """Yield every exposed link, button, field or other control whose name is empty only because its
    source is hidden."""
    seen = {
        element.index: element
        for element in (*page.interactive(), *fields(page))
        if element.tag != "area"
    }
    for element in seen.values():
        text = page.hidden_name_of(element)
        if text:
            trace = [
                {
                    "step": step.step,
                    "element": page.selector_of(step.element),
                    "says": step.says,
                    "text": step.text,
                }
                for step in page.trace_of(element)
            ]
            yield failed(
                element,
                "hidden",
                text=shortened(text),
                role=page.role_of(element) or "field",
                facts={"name": "", "hidden_name": text, "trace": trace},
                mends=(
                    Mend("unhide", "Let assistive technology have the text."),
                    Mend(
                        "set-attribute",
                        "Or name the control itself.",
                        attribute="aria-label",
                        value=text,
                    ),
                ),
            )
