"""Opening a source and planning mends in it takes linear time, whatever a stranger wrote."""

import gc
import time
from collections.abc import Callable, Iterator

import pytest

from plumrake.core.findings import Mend
from plumrake.core.mending.edits import applied
from plumrake.core.mending.source_page import CannotMend
from plumrake.lenses.sources import open_source
from tests.core.test_growth import COUNT, MOST, SHAPES, TRIES, Shape, many

LEAST_SECONDS = 0.05
MARKDOWN: dict[str, Shape] = {
    "pictures": many("![](a{n}.png)\n\n"),
    "pictures in one paragraph": many("![](a{n}.png) "),
    "links": many("[here](/x{n})\n"),
    "references": lambda count: many("[a{n}] ")(count) + "\n\n" + many("[a{n}]: /x\n")(count),
    "open brackets": many("["),
    "open pictures": many("!["),
    "headings": many("#### A {n}\n\n"),
    "cells": lambda count: "|a" * count + "|\n" + "|-" * count + "|\n" + "|1" * count + "|\n",
    "rows": lambda count: "|a|b|\n|-|-|\n" + "|1|2|\n" * count,
    "quotations": many("> a\n\n"),
    "lists": many("- a\n  - b\n"),
    "lines of one paragraph": many("• gloves  \n"),
    "HTML": many("<p><img src=a{n}.png></p>\n\n"),
    "HTML in lines": many("a <b>b</b> "),
    "stars": many("*a"),
    "front matter without an end": lambda count: "---\n" + "a: b\n" * count,
}
MENDS = (
    Mend("set-attribute", "", attribute="alt", value="A"),
    Mend("rename-element", "", to="h2"),
    Mend("replace-text", "", value="Words"),
    Mend("make-list", "", to="ul"),
    Mend("head-table", "", to="both"),
    Mend("own-id", ""),
    Mend("wrap", "", to="ul"),
    Mend("group-choices", "", value="Which"),
)


@pytest.fixture(autouse=True)
def without_garbage_collection() -> Iterator[None]:
    """It looks through all that is alive, again and again: that is no pass over the text."""
    gc.disable()
    yield
    gc.enable()


def seconds(text: str, *, is_markdown: bool) -> float:
    """Return how long it takes to open a source and to plan mends of its middle element."""
    start = time.process_time()
    source = open_source(text, "http://made.invalid/", is_markdown=is_markdown)
    elements = source.page.elements
    for element in (
        elements[-1],
        elements[len(elements) // 2],
        elements[min(4, len(elements) - 1)],
    ):
        for mend in MENDS:
            try:
                applied(text, source.edits_of(element, mend))
            except CannotMend:
                continue
    return time.process_time() - start


def assert_linear(shape: Callable[[int], str], *, is_markdown: bool) -> None:
    """Four times as much costs about four times as much."""
    for attempt in range(TRIES):
        small, large = (
            seconds(shape(count), is_markdown=is_markdown) for count in (COUNT, 4 * COUNT)
        )
        if large < MOST * max(small, LEAST_SECONDS):
            return
        assert attempt < TRIES - 1, f"{small:.3f} s became {large:.3f} s"


@pytest.mark.parametrize("name", SHAPES)
def test_html(name: str) -> None:
    """Every shape that the checks are tried with."""
    assert_linear(SHAPES[name], is_markdown=False)


@pytest.mark.parametrize("name", MARKDOWN)
def test_markdown(name: str) -> None:
    """What Markdown has many of."""
    assert_linear(MARKDOWN[name], is_markdown=True)
