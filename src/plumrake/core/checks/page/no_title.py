"""The page has no title.

The title is the first thing that is heard of a page, the name of its tab and bookmark, and what a
search shows.

## Who is hindered

People who listen to the page, and everybody who has several pages open.

## What an editor does

Write a title in the page's settings.

## What a template developer does

Print ``title`` from the page's title and the site's name.

## Wrong

    <html lang="en"><head></head><body><h1>Moorings</h1></body></html>

## Right

    <html lang="en"><head><title>Moorings – Harrowmere Canal
      Trust</title></head><body><h1>Moorings</h1></body></html>

## Left alone

Where no browser runs the page: pages whose scripts could add it, which are not tested.

Titles of drawings (``svg``) are no titles of the page.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.added_by_scripts import unless_scripts_add
from plumrake.core.dom import is_blank
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened


@check(
    id="page/no-title",
    weight=Weight.BARRIER,
    criteria=("2.4.2",),
    needs=(Needs.TREE, Needs.PAGE),
    act_rule="2779a5",
    messages={"none": "The page has no title, or an empty one."},
)
def no_title(page: Page) -> Iterator[Flag]:
    """Yield the page when its ``title`` is missing or empty."""
    if is_blank(page.title):
        unless_scripts_add(page.document, "title")
        headings = [page.name_of(heading) for heading in page.main_headings()]
        says = (
            f"Write a title; the main heading says “{shortened(headings[0])}”."
            if headings and headings[0]
            else "Write a title that names the page."
        )
        yield failed(
            page.root,
            "none",
            facts={"title": "", "main_heading": headings[0] if headings else None},
            mends=(
                Mend("replace-text", says, target="title")
                if page.title_element is not None
                else Mend("insert", says, to="title", target="html"),
            ),
        )
