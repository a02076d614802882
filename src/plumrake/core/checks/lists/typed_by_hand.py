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

import re
from collections.abc import Iterator

from plumrake.core.dom import Element, Text, collapse
from plumrake.core.findings import Flag, Mend, Needs, Weight, cant_tell
from plumrake.core.page import Page
from plumrake.core.registry import check
from plumrake.core.words import shortened

_KINDS = (
    ("bullet", re.compile(r"[*•◦▪‣●○■□✓✔➤►▸·][\s\u00a0]+\S")),
    ("dash", re.compile(r"[-–—][\s\u00a0]+\S")),
    ("number", re.compile(r"\(?(\d{1,3})[.)][\s\u00a0]+\S")),
    ("letter", re.compile(r"\(?([a-zA-Z])\)[\s\u00a0]+\S")),
)
_BLOCKS = frozenset(
    "p div td th dd li blockquote section article main body figcaption center".split()
)


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
        if element.tag not in _BLOCKS:
            continue
        if run := _longest_run([(None, line) for line in _lines(element)]):
            yield _flag(element, "lines", run, run[0][1], [])
        paragraphs: list[tuple[Element | None, str]] = [
            (
                child,
                page.text_of(child)
                if child.tag == "p" and page.is_exposed(child) and len(_lines(child)) == 1
                else "",
            )
            for child in element.elements()
        ]
        for run in _runs(paragraphs):
            members = [member for member, _, _ in run if member is not None]
            for member, text, _ in run:
                if member is not None:
                    yield _flag(member, "paragraphs", run, text, page.others(members, member))


Line = tuple[Element | None, str, str]
_MOST_SHOWN = 40
"""So many lines of a run stand in the facts of each of them."""


def _flag(element: Element, message: str, run: list[Line], own: str, others: list[str]) -> Flag:
    kind = run[0][2]
    items = [text[:120] for _, text, _ in run[:_MOST_SHOWN]]
    facts = {"kind": kind, "items": items, "others": others}
    mend = Mend(
        "advice",
        (
            f"Make them a {'numbered ' if kind in ('number', 'letter') else ''}list, and delete "
            "the typed signs."
        ),
    )
    return cant_tell(
        element,
        message,
        count=len(run),
        kind=kind,
        first=shortened(own, 50),
        facts=facts,
        mends=(mend,),
    )


def _lines(block: Element) -> list[str]:
    """Return the lines of the block's own running text, parted at ``br``; blocks inside it part it
    too and give none."""
    lines, current = [""], 0
    stack: list[Element | Text] = list(reversed(block.children))
    while stack:
        node = stack.pop()
        if isinstance(node, Text):
            lines[current] += node.data
        elif (
            node.tag == "br"
            or node.tag in _BLOCKS
            or node.tag in ("ul", "ol", "dl", "table", "h1", "h2", "h3", "h4", "h5", "h6", "pre")
        ):
            lines.append("")
            current += 1
        elif node.tag not in ("script", "style", "textarea", "select", "code", "samp", "kbd", "tt"):
            stack.extend(reversed(node.children))
    return [collapse(line) for line in lines]


def _kind(text: str) -> str | None:
    return next((kind for kind, pattern in _KINDS if pattern.match(text)), None)


def _runs(lines: list[tuple[Element | None, str]]) -> Iterator[list[Line]]:
    """Yield the runs of two or more successive lines that begin with a marker of the same kind;
    numbers have to go up."""
    run: list[Line] = []
    for member, text in [*lines, (None, "")]:
        kind = _kind(text)
        if run and (kind != run[-1][2] or not _follows(run[-1][1], text, kind)):
            if len(run) > 1 and not _is_dialogue(run):
                yield run
            run = []
        if kind is not None:
            run.append((member, text, kind))


def _is_dialogue(run: list[Line]) -> bool:
    """Tell whether dashes open what people say, as many languages write speech: most lines are
    whole sentences, and one asks, calls out or goes on."""
    if run[0][2] != "dash":
        return False
    whole = sum(text.endswith((".", "!", "?", "…", "”", "»", "“")) for _, text, _ in run)
    spoken = any(mark in text for _, text, _ in run for mark in "?!…”»“")
    return spoken and whole * 2 > len(run)


def _follows(before: str, text: str, kind: str | None) -> bool:
    if kind != "number":
        return True
    first, second = (re.match(r"\(?(\d+)", line) for line in (before, text))
    return (
        first is not None
        and second is not None
        and int(second.group(1)) in (int(first.group(1)), int(first.group(1)) + 1)
    )


def _longest_run(lines: list[tuple[Element | None, str]]) -> list[Line]:
    return max(_runs([line for line in lines if line[1]]), key=len, default=[])
