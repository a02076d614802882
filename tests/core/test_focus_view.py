"""The path of Tab: by what was pressed, else by the markup; where it jumps, and what is wrong."""

from __future__ import annotations

from plumrake.core.evidence import Walk
from plumrake.core.page import Page
from plumrake.core.reviews import PageToReview, sample_of, what_changed
from plumrake.core.views.focus import focus
from plumrake.lenses.markup import parse_document

HTML = (
    '<html lang="en"><body><a href="/a">A</a><button>B</button><input tabindex="2" aria-label="C">'
    '<a>no stop</a><button disabled>off</button><span tabindex="0">D</span><p hidden><a href="/e">E'
    "</a></p></body>"
)


def page() -> Page:
    return Page(parse_document(HTML, "http://a.invalid/"))


def test_by_the_markup() -> None:
    rows = focus(page())
    assert [(row["number"], row["name"]) for row in rows] == [(1, "C"), (2, "A"), (3, "B"), (4, "")]
    assert [row["faults"] for row in rows] == [[], ["jumps back"], [], []]
    assert rows[3]["role"] == "<span>" or rows[3]["role"] == "generic"


def test_by_what_was_pressed() -> None:
    whole = page()
    stops = [one.index for one in whole.elements if one.tag in ("a", "button")][:2]
    walk = Walk((stops[1], stops[0]), unmarked=(stops[1],), covered=((stops[0], 1),))
    rows = focus(whole.knowing("keyboard", walk=walk))
    assert [row["name"] for row in rows] == ["B", "A"]
    assert [row["faults"] for row in rows] == [
        ["no focus mark"],
        ["jumps back", "lies under something"],
    ]


def test_the_sample_has_one_page_of_each_kind() -> None:
    """Of a hundred pages built in two ways: two, what is often visited, journeys, and what has
    films; the same whatever their order."""
    pages = [
        PageToReview(
            number, f"/{number}/", frozenset({"a", f"x{number % 2}", f"y{number % 2}"}), kinds
        )
        for number in range(100)
        for kinds in [frozenset({"media"} if number == 63 else {"links"})]
    ]
    pages.append(PageToReview(100, "/#~join/paid", frozenset({"z"}), frozenset()))
    found = sample_of(pages, ["/7/", "/9*"])
    assert found == sample_of(pages[::-1], ["/7/", "/9*"])
    assert found[100] == ("part of a journey",)
    assert found[63] == ("has films or recordings",)
    often = {number for number, because in found.items() if "often visited" in because}
    assert often == {7, 9, *range(90, 100)}
    assert sum("built as 49 other pages" in because for because in found.values()) == 2
    assert len(found) == len(often) + 2


def test_what_changed_is_told_by_name() -> None:
    before = [{"name": "A lock", "hash": "1", "selector": "x"}, {"name": "A gate", "hash": "2"}]
    after = [{"name": "A gate", "hash": "2", "selector": "moved"}, {"name": "A boat", "hash": "3"}]
    changed = what_changed(before, after)
    assert (changed.more, changed.less) == (("A boat",), ("A lock",))
    many = [{"name": str(number)} for number in range(9)]
    assert len(what_changed([], many).more) == 5
