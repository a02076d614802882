"""What comes out of a look for a person, a program and a spreadsheet."""

from __future__ import annotations

import csv
import io
import json
from dataclasses import replace

import pytest

from plumrake.core.findings import Finding
from plumrake.core.policy import Policy
from plumrake.reports.as_csv import to_csv
from plumrake.reports.as_text import to_text
from plumrake.reports.pages import Reported, is_ready, page_dict, summary_dict
from plumrake.reports.report import About, ReportedPage, written

VAGUE = Finding(
    check="links/vague",
    outcome="failed",
    weight="obstacle",
    criteria=("2.4.4",),
    says="The link text “here” does not say where it leads.",
    question=None,
    message="vague",
    selector="main > p > a",
    line=7,
    column=3,
    box=None,
    visible=True,
    nearest_visible=None,
    nearest_box=None,
    excerpt="<a>here</a>",
    facts={},
    mends=({"kind": "replace-text", "says": "Name the place.", "value": "Fees"},),
    place_key="p1",
    cause_key="c1",
)
NO_TEXT = replace(
    VAGUE,
    check="pictures/no-text",
    weight="barrier",
    says="The picture ice.jpg has no text alternative.",
    selector="main > img",
    line=None,
    mends=({"kind": "set-attribute", "says": "Write it.", "attribute": "alt", "value": "Ice"},),
    cause_key="c2",
)
DOUBT = replace(
    VAGUE,
    check="text/spelling",
    outcome="cantTell",
    weight="friction",
    says="“seperately” is in no dictionary.",
    question="Is it a word?",
    mends=(),
    cause_key="c3",
)


def page(*findings: Finding, address: str = "/fees/", **more: object) -> Reported:
    """A page with findings, read from markup."""
    made = Reported(address, "markup", "Fees", "en", None, "sha256:0", findings, ())
    return replace(made, **more)  # type: ignore[arg-type]


UNREAD = page(address="/gone/", title="", problem=("file-missing", "there is no such page"))


def test_the_worst_stands_first_and_doubts_last() -> None:
    """Whatever the order of the page, a person reads barriers before obstacles before questions."""
    text = to_text([page(DOUBT, VAGUE, NO_TEXT)], hold="obstacle")
    places = [text.index(one.says) for one in (NO_TEXT, VAGUE, DOUBT)]
    assert places == sorted(places)
    assert text.startswith("/fees/ — Fees\n")
    assert "  barrier    The picture" in text
    assert "  look at    “seperately”" in text
    assert "? Is it a word?" in text


def test_what_repeats_is_said_once_with_its_places() -> None:
    """Three places are named, the others counted."""
    same = [replace(VAGUE, selector=f"li:nth-of-type({n}) > a", line=n) for n in range(1, 6)]
    text = to_text([page(*same)], hold="none")
    assert text.count(VAGUE.says) == 1
    assert "line 1, li:nth-of-type(1) > a   (links/vague)" in text
    assert "line 3, li:nth-of-type(3) > a" in text
    assert "li:nth-of-type(4)" not in text
    assert "and 2 more places on this page" in text


def test_a_place_that_nobody_sees_names_one_to_see() -> None:
    """Where an element is hidden, the nearest that shows is named; without one nothing is made
    up."""
    hidden = replace(VAGUE, visible=False, nearest_visible="nav > button")
    assert "not to be seen on the page; the nearest thing to see is nav > button" in to_text(
        [page(hidden)], hold="none"
    )
    alone = replace(VAGUE, visible=False)
    assert "not to be seen on the page\n" in to_text([page(alone)], hold="none")


def test_mends_carry_the_value_they_propose() -> None:
    """A sentence that does not name its value gets it behind it, an attribute as markup."""
    text = to_text([page(VAGUE, NO_TEXT)], hold="none")
    assert "→ Name the place: Fees" in text
    assert '→ Write it: alt="Ice"' in text
    named = replace(
        VAGUE, mends=({"kind": "replace-text", "says": "Write Fees.", "value": "Fees"},)
    )
    assert "→ Write Fees.\n" in to_text([page(named)], hold="none")


def test_lines_keep_to_the_width_where_words_allow() -> None:
    """A long sentence is broken between words and set in below its beginning."""
    long = replace(VAGUE, says="The link text " + "here and there " * 12 + "says nothing.")
    lines = to_text([page(long)], hold="none", width=60).splitlines()
    said = [line for line in lines if "here and there" in line or "says nothing" in line]
    assert len(said) > 2
    assert all(len(line) <= 60 for line in said)
    assert said[1].startswith(" " * 13)


