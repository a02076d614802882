"""Every feature of style sheets that the cascade knows, against the browser."""

from __future__ import annotations

from pathlib import Path

from plumrake.lenses.reader import PageReader
from tests.cascade.styled import browsers_page, differences, page_of

FEATURES = (Path(__file__).parent / "features.html").read_text(encoding="utf-8")


async def test_known_values_are_those_of_the_browser() -> None:
    ours = page_of(FEATURES)
    async with PageReader("rendered") as reader:
        theirs = await browsers_page(reader, FEATURES)
    assert [
        f"{element!r} in {element.parent!r} {element.text(20)!r}: {name} is {two}, not {one}"
        for element, name, one, two in differences(ours, theirs)
    ] == []


def test_only_what_says_so_is_in_doubt() -> None:
    page = page_of(FEATURES)
    doubtful = {one for one in page.elements if one.certainty is not None and one.certainty.doubts}
    expected = {
        one
        for one in page.elements
        if any(near.has("data-doubt") for near in (one, *one.ancestors()))
    }
    assert doubtful == expected
