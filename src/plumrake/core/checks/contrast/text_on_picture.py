"""Text over a picture does not stand out everywhere.

Behind such a text lie a picture, a gradient or another element, so the contrast differs from place
to place. It is measured on the pixels behind each line, and judged by the worst tenth of them.

## Who is hindered

People with low vision: words over the light part of a photo disappear.

## What an editor does

Choose a picture that is calm and dark (or light) where the text stands, or set the text beside it.

## What a template developer does

Lay an even, mostly opaque colour between picture and text, or give the text a background of its
own.

## Wrong

    <p style="padding: 20px; color: #ffffff; background: linear-gradient(90deg, #f4f4f4,
      #dddddd)">Volunteers meet on Thursdays.</p>

## Right

    <p style="padding: 20px; color: #ffffff; background: linear-gradient(90deg, #10303a,
      #333333)">Volunteers meet on Thursdays.</p>

## Left alone

Text on an even background, which is for ``contrast/text``. Where only the worst tenth falls short,
a person has to look.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.colours import Colour, contrast, truncated
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, NotTested, Weight, cant_tell, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.style.runs import Run

_TENTH = 10


@check(
    id="contrast/text-on-picture",
    weight=Weight.OBSTACLE,
    criteria=("1.4.3", "1.4.6"),
    needs=(Needs.STYLE, Needs.LAYOUT, Needs.PIXELS),
    only_people="What may lie between text and picture is a matter of design.",
    act_rule="afw4f7",
    messages={
        "everywhere": (
            "The text {text} stands out nowhere from what lies behind it: at best {best}:1; "
            "{required}:1 is required at this size."
        ),
        "somewhere": (
            "The text {text} has {worst}:1 on the worst tenth of what lies behind it; "
            "{required}:1 is required at this size."
        ),
    },
    questions={"somewhere": "Can every word of this text be read well?"},
)
def text_on_picture(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every element whose own text stands over pixels with too little contrast."""
    for run, surface in page.text_runs:
        if surface is not None or page.lies_in(run.owner, options["logotypes"]):
            continue
        if page.evidence.pixels is None:
            raise NotTested(Needs.PIXELS)
        if run.owner.index in page.evidence.pixels.moved:
            continue
        measured = sorted(_ratios(page, run))
        if not measured:
            continue
        required = run.required(aaa=options["level"] == "aaa")
        worst, best = measured[len(measured) // _TENTH], measured[-1 - len(measured) // _TENTH]
        if worst < required:
            certain = best < required and not _is_altered(run.owner)
            yield _flag(run, worst, best, required, certain=certain)


def _flag(run: Run, worst: float, best: float, required: float, *, certain: bool) -> Flag:
    colour = run.colour.hex()
    facts = {
        "text": colour,
        "worst": truncated(worst),
        "best": truncated(best),
        "required": required,
        "font_size": run.font_size,
        "font_weight": run.font_weight,
    }
    mends = (
        Mend(
            "advice", "Lay an even, mostly opaque colour between the text and what lies behind it."
        ),
        Mend("advice", "Or choose a calmer picture, or set the text beside it."),
    )
    report = failed if certain else cant_tell
    data = {
        "text": colour,
        "worst": f"{truncated(worst):.2f}",
        "best": f"{truncated(best):.2f}",
        "required": f"{required:g}",
    }
    return report(
        run.owner,
        "everywhere" if certain else "somewhere",
        cause=(colour, f"{required:g}"),
        facts=facts,
        mends=mends,
        **data,
    )


def _ratios(page: Page, run: Run) -> Iterator[float]:
    """Yield the contrast of the text with every sampled pixel behind its lines."""
    pixels = page.evidence.pixels
    assert pixels is not None
    text = run.colour.faded(_opacity(run.owner))
    for line in run.lines:
        known: dict[Colour, float] = {}
        for colour in pixels.behind(line):
            if colour not in known:
                known[colour] = contrast(text.over(colour), colour)
            yield known[colour]


def _opacity(owner: Element) -> float:
    product = 1.0
    for element in (owner, *owner.ancestors()):
        if element.style is not None and element.style.opacity != "1":
            product *= float(element.style.opacity)
    return product


def _is_altered(owner: Element) -> bool:
    """Tell whether a filter or blend mode changes the text's own colour, so that it is not
    known."""
    return any(
        one.style is not None
        and (
            one.style.filter != "none"
            or one.style.mix_blend_mode != "normal"
            or one.style.background_clip == "text"
        )
        for one in (owner, *owner.ancestors())
    )