@pytest.mark.parametrize(
    ("pages", "says"),
    [
        ([page()], ["1 page read, 1 ready to publish.", "Found: no fault."]),
        ([page(VAGUE), page(VAGUE)], ["2 pages read, 0 ready to publish.", "Found: 2 obstacles."]),
        ([page(NO_TEXT, VAGUE)], ["Found: 1 barrier, 1 obstacle."]),
        ([page(DOUBT)], ["1 ready to publish.", "A person has to look at 1 place."]),
        ([page(), UNREAD], ["1 page read, 1 ready", "1 page could not be read."]),
        ([UNREAD], ["0 pages read, 0 ready to publish.\n1 page could not be read.\n"]),
    ],
)
def test_the_end_sums_up(pages: list[Reported], says: list[str]) -> None:
    """Pages, what was found by weight, what waits for a person; one thing is no plural."""
    text = to_text(pages, hold="obstacle")
    for words in says:
        assert words in text
    assert ("people's eyes and ears" in text) == any(one.problem is None for one in pages)


def test_what_was_not_tested_is_said_once() -> None:
    """Checks that the lens could not make are named with what they need, over all pages."""
    untested = (("contrast/text", "styles"), ("keyboard/trap", "styles"))
    text = to_text([page(untested=untested), page(untested=untested[:1])], hold="none")
    assert "Not tested, since the lens gives no styles: contrast/text, keyboard/trap." in text
    assert text.count("Not tested") == 1


def test_a_page_that_could_not_be_read_says_why() -> None:
    """With the sentence and its code, and without findings."""
    assert "  not read   there is no such page (file-missing)" in to_text([UNREAD], hold="none")


@pytest.mark.parametrize(
    ("found", "hold", "ready"),
    [
        ((), "friction", True),
        ((VAGUE,), "obstacle", False),
        ((VAGUE,), "barrier", True),
        ((NO_TEXT,), "barrier", False),
        ((NO_TEXT,), "none", True),
        ((DOUBT,), "friction", True),
    ],
)
def test_ready_is_what_nothing_holds(found: tuple[Finding, ...], hold: str, ready: bool) -> None:
    """A doubt never holds; a lighter fault than asked for does not; what is unread is not ready."""
    assert is_ready(page(*found), hold) is ready
    assert not is_ready(replace(page(*found), problem=("timed-out", "too slow")), hold)


def test_json_has_what_the_text_has() -> None:
    """The whole result in one document: pages with their findings, and the same figures."""
    pages = [page(VAGUE, DOUBT), UNREAD]
    about = About("pages", Policy(), "2026-11-28", [], 1.239)
    made = json.loads("".join(written("json", map(ReportedPage, pages), about)))
    assert (made["standard"], made["level"], made["seconds"]) == ("wcag22", "aa", 1.24)
    assert made["summary"] == summary_dict(pages, "obstacle")
    assert made["summary"]["by_weight"] == {"barrier": 0, "obstacle": 1, "friction": 0}
    assert made["summary"]["by_check"] == {"links/vague": 1, "text/spelling": 1}
    assert made["pages"][0] == json.loads(json.dumps(page_dict(pages[0])))
    assert made["pages"][1]["problem"] == {"code": "file-missing", "says": "there is no such page"}
    assert [one["status"] for one in made["pages"]] == ["read", "unreadable"]


def test_a_spreadsheet_gets_no_formula_from_a_stranger() -> None:
    """What would be worked out is text; commas, quotes and line ends stay in their cell."""
    rows = [
        ["=HYPERLINK(1)", "+1", "-2", "@x", "\tx"],
        ['a "b", c', "two\nlines", None, 3, ""],
    ]
    made = to_csv(["one", "two", "three", "four", "five"], rows)
    assert made.startswith("one,two,three,four,five\r\n")
    read = list(csv.reader(io.StringIO(made, newline="")))
    assert read[1] == ["'=HYPERLINK(1)", "'+1", "'-2", "'@x", "'\tx"]
    assert read[2] == ['a "b", c', "two\nlines", "", "3", ""]


def test_what_is_on_several_pages_is_said_once_before_them() -> None:
    """One cause on three pages or more is one entry; on two, each page says it."""
    pages = [
        page(
            replace(VAGUE, place_key=f"v{n}"),
            replace(NO_TEXT, place_key=f"n{n}"),
            address=f"/{n}/",
        )
        for n in range(5)
    ]
    causes = {f"v{n}": "menu" for n in range(5)} | {f"n{n}": f"own {n}" for n in range(5)}
    text = to_text(pages, hold="none", causes=causes)
    assert text.startswith("On several pages\n")
    assert text.count(VAGUE.says) == 1
    assert "on 5 pages: /0/, /1/, /2/ and 2 more" in text
    assert text.count(NO_TEXT.says) == 5
    assert to_text(pages[:2], hold="none", causes=causes).count(VAGUE.says) == 2
