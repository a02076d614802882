r"""A picture's text is a file name.

The text alternative is the name of the file, a camera's number, an upload's address or a string
of letters and digits that a machine made. It was filled in by a program, not by a person, and it
says nothing about the picture.

## Who is hindered

People who listen to the page: they hear "I M G underscore two zero four one dot J P G" in the
middle of a sentence.

## What an editor does

Replace the text with what the picture tells the reader at this place. If it only adorns the page,
mark it as ornament.

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

import re
from collections.abc import Iterator

from plumrake.core.checks.pictures.shared import file_of, pictures
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check

_ENDING = r"\.(?:jpe?g|jpe|jfif|png|gif|svgz?|webp|avif|bmp|tiff?|heic|heif|ico|psd|eps|raw|cr2|nef|pdf|mp4|mov)"
_FILE = re.compile(rf"[^\s/\\]+{_ENDING}(?=$|[\s)\],;:!?\"'?#])", re.I)
_WITH_SPACES = re.compile(rf"[^/\\]+{_ENDING}", re.I)
_ADDRESS = re.compile(r"(?:https?:)?//\S+|(?:[a-z]:\\|\.{0,2}/)?(?:[\w%.~-]+[/\\]){1,}[\w%.~-]+\.\w{2,5}|/(?:[\w%.~-]+/)+[\w%.~-]*", re.I)
_CAMERA = re.compile(
    r"\b(?:[ps]?_?img|image|images|dsc[nf]?|dscf|dcim|pxl|gopr?|gp|mvi|mov|vid|sam|cimg|imgp|kif|wp|pict?|photo|picture|scan|screenshot|"
    r"screen[ _-]?shot|unnamed|untitled|download|file|upload|dji|p(?=\d{6}))[ _-]?\(?\d{3,}[\d _-]*\)?(?:[ _-]?(?:edited|copy|final|scaled|large|small|v?\d+))*",
    re.I,
)
_DIGEST = re.compile(r"\b(?:[0-9a-f]{8}-(?:[0-9a-f]{4}-){3}[0-9a-f]{12}|(?=[0-9a-f]*\d)(?=[0-9a-f]*[a-f])[0-9a-f]{16,})\b", re.I)
_SLUG = re.compile(r"[a-z0-9]+(?:[_-]+[a-z0-9]+)+", re.I)
_MACHINE_PART = re.compile(
    r"(?:^|[_-])(?:\d+x\d+|v\d+|final|copy|scaled|thumb(?:nail)?|small|large|edited|web|lowres|hires|\d{4,})(?:[_-]|$)", re.I
)


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
            mends=(
                Mend("set-attribute", "Write what the picture tells the reader here.", attribute="alt"),
                Mend("set-attribute", "Or, if it only adorns the page, mark it as ornament.", attribute="alt", value=""),
            ),
        )


def what_it_is(name: str, file: str) -> tuple[str, str] | None:
    """Return the message and the matched part where a file name, address or identifier makes up most of ``name``."""
    for message, pattern in (("address", _ADDRESS), ("file", _FILE), ("digest", _DIGEST), ("camera", _CAMERA)):
        match = pattern.search(name)
        if match and _dominates(match.group(), name):
            return message, match.group()
    if _WITH_SPACES.fullmatch(name) and len(name.split()) <= 6 and not re.search(r"[.!?,;:]\s", name):
        return "file", name
    stem = file.rpartition(".")[0]
    if _SLUG.fullmatch(name) and (_MACHINE_PART.search(name) or "_" in name or (stem and name.casefold() == stem.casefold())):
        return "file", name
    return None


def _dominates(part: str, whole: str) -> bool:
    """Tell whether ``part`` is most of ``whole``: at most two short words are left beside it."""
    rest = re.findall(r"\w+", whole.replace(part, " ", 1))
    return len(rest) <= 2 and sum(map(len, rest)) < len(part)
