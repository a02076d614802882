"""Lists that were typed by hand: lines that begin with a dash, a bullet, a number or a letter."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import NamedTuple

from plumrake.core.dom import Element, Text, collapse
from plumrake.core.page import Page

MARKERS = (
    ("bullet", re.compile(r"([*•◦▪‣●○■□✓✔➤►▸·][\s\u00a0]+)\S")),
    ("dash", re.compile(r"([-–—][\s\u00a0]+)\S")),
    ("number", re.compile(r"(\(?(\d{1,3})[.)][\s\u00a0]+)\S")),
    ("letter", re.compile(r"(\(?([a-zA-Z])\)[\s\u00a0]+)\S")),
)
"""The kinds of typed signs; a pattern's first group is the sign with the space after it, its second
what it counts with."""
BLOCKS = frozenset(
    "p div td th dd li blockquote section article main body figcaption center".split()
)
"""Elements whose lines may be a list."""
_PART_LINES = frozenset(["ul", "ol", "dl", "table", "h1", "h2", "h3", "h4", "h5", "h6", "pre"])
_NO_LINES = frozenset(["script", "style", "textarea", "select", "code", "samp", "kbd", "tt"])


class Line(NamedTuple):
    """A line that begins with a typed sign: the paragraph that it is, None for a line within one,
    its text, and the kind of its sign."""

    member: Element | None
    text: str
    kind: str


def kind_of(text: str) -> str | None:
    """Return the kind of sign that a line begins with, or None."""
    return next((kind for kind, pattern in MARKERS if pattern.match(text)), None)


def lines_of(block: Element) -> list[str]:
    """Return the lines of the block's own running text, parted at ``br``; blocks inside it part it
    too and give none."""
    lines, current = [""], 0
    stack: list[Element | Text] = list(reversed(block.children))
    while stack:
        node = stack.pop()
        if isinstance(node, Text):
            lines[current] += node.data
        elif node.tag == "br" or node.tag in BLOCKS or node.tag in _PART_LINES:
            lines.append("")
            current += 1
        elif node.tag not in _NO_LINES:
            stack.extend(reversed(node.children))
    return [collapse(line) for line in lines]


def run_of_lines(block: Element) -> list[Line]:
    """Return the longest run of lines in a block that are a list typed by hand."""
    lines = [(None, line) for line in lines_of(block) if line]
    return max(_runs(lines), key=len, default=[])


def runs_of_paragraphs(page: Page, parent: Element) -> Iterator[list[Line]]:
    """Yield the runs of paragraphs in an element that are a list typed by hand."""
    yield from _runs(
        [
            (
                child,
                page.text_of(child)
                if child.tag == "p" and page.is_exposed(child) and len(lines_of(child)) == 1
                else "",
            )
            for child in parent.elements()
        ]
    )


def _runs(lines: list[tuple[None, str]] | list[tuple[Element, str]]) -> Iterator[list[Line]]:
    """Yield the runs of two or more successive lines that begin with a marker of the same kind;
    numbers have to go up."""
    run: list[Line] = []
    for member, text in [*lines, (None, "")]:
        kind = kind_of(text)
        if run and (kind != run[-1].kind or not _follows(run[-1].text, text, kind)):
            if len(run) > 1 and not _is_dialogue(run):
                yield run
            run = []
        if kind is not None:
            run.append(Line(member, text, kind))


def _is_dialogue(run: list[Line]) -> bool:
    """Tell whether dashes open what people say, as many languages write speech: most lines are
    whole sentences, and one asks, calls out or goes on."""
    if run[0].kind != "dash":
        return False
    whole = sum(line.text.endswith((".", "!", "?", "…", "”", "»", "“")) for line in run)
    spoken = any(mark in line.text for line in run for mark in "?!…”»“")
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
