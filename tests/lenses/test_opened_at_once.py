"""A page by its source is opened and styled in one question, and that changes nothing of what is
known of it; what is remembered from other pages is taken for nothing else than it is."""

from __future__ import annotations

from plumrake.core.findings import Needs
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.lenses.assessor import Assessor, OpenedSource
from plumrake.lenses.markup import parse_document
from plumrake.net.problems import Problem

AT = "http://locks.invalid/"
PAGE = b"""<!doctype html><html lang=en><title>Locks</title><link rel=stylesheet href=/a.css>
<main><h1>Locks</h1><p class=pale>The keeper opens the gates.</p><img src=/lock.png>
</main></html>"""
SHEETS: dict[str, str | None] = {
    f"{AT}a.css": "@import '/b.css'; p { color: #777 }",
    f"{AT}b.css": ".pale { background: #ccc }",
    f"{AT}other.css": "p { color: black; background: white }",
}


def opened(at_hand: dict[str, str | None], most: int = 100) -> tuple[Assessor, object]:
    """Open the page with some style sheets at hand."""
    assessor = Assessor()
    return assessor, assessor.open_source(PAGE, None, AT, most, AT, at_hand)


def test_what_is_at_hand_is_taken_as_far_as_it_is_wanted() -> None:
    """Also what a sheet imports; one that the page does not name leaves no trace."""
    one, begun = opened(SHEETS)
    assert isinstance(begun, OpenedSource)
    assert begun.wanted == []
    assert list(begun.picture_keys.values()) == [f"{AT}lock.png"]
    other, _ = opened({})
    assert other.know_sheets({}, AT) == [f"{AT}a.css"]
    known = {f"{AT}a.css": SHEETS[f"{AT}a.css"]}
    assert other.know_sheets(known, AT) == [f"{AT}b.css"]
    assert other.know_sheets(known | {f"{AT}b.css": SHEETS[f"{AT}b.css"]}, AT) == []
    assert one.assess(Policy()) == other.assess(Policy())
    assert "contrast/text" in [found.check for found in one.assess(Policy()).findings]
    assert one.tell(in_full=True) == other.tell(in_full=True)
    assert one.written({}) == other.written({})
    assert f"{AT}other.css" not in (one.page.document.resources or ())


def test_what_is_not_at_hand_is_still_wanted() -> None:
    """The page has no styles until all is there; what the server has not is known as that."""
    assessor, begun = opened({f"{AT}a.css": SHEETS[f"{AT}a.css"]})
    assert isinstance(begun, OpenedSource)
    assert begun.wanted == [f"{AT}b.css"]
    assert Needs.STYLE not in assessor.page.document.gives
    assert assessor.written({}) is None
    missing: dict[str, str | None] = {**SHEETS, f"{AT}b.css": None}
    assert assessor.know_sheets({}, AT, missing) == []
    assert Needs.STYLE in assessor.page.document.gives


def test_a_page_that_is_too_large_is_a_problem() -> None:
    """As when it is opened step by step."""
    _, problem = opened(SHEETS, most=3)
    assert isinstance(problem, Problem)
    assert problem.code == "too-many-elements"


def words(html: str) -> list[tuple[str, str]]:
    """Return the words that a dictionary is asked about, with their languages."""
    page = Page(parse_document(html, AT, most_elements=100))
    return [(one.word, one.language) for one in page.written]


def test_the_same_sentence_in_another_language_or_piece_is_another() -> None:
    """What was cut on one page is used on the next only where all that it hangs on is the same."""
    sentence = "<p>the gate of a lock</p>"
    english = words(f"<html lang=en><body>{sentence}")
    assert english == [(word, "en") for word in ("the", "gate", "of", "lock")]
    assert words(f"<html lang=de><body>{sentence}") == [(word, "de") for word, _ in english]
    assert words(f"<html><body>{sentence}") == []
    assert words("<html lang=en><body><p>the ga<i>te of a</i> lock</p>") == english
    mixed = words("<html lang=en><body><p>the <i lang=fr>gate of a</i> lock</p>")
    assert mixed == [("the", "en"), ("gate", "fr"), ("of", "fr"), ("lock", "en")]
