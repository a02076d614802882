"""The gate's decisions: publication cases as data, each readable by a content manager; bad rules; releases."""

from __future__ import annotations

from datetime import date
from pathlib import Path
from typing import Any

import pytest
import yaml

from plumrake.core.assess import assess
from plumrake.core.findings import Finding
from plumrake.core.gate import Answer, Asked, Decision, Known, WaiverInForce, decide, tally, together
from plumrake.core.page import Page
from plumrake.core.policy import BadPolicy, Policy, policy_from
from plumrake.lenses.markup import parse_document

CASES: list[dict[str, Any]] = yaml.safe_load(Path(__file__).with_name("gate_cases.yaml").read_text())
PATH = "/boating/moorings/day/"
TODAY = date(2026, 11, 26)
FRAME = """<!doctype html><html lang="en"><head><title>Moorings of the Harrowmere Canal Trust</title></head><body>
<header><a href="/">Harrowmere Canal Trust</a></header><main>{}</main><footer><p>Basin House, Harrowmere</p></footer></body></html>"""


def read(content: str | None, policy: Policy) -> tuple[Finding, ...] | None:
    """Return the findings of a content in the page's frame; None where it cannot be read or is not there."""
    if content is None or content == "unreadable":
        return None
    return assess(Page(parse_document(FRAME.format(content), f"http://h.example{PATH}")), policy).findings


def known(findings: tuple[Finding, ...] | None, judged: list[dict[str, str]]) -> list[Known] | None:
    """Return the live page's findings with what people answered."""
    if findings is None:
        return None
    return [
        Known(one.check, one.place_key, one.says, one.excerpt, one.facts, next((item["as"] for item in judged if _meant(one, item)), None))
        for one in findings
    ]


def _meant(finding: Finding, item: dict[str, str]) -> bool:
    return finding.check == item["check"] and item.get("of", "") in finding.excerpt


def waiver(number: int, item: dict[str, Any], findings: tuple[Finding, ...]) -> WaiverInForce:
    """Return a waiver of a case; what it is of is found by a piece of its markup."""
    meant = next((one for one in findings if _meant(one, item)), None)
    return WaiverInForce(
        number, item["scope"], item["check"], item.get("until", date(2027, 6, 30)), item.get("path", PATH),
        meant.place_key if meant is not None and item.get("of") else "another place", meant.cause_key if meant is not None else "another cause", item.get("pattern"),
    )  # fmt: skip


def answer_of(case: dict[str, Any]) -> Answer:
    """Return what the gate says to a case."""
    policy = policy_from({**case.get("site", {}), "gate": case.get("policy", {})})
    findings = read(case["draft"], policy)
    waivers = [waiver(number, item, findings or ()) for number, item in enumerate(case.get("waive", []), start=1)]
    live = known(read(case.get("live"), policy), case.get("judge", []))
    return decide(Asked(PATH, findings, live, waivers), policy.gate, policy.hold, TODAY)


@pytest.mark.parametrize("case", CASES, ids=[case["case"] for case in CASES])
def test_publication_case(case: dict[str, Any]) -> None:
    """The decision and the reason of each finding are as the case says."""
    answer = answer_of(case)
    reasons = [f"{one.finding.check} {one.origin} {one.standing}" for one in answer.judged]
    if case["draft"] == "unreadable":
        reasons = ["the page could not be read"]
        assert "could not be read" in answer.reason
    assert (str(answer.decision), reasons) == (case["answer"], case["because"])


def test_there_are_fifty_cases() -> None:
    """At least fifty, each of its own; all three answers and every standing occur."""
    assert len(CASES) >= 50
    assert len({case["case"] for case in CASES}) == len(CASES)
    assert {case["answer"] for case in CASES} == {str(one) for one in Decision}
    told = " ".join(reason for case in CASES for reason in case["because"])
    for standing in ("holds", "too light", "was there before", "waived", "doubtful", "judged fine", "in grace", "not begun"):
        assert standing in told


def test_release_counts_what_it_brings_and_mends() -> None:
    """Two pages: one brings a fault and mends one, the other is clean; one held page holds the release."""
    policy = Policy()
    pages = []
    for live, draft in (('<h1>Fees</h1><img src="/a.jpg"><p><a href="/x">here</a></p>', '<h1>Fees</h1><p><a href="/x">here</a></p><img src="/b.jpg">'), ("<h1>Day</h1>", "<h1>Day</h1>")):
        before = known(read(live, policy), []) or []
        answer = decide(Asked(PATH, read(draft, policy), before), policy.gate, policy.hold, TODAY)
        pages.append(tally(answer.decision, [one.origin for one in answer.judged], len(before)))
    release = together(pages)
    assert (release.decision, release.pages, release.held) == (Decision.HELD, 2, 1)
    assert release.brought >= 1
    assert release.mended >= 1
    assert together(pages[1:]).decision is Decision.CLEAR
    waits = tally(None, [], 0)
    assert (together([waits, *pages]).decision, together([waits, *pages]).waiting) == (Decision.HELD, 1)
    assert together([waits, *pages[1:]]).decision is None
    assert together([tally(Decision.WITH_WAIVERS, [], 0), *pages[1:]]).decision is Decision.WITH_WAIVERS


@pytest.mark.parametrize(
    ("rules", "named"),
    [
        ({"hold": "barrier"}, "'hold' is no rule"), ({"holds": "all"}, "holds"), ({"counts": "new"}, "counts"), ({"from": "tomorrow"}, "2027-01-31"),
        ({"valid-minutes": 0}, "valid-minutes"), ({"doubtful": ["no/such"]}, "no/such"), ({"doubtful": "links"}, "list"),
        ({"overruled-by": ["reader"]}, "reader"), ({"parts": [{"holds": "barrier"}]}, "parts, number 1"), ({"parts": ["/x"]}, "parts, number 1"),
    ],
)  # fmt: skip
def test_bad_rules_are_refused(rules: dict[str, Any], named: str) -> None:
    """One sentence names the rule and what to write."""
    with pytest.raises(BadPolicy, match=named):
        policy_from({"gate": rules})
