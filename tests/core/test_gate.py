"""The gate's decisions: publication cases as data, each readable by a content manager; bad rules;
releases."""

from __future__ import annotations

from dataclasses import replace
from datetime import date
from pathlib import Path
from typing import Any

import pytest
import yaml
from hypothesis import given
from hypothesis import strategies as st

from plumrake.core.assess import assess
from plumrake.core.findings import Finding
from plumrake.core.gate import (
    Answer,
    Decision,
    LiveFinding,
    Publication,
    WaiverInForce,
    decide,
    tally,
    together,
    would_hold,
)
from plumrake.core.gate_rules import GateRules, SectionRules
from plumrake.core.page import Page
from plumrake.core.policy import BadPolicy, Policy, policy_from
from plumrake.lenses.markup import parse_document

CASES: list[dict[str, Any]] = yaml.safe_load(
    Path(__file__).with_name("gate_cases.yaml").read_text()
)
PATH = "/boating/moorings/day/"
TODAY = date(2026, 11, 26)
FRAME = """<!doctype html><html lang="en"><head><title>Moorings of the Harrowmere Canal Trust</title></head><body>
<header><a href="/">Harrowmere Canal Trust</a></header><main>{}</main><footer><p>Basin House, Harrowmere</p></footer></body></html>"""  # noqa: E501


def read(content: str | None, policy: Policy) -> tuple[Finding, ...] | None:
    """Return the findings of a content in the page's frame; None where it cannot be read or is not
    there."""
    if content is None or content == "unreadable":
        return None
    return assess(
        Page(parse_document(FRAME.format(content), f"http://h.example{PATH}")), policy
    ).findings


def known(
    findings: tuple[Finding, ...] | None, judged: list[dict[str, str]]
) -> list[LiveFinding] | None:
    """Return the live page's findings with what people answered."""
    if findings is None:
        return None
    return [
        LiveFinding(
            one.check,
            one.place_key,
            one.says,
            one.excerpt,
            one.facts,
            next((item["as"] for item in judged if _meant(one, item)), None),
        )
        for one in findings
    ]


def _meant(finding: Finding, item: dict[str, str]) -> bool:
    return finding.check == item["check"] and item.get("of", "") in finding.excerpt


def waiver(number: int, item: dict[str, Any], findings: tuple[Finding, ...]) -> WaiverInForce:
    """Return a waiver of a case; what it is of is found by a piece of its markup."""
    meant = next((one for one in findings if _meant(one, item)), None)
    return WaiverInForce(
        number,
        item["scope"],
        item["check"],
        item.get("until", date(2027, 6, 30)),
        item.get("path", PATH),
        meant.place_key if meant is not None and item.get("of") else "another place",
        meant.cause_key if meant is not None else "another cause",
        item.get("pattern"),
    )


def answer_of(case: dict[str, Any]) -> Answer:
    """Return what the gate says to a case."""
    policy = policy_from({**case.get("site", {}), "gate": case.get("policy", {})})
    findings = read(case["draft"], policy)
    waivers = [
        waiver(number, item, findings or ())
        for number, item in enumerate(case.get("waive", []), start=1)
    ]
    live = known(read(case.get("live"), policy), case.get("judge", []))
    return decide(Publication(PATH, findings, live, waivers), policy.gate, policy.hold, TODAY)


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
    for standing in (
        "holds",
        "too light",
        "was there before",
        "waived",
        "doubtful",
        "judged fine",
        "in grace",
        "not begun",
    ):
        assert standing in told


def test_release_counts_what_it_brings_and_mends() -> None:
    """Two pages: one brings a fault and mends one, the other is clean; one held page holds the
    release."""
    policy = Policy()
    pages = []
    for live, draft in (
        (
            '<h1>Fees</h1><img src="/a.jpg"><p><a href="/x">here</a></p>',
            '<h1>Fees</h1><p><a href="/x">here</a></p><img src="/b.jpg">',
        ),
        ("<h1>Day</h1>", "<h1>Day</h1>"),
    ):
        before = known(read(live, policy), []) or []
        answer = decide(
            Publication(PATH, read(draft, policy), before), policy.gate, policy.hold, TODAY
        )
        pages.append(tally(answer.decision, [one.origin for one in answer.judged], len(before)))
    release = together(pages)
    assert (release.decision, release.pages, release.held) == (Decision.HELD, 2, 1)
    assert release.brought >= 1
    assert release.mended >= 1
    assert together(pages[1:]).decision is Decision.CLEAR
    waits = tally(None, [], 0)
    assert (together([waits, *pages]).decision, together([waits, *pages]).waiting) == (
        Decision.HELD,
        1,
    )
    assert together([waits, *pages[1:]]).decision is None
    assert (
        together([tally(Decision.WITH_WAIVERS, [], 0), *pages[1:]]).decision
        is Decision.WITH_WAIVERS
    )


