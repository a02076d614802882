"""The policy as a file's fields, its scope, and the checks over all pages together."""

from typing import Any

import pytest

from plumrake.core.assess import assess
from plumrake.core.page import Page
from plumrake.core.policy import BadPolicy, Policy, policy_from
from plumrake.core.registry import PageFacts
from plumrake.core.sitewide import assess_site
from plumrake.lenses.markup import parse_document

HTML = """<!doctype html><html lang=en><head><title>a</title></head><body><main><a href=/x></a><div class=widget><a href=/y></a></div></main>
<footer><a href=/z></a></footer>"""  # noqa: E501


def found(policy: Policy) -> list[str]:
    """Return the selectors of the nameless links that the policy lets through."""
    assessment = assess(Page(parse_document(HTML, "here")), policy)
    return [finding.selector for finding in assessment.findings]


@pytest.mark.parametrize(
    ("fields", "selectors"),
    [
        ({}, ["main > a", "div.widget > a", "footer > a"]),
        ({"scope": ("main",)}, ["main > a", "div.widget > a"]),
        ({"leave_out": (".widget",)}, ["main > a", "footer > a"]),
        ({"scope": ("main, footer",), "leave_out": (".widget", "footer a")}, ["main > a"]),
        ({"scope": (".none",)}, []),
    ],
)
def test_scope(fields: dict[str, Any], selectors: list[str]) -> None:
    """Only what lies in the scope and in none left out is reported."""
    assert found(Policy(only=("links/no-name",), **fields)) == selectors


def test_what_is_left_out_is_counted() -> None:
    """Findings of left-out parts are counted apart."""
    policy = Policy(only=("links/no-name",), leave_out=(".widget", "footer"))
    assert assess(Page(parse_document(HTML, "here")), policy).left_out == 2


def test_policy_of_a_file() -> None:
    """Fields are written with hyphens; parameters and words take effect."""
    policy = policy_from(
        {
            "level": "aaa",
            "leave-out": [".chat"],
            "wait-for": "#app",
            "hold": "barrier",
            "parameters": {"pictures/long-text": {"longest": 5}},
            "words": {"vague-links": ["onwards"]},
        }
    )
    assert policy.leave_out == (".chat",)
    assert policy.wait_for == "#app"
    page = Page(
        parse_document(
            "<!doctype html><body><img src=a.jpg alt='A heron'><a href=/x>Onwards</a>", "here"
        )
    )
    checks = {finding.check for finding in assess(page, policy).findings}
    assert {"pictures/long-text", "links/vague"} <= checks


@pytest.mark.parametrize(
    ("data", "named"),
    [
        ({"colour": "red"}, "'colour' is no field"),
        ({"only": "links"}, "only: has to be a list"),
        ({"leave-out": ["a >"]}, "leave-out, number 1: the selector 'a >'"),
        ({"words": {"vague": ["x"]}}, "words: 'vague' is not known"),
        ({"words": {"vague-links": "x"}}, "words.vague-links"),
        ({"hold": "all"}, "hold: 'all'"),
        ({"due-days": 0}, "due-days: has to be 1 or more, not 0"),
        ({"due-days": True}, "due-days: has to be a whole number"),
        ({"only": ["links", 3]}, "only, number 2: has to be text, not 3"),
        ({"gate": {"hold": "x"}}, "gate: 'hold' is no field here; there are: holds"),
        ({"gate": {"sections": [{}]}}, "gate.sections, number 1, pattern: has to be there"),
        ({"leave-out-pages": ["author"]}, "leave-out-pages, number 1: 'author' is no pattern"),
        ({"palette": ["#12", "white"]}, "palette, number 1: '#12'"),
        ({"logotypes": ["::"]}, "logotypes, number 1: the selector '::'"),
        ({"parameters": {"links/vague": 3}}, "parameters.links/vague: has to be a table"),
        (
            {"parameters": {"pictures/long-text": {"longest": "5"}}},
            "'longest' of pictures/long-text has to be a whole number, not '5'",
        ),
    ],
)
def test_bad_files_are_refused(data: dict[str, Any], named: str) -> None:
    """One sentence says which field, what stands there and what may."""
    with pytest.raises(BadPolicy) as raised:
        policy_from(data)
    assert named in str(raised.value)


def test_shared_titles_name_each_other() -> None:
    """Each page of a shared title is found, and names the others."""
    pages = [
        PageFacts("/a", "News"),
        PageFacts("/b", "Locks"),
        PageFacts("/c", " news"),
        PageFacts("/d", ""),
    ]
    by_page = assess_site(pages, Policy())
    assert sorted(by_page) == [0, 2]
    assert by_page[0][0].facts["others"] == ["/c"]
    assert by_page[0][0].cause_key == by_page[2][0].cause_key != by_page[0][0].place_key
    assert assess_site(pages, Policy(without=("page/title-shared",))) == {}
