"""A person saw a fault here.

Somebody answered a question of the review with “a fault” and said what is wrong. The program cannot
see it; it finds it again for as long as the page shows what it showed then.

## Who is hindered

That hangs on the question: its help says whom.

## What an editor does

Mend what the note names. When the page shows something else, the question is asked again.

## What a template developer does

The same, where the note is about what the template prints.

## Wrong

    <html lang="en"><head><title>Lock keepers</title></head><body><img src="/keeper.jpg"
      alt="A dog"><!-- seen: The text says dog, the picture shows a lock keeper. --></body></html>

## Right

    <html lang="en"><head><title>Lock keepers</title></head><body><img src="/keeper.jpg"
      alt="A lock keeper opens the gate"></body></html>

## Left alone

Pages that nobody looked at, and answers that have lapsed.
"""

from __future__ import annotations

import json
from collections.abc import Iterator, Sequence

from plumrake.core.findings import Mend, Needs, Weight
from plumrake.core.geometry import Box
from plumrake.core.registry import PageFacts, SeenFault, SiteFlag, check
from plumrake.core.shown_rows import Row, called, known
from plumrake.core.words import shortened


@check(
    id="review/seen-by-people",
    weight=Weight.OBSTACLE,
    criteria=(),
    needs=(Needs.TREE, Needs.PAGE),
    across=True,
    page_by_page=True,
    only_people="Only people saw it, and only people know what is meant.",
    messages={"seen": "Seen by a person: {says}"},
)
def seen_by_people(pages: Sequence[PageFacts]) -> Iterator[SiteFlag]:
    """Yield each fault that somebody saw on a page."""
    for number, page in enumerate(pages):
        for fault in page.seen:
            yield _flag(number, fault)


def _flag(number: int, fault: SeenFault) -> SiteFlag:
    row = dict(fault.place)
    about = json.dumps(known(row), sort_keys=True, ensure_ascii=False)
    return SiteFlag(
        number,
        "seen",
        {"says": fault.says},
        {"question": fault.asks, "asked_as": fault.question, "shown": known(row)},
        (Mend("advice", f"Mend it as the note says: {shortened(fault.says)}"),),
        cause=(fault.question, about, fault.says),
        place=(fault.question, about),
        selector=str(row.get("selector") or "html"),
        box=_box(row),
        excerpt=shortened(called(row) or str(row.get("kind") or "")),
        weight=fault.weight,
        criteria=fault.criteria,
    )


def _box(row: Row) -> Box | None:
    box = row.get("box")
    return (box[0], box[1], box[2], box[3]) if box else None
