"""Findings as SARIF 2.1.0 (OASIS Standard, 2020): results with their rules' help, fingerprints,
fixes as edits, suppressions for waivers, and what is new against a baseline."""

from __future__ import annotations

import json
from collections.abc import Iterable, Iterator
from typing import Any
from urllib.parse import quote

from plumrake import __version__
from plumrake.core.criteria import CRITERIA
from plumrake.core.findings import Finding, Outcome
from plumrake.core.registry import Check, catalogue
from plumrake.reports.help_text import help_text
from plumrake.reports.report import About, Gone, Note, ReportedEdit, ReportedPage

SCHEMA = (
    "https://docs.oasis-open.org/sarif/sarif/v2.1.0/errata01/os/schemas/sarif-schema-2.1.0.json"
)
PLACE, CAUSE = "placeKey/v1", "causeKey/v1"
"""The names of our fingerprints."""
_LEVELS = {"barrier": "error", "obstacle": "warning", "friction": "note"}
"""SARIF 3.27.10."""


def sarif_pieces(pages: Iterable[ReportedPage], about: About) -> Iterator[str]:
    """Yield a log with one run."""
    numbers = {name: number for number, name in enumerate(about.checks)}
    driver = {
        "name": "Plum Rake",
        "semanticVersion": __version__,
        "rules": [_rule(catalogue()[name], about) for name in about.checks],
    }
    opening = {"$schema": SCHEMA, "version": "2.1.0", "runs": [{"tool": {"driver": driver}}]}
    yield f"{_json(opening)[:-3]},{_json({'columnKind': 'unicodeCodePoints'})[1:-1]},"
    yield '"results":['
    between = "\n"
    unread: list[dict[str, Any]] = []
    for reported in pages:
        page = reported.page
        if page.problem is not None:
            unread.append(_unread(page.address, page.problem[1]))
        for one in page.findings:
            yield between + _json(_result(reported, one, numbers[one.check]))
            between = ",\n"
    for gone in about.gone:
        yield between + _json(_absent(gone, numbers.get(gone.check)))
        between = ",\n"
    told = {
        "executionSuccessful": not unread,
        "startTimeUtc": about.started,
        "toolExecutionNotifications": unread,
    }
    yield f'],"invocations":[{_json(told)}]}}]}}\n'


def _json(value: object) -> str:
    return json.dumps(value, ensure_ascii=False, separators=(",", ":"))


def _rule(check: Check, about: About) -> dict[str, Any]:
    own = about.policy.help_for(check.id)
    text = help_text(check, own)
    tags = ["accessibility", *(f"WCAG {one} {CRITERIA[one].name}" for one in check.criteria)]
    return {
        "id": check.id,
        "shortDescription": {"text": f"{check.title}."},
        "fullDescription": {"text": check.help.summary or f"{check.title}."},
        "help": {"text": text, "markdown": text},
        "defaultConfiguration": {"level": _LEVELS[check.weight.value]},
        "properties": {"tags": tags, "weight": check.weight.value},
    }


def _result(reported: ReportedPage, finding: Finding, number: int) -> dict[str, Any]:
    note = reported.note(finding)
    is_sure = finding.outcome == Outcome.FAILED
    says = finding.says if finding.question is None else f"{finding.says} {finding.question}"
    uri = _uri(reported.page.address)
    physical: dict[str, Any] = {"artifactLocation": {"uri": uri}}
    if finding.line is not None:
        physical["region"] = {
            "startLine": finding.line,
            "startColumn": finding.column or 1,
            "snippet": {"text": finding.excerpt},
        }
    result: dict[str, Any] = {
        "ruleId": finding.check,
        "ruleIndex": number,
        "kind": "fail" if is_sure else "review",
        "level": _LEVELS[finding.weight] if is_sure else "none",
        "message": {"text": says},
        "locations": [
            {
                "physicalLocation": physical,
                "logicalLocations": [{"fullyQualifiedName": finding.selector, "kind": "element"}],
            }
        ],
        "partialFingerprints": {PLACE: finding.place_key, CAUSE: finding.cause_key},
        "properties": {
            "outcome": finding.outcome,
            "weight": finding.weight,
            "criteria": list(finding.criteria),
            "excerpt": finding.excerpt,
        },
    }
    return result | _of_note(note, uri)


def _of_note(note: Note, uri: str) -> dict[str, Any]:
    found: dict[str, Any] = {}
    if note.new is not None:
        found["baselineState"] = "new" if note.new else "unchanged"
    if note.waived:
        found["suppressions"] = [
            {"kind": "external", "status": "accepted", "justification": note.waived}
        ]
    if note.edits:
        change = {
            "artifactLocation": {"uri": uri},
            "replacements": [_replacement(edit) for edit in note.edits],
        }
        found["fixes"] = [{"description": {"text": note.mend}, "artifactChanges": [change]}]
    return found


def _replacement(edit: ReportedEdit) -> dict[str, Any]:
    return {
        "deletedRegion": {
            "startLine": edit.start[0],
            "startColumn": edit.start[1],
            "endLine": edit.end[0],
            "endColumn": edit.end[1],
        },
        "insertedContent": {"text": edit.text},
    }


def _absent(gone: Gone, number: int | None) -> dict[str, Any]:
    return {
        "ruleId": gone.check,
        **({"ruleIndex": number} if number is not None else {}),
        "kind": "pass",
        "level": "none",
        "baselineState": "absent",
        "message": {"text": "It is not there any more."},
        "locations": [{"physicalLocation": {"artifactLocation": {"uri": _uri(gone.address)}}}],
        "partialFingerprints": {PLACE: gone.place_key},
    }


def _unread(address: str, says: str) -> dict[str, Any]:
    location = {"physicalLocation": {"artifactLocation": {"uri": _uri(address)}}}
    return {"level": "error", "message": {"text": says}, "locations": [location]}


def _uri(address: str) -> str:
    """Return an address, or the name of a file, as a URI reference (RFC 3986)."""
    return quote(address.replace("\\", "/"), safe="/:?#[]@!$&'()*+,;=%~-._")
