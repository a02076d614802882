"""The questions for people: each file says all that is wanted, and every criterion has somebody who
tells about it."""

from __future__ import annotations

import json
import subprocess
import sys

import pytest

from plumrake.core.coverage import coverage
from plumrake.core.criteria import CRITERIA, within
from plumrake.core.questions.question import BadQuestion, question_of, questions

GOOD = """+++
asks = "Is it?"
about = "page"
criteria = ["1.1.1"]
evidence = "links"
lapses = "change"
+++
Since it matters.

## Fine

It is.

## A fault

It is not.

## Does not apply

There is none.
"""


def test_there_are_questions_for_page_and_site() -> None:
    found = questions()
    assert len(found) >= 20
    assert {one.about for one in found.values()} == {"page", "site"}
    assert len({one.asks for one in found.values()}) == len(found)


def test_all_criteria_of_wcag_22_at_aa_are_there() -> None:
    """55 of them: 4.1.1 is gone since 2.2."""
    assert len([one for one in CRITERIA if within(one, "wcag22", "aa")]) == 55
    assert len([one for one in CRITERIA if within(one, "wcag20", "aa")]) == 37


def test_every_criterion_is_told_about() -> None:
    """By checks or by questions; those by neither would be named in docs/coverage.md."""
    rows = [*coverage()]
    assert len(rows) == 55
    assert [one.criterion.number for one in rows if not one.checks and not one.questions] == []


@pytest.mark.parametrize(
    ("before", "after", "says"),
    [
        ("+++\nasks", "asks", "has to begin with +++"),
        ('"page"', "page", "Invalid value"),
        ('"page"', '"all"', "'about' is one of page, site"),
        ('"links"', '"smells"', "'evidence' is one of appearing"),
        ('"change"', '"never"', "'lapses' is one of change"),
        ('"1.1.1"', '"9.9.9"', "'criteria' are WCAG's numbers"),
        ("Is it?", "It is.", "'asks' is a question"),
        ("## Fine", "## Good", "say why, then Fine, A fault, Does not apply"),
        ("Since it matters.", "", "say why"),
    ],
)
def test_a_file_that_lacks_something_is_refused(before: str, after: str, says: str) -> None:
    assert question_of("one", GOOD).fault == "It is not."
    with pytest.raises(BadQuestion) as error:
        question_of("one", GOOD.replace(before, after, 1))
    assert says in str(error.value)


def test_command_lists_and_shows() -> None:
    def said(*words: str) -> subprocess.CompletedProcess[str]:
        command = [sys.executable, "-m", "plumrake", "questions", *words]
        return subprocess.run(command, capture_output=True, text=True, check=False)

    assert len(said().stdout.splitlines()) == len(questions())
    assert "A fault         " in said("tab-path").stdout
    assert json.loads(said("tab-path", "--json").stdout)["criteria"][0] == "2.1.1"
    unknown = said("nonsense")
    assert unknown.returncode == 2
    assert "'plumrake questions' lists them" in unknown.stderr
