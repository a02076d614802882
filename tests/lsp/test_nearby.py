"""What is told around a change at once is what the whole reading tells after it."""

from __future__ import annotations

import random

import pytest

from plumrake.core.policy import Policy
from plumrake.lsp.nearby import Change, change_of, found_nearby
from plumrake.lsp.written import WrittenText

POLICY = Policy()
PAGE = """<!doctype html>
<html lang="en"><head><title>Locks</title></head>
<body><main><h1>Locks</h1>
<p>Read about it <a href="/fees">here</a>. Under it, <a href="/x">click here</a>.</p>
<h4>Hours</h4><p>From nine to five</p>
<img src="/lock.jpg" width="300" height="200">
<ul><li>One<li>Two <a href="/y">more</a></ul>
<table><tr><td>1</td><td>2</td></tr><tr><td>3</td><td>4</td></tr></table>
<div><label for="a">Name</label> <input id="a"></div>
<p>The ducks of the lower basin are fed by nobody.</p>
</main></body></html>
"""
TYPED = [
    ("From nine", "From nyne"),
    ("From nine", 'From <a href="/q">read more</a> nine'),
    ("From nine", 'From <img src="/b.jpg"> nine'),
    (">here</a>", ">the fees</a>"),
    ('<a href="/fees">here</a>', "the fees"),
    ("Two <a", "Two, <a"),
    ("fed by nobody.</p>", 'fed by nobody.</p><p><a href="/z">here</a></p>'),
    ("<li>One", "<li><button></button>"),
]


def told(found: object) -> list[tuple[str, str, tuple[int, int]]]:
    return [(one.finding.check, one.finding.says, one.span) for one in found]  # type: ignore[attr-defined]


@pytest.mark.parametrize(("before", "after"), TYPED)
def test_nearby_is_what_the_whole_tells(before: str, after: str) -> None:
    """In a part that stands by itself both say the same."""
    assert PAGE.count(before) == 1
    text = PAGE.replace(before, after)
    last = WrittenText(PAGE, POLICY)
    assert told(found_nearby(last, text)) == told(WrittenText(text, POLICY).found)


@pytest.mark.parametrize(
    ("before", "after"),
    [
        ("<h1>Locks</h1>", "<h1>Locks</h1"),
        ("<main>", "<mai"),
        ("</main></body></html>\n", ""),
        ('<img src="/lock.jpg"', '<img src="/lock.jpg'),
        (PAGE, ""),
        ("<!doctype html>", "x"),
    ],
)
def test_what_reaches_further_keeps_what_was_told(before: str, after: str) -> None:
    """Nothing breaks where the change is more than a part's, and every span is in the text."""
    text = PAGE.replace(before, after)
    for one in found_nearby(WrittenText(PAGE, POLICY), text):
        assert 0 <= one.span[0] <= one.span[1] <= len(text)


def test_label_outside_of_the_part_is_remembered() -> None:
    """What a part lacks by itself and has on the page is not told."""
    text = PAGE.replace('<input id="a">', '<input id="a" >').replace("</div>", "</div>")
    page = text.replace('<label for="a">Name</label> ', "").replace(
        "<h4>", '<label for="a">Name</label><h4>'
    )
    last = WrittenText(page, POLICY)
    changed = page.replace('<input id="a" >', 'Your <input id="a" >')
    assert "forms/no-label" not in [one.finding.check for one in found_nearby(last, changed)]


def test_any_change_is_found() -> None:
    """The change between two texts makes one of the other."""
    chance = random.Random(11)
    for _ in range(300):
        one = "".join(chance.choices("abc", k=chance.randrange(12)))
        other = "".join(chance.choices("abc", k=chance.randrange(12)))
        change = change_of(one, other)
        assert (
            one[: change.start] + other[change.start : change.after] + one[change.before :] == other
        )
    long = "ab" * 100_000
    for at in (0, 65_535, 65_536, 131_073, len(long)):
        change = change_of(long, f"{long[:at]}x{long[at:]}")
        assert (change.start, change.before, change.after) == (at, at, at + 1)
    assert change_of("abab", "ab").moved((0, 4)) == (0, 2)
    assert Change(2, 2, 3).moved((2, 5)) == (3, 6)
