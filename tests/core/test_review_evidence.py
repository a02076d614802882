"""What is shown beside questions, and what an answer is tied to: it lapses when that changes, and
with nothing else."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from plumrake.core.page import Page
from plumrake.core.questions.by_senses import points_by_senses
from plumrake.core.questions.evidence import Shown, evidence_of
from plumrake.core.questions.plain import is_long, unexplained
from plumrake.core.questions.question import Evidence
from plumrake.lenses.markup import parse_document

PIECES: dict[str, tuple[str, str, set[Evidence]]] = {
    "picture": ('<img src="/a.jpg" alt="A lock">', '<img src="/a.jpg" alt="A gate">', {"pictures"}),
    "file": ('<img src="/b.jpg" alt="A boat">', '<img src="/c.jpg" alt="A boat">', {"pictures"}),
    "ornament": ('<img src="/d.gif" alt="">', '<img src="/e.gif" alt="">', {"decorative-pictures"}),
    "link": ('<a href="/x">Fees</a>', '<a href="/y">Fees</a>', {"links"}),
    "heading": ("<h2>Hours</h2>", "<h3>Hours</h3>", {"headings"}),
    "field": ("<label>Name <input></label>", "<label>Name <input required></label>", {"forms"}),
    "film": ('<video src="/f.mp4"></video>', '<video src="/g.mp4"></video>', {"media"}),
    "nothing": ("<p>Nine to five.</p>", '<p class="x" id="y">Nine to five.</p>', set()),
}  # fmt: skip
ALSO_READ: set[Evidence] = {"reading-order", "enlarged"}
"""What hangs on nearly everything: the order of the text, and how the page is built."""


def shown(html: str) -> dict[Evidence, Shown]:
    """Return the evidence of a page."""
    return evidence_of(Page(parse_document(f'<html lang="en"><body>{html}', "http://a.invalid/")))


@settings(max_examples=60, deadline=None)
@given(
    st.lists(st.sampled_from(sorted(PIECES)), min_size=1, max_size=8, unique=True),
    st.data(),
)
def test_exactly_what_hangs_on_a_change_lapses(names: list[str], data: st.DataObject) -> None:
    """Each change of a random page changes the keys of its evidence and no other."""
    changed = data.draw(st.sampled_from(names))
    before = shown("".join(PIECES[name][0] for name in names))
    after = shown("".join(PIECES[name][changed == name] for name in names))
    lapsed = {kind for kind in before if before[kind].key != after[kind].key}
    assert lapsed - ALSO_READ == PIECES[changed][2]


def test_what_stands_elsewhere_stays() -> None:
    """Something new before it moves it, and an answer stays."""
    html = PIECES["picture"][0] + PIECES["link"][0]
    before, after = shown(html), shown(f"<div><p>Welcome</p></div>{html}")
    assert before["pictures"].rows[0]["selector"] == after["pictures"].rows[0]["selector"] or (
        before["pictures"].key == after["pictures"].key
    )
    assert before["links"].key == after["links"].key
    assert before["reading-order"].key != after["reading-order"].key


def test_without_anything_to_show_a_question_does_not_apply() -> None:
    assert [one for one in shown("").values() if one.rows or one.key] == []


@pytest.mark.parametrize(
    ("language", "sentence"),
    [
        ("en", "Press the green button to go on."),
        ("en", "The list on the right shows all locks."),
        ("en", "Fields marked in red have to be filled in."),
        ("en-GB", "Use the small round icon."),
        ("de", "Drücken Sie auf den grünen Knopf."),
        ("de", "Die Liste in der rechten Spalte zeigt alle Schleusen."),
    ],
)
def test_sentences_that_point_by_senses(language: str, sentence: str) -> None:
    assert points_by_senses(sentence, language)


@pytest.mark.parametrize(
    ("language", "sentence"),
    [
        ("en", "The green boat has left."),
        ("en", "You have a right to be here."),
        ("en", "The lock was left open."),
        ("en", "Press Send to go on."),
        ("de", "Rechts ist vor links."),
        ("fr", "Appuyez sur le bouton vert."),
    ],
)
def test_other_sentences_are_left_alone(language: str, sentence: str) -> None:
    assert not points_by_senses(sentence, language)


def test_long_sentences_and_short_forms() -> None:
    long = " ".join(["word"] * 25) + "."
    rows = shown(f"<p>{long} Short. The CRT and the HCT (Harrowmere Canal Trust).</p>")[
        "prose"
    ].rows
    assert [row.get("words") or row["abbreviation"] for row in rows] == [25, "CRT"]
    assert not is_long("Nine to five.")
    assert [*unexplained("The CRT, the CRT", frozenset(["CRT"]))] == []


def test_tables_are_heard_cell_by_cell() -> None:
    html = "<table><tr><th>Day<th>Fee<tr><td>Monday<td>4</table>"
    [table] = shown(html)["tables"].rows
    assert table["cells"] == [
        {"text": "Monday", "headers": ["Day"]},
        {"text": "4", "headers": ["Fee"]},
    ]


def test_passages_and_what_moves() -> None:
    found = shown('<p lang="cy">Croeso</p><marquee>Closed</marquee><video autoplay src=a></video>')
    assert [row["language"] for row in found["passages"].rows] == ["cy"]
    assert [row["kind"] for row in found["motion"].rows] == ["marquee", "video"]
