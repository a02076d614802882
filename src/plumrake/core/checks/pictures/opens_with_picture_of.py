"""The text of a picture begins with "picture of".

Screen readers say "image" before they read its text. "Image, picture of a heron" says it twice and
puts off what matters.

## Who is hindered

People who listen to the page: a small delay at every picture, and many pictures make a long page.

## What an editor does

Take the opening away: "A heron stands on a branch". Where the kind of picture matters, name it for
what it is: "Oil painting by …", "Aerial view of …".

## What a template developer does

Put nothing in front of the text from the media library.

## Wrong

    <img src="/media/heron.jpg" alt="Picture of a heron on a branch">

## Right

    <img src="/media/heron.jpg" alt="A heron on a branch">

## Left alone

The words further on in the text, and kinds of pictures that matter for themselves (a portrait, a
map).
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.checks.pictures.shared import file_of, pictures, write_text
from plumrake.core.findings import Flag, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.words import listed, normalised, shortened


@check(
    id="pictures/opens-with-picture-of",
    weight=Weight.FRICTION,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    messages={"opening": "The text “{name}” begins with “{phrase}”, which is said anyway."},
)
def opens_with_picture_of(page: Page, options: Options) -> Iterator[Flag]:
    """Yield every picture whose name begins with a phrase that only says that it is a picture."""
    for element in pictures(page):
        name = page.name_of(element)
        small = normalised(name)
        openings = listed("picture_openings", page.language_of(element), options["words"])
        phrase = max(
            (
                one
                for one in openings
                if small.startswith(f"{one} ") or (one.endswith("'") and small.startswith(one))
            ),
            key=len,
            default="",
        )
        if not phrase:
            continue
        rest = _rest(name, phrase)
        yield failed(
            element,
            "opening",
            name=shortened(name),
            phrase=phrase,
            facts={"name": name, "phrase": phrase, "file": file_of(element)},
            mends=(write_text(element, "Say at once what there is to see.", rest),),
        )


def _rest(name: str, phrase: str) -> str:
    """Return the name without its opening, beginning with a capital."""
    words = name.split()
    for count in range(1, len(words) + 1):
        if normalised(" ".join(words[:count])) == phrase:
            rest = " ".join(words[count:])
            return rest[:1].upper() + rest[1:]
    return name
