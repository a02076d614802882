"""The page's title says nothing.

"Home", "Untitled" or "New page" name every page and none.

## Who is hindered

People who listen to the page, and everybody who looks for it among tabs, bookmarks or results.

## What an editor does

Write what the page is about, in a few words.

## What a template developer does

Print the page's own title first, then the site's name. Never print a default.

## Wrong

    <html lang="en"><head><title>Untitled document</title></head><body></body></html>

## Right

    <html lang="en"><head><title>Moorings – Harrowmere Canal
      Trust</title></head><body></body></html>

## Left alone

"Home" beside the site's name.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.words import listed, normalised, shortened, table

_PARTED = re.compile(r"(?<!\s)\s+[|–—·•:»\-]\s+|(?<!\s)\s*[|»]\s*")


@check(
    id="page/vague-title",
    weight=Weight.OBSTACLE,
    criteria=("2.4.2",),
    needs=(Needs.TREE, Needs.PAGE),
    messages={"vague": "The title “{title}” does not say what the page is about."},
)
def vague_title(page: Page, options: Options) -> Iterator[Flag]:
    """Yield the page when its title is one of the phrases that say nothing, or begins with a
    placeholder."""
    title = page.title
    language = page.language_of(page.root)
    whole = re.sub(r" \d+$", "", normalised(title))
    first = normalised(_PARTED.split(title)[0])
    empty = {normalised(phrase) for phrase in table("vague_titles")["placeholders"]["all"]}
    if whole and (whole in listed("vague_titles", language, options["words"]) or first in empty):
        headings = [page.name_of(heading) for heading in page.main_headings()]
        hint = (
            f" The main heading says “{shortened(headings[0])}”."
            if headings and headings[0]
            else ""
        )
        facts = {"title": title, "main_heading": headings[0] if headings else None}
        yield failed(
            page.root,
            "vague",
            title=title,
            facts=facts,
            mends=(
                Mend(
                    "replace-text",
                    f"Write a title that says what the page is about.{hint}",
                    target="title",
                ),
            ),
        )
