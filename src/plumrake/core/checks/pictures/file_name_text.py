r"""A picture's text is a file name.

The text alternative is the name of the file, a camera's number, an upload's address or a string
of letters and digits that a machine made. It was filled in by a program, not by a person, and it
says nothing about the picture.

## Who is hindered

People who listen to the page: they hear "I M G underscore two zero four one dot J P G" in the
middle of a sentence.

## What an editor does

Replace the text with what the picture tells the reader at this place. If it only adorns the page,
mark it as decorative.

## What a template developer does

Never fall back to the file's name where the media library has no text; leave the field for the
editor and ask for it at upload.

## Wrong

    <img src="/media/IMG_2041.jpg" alt="IMG_2041.jpg">

## Right

    <img src="/media/IMG_2041.jpg" alt="The new footbridge at Tern Basin, seen from the towpath">

## Left alone

A text that mentions a file's name among other words, and a plain word that happens to be the
file's name too (``towpath.jpg``, "Towpath").
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.pictures.file_names import what_it_is
from plumrake.core.checks.pictures.shared import file_of, mark_decorative, pictures, write_text
from plumrake.core.findings import Flag, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check


@check(
    id="pictures/file-name-text",
    weight=Weight.BARRIER,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    messages={
        "file": "The picture's text “{name}” is a file name.",
        "address": "The picture's text “{name}” is an address.",
        "camera": "The picture's text “{name}” is a number that a camera or an upload gave it.",
        "digest": "The picture's text “{name}” is an identifier made by a machine.",
    },
)
def file_name_text(page: Page) -> Iterator[Flag]:
    """Yield every picture whose name is, or is mostly, a file name, an address or an identifier."""
    for element in pictures(page):
        name = page.name_of(element)
        found = what_it_is(name, file_of(element)) if name else None
        if found is None:
            continue
        message, matched = found
        yield failed(
            element,
            message,
            name=name,
            facts={"name": name, "matched": matched, "file": file_of(element)},
            mends=(write_text(element), mark_decorative(element)),
        )
