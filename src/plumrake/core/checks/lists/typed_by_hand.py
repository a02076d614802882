"""A list is typed by hand.

Lines that begin with a dash or a number look like a list. Without the elements nobody hears how
many items there are, nor where one ends.

## Who is hindered

People who listen to the page: "dash gloves dash windlass" instead of "list with 2 items".

## What an editor does

Select the lines and choose "list" in the editor, then delete the typed signs.

## What a template developer does

Turn pasted lines with bullets into lists.

## Wrong

    <p>- gloves without fingers<br>- a windlass</p>

## Right

    <ul><li>gloves without fingers</li><li>a windlass</li></ul>

## Left alone

A single line, poems and dialogues are for a person to judge.
"""

from __future__ import annotations

from collections.abc import Iterator

from plumrake.core.dom import Element
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.typed_lists import BLOCKS, Line, run_of_lines, runs_of_paragraphs
from plumrake.core.words import shortened


@check(
    id="lists/typed-by-hand",
    weight=Weight.OBSTACLE,
    criteria=("1.3.1",),
    needs=Needs.TREE,
    messages={
        "lines": "{count} lines begin with a typed {kind} (“{first}”).",
        "paragraphs": "“{first}” is one of {count} paragraphs that begin with a typed {kind}.",
    },
    questions={"lines": "Are these lines a list?", "paragraphs": "Are these paragraphs a list?"},
)
def typed_by_hand(page: Page) -> Iterator[Flag]:
    """Yield blocks with two or more successive lines, and each of two or more sibling paragraphs,
    with typed markers."""
    for element in page.every_exposed():
        if element.tag not in BLOCKS:
            continue
        if run := run_of_lines(element):
            yield _flag(element, "lines", run, run[0].text, [])
        for run in runs_of_paragraphs(page, element):
            members = [line.member for line in run if line.member is not None]
            for line in run:
                if line.member is not None:
                    others = page.others(members, line.member)
                    yield _flag(line.member, "paragraphs", run, line.text, others)


_MOST_SHOWN = 40
"""So many lines of a run stand in the facts of each of them."""


def _flag(element: Element, message: str, run: list[Line], own: str, others: list[str]) -> Flag:
    kind = run[0].kind
    items = [line.text[:120] for line in run[:_MOST_SHOWN]]
    facts = {"kind": kind, "items": items, "others": others}
    is_counted = kind in ("number", "letter")
    mend = Mend(
        "make-list",
        f"Make them a {'numbered ' if is_counted else ''}list, and delete the typed signs.",
        to="ol" if is_counted else "ul",
    )
    return cant_tell(
        element,
        message,
        count=len(run),
        kind=kind,
        first=shortened(own, 50),
        facts=facts,
        mends=(mend,),
        one_with=run[0].member,
    )
