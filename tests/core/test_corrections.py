"""Corrections: who may move one and when; drafts of one text beside each other, undone, and after
others."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from plumrake.core.corrections import (
    RULES,
    CorrectionMove,
    CorrectionRefused,
    CorrectionState,
    moved,
    open_moves,
)
from plumrake.core.dom import Element
from plumrake.core.findings import Mend
from plumrake.core.mending.edits import Edit, applied
from plumrake.core.mending.saying import says_of
from plumrake.core.mending.standing import after_others, net_edit, through, undone
from plumrake.lenses.markup import parse_document

TEXT = "Moorings and lock times, by the canal trust."
PEOPLE = [("manager", False, True), ("editor", True, True), ("editor", False, False)]


@pytest.mark.parametrize(("role", "is_author", "may"), PEOPLE)
def test_people_take_back_what_is_theirs(role: str, is_author: bool, may: bool) -> None:
    """Authors and managers, whatever the state but refused and taken back; nobody writes or proves
    by saying so."""
    for state in CorrectionState:
        moves = open_moves(state, role=role, is_author=is_author)
        is_open = state not in (CorrectionState.REFUSED, CorrectionState.TAKEN_BACK)
        assert (CorrectionMove.TAKE_BACK in moves) == (may and is_open)
        assert {CorrectionMove.WRITE, CorrectionMove.PROVE} & set(moves) == set()


def test_only_the_program_proves_and_only_what_is_written() -> None:
    """A person is refused, and so is a state that has nothing to prove."""
    with pytest.raises(CorrectionRefused) as refused:
        moved(CorrectionState.WRITTEN, CorrectionMove.PROVE, role="manager")
    assert refused.value.code == "move-not-allowed"
    with pytest.raises(CorrectionRefused, match="needs a correction that is written") as refused:
        moved(CorrectionState.DRAFTED, CorrectionMove.PROVE, role="program")
    assert refused.value.code == "wrong-state"
    after = moved(CorrectionState.WRITTEN, CorrectionMove.PROVE, role="program")
    assert after is CorrectionState.PROVEN


def test_every_state_but_the_first_is_reached_by_a_move() -> None:
    """The states and the moves fit together."""
    assert {rule.to for rule in RULES.values()} == set(CorrectionState)


@st.composite
def edit_sets(draw: st.DrawFn) -> list[Edit]:
    """Edits of TEXT that do not touch each other."""
    places = sorted(draw(st.sets(st.integers(0, len(TEXT)), min_size=4, max_size=12)))
    spans = list(zip(places[::2], places[1::2], strict=False))
    words = st.text("abc <>&", max_size=6)
    return [Edit(start, end, draw(words), TEXT[start:end]) for start, end in spans]


@given(edit_sets(), st.data())
def test_any_of_several_drafts_is_undone_alone(edits: list[Edit], data: st.DataObject) -> None:
    """What is left is what the others alone make of the text."""
    wanted = data.draw(st.lists(st.sampled_from(edits), unique=True))
    others = [edit for edit in edits if edit not in wanted]
    back = undone(edits, wanted)
    assert applied(applied(TEXT, edits), back) == applied(TEXT, others)


@given(edit_sets(), st.data())
def test_drafts_in_any_order_make_the_same_text(edits: list[Edit], data: st.DataObject) -> None:
    """Some at once, or the one after the other, each where its place is by then."""
    first = data.draw(st.lists(st.sampled_from(edits), unique=True))
    rest = [edit for edit in edits if edit not in first]
    one_by_one = applied(applied(TEXT, first), after_others(rest, first))
    assert one_by_one == applied(TEXT, edits)
    assert through(rest, first) == after_others(rest, first)


def test_what_a_later_edit_changed_is_not_undone() -> None:
    """Nobody knows what would be right there."""
    back = [Edit(0, 8, "Berths", "Moorings")]
    assert through(back, [Edit(4, 12, "", TEXT[4:12])]) is None
    assert through(back, [Edit(0, 8, "Quays", "Moorings")]) is None
    assert through(back, [Edit(20, 24, "x", TEXT[20:24])]) == tuple(back)


@given(st.text("ab<", max_size=12), st.text("ab<", max_size=12))
def test_the_net_edit_leads_from_one_text_to_the_other(before: str, after: str) -> None:
    """It is one at most, and leaves alone what both have in common at their ends."""
    edits = net_edit(before, after)
    assert applied(before, edits) == after
    assert len(edits) == (before != after)
    assert all(not edit.text or not edit.before or edit.text[0] != edit.before[0] for edit in edits)


@pytest.mark.parametrize(
    ("markup", "mend", "says"),
    [
        (
            '<img src="/m/lock.jpg?x=1">',
            Mend("set-attribute", "", attribute="alt", value="A lock"),
            "Text of the picture lock.jpg set to “A lock”.",
        ),
        (
            '<img src="lock.jpg" alt="img1">',
            Mend("set-attribute", "", attribute="alt", value=""),
            "Text of the picture lock.jpg set to “”, was “img1”.",
        ),
        (
            "<h4>Fees</h4>",
            Mend("rename-element", "", to="h2"),
            "The heading “Fees” (level 4) made a heading of level 2.",
        ),
        (
            "<h4>Fees</h4>",
            Mend("rename-element", "", to="p"),
            "The heading “Fees” (level 4) made a paragraph.",
        ),
        (
            '<a href="/f">here</a>',
            Mend("replace-text", "", value="Fees for boats"),
            "The link “here” now reads “Fees for boats”.",
        ),
        (
            "<p>Pale</p>",
            Mend("set-colours", "", value="#333333", to="#ffffff"),
            "The <p> “Pale”: text #333333, background #ffffff.",
        ),
        (
            "<table><tr><td>1</table>",
            Mend("head-table", "", to="both"),
            "The table: header cells in the first row and column.",
        ),
        (
            "<input name=q>",
            Mend("insert", "", to="label", value="Search"),
            "Label “Search” written for the field.",
        ),
    ],
)
def test_what_a_mend_does_is_said_plainly(markup: str, mend: Mend, says: str) -> None:
    """With what is written, and what it was; as somebody reads it in a list of changes."""
    assert says_of(mend, _first(markup)) == says


def _first(markup: str) -> Element:
    body = parse_document(markup, "").first("body")
    assert body is not None
    return next(body.elements())
