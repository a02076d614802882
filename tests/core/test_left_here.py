"""A comment leaves one place out, with its reason, wherever it is read."""

from __future__ import annotations

import json
import subprocess
import sys
from pathlib import Path

import pytest

from plumrake.core.assess import assess
from plumrake.core.decisions import finding_holds
from plumrake.core.findings import why_left
from plumrake.core.page import Page
from plumrake.core.policy import Policy
from plumrake.core.templates.kinds import Writing
from plumrake.lenses.markup import parse_document
from plumrake.lsp.written import WrittenText

LEAVE = "<!-- plumrake: leave links/vague here, since the list above says it -->"
HERE = '<p><a href="/a">here</a></p>'


def left(html: str) -> list[tuple[str, str]]:
    """Return the checks that find something, with the reason for which each is left."""
    page = Page(parse_document(f'<body lang="en">{html}', "http://site.invalid/"))
    return [(one.check, why_left(one)) for one in assess(page, Policy(only=("links",))).findings]


REASON = "the list above says it"


@pytest.mark.parametrize(
    ("html", "reasons"),
    [
        (LEAVE + HERE, [REASON]),
        (HERE + LEAVE + HERE, ["", REASON]),
        (LEAVE + HERE + HERE, [REASON, ""]),
        (f"<div>{LEAVE}</div>{HERE}{HERE}", [REASON, ""]),
        (LEAVE.replace("links/vague", "links") + HERE, [REASON]),
        (LEAVE.replace("links/vague", "pictures, links/vague") + HERE, [REASON]),
        (LEAVE.replace("links/vague", "links/no-name") + HERE, [""]),
        (LEAVE.replace("since the list above says it", "") + HERE, [""]),
        (LEAVE.replace("plumrake", "other") + HERE, [""]),
        (HERE + LEAVE, [""]),
    ],
)
def test_the_element_after_the_comment(html: str, reasons: list[str]) -> None:
    """With all that is in it, and nothing else."""
    assert left(html) == [("links/vague", reason) for reason in reasons]


def test_what_is_left_holds_nothing() -> None:
    page = Page(parse_document(LEAVE + HERE, "http://site.invalid/"))
    [one] = [one for one in assess(page).findings if one.check == "links/vague"]
    assert not finding_holds(one, "friction")


@pytest.mark.parametrize(
    ("writing", "text"),
    [
        ("html", LEAVE + HERE),
        ("markdown", f"# Locks\n\n{LEAVE}\n\nRead more [here](/a).\n"),
        ("engine", "{# plumrake: leave links here, since it is known #}" + HERE),
        ("engine", "{{!-- plumrake: leave links here, since it is known --}}{{x}}" + HERE),
        ("jsx", f"const a = <main>{{/* plumrake: leave links here, since x */}}{HERE}</main>;"),
    ],
)
def test_the_editor_leaves_it_too(writing: Writing, text: str) -> None:
    checks = [one.finding.check for one in WrittenText(text, Policy(), writing).found]
    assert "links/vague" not in checks
    assert "links/vague" in [
        one.finding.check
        for one in WrittenText(text.replace("plumrake:", "plum:"), Policy(), writing).found
    ]


def test_look_says_what_was_left_and_why(tmp_path: Path) -> None:
    """In the text, waived in reports, and the exit status is 0."""
    file = tmp_path / "page.html"
    head = '<!doctype html><html lang="en"><title>Locks</title>'
    file.write_text(f"{head}<main><h1>Locks</h1>{LEAVE}{HERE}</main>", encoding="utf-8")
    command = [sys.executable, "-m", "plumrake", "look", "page.html", "--lens", "markup"]

    def run(*options: str) -> subprocess.CompletedProcess[str]:
        return subprocess.run(
            [*command, *options], cwd=tmp_path, capture_output=True, text=True, check=False
        )

    said = run()
    assert said.returncode == 0, said.stdout
    assert "Left by their authors: 1 place." in said.stdout
    assert f"links/vague, since {REASON}" in said.stdout
    sarif = json.loads(run("--as", "sarif").stdout)
    [one] = [one for one in sarif["runs"][0]["results"] if one["ruleId"] == "links/vague"]
    [suppression] = one["suppressions"]
    assert REASON in suppression["justification"]
    text = file.read_text(encoding="utf-8").replace("plumrake:", "x")
    file.write_text(text, encoding="utf-8")
    assert run().returncode == 1
