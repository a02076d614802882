"""Text does not stand out from its background.

The contrast ratio compares the luminance of the text with that of what lies behind it. Ordinary
text needs 4.5:1, large text (from 24 px, or from 18.66 px in bold) 3:1; at level AAA 7:1 and
4.5:1. The ratio is compared unrounded: 4.499 fails.

## Who is hindered

People with low vision or reduced contrast sensitivity, which comes to most with age, and everybody
who reads outdoors or on a poor screen.

## What an editor does

If you chose the colour in the text, take it away or choose one of the proposals. If the colour
comes with the page, hand the finding to whoever keeps the templates.

## What a template developer does

Change the text's or the background's colour in the style sheet to a proposal, or to a pair of the
site's palette that passes; then every place with the same cause is mended at once.

## Wrong

    <p style="color: #8a8a8a; background: #ffffff">Volunteers meet on Thursdays.</p>

## Right

    <p style="color: #595959; background: #ffffff">Volunteers meet on Thursdays.</p>

## Left alone

Disabled controls and their labels, text that nobody sees, text without letters or digits. Text
over a picture, a gradient or another element's paint is for ``contrast/text-on-picture``.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from plumrake.core.colours import Colour, contrast, parse, truncated
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.style.background import Surface
from plumrake.core.style.nearest import Pair, Proposal, nearest_pair, proposals
from plumrake.core.style.runs import Run

_BARRIER_UNDER = 2.0


@dataclass(frozen=True, slots=True)
class _Measured:
    run: Run
    surface: Surface
    ratio: float
    required: float

    def same_look(self, other: _Measured) -> bool:
        return (
            self.surface.text == other.surface.text
            and self.surface.background == other.surface.background
            and self.required >= other.required
        )


@check(
    id="contrast/text",
    weight=Weight.OBSTACLE,
    criteria=("1.4.3", "1.4.6"),
    needs=Needs.STYLE,
    act_rule="afw4f7",
    messages={
        "low": (
            "The text {text} on {background} has a contrast of {ratio}:1; {required}:1 is "
            "required at this size."
        ),
    },
)
def text(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every element whose own text has too little contrast; children that only inherit are
    not repeated."""
    reported: dict[int, _Measured] = {}
    for run, surface in page.text_runs:
        if surface is None or page.lies_in(run.owner, options["logotypes"]):
            continue
        required = run.required(aaa=options["level"] == "aaa")
        ratio = contrast(surface.text, surface.background)
        if ratio >= required:
            continue
        measured = _Measured(run, surface, ratio, required)
        if not any(
            index in reported and reported[index].same_look(measured) for index in _above(run.owner)
        ):
            reported[run.owner.index] = measured
            yield _flag(page, measured, [parse(colour) for colour in options["palette"]])
    if not page.is_laid_out and any(surface is None for _, surface in page.text_runs):
        raise NotTested(Needs.LAYOUT)


def _above(element: Element) -> Iterator[int]:
    return (ancestor.index for ancestor in element.ancestors())


def _flag(page: Page, measured: _Measured, palette: list[Colour]) -> Flag:
    surface, run = measured.surface, measured.run
    offers = proposals(surface.text, surface.background, measured.required)
    pair = nearest_pair(surface.text, surface.background, measured.required, palette)
    colours = (surface.text.hex(), surface.background.hex())
    mends = tuple(_mend(offer) for offer in offers) or (
        Mend("advice", "Change both colours: neither side alone can reach the ratio."),
    )
    return failed(
        run.owner,
        "low",
        text=colours[0],
        background=colours[1],
        ratio=f"{truncated(measured.ratio):.2f}",
        required=f"{measured.required:g}",
        weight=Weight.BARRIER if measured.ratio < _BARRIER_UNDER else Weight.OBSTACLE,
        cause=(*colours, f"{measured.required:g}"),
        facts={
            "text": colours[0],
            "background": colours[1],
            "ratio": truncated(measured.ratio),
            "required": measured.required,
            "font_size": run.font_size,
            "font_weight": run.font_weight,
            "background_from": page.selector_of(surface.background_from),
            "proposals": [
                {"change": offer.change, "colour": offer.colour, "ratio": truncated(offer.ratio)}
                for offer in offers
            ],
            "palette_pair": {
                "text": pair.text,
                "background": pair.background,
                "ratio": truncated(pair.ratio),
            }
            if pair is not None
            else None,
        },
        mends=(*mends, _mend_by(pair)) if pair is not None else mends,
    )


def _mend(offer: Proposal) -> Mend:
    name, css = ("text", "color") if offer.change == "text" else ("background", "background-color")
    return Mend(
        "set-style",
        f"Set the {name} colour to {offer.colour} ({truncated(offer.ratio):.2f}:1).",
        property=css,
        value=offer.colour,
    )


def _mend_by(pair: Pair) -> Mend:
    return Mend(
        "set-colours",
        (
            f"Or take the nearest pair of the site's palette: text {pair.text} on "
            f"{pair.background} ({truncated(pair.ratio):.2f}:1)."
        ),
        value=pair.text,
        to=pair.background,
        sure=True,
    )
