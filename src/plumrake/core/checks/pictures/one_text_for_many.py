"""Different pictures have the same text.

Two pictures that show different things cannot be told apart when their texts are the same.

## Who is hindered

People who listen to the page: they take the second picture for the first one again.

## What an editor does

Look at the pictures side by side. If they show different things, let each text say its own. If
one of them adds nothing, leave its text empty.

## What a template developer does

Do not fill the text of several pictures from one field (a page title, a section's name).

## Wrong

    <img src="lock-open.jpg" alt="Hallow Lock"><img src="lock-shut.jpg" alt="Hallow Lock">

## Right

    <img src="lock-open.jpg" alt="Hallow Lock, gates open"><img src="lock-shut.jpg" alt="Hallow
      Lock, gates shut">

## Left alone

The same file more than once, and pictures that are links to the same page.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator

from plumrake.core.checks.pictures.shared import file_of, link_of, own_file, pictures, write_text
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import normalised, shortened


@check(
    id="pictures/one-text-for-many",
    weight=Weight.FRICTION,
    criteria=("1.1.1",),
    needs=Needs.TREE,
    messages={"same": "{count} different pictures on this page have the text “{name}”."},
    questions={"same": "Do these pictures show the same? If not, let each text say its own."},
)
def one_text_for_many(page: Page) -> Iterator[Flag]:
    """Yield each of several pictures of different files that have the same name and do not lead to
    the same place."""
    groups: dict[str, list[Element]] = defaultdict(list)
    for element in pictures(page):
        if (
            element.tag in ("img", "input", "object")
            and own_file(page, element)
            and (name := page.name_of(element))
        ):
            groups[normalised(name)].append(element)
    for members in groups.values():
        if len({own_file(page, element) for element in members}) < 2 or _lead_to_one_place(
            page, members
        ):
            continue
        files = list(dict.fromkeys(map(file_of, members)))[:20]
        for element in members:
            other_files = [file for file in files if file != file_of(element)]
            facts = {
                "name": page.name_of(element),
                "file": file_of(element),
                "others": page.others(members, element),
                "other_files": other_files,
            }
            yield cant_tell(
                element,
                "same",
                count=len(members),
                name=shortened(page.name_of(element)),
                facts=facts,
                mends=(write_text(element),),
            )


def _lead_to_one_place(page: Page, members: list[Element]) -> bool:
    links = [link_of(element) for element in members]
    return (
        None not in links
        and len({page.resolved(link.get("href")) for link in links if link is not None}) == 1
    )
