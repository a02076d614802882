"""The text of a picture only says that it is a picture.

"Image", "logo" or "placeholder" tells nobody what there is to see. Such words come from a system's
default or from a field that had to be filled in.

## Who is hindered

People who listen to the page: they learn that there is a picture, which they knew, and nothing
else.

## What an editor does

Write what the picture tells the reader here: whose logo, a photo of what. If it only adorns the
page, leave the text empty.

## What a template developer does

Never fill the text with a default. Where the media library has no text, ask for one.

## Wrong

    <img src="/media/heron.jpg" alt="Photo">

## Right

    <img src="/media/heron.jpg" alt="A heron stands on a sunken branch">

## Left alone

Texts that add what is shown ("Map of the canal"). A file name is for ``pictures/file-name-text``.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping

from plumrake.core.checks.pictures.file_names import what_it_is
from plumrake.core.checks.pictures.shared import file_of, mark_decorative, pictures, write_text
from plumrake.core.findings import Flag, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.words import listed, normalised


@check(
    id="pictures/filler-text",
    weight=Weight.OBSTACLE,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    messages={"filler": "The text of the picture {file} is only “{name}”."},
)
def filler_text(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every picture whose whole name is a word for a picture or for nothing; a number after
    it does not count."""
    for element in pictures(page):
        name = page.name_of(element)
        phrase = filler_in(name, page.language_of(element), options["words"])
        if phrase and what_it_is(name, file_of(element)) is None:
            facts = {"name": name, "phrase": phrase, "file": file_of(element)}
            yield failed(
                element,
                "filler",
                file=file_of(element) or "without a file",
                name=name,
                facts=facts,
                mends=(write_text(element), mark_decorative(element)),
            )


def filler_in(text: str, language: str, words: Mapping[str, Iterable[str]]) -> str:
    """Return the word for a picture or for nothing that a text is, a number after it left out, or
    ``""``."""
    phrase = normalised(text).rstrip("0123456789").rstrip()
    return phrase if phrase in listed("filler_texts", language, words) else ""
