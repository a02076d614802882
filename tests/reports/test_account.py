"""The account of a site, and the statement: what they say by the facts, in every form."""

from __future__ import annotations

import csv
import io
import re
from datetime import date

import pytest

from plumrake.core.assess import assess
from plumrake.core.criteria import CRITERIA, within
from plumrake.core.criteria_de import GERMAN_NAMES
from plumrake.core.page import Page
from plumrake.core.statement import Gap, StatementFacts, is_old
from plumrake.lenses.markup import parse_document
from plumrake.reports.account import (
    Account,
    Counted,
    Excused,
    OfSection,
    OpenCause,
    Sampled,
    TestedCriterion,
    WithOwner,
    account_as,
)
from plumrake.reports.statement import proposed_statement, statement_page

DAY = date(2026, 11, 30)
FULL = Account(
    "Canal | Trust <b>",
    "https://canal.example/",
    "live",
    DAY,
    "wcag22",
    "aa",
    (
        Counted(date(2026, 10, 1), "rendered", 9, 2, 5, 4, 3),
        Counted(DAY, "rendered", 10, 4, 3, 2, 1),
    ),
    (
        OpenCause("The <img> | has no text.", "pictures/no-text", "barrier", ("1.1.1",), 3, DAY,
                  "Ruth", "in hand"),
        OpenCause("=1+1", "links/vague", "obstacle", (), 1, DAY, "", ""),
    ),
    4,
    (WithOwner("Ruth", 2, 1, 5, 1),),
    (OfSection("/locks/", 4, 2, 1, 0, 0),),
    (
        TestedCriterion("1.1.1", "Non-text Content", "A", 9, 1, 4, 3, 1),
        TestedCriterion("2.5.4", "Motion Actuation", "A", 0, 0, 1, 0, 0),
    ),
    (Excused("An old map", "goes in spring", date(2027, 3, 1), "Philippa"),),
    (Sampled("/", "often visited"),),
)  # fmt: skip
EMPTY = Account("Empty", "", "live", DAY, "wcag22", "aa", (), (), 0, (), (), FULL.criteria, (), ())


def faults(html: str) -> list[str]:
    page = Page(parse_document(html, "http://account.invalid/"))
    return [one.says for one in assess(page).findings if one.outcome == "failed"]


@pytest.mark.parametrize("accounts", [[FULL], [EMPTY], [FULL, EMPTY]])
def test_no_fault_of_ours_in_the_page(accounts: list[Account]) -> None:
    html = account_as("html", accounts)
    assert faults(html) == []
    assert "<b>" not in html
    assert "<script" not in html


def test_all_parts_stand_in_each_form() -> None:
    for form in ("html", "md"):
        text = account_as(form, [FULL])  # type: ignore[arg-type]
        for words in (
            "4 of 10 pages were ready on 2026-11-30",
            "1 of 2 criteria were tested at least in part; 1 were not tested",
            "has no text.",
            "in hand",
            "and 4 more, of less reach",
            "/locks/",
            "9 checks: 1 to mend",
            "3 of 4 answered, 1 fault seen",
            "2.5.4 Motion Actuation",
            "goes in spring",
            "often visited",
        ):
            assert words in text, (form, words)
    assert "not read yet" in account_as("html", [FULL, EMPTY])
    assert "nothing to account for" in account_as("md", [EMPTY])


def test_a_table_of_markdown_stays_one() -> None:
    """Strange words neither break a table nor become HTML."""
    text = account_as("md", [FULL])
    [row] = [line for line in text.splitlines() if "has no text" in line and line.startswith("|")]
    assert len(re.findall(r"(?<!\\)\|", row)) == 6
    assert "<img>" not in row


def test_csv_has_one_table_and_no_formula() -> None:
    rows = list(csv.reader(io.StringIO(account_as("csv", [FULL, EMPTY]))))
    assert {len(row) for row in rows} == {9}
    assert [row[2] for row in rows if row[1] == "open"] == ["The <img> | has no text.", "'=1+1"]
    assert {row[1] for row in rows[1:]} == {
        "over time", "open", "with whom", "section", "criterion", "waiver", "sample",
    }  # fmt: skip


def facts(**given: object) -> StatementFacts:
    values: dict[str, object] = {
        "organisation": "Canal Trust",
        "site": "Canal",
        "address": "https://canal.example/",
        "feedback": "help@canal.example",
        "enforcement": "The ombudsman of the county",
        "standard": "wcag22",
        "level": "aa",
        "pages": 10,
        "pages_with_barriers": 2,
        "gaps": (),
        "asked": 4,
        "answered": 4,
        "untested": [],
        "read_on": DAY,
        "made_on": DAY,
    }
    return StatementFacts(**{**values, **given})  # type: ignore[arg-type]


GAPS = (
    Gap("1.1.1", 3, ("A picture has no text alternative.",), date(2027, 1, 12)),
    Gap("2.5.8", 1, ("A target is too small to be hit.",), None),
)


@pytest.mark.parametrize(
    ("given", "conformance"),
    [
        ({}, "full"),
        ({"answered": 3}, "partial"),
        ({"asked": 0, "answered": 0}, "partial"),
        ({"untested": ["1.2.4"]}, "partial"),
        ({"gaps": GAPS}, "partial"),
        ({"gaps": GAPS, "pages_with_barriers": 5}, "partial"),
        ({"gaps": GAPS, "pages_with_barriers": 6}, "none"),
    ],
)
def test_conformance_by_the_facts(given: dict[str, object], conformance: str) -> None:
    assert facts(**given).conformance == conformance


def test_statement_in_both_languages() -> None:
    english = proposed_statement(facts(gaps=GAPS), "en")
    assert "in part: not at the places named below" in english
    assert "On 3 pages; to be mended by 12 January 2027." in english
    assert "On 1 page; there is no date for it yet." in english
    assert "### 2.5.8 Target Size (Minimum)" in english
    german = proposed_statement(facts(gaps=GAPS, untested=["1.2.4"]), "de")
    assert "Auf 3 Seiten; wird bis zum 12. Januar 2027 behoben." in german
    assert "### 2.5.8 Zielgröße (Minimum)" in german
    assert "Nicht geprüft wurden: 1.2.4 Untertitel (live)." in german
    assert "A picture" not in german


@pytest.mark.parametrize("language", ["en", "de"])
def test_what_only_the_organisation_knows_is_asked_for(language: str) -> None:
    empty = facts(organisation="", feedback="", enforcement="")
    text = proposed_statement(empty, language)  # type: ignore[arg-type]
    assert text.count("[") == 5 - (empty.conformance != "full")
    assert "[" in text


@pytest.mark.parametrize("language", ["en", "de"])
def test_no_fault_of_ours_in_the_statement(language: str) -> None:
    body = proposed_statement(facts(gaps=GAPS), language)  # type: ignore[arg-type]
    html = statement_page("Canal <i>", f"{body}\n<script>alert(1)</script>", language)  # type: ignore[arg-type]
    assert faults(html) == []
    assert "<script>" not in html
    assert f'<html lang="{language}">' in html


def test_every_criterion_has_a_german_name() -> None:
    assert set(GERMAN_NAMES) == {one for one in CRITERIA if within(one, "wcag22", "aa")}


@pytest.mark.parametrize(
    ("published", "old"),
    [
        (date(2025, 11, 29), True),
        (date(2025, 11, 30), False),
        (date(2025, 12, 1), False),
        (date(2024, 12, 31), True),
        (DAY, False),
    ],
)
def test_a_statement_becomes_old(published: date, old: bool) -> None:
    assert is_old(published, 12, DAY) == old
