"""A picture shown by the style sheet may say something.

A background picture cannot have a text. Where an element holds nothing but such a picture, people
who do not see it get nothing.

## Who is hindered

People who listen to the page, if the picture says something; people who choose their own colours,
since browsers then take backgrounds away.

## What an editor does

Look at the picture. If it says something, put it into the page as a picture with a text, or write
beside it what it says.

## What a template developer does

Show content pictures with ``img``. A background that has to say something gets ``role="img"`` and
a name.

## Wrong

    <div style="width: 400px; height: 300px; background: url(/media/map.png)"></div>

## Right

    <div style="width: 400px; height: 300px; background: url(/media/map.png)" role="img"
      aria-label="Map of the canal"></div>

## Left alone

Small elements, gradients, the page's own background, and backgrounds behind text or pictures.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check

_LARGE = 150


@check(
    id="pictures/background",
    weight=Weight.OBSTACLE,
    criteria=("1.1.1",),
    needs=(Needs.STYLE, Needs.LAYOUT),
    messages={
        "alone": (
            "An area of {width}×{height} px shows only the background picture {file} and has no "
            "text."
        )
    },
    questions={"alone": "Does this picture tell the reader anything? Then it needs a text."},
)
def background(page: Page) -> Iterator[Flag]:
    """Yield every element of at least 150×150 px that shows a background picture and holds no text
    and no name."""
    for element in page.elements:
        style, box = element.style, element.box
        if (
            style is None
            or box is None
            or "url(" not in style.background_image
            or min(box[2], box[3]) < _LARGE
        ):
            continue
        if (
            element.tag in ("html", "body")
            or not page.is_exposed(element)
            or not page.is_seen(element)
            or not _is_all(page, element)
        ):
            continue
        file = (
            style.background_image.partition("url(")[2]
            .partition(")")[0]
            .strip("\"'")
            .partition("?")[0]
            .rpartition("/")[2][:60]
        )
        yield cant_tell(
            element,
            "alone",
            width=round(box[2]),
            height=round(box[3]),
            file=file,
            facts={"file": file, "width": round(box[2]), "height": round(box[3])},
            mends=(
                Mend(
                    "name-as-picture",
                    "If it says something, make it a picture for screen readers, and write what "
                    "it says.",
                ),
            ),
        )


def _is_all(page: Page, element: Element) -> bool:
    if page.text_of(element) or page.name_of(element):
        return False
    return not any(
        page.is_exposed(inner)
        and (
            page.name_of(inner) or inner.tag in ("img", "svg", "video", "iframe", "canvas", "input")
        )
        for inner in element.descendants()
    )
