"""Reports in open formats: each is what its standard asks for, all have the same place keys, and
none waits for the last page."""

from __future__ import annotations

import csv
import io
import json
import subprocess
import sys
from collections import Counter
from collections.abc import Iterator
from dataclasses import replace
from pathlib import Path
from typing import Any

import jsonschema
import pytest
from defusedxml import ElementTree

from plumrake.core.policy import Policy, policy_from
from plumrake.core.registry import catalogue
from plumrake.report_forms import ReportForm
from plumrake.reports.pages import Reported
from plumrake.reports.report import (
    REPORT_FORMS,
    About,
    Gone,
    Note,
    ReportedEdit,
    ReportedPage,
    written,
)
from tests.reports.schemas import ASSERTION, SARIF
from tests.reports.test_reports import DOUBT, NO_TEXT, UNREAD, VAGUE

CHECKS = ["links/vague", "pictures/no-text", "text/spelling", "tables/no-headers", "contrast/text"]
NASTY = 'A "b" <c> & \x00\x0b\u2028 ]]> =1+1 \ud7ff'
PAGES = [
    ReportedPage(
        Reported(
            "https://canal.example/a b/?q=ä",
            "markup",
            NASTY,
            "en",
            None,
            "sha256:1",
            (
                replace(VAGUE, says=f"The link says “{NASTY}”."),
                replace(NO_TEXT, place_key="p2", line=7, column=None),
                replace(DOUBT, place_key="p3"),
            ),
            (("contrast/text", "style"),),
        ),
        {
            "p1": Note(
                new=True, mend="Name the place.", edits=(ReportedEdit((7, 3), (7, 9), "x"),)
            ),
            "p2": Note(waived="until spring", new=False),
            "p3": Note(new=False),
        },
        frozenset({"links", "pictures"}),
    ),
    ReportedPage(UNREAD),
]
ABOUT = About(
    "the canal",
    policy_from({"own-help": {"links/vague": "Ask the web team https://canal.example/help"}}),
    "2026-11-28T09:00:00+00:00",
    CHECKS,
    2.0,
    [Gone("p9", "links/vague", "https://canal.example/old/")],
)


def made(form: ReportForm, pages: list[ReportedPage] = PAGES) -> str:
    return "".join(written(form, pages, ABOUT))


def keys(form: ReportForm, text: str) -> set[str]:
    """Return the place keys that a report names."""
    if form == "csv":
        return {row["place_key"] for row in csv.DictReader(io.StringIO(text)) if row["place_key"]}
    if form == "junit":
        root = ElementTree.fromstring(text)
        return {one.get("value", "") for one in root.iter("property")}
    found = json.loads(text)
    if form == "sarif":
        results = found["runs"][0]["results"]
        there = (one for one in results if one.get("baselineState") != "absent")
        return {one["partialFingerprints"]["placeKey/v1"] for one in there}
    if form == "earl":
        results = [one.get("earl:result", {}) for one in found["@graph"]]
        return {one["dct:identifier"] for one in results if "dct:identifier" in one}
    return {one["place_key"] for page in found["pages"] for one in page["findings"]}


@pytest.mark.parametrize("form", [one for one in REPORT_FORMS if one != "html"])
def test_place_keys_are_the_same_in_all(form: ReportForm) -> None:
    assert keys(form, made(form)) == {"p1", "p2", "p3"}


@pytest.mark.parametrize("form", REPORT_FORMS)
def test_nothing_waits_for_the_last_page(form: ReportForm) -> None:
    """A page is asked for when those before it are written; of HTML, which tells by cause, no page
    is kept."""
    asked: list[int] = []

    def pages() -> Iterator[ReportedPage]:
        for number in range(50):
            asked.append(number)
            yield PAGES[0]

    pieces = written(form, pages(), ABOUT)
    size = 0
    while form != "html" and len(asked) < 20:
        size += len(next(pieces))
    assert form == "html" or len(asked) == 20
    assert size + sum(map(len, pieces)) > 1000
    assert len(asked) == 50


def test_sarif() -> None:
    """Rules with their help, results with kinds, fingerprints, edits, suppressions and what is new;
    what could not be read is told as a failed invocation."""
    log = json.loads(made("sarif"))
    jsonschema.validate(log, SARIF)
    [run] = log["runs"]
    rules = run["tool"]["driver"]["rules"]
    assert [rule["id"] for rule in rules] == CHECKS
    assert "Ask the web team" in rules[0]["help"]["text"]
    assert "WCAG 2.4.4 Link Purpose (In Context)" in rules[0]["properties"]["tags"]
    vague, picture, doubt, absent = run["results"]
    assert (vague["kind"], vague["level"], vague["baselineState"]) == ("fail", "warning", "new")
    assert rules[vague["ruleIndex"]]["id"] == vague["ruleId"]
    [change] = vague["fixes"][0]["artifactChanges"]
    assert change["artifactLocation"]["uri"] == "https://canal.example/a%20b/?q=%C3%A4"
    assert change["replacements"][0]["deletedRegion"]["endColumn"] == 9
    assert picture["suppressions"][0]["justification"] == "until spring"
    assert (doubt["kind"], doubt["level"]) == ("review", "none")
    assert (absent["baselineState"], absent["partialFingerprints"]) == (
        "absent",
        {"placeKey/v1": "p9"},
    )
    [invocation] = run["invocations"]
    assert invocation["executionSuccessful"] is False
    assert len(invocation["toolExecutionNotifications"]) == 1


