"""A fragment set into a page's frame: where it goes, its lines, and what is refused."""

from __future__ import annotations

import pytest

from plumrake.lenses.frame import normal, set_into_frame
from plumrake.net.problems import Unreadable

FRAME = (
    '<!doctype html>\n<html><body>\n<header>Top</header>\n<main><div id="slot" '
    "class='a>b'>\n<div>old</div>\n</div></main>\n<footer>End</footer></body></html>"
)


def test_fragment_takes_the_place_of_what_the_slot_holds() -> None:
    """Nested elements of the slot's own kind go with it; all around stays to the letter, and lines
    count from the fragment."""
    whole, first = set_into_frame(FRAME, "#slot", "<p>new</p>")
    assert whole == FRAME.replace("\n<div>old</div>\n", "<p>new</p>")
    assert first == 3
    assert whole.splitlines()[first].endswith("<p>new</p></div></main>")


@pytest.mark.parametrize(
    ("slot", "says"), [("div", "selects 2"), (".none", "selects 0"), ("div[", "cannot be read")]
)
def test_slot_has_to_be_one_element(slot: str, says: str) -> None:
    """Anything else is one sentence with the selector in it."""
    with pytest.raises(Unreadable, match=says) as caught:
        set_into_frame(FRAME, slot, "x")
    assert caught.value.code == "bad-frame"


def test_slot_that_is_not_closed_is_refused() -> None:
    """An element that the source leaves open has no end to set anything before."""
    with pytest.raises(Unreadable, match="not closed"):
        set_into_frame("<body><main id=m><p>x</p>", "#m", "y")


def test_fragment_cannot_close_the_frame_around_it() -> None:
    """Tags that only whole documents have are taken out."""
    assert normal("<html lang=x><body class=y><p>a</p></BODY></html>") == "<p>a</p>"
