"""What a page is made of: what makes a pattern another one, and which page stands for which."""

from __future__ import annotations

from hypothesis import given
from hypothesis import strategies as st

from plumrake.core.evidence import Misfit, Trials, Walk
from plumrake.core.page import Page
from plumrake.core.patterns import (
    ALL_PARTS,
    Part,
    TriedPatterns,
    found_at,
    patterns_of,
    share_anyway,
)
from plumrake.lenses.markup import parse_document


def page(body: str, head: str = "") -> Page:
    html = f"<!doctype html><html lang=en><head><title>Lock</title>{head}</head><body>{body}</body>"
    return Page(parse_document(html, "http://locks.example/"))


def patterns(body: str, head: str = "", **drawn: str) -> frozenset[int]:
    return patterns_of(page(body, head), drawn)


PLAIN = "<main><h1>Locks</h1><p class='lead'>Boats wait. <a href=/a>More on locks</a></p></main>"


def test_other_words_and_more_of_the_same_are_no_new_pattern() -> None:
    other = (
        PLAIN.replace("Boats wait", "Walkers pass").replace("/a", "/b").replace("Locks", "Weirs")
    )
    assert patterns(other) == patterns(PLAIN)
    assert patterns(PLAIN.replace("</p>", "</p><p class='lead'>Again. <a href=/c>c</a></p>")) == (
        patterns(PLAIN)
    )


def test_numbered_and_made_up_classes_are_one() -> None:
    first = patterns("<div class='card card-1 css-1a2b3c4d5e'>x</div>")
    assert patterns("<div class='card card-2 css-9f8e7d6c5b'>x</div>") == first
    assert patterns("<div class='tile card-2'>x</div>") != first


def test_what_bears_on_layout_or_focus_is_a_new_pattern() -> None:
    known = patterns(PLAIN)
    for change in (
        ("<p class='lead'>", "<p class='lead' style='height:20px'>"),
        ("<p class='lead'>", "<p class='lead narrow'>"),
        ("<a href", "<a tabindex=0 href"),
        ("<a href", "<a onkeydown='x()' href"),
        ("<p class", "<section class"),
    ):
        assert patterns(PLAIN.replace(*change)) - known, change


def test_code_counts_by_what_it_does() -> None:
    """A number in a script is no news, another statement is; data is none at all; a style sheet is
    known by its text, a file by its content."""
    first = patterns(PLAIN, "<script>start(12)</script>")
    assert patterns(PLAIN, "<script>start(99)</script>") == first
    assert patterns(PLAIN, "<script>stop(12)</script>") - first
    data = "<script type='application/ld+json'>{'a': 1}</script>"
    assert patterns(PLAIN, data) == patterns(PLAIN, data.replace("1", "'two'"))
    style = "<style>a:focus { outline: 0 }</style>"
    assert patterns(PLAIN, style) - patterns(PLAIN, style.replace("0", "2px"))
    assert patterns(PLAIN, **{"/a.css": "sha256:1"}) - patterns(PLAIN, **{"/a.css": "sha256:2"})


def test_where_something_was_found_is_known_by_part() -> None:
    read = page(
        "<main><p class=box>Cut</p><a class=bare href=/a>a</a><pre class=wide>w</pre></main>"
    )
    by_class = {one.get("class"): one.index for one in read.elements if one.get("class")}
    trials = Trials(too_wide=((by_class["wide"], 900),), doubled=(Misfit(by_class["box"], "cut"),))
    found = found_at(read, trials, Walk(unmarked=(by_class["bare"],)))
    assert sorted(found.values()) == [Part.NARROW, Part.TEXT, Part.KEYBOARD]
    assert set(found) < patterns_of(read, {})


def test_a_page_stands_for_another_made_of_the_same() -> None:
    tried = TriedPatterns()
    assert tried.stand_for(frozenset({1})) is None
    for pattern in (1, 2, 3):
        tried.learn("/locks/", pattern, Part(0))
    tried.learn("/weirs/", 4, Part(0))
    stand = tried.stand_for(frozenset({1, 2, 4}))
    assert stand is not None
    assert (stand.at, stand.but) == ("/locks/", Part(0))
    assert tried.stand_for(frozenset({1, 5})) is None
    tried.learn("/weirs/", 2, Part.NARROW)
    stand = tried.stand_for(frozenset({1, 2}))
    assert stand is not None
    assert stand.but == Part.NARROW


@given(
    st.lists(
        st.tuples(st.sampled_from(["/a", "/b"]), st.integers(1, 6), st.integers(0, 7).map(Part)),
        max_size=30,
    ),
    st.frozensets(st.integers(1, 6), min_size=1),
)
def test_nothing_that_was_faulty_is_passed_over(
    learnt: list[tuple[str, int, Part]], asked: frozenset[int]
) -> None:
    """Whatever was tried in whatever order: a page is only stood for where all of its patterns
    were tried, and every part that found something at one of them is tried again."""
    tried = TriedPatterns()
    for path, pattern, faulty in learnt:
        tried.learn(path, pattern, faulty)
    stand = tried.stand_for(asked)
    known = {pattern for _, pattern, _ in learnt}
    if not asked <= known:
        assert stand is None
        return
    assert stand is not None
    faulty = Part(0)
    for _, pattern, parts in learnt:
        if pattern in asked:
            faulty |= parts
    assert stand.but == faulty & ALL_PARTS


def test_of_a_large_site_a_hundred_pages_are_tried_anyway() -> None:
    """Policy's share holds up to a thousand pages; a share below one in ten is somebody's wish."""
    assert share_anyway(10, 40) == share_anyway(10, 1000) == 10
    assert share_anyway(10, 5000) == 50
    assert share_anyway(1, 5000) == 1
    assert share_anyway(4, 5000) == 4
    assert share_anyway(1000, 5000) == 1000
