"""A picture has no text.

A picture that says something needs a text that says the same: the text alternative. Without one,
some screen readers read the file's name aloud, others say only "image", and nobody learns what the
picture is there for. A picture that says nothing has to be marked as decorative with ``alt=""``.

## Who is hindered

People who listen to the page instead of looking at it, people whose connection does not load the
picture, and everybody who searches for what the picture shows.

## What an editor does

Open the picture in the page and write what it tells the reader at this place, in one sentence.
If it only adorns the page, mark it as decorative. If it is a link or a button, write where it leads
or what it does.

## What a template developer does

Print the ``alt`` attribute always, with the text from the media library or empty for decorative
pictures. An image map's ``area`` always needs its own text.

## Wrong

    <img src="/media/lock-gates.jpg">

## Right

    <img src="/media/lock-gates.jpg" alt="Volunteers paint the lower gates of Hallow Lock">

## Left alone

Pictures marked as decorative, hidden pictures, and a drawing (``svg``) that is no picture by role
and stands beside text. Whether the text is true is for review by eye.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.pictures.shared import file_of, mark_decorative, pictures, write_text
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check

_MESSAGES = {
    "img": "The picture {file} has no text alternative.",
    "blank": (
        "The text alternative of the picture {file} is blank: white space neither says anything "
        "nor marks it as decorative."
    ),
    "glyphs": "The text of the picture {file} is only “{name}”, which says nothing.",
    "area": "A part of the image map leads to {target} and has no text.",
    "input": "The picture button {file} has no text.",
    "svg": "A drawing stands for a picture here and has no name.",
    "other": "The <{tag}> shows content that is no text, and has no name.",
}


@check(
    id="pictures/no-text",
    weight=Weight.BARRIER,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    act_rule="23a2a8",
    messages=_MESSAGES,
)
def no_text(page: Page) -> Iterator[Flag]:
    """Yield every exposed picture that has no name and is not marked as decorative."""
    for element in pictures(page):
        if page.name_of(element):
            continue
        name = page.raw_name_of(element).strip()
        message = _message(element.tag, blank=element.has("alt") and not name, glyphs=bool(name))
        yield failed(
            element,
            message,
            file=file_of(element) or "without a file",
            name=name,
            tag=element.tag,
            target=element.get("href"),
            facts={"name": "", "file": file_of(element), "role": page.role_of(element)},
            mends=_mends(element),
        )


def _message(tag: str, *, blank: bool, glyphs: bool) -> str:
    if tag in ("area", "input", "svg"):
        return tag
    if tag != "img":
        return "other"
    if glyphs:
        return "glyphs"
    return "blank" if blank else "img"


def _mends(element: Element) -> tuple[Mend, ...]:
    tag = element.tag
    if tag == "area":
        return (Mend("set-attribute", "Write where this part of the map leads.", attribute="alt"),)
    if tag == "input":
        return (Mend("set-attribute", "Write what the button does.", attribute="alt"),)
    if tag != "img":
        return (
            Mend("set-attribute", "Write what it shows or does.", attribute="aria-label"),
            Mend(
                "set-attribute",
                "Or, if it only adorns the page, hide it from screen readers.",
                attribute="aria-hidden",
                value="true",
            ),
        )
    return (
        write_text(element),
        mark_decorative(element),
    )
