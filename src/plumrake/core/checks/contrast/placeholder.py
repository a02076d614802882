"""A field's placeholder is too pale.

The example in an empty field is text, and has to be readable as text.

## Who is hindered

People with low vision, and everybody on a poor screen.

## What an editor does

Hand it to whoever keeps the templates; write what matters into the label.

## What a template developer does

Set the colour of ``::placeholder`` to a proposal.

## Wrong

    <input aria-label="Boat" placeholder="Slow Otter" style="color: #bbbbbb; background: #ffffff"
      class="pale"><style>.pale::placeholder { color: #bbbbbb }</style>

## Right

    <input aria-label="Boat" placeholder="Slow Otter" class="dark"><style>.dark::placeholder {
      color: #595959 }</style>

## Left alone

Disabled fields, and fields that hold a value.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.colours import BLACK, contrast, parse_or, truncated
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.semantics.roles import is_disabled
from plumrake.core.style.background import Surface
from plumrake.core.style.nearest import nearest_passing
from plumrake.core.style.runs import required_ratio
from plumrake.core.words import has_letters_or_digits, shortened


@check(
    id="contrast/placeholder",
    weight=Weight.OBSTACLE,
    criteria=("1.4.3", "1.4.6"),
    needs=Needs.STYLE,
    messages={
        "low": (
            "The placeholder “{words}” ({text} on {background}) has a contrast of {ratio}:1; "
            "{required}:1 is required."
        )
    },
)
def placeholder(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every shown, enabled field whose placeholder has too little contrast."""
    in_doubt = False
    for field in page.elements:
        if not _is_asked(page, field):
            continue
        paint, opacity, size, weight = field.placeholder.split("|")
        surface = page.backgrounds.behind(
            field,
            [field.box] if field.box is not None else [],
            parse_or(paint, BLACK).faded(float(opacity)),
        )
        if surface is None:
            in_doubt |= not page.is_laid_out
            continue
        pixels = float(size.removesuffix("px"))
        required = required_ratio(pixels, float(weight), aaa=options["level"] == "aaa")
        if contrast(surface.text, surface.background) < required:
            yield _flag(field, surface, pixels, required)
    if in_doubt:
        raise NotTested(Needs.LAYOUT)


def _is_asked(page: Page, field: Element) -> bool:
    return (
        bool(field.placeholder)
        and page.is_seen(field)
        and not is_disabled(field)
        and (field.box is not None or not page.is_laid_out)
        and has_letters_or_digits(field.get("placeholder"))
    )


def _flag(field: Element, surface: Surface, pixels: float, required: float) -> Flag:
    ratio = contrast(surface.text, surface.background)
    better = nearest_passing(surface.text, surface.background, required)
    mend = (
        Mend(
            "add-rule",
            f"Set the colour of the placeholder to {better.hex()}.",
            to="::placeholder",
            property="color",
            value=better.hex(),
        )
        if better
        else Mend("advice", "Change both colours: neither side alone can reach the ratio.")
    )
    text, background = surface.text.hex(), surface.background.hex()
    facts = {
        "text": text,
        "background": background,
        "ratio": truncated(ratio),
        "required": required,
        "font_size": pixels,
        "proposal": better.hex() if better else None,
    }
    return failed(
        field,
        "low",
        cause=(text, background),
        facts=facts,
        mends=(mend,),
        words=shortened(field.get("placeholder"), 40),
        text=text,
        background=background,
        ratio=f"{truncated(ratio):.2f}",
        required=f"{required:g}",
    )
