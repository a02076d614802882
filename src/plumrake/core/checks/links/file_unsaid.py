"""A link leads to a file and does not say so.

A file opens in another program or is stored away, and it may be large. Whoever follows the link
should know before.

## Who is hindered

People whose programs cannot open the file well (many documents cannot be read aloud or enlarged),
and people with a slow or paid connection.

## What an editor does

Write type and size into the link: "Plan of the moorings (PDF, 2 MB)".

## What a template developer does

Print type and size of media files inside the link.

## Wrong

    <a href="/files/moorings.pdf">Plan of the moorings</a>

## Right

    <a href="/files/moorings.pdf">Plan of the moorings (PDF, 2 MB)</a>

## Left alone

Links whose name says the type or the size.
"""

from __future__ import annotations

import re
from collections.abc import Iterator
from urllib.parse import urlsplit

from plumrake.core.checks.links.shared import target_of
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import holds_phrase, normalised, shortened, table

_SIZE = re.compile(r"\d\s*(?:[kmgt]i?b|bytes?|[kmg]o|kb|мб)\b", re.IGNORECASE)


@check(
    id="links/file-unsaid",
    weight=Weight.FRICTION,
    criteria=("2.4.4",),
    needs=Needs.TREE,
    messages={
        "unsaid": (
            "The link “{name}” leads to a file of type {ending} and says neither type nor size."
        )
    },
)
def file_unsaid(page: Page) -> Iterator[Flag]:
    """Yield every link to a document, archive, sound or film whose name says neither type nor
    size."""
    for link in page.exposed(role="link"):
        ending = _ending(link.get("href"))
        kind = next(
            (kind for kind in table("file_types").values() if ending in kind["endings"]), None
        )
        name = page.name_of(link)
        if kind is None or not name or _SIZE.search(name):
            continue
        small = normalised(name)
        if any(holds_phrase(small, normalised(word)) for word in (*kind["words"], ending)):
            continue
        yield failed(
            link,
            "unsaid",
            name=shortened(name),
            ending=ending.upper(),
            facts={"name": name, "ending": ending, "target": target_of(link)},
            mends=(
                Mend(
                    "replace-text",
                    "Add type and size to the link.",
                    value=f"{name} ({ending.upper()})",
                ),
            ),
        )


def _ending(address: str) -> str:
    try:
        path = urlsplit(address.strip()).path
    except ValueError:
        return ""
    return (
        path.rpartition("/")[2].rpartition(".")[2].lower() if "." in path.rpartition("/")[2] else ""
    )