@pytest.mark.parametrize(
    ("rules", "named"),
    [
        ({"hold": "barrier"}, "'hold' is no field"),
        ({"holds": "all"}, "holds"),
        ({"counts": "new"}, "counts"),
        ({"from": "tomorrow"}, "2027-01-31"),
        ({"valid-minutes": 0}, "valid-minutes"),
        ({"doubtful": ["no/such"]}, "no/such"),
        ({"doubtful": "links"}, "list"),
        ({"overruled-by": ["reader"]}, "reader"),
        ({"sections": [{"holds": "barrier"}]}, "sections, number 1"),
        ({"sections": ["/x"]}, "sections, number 1"),
    ],
)
def test_bad_rules_are_refused(rules: dict[str, Any], named: str) -> None:
    """One sentence names the rule and what to write."""
    with pytest.raises(BadPolicy, match=named):
        policy_from({"gate": rules})


_PLAIN = assess(
    Page(parse_document("<!doctype html><title>x</title><p>x</p>", f"http://h.example{PATH}")),
    Policy(),
).findings[0]
_CHECKS = ("pictures/no-text", "text/spelling", "headings/several-level-1")
_RULES = st.builds(
    GateRules,
    holds=st.sampled_from([None, "barrier", "obstacle", "friction", "none"]),
    counts=st.sampled_from(["change", "everything"]),
    begins=st.sampled_from([None, date(2026, 11, 20), date(2026, 12, 1)]),
    old_from=st.sampled_from([None, date(2026, 11, 20), date(2026, 12, 1)]),
    doubtful=st.sampled_from([(), ("text",), ("headings/several-level-1", "text/spelling")]),
    sections=st.sampled_from([(), (SectionRules(pattern="/boating/*", holds="friction"),)]),
)
_FOUND = st.builds(
    lambda check, weight, outcome, place: replace(
        _PLAIN, check=check, weight=weight, outcome=outcome, place_key=f"{check} {place}"
    ),
    st.sampled_from(_CHECKS),
    st.sampled_from(["barrier", "obstacle", "friction"]),
    st.sampled_from(["failed", "cantTell"]),
    st.integers(0, 3),
)


@given(
    findings=st.lists(_FOUND, max_size=6),
    live=st.lists(st.tuples(_FOUND, st.sampled_from([None, "fault", "fine"])), max_size=4),
    waived=st.sampled_from([None, *_CHECKS]),
    then=_RULES,
    now=_RULES,
)
def test_a_trial_says_what_the_decision_would_be(
    findings: list[Finding],
    live: list[tuple[Finding, str | None]],
    waived: str | None,
    then: GateRules,
    now: GateRules,
) -> None:
    """What was decided by some rules, tried with others, is held if and only if these others would
    have held it; also where a doubtful check is named no more."""
    known_there = [
        LiveFinding(one.check, one.place_key, one.says, one.excerpt, answer=answer)
        for one, answer in live
    ]
    waivers = [WaiverInForce(1, "check", waived, TODAY, pattern="*")] if waived else []
    asked = Publication(PATH, findings, known_there, waivers)
    stored = [one.facts for one in decide(asked, then, "obstacle", TODAY).judged]
    decided = decide(asked, now, "obstacle", TODAY).decision
    assert would_hold(stored, (), PATH, now, "obstacle", TODAY) == (decided is Decision.HELD)


def test_what_theme_and_templates_print_is_charged_to_nobody() -> None:
    """On a new page, what stands outside of its content, or is a cause that templates are known to
    print, was there before."""
    policy = policy_from({})
    found = read('<p><a href="/a">here</a></p>', policy)
    assert found is not None
    [vague] = [one for one in found if one.check == "links/vague"]
    for publication in (
        Publication(PATH, [replace(vague, block="frame")]),
        Publication(PATH, [vague], template_causes=frozenset({vague.cause_key})),
    ):
        answer = decide(publication, policy.gate, policy.hold, TODAY)
        assert answer.decision is Decision.CLEAR
        assert [one.origin for one in answer.judged] == ["before"]
    held = decide(Publication(PATH, [vague]), policy.gate, policy.hold, TODAY)
    assert held.decision is Decision.HELD


@pytest.mark.parametrize(
    ("tested", "untested", "decision"),
    [
        ((), ["keyboard/no-focus-mark"], "clear"),
        (("keyboard",), ["keyboard/no-focus-mark", "text/spelling"], "held"),
        (("text/spelling",), ["keyboard/no-focus-mark", "text/spelling"], "held"),
        (("pictures",), ["keyboard/no-focus-mark"], "clear"),
    ],
)
def test_what_has_to_be_tested_holds_where_it_was_not(
    tested: tuple[str, ...], untested: list[str], decision: str
) -> None:
    """In the answer and in the trial alike; not before the gate begins."""
    policy = policy_from({"gate": {"tested": list(tested)}})
    asked = Publication(PATH, (), (), untested=untested)
    answer = decide(asked, policy.gate, policy.hold, TODAY)
    assert answer.decision == decision
    assert would_hold((), untested, PATH, policy.gate, policy.hold, TODAY) == (decision == "held")
    if decision == "held":
        assert untested[-1] in answer.reason or untested[0] in answer.reason
    later = policy_from({"gate": {"tested": list(tested), "from": "2999-01-01"}})
    assert decide(asked, later.gate, later.hold, TODAY).decision == "clear"