def test_earl() -> None:
    """Every check of every page has its assertion, of all five outcomes."""
    document = json.loads(made("earl"))
    assertions = [one for one in document["@graph"] if one["@type"] == "earl:Assertion"]
    for one in assertions:
        jsonschema.validate(one, ASSERTION)
    tests = {one["@id"] for one in document["@graph"] if "earl:TestCase" in one["@type"]}
    assert {one["earl:test"]["@id"] for one in assertions} == tests
    outcomes = Counter(
        (one["earl:test"]["@id"].removeprefix("urn:plumrake:check:"), _outcome(one))
        for one in assertions
    )
    assert outcomes == Counter(
        {
            ("links:vague", "failed"): 1,
            ("pictures:no-text", "failed"): 1,
            ("text:spelling", "cantTell"): 1,
            ("tables:no-headers", "inapplicable"): 1,
            ("contrast:text", "untested"): 2,
            **{(name.replace("/", ":"), "untested"): 1 for name in CHECKS[:4]},
        }
    )
    clean = replace(PAGES[0], page=replace(PAGES[0].page, findings=(), untested=()), areas=None)
    graph = json.loads(made("earl", [clean]))["@graph"]
    assert {_outcome(one) for one in graph if one["@type"] == "earl:Assertion"} == {"passed"}
    assert "https://www.w3.org/TR/WCAG22/#link-purpose-in-context" in json.dumps(document)


def _outcome(assertion: dict[str, Any]) -> str:
    return str(assertion["earl:result"]["earl:outcome"]["@id"]).removeprefix("earl:")


def test_junit() -> None:
    """A suite per page, a case per check: it fails where a finding holds and is not waived, is
    skipped where it was not made; the counts are right, whatever strangers wrote."""
    root = ElementTree.fromstring(made("junit"))
    read, unread = root.findall("testsuite")
    cases = {one.get("name"): one for one in read.findall("testcase")}
    assert list(cases) == CHECKS
    assert (read.get("tests"), read.get("failures"), read.get("skipped")) == ("5", "1", "1")
    assert "The link says" in (cases["links/vague"].findtext("failure") or "")
    assert "waived: until spring" in (cases["pictures/no-text"].findtext("system-out") or "")
    assert cases["contrast/text"].find("skipped") is not None
    assert [one.tag for one in cases["tables/no-headers"]] == []
    assert unread.get("errors") == "1"
    assert unread.find("testcase/error") is not None


def test_csv() -> None:
    """A row per finding; formulas of strangers are none."""
    rows = list(csv.DictReader(io.StringIO(made("csv"))))
    assert [row["check"] for row in rows] == [
        "links/vague",
        "pictures/no-text",
        "text/spelling",
        "",
    ]
    assert [row["new"] for row in rows] == ["yes", "no", "no", ""]
    assert rows[1]["waived"] == "until spring"
    assert rows[3]["outcome"] == "unreadable"
    title = replace(PAGES[0], page=replace(PAGES[0].page, title="=1+1"))
    assert next(csv.DictReader(io.StringIO(made("csv", [title]))))["title"] == "'=1+1"


def test_html_holds_itself_to_what_it_tells(tmp_path: Path) -> None:
    """Our own checks find nothing in it; nothing of a stranger is markup there, nothing is fetched,
    no script runs; one cause is one entry, however many its places."""
    many = [
        replace(
            PAGES[0],
            page=replace(
                PAGES[0].page, address=f"https://canal.example/{at}/", title="A page of the canal"
            ),
        )
        for at in range(30)
    ]
    text = made("html", [*many, *PAGES[1:]])
    assert "<c>" not in text
    assert "<script" not in text
    assert "src=" not in text
    assert text.count("30 places on 30 pages") == 3
    assert "and 10 more places" in text
    assert "Waived: until spring" in text
    (tmp_path / "report.html").write_text(text, encoding="utf-8")
    command = [sys.executable, "-m", "plumrake", "look", "report.html", "--as", "json"]
    command += ["--without", "text/spelling"]  # the report names the word that is misspelt
    done = subprocess.run(command, cwd=tmp_path, capture_output=True, text=True, check=False)
    [page] = json.loads(done.stdout)["pages"]
    assert [(one["check"], one["says"]) for one in page["findings"]] == []


def test_all_checks_can_be_told() -> None:
    """The rules of a run of all checks are valid."""
    about = About("all", Policy(), ABOUT.started, sorted(catalogue()))
    jsonschema.validate(json.loads("".join(written("sarif", [], about))), SARIF)


def test_what_is_waived_holds_in_none_of_them() -> None:
    """JSON, JUnit and HTML agree on whether a page is ready."""
    own = replace(PAGES[0].page, findings=PAGES[0].page.findings[1:2], title="Ice")
    waived = ReportedPage(own, {"p2": Note(waived="until spring")})
    plain = ReportedPage(own)
    for page, ready in ((waived, 1), (plain, 0)):
        summary = json.loads(made("json", [page]))["summary"]
        assert (summary["ready"], summary["by_weight"]["barrier"]) == (ready, 1 - ready)
        [suite] = ElementTree.fromstring(made("junit", [page])).findall("testsuite")
        assert suite.get("failures") == str(1 - ready)
        assert (">held<" in made("html", [page])) == (not ready)
