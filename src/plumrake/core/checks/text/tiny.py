"""Text too small to read without zoom.

A visitor who meets text of under 9 px has to stop and enlarge the page to read it, or gives the
text up. On a telephone, enlarging one line means moving the page sideways to follow it.

## Who is hindered

People with low vision, most people over forty, and anybody who reads on a small or distant screen.

## What an editor does

Take away a size that you set yourself; else hand it to whoever keeps the templates.

## What a template developer does

Use at least 12 px, better 16 px, for running text.

## Wrong

    <p style="font-size: 8px">Fares from April to March.</p>

## Right

    <p style="font-size: 14px">Fares from April to March.</p>

## Left alone

Raised and lowered signs (``sup``, ``sub``), text in drawings, text that nobody sees.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import collapse
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.words import shortened


@check(
    id="text/tiny",
    weight=Weight.FRICTION,
    criteria=(),
    needs=Needs.STYLE,
    styles="display visibility opacity font_size",
    parameters={"least": 9},
    messages={"tiny": "“{text}” has letters of {size} px; text should have at least {least} px."},
    questions={"tiny": "Does anybody need to read this?"},
)
def tiny(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every element whose own visible text is smaller than ``least`` CSS px; children that
    inherit are not repeated."""
    reported: set[int] = set()
    for run, _ in page.text_runs:
        owner = run.owner
        if (
            run.font_size >= options["least"]
            or owner.namespace != "html"
            or owner.closest("sup", "sub") is not None
            or owner.tag in ("sup", "sub")
        ):
            continue
        if any(ancestor.index in reported for ancestor in owner.ancestors()):
            continue
        reported.add(owner.index)
        facts = {
            "text": collapse(run.text)[:200],
            "font_size": run.font_size,
            "least": options["least"],
        }
        mend = Mend(
            "set-style",
            "Make it at least 12 px, better 14 px.",
            property="font-size",
            value="0.875rem",
        )
        yield cant_tell(
            owner,
            "tiny",
            text=shortened(collapse(run.text), 50),
            size=f"{run.font_size:g}",
            least=options["least"],
            facts=facts,
            mends=(mend,),
        )
