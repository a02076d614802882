"""A fragment set into a page's frame: where it goes, its lines, and what is refused."""

from __future__ import annotations

import pytest

from plumrake.lenses.frame import normal, set_into_frame
from plumrake.net.problems import Problem

FRAME = (
    '<!doctype html>\n<html><body>\n<header>Top</header>\n<main><div id="slot" '
    "class='a>b'>\n<div>old</div>\n</div></main>\n<footer>End</footer></body></html>"
)


def set_in(frame: str, slot: str, fragment: str) -> tuple[str, int]:
    """Return the frame's text with the fragment in it, and the line before the fragment's first."""
    found = set_into_frame(frame.encode(), "utf-8", slot, fragment.encode())
    assert not isinstance(found, Problem), found
    return found[0].decode(), found[1]


def test_fragment_takes_the_place_of_what_the_slot_holds() -> None:
    """Nested elements of the slot's own kind go with it; all around stays to the letter, and lines
    count from the fragment."""
    whole, first = set_in(FRAME, "#slot", "<p>new</p>")
    assert whole == FRAME.replace("\n<div>old</div>\n", "<p>new</p>")
    assert first == 3
    assert whole.splitlines()[first].endswith("<p>new</p></div></main>")


@pytest.mark.parametrize(
    ("slot", "says"), [("div", "selects 2"), (".none", "selects 0"), ("div[", "cannot be read")]
)
def test_slot_has_to_be_one_element(slot: str, says: str) -> None:
    """Anything else is one sentence with the selector in it."""
    refused = set_into_frame(FRAME.encode(), "utf-8", slot, b"x")
    assert isinstance(refused, Problem)
    assert refused.code == "bad-frame"
    assert says in refused.says


def test_slot_that_is_not_closed_is_refused() -> None:
    """An element that the source leaves open has no end to set anything before."""
    refused = set_into_frame(b"<body><main id=m><p>x</p>", None, "#m", b"y")
    assert isinstance(refused, Problem)
    assert "not closed" in refused.says


def test_fragment_cannot_close_the_frame_around_it() -> None:
    """Tags that only whole documents have are taken out."""
    assert normal("<html lang=x><body class=y><p>a</p></BODY></html>") == "<p>a</p>"


def test_tags_without_an_end_are_no_harder() -> None:
    """Fifty thousand body tags that never close are looked through once."""
    assert normal("<body " * 50_000) == "<body " * 50_000


def test_a_fragment_with_a_main_heading_is_a_page_of_its_own() -> None:
    """Its heading takes the place of the frame's, and is the page's title; lines stay where they
    were."""
    frame = (
        "<html><head><title>News</title></head><body><main>\n<h1>News\nof the week</h1>"
        "<article>old</article></main></body></html>"
    )
    found = set_into_frame(frame.encode(), None, "article", b"<h1>The <b>new</b> lock</h1><p>x</p>")
    assert not isinstance(found, Problem)
    text, line = found[0].decode(), found[1]
    assert "<title>The new lock</title>" in text
    assert text.count("<h1>") == 1
    assert text.splitlines()[line].startswith("<article><h1>The <b>new</b> lock</h1>")


def test_a_fragment_without_one_keeps_the_frames() -> None:
    """What the frame says stays where the fragment says nothing."""
    frame = "<title>News</title><h1>News</h1><article>old</article>"
    found = set_into_frame(frame.encode(), None, "article", b"<h2>Locks</h2><p>x</p>")
    assert not isinstance(found, Problem)
    assert b"<title>News</title><h1>News</h1>" in found[0]
