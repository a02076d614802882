"""A heading is used for ordinary text.

A heading names what follows. A paragraph in a heading's clothes, or several headings in a row, name
nothing and fill the table of contents.

## Who is hindered

People who move by headings: they hear long sentences where they expect a name, or stop at headings
that lead nowhere.

## What an editor does

Make it a paragraph; if it has to stand out, choose a style for it. For a headline in several lines,
write one heading and put the rest below as text.

## What a template developer does

Offer styles for lead paragraphs and for sub-headlines, so that nobody needs a heading for its
looks.

## Wrong

    <h2>The lock is closed in frost. Please ring before you come.</h2>

## Right

    <h2>In frost</h2><p>The lock is closed in frost. Please ring before you come.</p>

## Left alone

Long names up to 120 characters, questions, and two headings in a row.
"""

from __future__ import annotations

import re
from collections.abc import Iterator

from plumrake.core.checks.headings.shared import with_nothing_after
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import Options, check
from plumrake.core.words import shortened

_LONGEST = 120
_SENTENCE_END = re.compile(r"(?<=[^\W\d_]{3})[\"'’”)]*[.!?](?=[\"'’”)]*(?:\s|$))")


@check(
    id="headings/used-for-text",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1", "2.4.6"),
    needs=Needs.TREE,
    parameters={"longest": _LONGEST},
    messages={
        "long": "The heading “{name}” has {length} characters.",
        "sentences": "The heading “{name}” holds {count} sentences.",
        "row": "“{name}” is one of {count} headings in a row with nothing between them.",
    },
    questions={
        "long": "Does it name what follows, or is it text?",
        "sentences": "Does it name what follows, or is it text?",
        "row": "Are these headings of parts, or lines of one text?",
    },
)
def used_for_text(page: Page, options: Options) -> Iterator[Flag]:
    """Yield headings that are paragraphs by length or sentences, and each of three or more headings
    in a row."""
    rows = _rows(page)
    for heading in page.exposed(role="heading"):
        name = page.name_of(heading)
        ends = len(_SENTENCE_END.findall(name))
        row = rows.get(heading.index, [])
        others = page.others(row, heading)
        facts = {"name": name, "length": len(name), "sentences": ends, "others": others}
        make_text = Mend("rename-element", "Make it a paragraph.", to="p")
        if len(name) > options["longest"]:
            yield cant_tell(
                heading,
                "long",
                name=shortened(name),
                length=len(name),
                facts=facts,
                mends=(make_text,),
            )
        elif ends >= 2:
            yield cant_tell(
                heading,
                "sentences",
                name=shortened(name),
                count=ends,
                facts=facts,
                mends=(make_text,),
            )
        elif row:
            yield cant_tell(
                heading,
                "row",
                name=shortened(name),
                count=len(row),
                facts=facts,
                mends=(make_text,),
            )


def _rows(page: Page) -> dict[int, list[Element]]:
    """Return, by the index of each member, the rows of three or more headings with nothing between
    them."""
    follows = with_nothing_after(page, page.body, hidden_counts=True)
    rows: dict[int, list[Element]] = {}
    row: list[Element] = []
    for heading in page.exposed(role="heading"):
        row.append(heading)
        if follows.get(heading.index) is None:
            if len(row) >= 3:
                rows |= {member.index: row for member in row}
            row = []
    return rows
