"""Several headings begin with the same words.

Whoever looks over headings reads or hears their first words. When those are the same, each heading
has to be followed to its end to tell it from the others.

## Who is hindered

People who move by headings and go on after the first word, and people who scan the page.

## What an editor does

Put first what is different: "Hallow Lock: opening times" becomes "Opening times" under the heading
"Hallow Lock", or "Hallow", "Tern Basin", "Brindle" instead of "Lock Hallow", "Lock Tern Basin" …

## What a template developer does

Do not print the name of the section before the title of each entry.

## Wrong

    <h2>Moorings in Brindle</h2><p>Text</p><h2>Moorings in Tern</h2><p>Text</p><h2>Moorings in
      town</h2><p>Text</p>

## Right

    <h2>Brindle</h2><p>Text</p><h2>Tern</h2><p>Text</p><h2>Town</h2><p>Text</p>

## Left alone

Two headings only; articles, prepositions and question words at the beginning; numbered steps
("Step 1", "Step 2").
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator

from plumrake.core.checks.headings.shared import siblings
from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, failed
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import normalised, phrases, shortened


@check(
    id="headings/same-opening",
    weight=Weight.FRICTION,
    criteria=("2.4.6",),
    needs=Needs.TREE,
    messages={
        "same": "“{name}” is one of {count} headings beside each other that begin with “{opening}”."
    },
)
def same_opening(page: Page) -> Iterator[Flag]:
    """Yield each of three or more sibling headings whose first word with a meaning is the same."""
    for group in siblings(page):
        openings: dict[str, list[Element]] = defaultdict(list)
        for heading in group:
            if opening := _opening(page.name_of(heading), page.language_of(heading)):
                openings[opening].append(heading)
        for opening, members in openings.items():
            if (
                len(members) < 3
                or len({normalised(page.name_of(heading)) for heading in members}) == 1
            ):
                continue
            for heading in members:
                others = page.others(members, heading)
                facts = {"name": page.name_of(heading), "opening": opening, "others": others}
                mend = Mend("replace-text", "Put first what tells this heading from the others.")
                yield failed(
                    heading,
                    "same",
                    name=shortened(page.name_of(heading)),
                    count=len(members),
                    opening=opening,
                    facts=facts,
                    mends=(mend,),
                )


def _opening(name: str, language: str) -> str:
    """Return the first word with a meaning, ``""`` where there is none or a number follows it."""
    words = [normalised(token).replace(" ", "-") for token in name.split() if normalised(token)]
    empty = phrases("function_words", language)
    while words and (words[0] in empty or words[0].partition("'")[0] in empty):
        words = words[1:]
    if not words or not any(character.isalpha() for character in words[0]):
        return ""
    return "" if len(words) > 1 and words[1][0].isdigit() else words[0]
