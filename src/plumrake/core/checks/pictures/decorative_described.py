"""A decorative picture is described.

Rules, bullets, spacers and corners say nothing. With a text, each of them is read aloud.

## Who is hindered

People who listen to the page: "blue line" and "bullet" between the things they came for.

## What an editor does

Leave the text empty, if the picture says nothing indeed.

## What a template developer does

Draw rules, bullets and distances by style sheet. Where a file has to be, print ``alt=""``.

## Wrong

    <img src="/img/spacer.gif" alt="blue line" width="400" height="1">

## Right

    <img src="/img/spacer.gif" alt="" width="400" height="1">

## Left alone

Pictures whose file and size do not look decorative, and those that are all of a link or button.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.checks.pictures.shared import (
    file_of,
    link_of,
    mark_decorative,
    pictures,
    size_of,
)
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_DECORATIVE = frozenset(
    (
        "spacer divider separator bullet corner rule hr line blank clear cleardot pixel "
        "transparent shim dot dots ornament flourish swirl border trenner linie filet puce "
        "separador separatore"
    ).split()
)
_BESIDE = frozenset(
    (
        "img image pic bg top bottom left right end mid center centre middle small big large thin "
        "thick long short wide wavy dotted dashed double horizontal vertical h v black white grey "
        "gray red green blue yellow orange brown gold silver pink purple dark light x px new"
    ).split()
)
"""Words that may stand beside in the name of such a file; others name a thing, as in room divider
and rule book."""
_LARGE = 60
"""What is so many CSS px high and wide is no rule, bullet or corner."""


@check(
    id="pictures/decorative-described",
    weight=Weight.FRICTION,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    messages={
        "file": "The file {file} looks decorative, yet it has the text “{name}”.",
        "size": "The picture {file} is {size} px small and has the text “{name}”.",
    },
    questions={
        "file": "Does this picture tell the reader anything? If not, leave its text empty.",
        "size": "Can anybody see something in a picture this small? If not, leave its text empty.",
    },
)
def decorative_described(page: Page) -> Iterator[Flag]:
    """Yield every picture with a name whose file name or size is that of a decorative picture."""
    for element in pictures(page):
        name = page.name_of(element)
        if element.tag != "img" or not name or link_of(element) is not None:
            continue
        message = _looks_decorative(element)
        if message:
            size = size_of(element)
            shown = f"{size[0]:g}×{size[1]:g}" if size else ""
            yield cant_tell(
                element,
                message,
                file=file_of(element) or "without a file",
                name=shortened(name),
                size=shown,
                facts={"name": name, "file": file_of(element), "size": shown or None},
                mends=(mark_decorative(element, "Mark it as decorative: leave its text empty."),),
            )


def _looks_decorative(element: Element) -> str | None:
    size = size_of(element)
    if size is not None and max(size) <= 3 and min(size) >= 0:
        return "size"
    if size is not None and min(size) >= _LARGE:
        return None
    words = re.findall(r"[a-z]+", file_of(element).rpartition(".")[0].lower())
    named = _DECORATIVE.intersection(words)
    return "file" if named and set(words) <= _DECORATIVE | _BESIDE else None
