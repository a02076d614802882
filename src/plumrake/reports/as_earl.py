"""Findings as EARL 1.0 (W3C Working Group Note, 2 February 2017) in JSON-LD 1.1: an assertion per
finding, and one for each check that found nothing, does not apply, or was not made."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable, Iterator
from typing import Any

from plumrake import __version__
from plumrake.core.criteria import CRITERIA
from plumrake.core.findings import Finding
from plumrake.core.registry import catalogue
from plumrake.reports.pages import why_untested
from plumrake.reports.report import About, ReportedPage

_CONTEXT = {
    "earl": "http://www.w3.org/ns/earl#",
    "ptr": "http://www.w3.org/2009/pointers#",
    "dct": "http://purl.org/dc/terms/",
    "doap": "http://usefulinc.com/ns/doap#",
    "xsd": "http://www.w3.org/2001/XMLSchema#",
}
_ASSERTOR = "_:plum-rake"
_TARGETED = frozenset(("pictures", "links", "tables", "forms", "media"))
"""Areas of checks that look at one kind of elements each: without any they do not apply."""


def earl_pieces(pages: Iterable[ReportedPage], about: About) -> Iterator[str]:
    """Yield the graph."""
    yield f'{{"@context":{_json(_CONTEXT)},"@graph":[\n'
    yield _json(
        {
            "@id": _ASSERTOR,
            "@type": ["earl:Assertor", "earl:Software"],
            "doap:name": "Plum Rake",
            "doap:release": {"doap:revision": __version__},
        }
    )
    for name in about.checks:
        check = catalogue()[name]
        yield ",\n" + _json(
            {
                "@id": _test(name),
                "@type": ["earl:TestCriterion", "earl:TestCase"],
                "dct:title": f"{check.title}.",
                "dct:isPartOf": [{"@id": _criterion(one)} for one in check.criteria],
            }
        )
    for reported in pages:
        for assertion in _assertions(reported, about):
            yield ",\n" + _json(assertion)
    yield "\n]}\n"


def _assertions(reported: ReportedPage, about: About) -> Iterator[dict[str, Any]]:
    page = reported.page
    if page.problem is not None:
        for name in about.checks:
            yield _assertion(page.address, name, about, "untested", page.problem[1])
        return
    untested = dict(page.untested)
    found = {one.check for one in page.findings}
    for one in page.findings:
        yield _of_finding(reported, one, about)
    for name in about.checks:
        if name in untested:
            says = f"Not tested: {why_untested(untested[name])}."
            yield _assertion(page.address, name, about, "untested", says)
        elif name not in found:
            area = name.partition("/")[0]
            applies = reported.areas is None or area not in _TARGETED or area in reported.areas
            yield _assertion(page.address, name, about, "passed" if applies else "inapplicable", "")


def _of_finding(reported: ReportedPage, finding: Finding, about: About) -> dict[str, Any]:
    assertion = _assertion(
        reported.page.address, finding.check, about, finding.outcome, finding.says
    )
    pointers: list[dict[str, Any]] = [
        {"@type": "ptr:CSSSelectorPointer", "ptr:expression": finding.selector}
    ]
    if finding.line is not None:
        pointers.append(
            {
                "@type": "ptr:LineCharPointer",
                "ptr:lineNumber": finding.line,
                "ptr:charNumber": finding.column,
            }
        )
    result = assertion["earl:result"]
    result["earl:pointer"] = pointers
    result["dct:identifier"] = finding.place_key
    note = reported.note(finding)
    info = [finding.question or "", f"Waived: {note.waived}" if note.waived else ""]
    if any(info):
        result["earl:info"] = " ".join(filter(None, info))
    return assertion


def _assertion(address: str, check: str, about: About, outcome: str, says: str) -> dict[str, Any]:
    return {
        "@type": "earl:Assertion",
        "earl:assertedBy": {"@id": _ASSERTOR},
        "earl:subject": {"@id": address, "@type": ["earl:TestSubject"]},
        "earl:test": {"@id": _test(check)},
        "earl:mode": {"@id": "earl:automatic"},
        "earl:result": {
            "@type": "earl:TestResult",
            "earl:outcome": {"@id": f"earl:{outcome}"},
            "dct:date": {"@value": about.started, "@type": "xsd:dateTime"},
            **({"dct:description": says} if says else {}),
        },
    }


def _criterion(number: str) -> str:
    """Return the address of a success criterion in WCAG 2.2."""
    slug = re.sub(r"[^a-z0-9]+", "-", CRITERIA[number].name.lower()).strip("-")
    return f"https://www.w3.org/TR/WCAG22/#{slug}"


def _test(check: str) -> str:
    return f"urn:plumrake:check:{check.replace('/', ':')}"


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))
